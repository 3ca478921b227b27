// Corefinement. CGAL stays in this file and its neighbours.
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/repair_degeneracies.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "solid/cgal_mesh.hpp"
#include "solid/unite.hpp"

namespace palinform {

using cgal::from_surface;
using cgal::Surface;
using cgal::to_surface;
namespace pmp = CGAL::Polygon_mesh_processing;
namespace {

Result<TriMesh> combined(const TriMesh& a, const TriMesh& b, bool away, const Error& fail) {
  auto sa = to_surface(a), sb = to_surface(b);
  if (!sa || !sb || !CGAL::is_closed(*sa) || !CGAL::is_closed(*sb)) return fail;
  const auto checked = CGAL::parameters::throw_on_self_intersection(true);
  try {
    Surface out;
    if (!(away ? pmp::corefine_and_compute_difference(*sa, *sb, out, checked, checked)
               : pmp::corefine_and_compute_union(*sa, *sb, out, checked, checked)))
      return fail;
    pmp::experimental::remove_almost_degenerate_faces(out, std::cos(179.99 * M_PI / 180), 1e5,
                                                      0.0);  // rounding of the cut's points leaves slivers without area
    return from_surface(out);
  } catch (const std::exception&) { return fail; }
}

}  // namespace

Result<TriMesh> unite(const TriMesh& a, const TriMesh& b) {
  return combined(
      a, b, false,
      {"the two pieces cannot be joined exactly", "join", "Let them overlap a little, and mend each first."});
}

Result<TriMesh> subtract(const TriMesh& a, const TriMesh& b) {
  return combined(
      a, b, true,
      {"the one piece cannot be cut from the other exactly", "cut", "Let it overlap a little, and mend each first."});
}

std::optional<TriMesh> unite_pieces(const TriMesh& mesh, size_t* united) {
  const EdgePairs pairs = pair_edges(mesh);
  if (pairs.open_edges + pairs.non_manifold_edges > 0) return std::nullopt;
  const Components c = components(mesh, pairs);
  if (c.count < 2 || c.count > 200) return std::nullopt;
  std::vector<TriMesh> pieces(c.count);
  for (TriMesh& p : pieces) p.points = mesh.points;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) pieces[c.of_triangle[t]].triangles.push_back(mesh.triangles[t]);
  for (TriMesh& p : pieces) drop_unused_points(p);
  std::vector<Box3> box(c.count);
  std::vector<double> volume(c.count);
  for (size_t i = 0; i < c.count; ++i) {
    for (const Vec3& p : pieces[i].points) box[i].add(p);
    volume[i] = measure(pieces[i]).volume_mm3;
  }
  std::vector<size_t> order(c.count);
  for (size_t i = 0; i < c.count; ++i) order[i] = i;
  std::stable_sort(order.begin(), order.end(),
                   [&](size_t a, size_t b) { return std::abs(volume[a]) > std::abs(volume[b]); });
  const auto touch = [](const Box3& a, const Box3& b) {
    for (int k = 0; k < 3; ++k)
      if (a.min[k] > b.max[k] || b.min[k] > a.max[k]) return false;
    return true;
  };
  TriMesh all;
  size_t joined = 0;
  for (const size_t i : order) {
    bool meets = false;
    for (const size_t k : order) {
      if (k == i) break;
      meets = meets || touch(box[i], box[k]);
    }
    if (!meets || volume[i] < 0) {
      const auto first = static_cast<uint32_t>(all.points.size());
      all.points.insert(all.points.end(), pieces[i].points.begin(), pieces[i].points.end());
      for (const Triangle& t : pieces[i].triangles) all.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
      continue;
    }
    auto both = unite(all, pieces[i]);
    if (!both) return std::nullopt;
    all = *std::move(both);
    ++joined;
  }
  if (united) *united = joined;
  return all;
}

}  // namespace palinform
