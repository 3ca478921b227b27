#include "split/cut_labels.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/flood.hpp"
#include "split/max_flow.hpp"

namespace palinform {

Result<FaceWishes> wishes_of(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                             const SplitMarks& marks) {
  FaceWishes w;
  if (marks.empty()) return w;
  w.flags.assign(mesh.triangles.size(), 0);
  std::vector<uint32_t> touched;
  std::vector<bool> seen(mesh.triangles.size(), false);
  const auto spread = [&](const std::vector<SplitMarks::Spot>& spots, uint8_t flag) {
    for (const SplitMarks::Spot& s : spots) {
      touched.clear();
      const SurfacePoint p = rays.closest(s.point_mm);
      flood_unseen(
          pairs, seen, p.triangle, [&](uint32_t t) { touched.push_back(t), w.flags[t] |= flag; },
          [&](uint32_t, uint32_t o) { return length(mesh.centre(o) - p.point_mm) <= s.radius_mm; });
      for (const uint32_t t : touched) seen[t] = false;
    }
  };
  spread(marks.keep_clear, FaceWishes::keep_clear);
  spread(marks.to_a, FaceWishes::to_a);
  spread(marks.to_b, FaceWishes::to_b);
  spread(marks.line, FaceWishes::line);
  for (size_t t = 0; t < w.flags.size(); ++t) {
    const auto both = [&](uint8_t a, uint8_t b) { return (w.flags[t] & a) && (w.flags[t] & b); };
    const char* what = both(FaceWishes::to_a, FaceWishes::to_b)         ? "\"belongs to a\" and \"belongs to b\""
                       : both(FaceWishes::line, FaceWishes::keep_clear) ? "\"line here\" and \"keep clear\""
                                                                        : nullptr;
    if (!what) continue;
    const Vec3 c = mesh.centre(t);
    return Error{std::string("two marks contradict each other: ") + what,
                 "at " + fixed(c.x, 1) + ", " + fixed(c.y, 1) + ", " + fixed(c.z, 1), "Take one of them away."};
  }
  return w;
}

double hair_mm(const TriMesh& mesh) { return 4e-3 * length(measure(mesh).box_mm.size()); }

Result<std::vector<uint8_t>> cut_sides(const TriMesh& mesh, const EdgePairs& pairs, const Vec3& pull,
                                       const std::vector<float>& up, const std::vector<float>& down,
                                       const FaceWishes& wishes, const CutPrices& c, const Progress& progress) {
  const size_t n = mesh.triangles.size();
  CutProblem p;
  p.cost_a.resize(n);
  p.cost_b.resize(n);
  p.seam.assign(3 * n, 0);
  const auto flags = [&](uint32_t t) { return wishes.flags.empty() ? uint8_t{0} : wishes.flags[t]; };
  // Walls that may go either way lean toward a: the line drops to the lower edge, where the part lies on the board. The
  // lean stays under about a quarter of a line's length, so that it buys no much longer one.
  double total = 0, either = 0;
  for (size_t t = 0; t < n; ++t) {
    const double area = mesh.area_mm2(t);
    total += area;
    if (up[t] > 0.99f && down[t] > 0.99f) either += area;
  }
  const double hair = hair_mm(mesh);
  const double lean = either > 0 ? std::min(0.02, 0.25 * 2 * std::sqrt(total) / either) : 0;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 4096), [&](const auto& range) {
    for (size_t i = range.begin(); i < range.end(); ++i) {
      const auto t = static_cast<uint32_t>(i);
      const Vec3 twice = mesh.area_vector(t);
      const double area = 0.5 * length(twice);
      const uint8_t f = flags(t);
      const double not_a = 1 - up[t], not_b = 1 - down[t];
      // What locks on both sides is no reason for either: only the difference counts.
      const double common = std::min(not_a, not_b);
      // A large face that leans the other way by a degree is no speck: its overhang is its height times that lean.
      double low = 1e300, high = -1e300;
      for (int k = 0; k < 3; ++k) {
        const double z = dot(mesh.corner(t, k), pull);
        low = std::min(low, z), high = std::max(high, z);
      }
      const double slope = area > 0 ? std::abs(dot(twice, pull)) / (2 * area) : 0,
                   over = (high - low) * slope / std::max(1e-6, std::sqrt(std::max(0.0, 1 - slope * slope)));
      const bool plainly = over > hair || slope > 0.9;
      if (plainly && !(f & FaceWishes::ignored) && not_a - common > 0.5)
        p.cost_a[t] += static_cast<float>(c.wrong_side);
      if (plainly && !(f & FaceWishes::ignored) && not_b - common > 0.5)
        p.cost_b[t] += static_cast<float>(c.wrong_side);
      if (!(f & FaceWishes::ignored)) {
        p.cost_a[t] += static_cast<float>(c.locked_per_mm2 * area * (not_a - common));
        p.cost_b[t] += static_cast<float>(c.locked_per_mm2 * area * (not_b - common));
      }
      p.cost_b[t] += static_cast<float>((lean + 1e-4) * area);
      if (f & FaceWishes::to_a) p.cost_b[t] = static_cast<float>(c.forbidden * (1 + area));
      if (f & FaceWishes::to_b) p.cost_a[t] = static_cast<float>(c.forbidden * (1 + area));
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
        if (!pairs.paired(h)) continue;
        const uint32_t o = pairs.twin[h] / 3;
        const Vec3 e = mesh.points[edge_to(mesh, h)] - mesh.points[edge_from(mesh, h)];
        const double len = length(e);
        if (!(len > 0)) continue;
        const Vec3 m = mesh.normal(t), k = mesh.normal(o);
        const double bend = dot(m, k);
        const bool convex = dot(mesh.centre(o) - mesh.centre(t), m) <= 0;
        double w = bend < 0.866 ? (convex ? c.sharp : c.concave) : c.plain;
        if ((flags(t) | flags(o)) & FaceWishes::show && bend >= 0.866) w *= c.show;
        w *= 1 + c.climb * std::abs(dot(e, pull)) / len;
        if ((flags(t) & flags(o)) & FaceWishes::line) w *= c.line_here;
        if ((flags(t) | flags(o)) & FaceWishes::keep_clear) w = c.forbidden;
        p.seam[h] = static_cast<float>(w * len);
      }
    }
  });
  // Both halves of an edge must agree to the last bit.
  for (uint32_t h = 0; h < p.seam.size(); ++h)
    if (pairs.paired(h) && pairs.twin[h] > h) p.seam[pairs.twin[h]] = p.seam[h];
  if (progress.cancelled()) return Error::stopped();
  auto s = cheapest_cut(pairs, p, progress);
  if (!s) return s.error();
  return std::move(s->label);
}

}  // namespace palinform
