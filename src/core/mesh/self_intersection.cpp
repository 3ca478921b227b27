// Box sweep and exact triangle tests. CGAL stays in this file.
#include <CGAL/box_intersection_d.h>
#include <CGAL/Box_intersection_d/Box_with_info_d.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>

#include "mesh/soundness.hpp"

namespace palinform {
namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Point = Kernel::Point_3;
using Box = CGAL::Box_intersection_d::Box_with_info_d<double, 3, uint32_t>;

Point at(const TriMesh& m, uint32_t v) { return {m.points[v].x, m.points[v].y, m.points[v].z}; }

bool intersect(const TriMesh& m, uint32_t s, uint32_t t) {
  const Triangle &a = m.triangles[s], &b = m.triangles[t];
  int shared = 0, ia = 0, ib = 0;  // ia, ib: for one shared corner its places; for two the odd corners' places
  bool in_a[3] = {}, in_b[3] = {};
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j)
      if (a[i] == b[j]) ++shared, in_a[i] = in_b[j] = true, ia = i, ib = j;
  if (shared == 3) return true;
  const auto tri = [&](const Triangle& x) { return Kernel::Triangle_3(at(m, x[0]), at(m, x[1]), at(m, x[2])); };
  if (shared == 0) return CGAL::do_intersect(tri(a), tri(b));
  if (shared == 1) {
    // Beyond the shared corner they meet iff the far edge of one meets the other triangle.
    return CGAL::do_intersect(Kernel::Segment_3(at(m, a[(ia + 1) % 3]), at(m, a[(ia + 2) % 3])), tri(b)) ||
           CGAL::do_intersect(Kernel::Segment_3(at(m, b[(ib + 1) % 3]), at(m, b[(ib + 2) % 3])), tri(a));
  }
  for (int i = 0; i < 3; ++i) {
    if (!in_a[i]) ia = i;
    if (!in_b[i]) ib = i;
  }
  const Point p = at(m, a[(ia + 1) % 3]), q = at(m, a[(ia + 2) % 3]), u = at(m, a[ia]), v = at(m, b[ib]);
  return CGAL::coplanar(p, q, u, v) && CGAL::coplanar_orientation(p, q, u, v) == CGAL::POSITIVE;
}

}  // namespace

Result<Intersections> self_intersections(const TriMesh& mesh, size_t most, const Progress& progress) {
  std::vector<Box> boxes;
  boxes.reserve(mesh.triangles.size());
  for (uint32_t t = 0; t < mesh.triangles.size(); ++t) {
    if (is_degenerate(mesh, t)) continue;
    Box3 b;
    for (int k = 0; k < 3; ++k) b.add(mesh.corner(t, k));
    double lo[3], hi[3];
    for (int i = 0; i < 3; ++i) lo[i] = b.min[i], hi[i] = b.max[i];
    boxes.emplace_back(lo, hi, t);
  }
  std::vector<std::pair<uint32_t, uint32_t>> candidates;
  struct Stop {};
  struct Enough {};
  constexpr size_t most_candidates = 20'000'000;  // one facet laid fifty thousand times over: more say nothing new
  size_t seen = 0;
  try {
    CGAL::box_self_intersection_d(boxes.begin(), boxes.end(), [&](const Box& x, const Box& y) {
      if (++seen % 4096 == 0 && progress.cancelled()) throw Stop();
      const uint32_t s = std::min(x.info(), y.info()), t = std::max(x.info(), y.info());
      // Face pairs over a shared edge are most of all hits and intersect only when folded flat: a cheap first look.
      const Triangle &a = mesh.triangles[s], &b = mesh.triangles[t];
      int shared = 0;
      for (const uint32_t i : a)
        for (const uint32_t j : b) shared += i == j;
      if (shared == 2 && dot(mesh.area_vector(s), mesh.area_vector(t)) > 0) {
        // Consistently wound neighbours that face alike are never folded onto each other.
        bool against = false;
        for (int i = 0; i < 3; ++i)
          for (int j = 0; j < 3; ++j) against |= a[i] == b[(j + 1) % 3] && a[(i + 1) % 3] == b[j];
        if (against) return;
      }
      candidates.emplace_back(s, t);
      if (candidates.size() >= most_candidates) throw Enough();
    });
  } catch (const Stop&) { return Error::stopped(); } catch (const Enough&) {
  }
  progress.report(0.7);
  std::vector<char> hit(candidates.size(), 0);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, candidates.size(), 1024), [&](const auto& range) {
    if (progress.cancelled()) return;
    for (size_t i = range.begin(); i < range.end(); ++i)
      hit[i] = intersect(mesh, candidates[i].first, candidates[i].second);
  });
  if (progress.cancelled()) return Error::stopped();
  Intersections out;
  for (size_t i = 0; i < hit.size(); ++i)
    if (hit[i]) {
      ++out.count;
      out.pairs.push_back(candidates[i]);
    }
  tbb::parallel_sort(out.pairs.begin(), out.pairs.end());
  if (out.pairs.size() > most) out.pairs.resize(most);
  return out;
}

}  // namespace palinform
