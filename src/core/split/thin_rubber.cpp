#include "split/thin_rubber.hpp"
#include "mesh/flood.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <queue>

namespace palinform {

Result<std::vector<ThinRubber>> find_thin_rubber(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                                 const std::vector<Bore>& bores, const FaceWishes& wishes,
                                                 double shore_a, const ThinRules& rules, const Progress& progress) {
  std::vector<ThinRubber> out;
  const size_t n = mesh.triangles.size();
  const Vec3 extent = measure(mesh).box_mm.size();
  const double span = std::max({extent.x, extent.y, extent.z});
  const double look = rules.look_mm > 0 ? rules.look_mm : 0.06 * span;
  const double thin = rules.thin_mm_at_40a * 40 / std::max(10.0, shore_a);
  const auto ignored = [&](uint32_t t) { return !wishes.flags.empty() && (wishes.flags[t] & FaceWishes::ignored); };

  std::vector<uint8_t> in_bore(n, 0);
  for (const Bore& b : bores) {
    for (const uint32_t t : b.triangles) in_bore[t] = 1;
    if (b.triangles.empty() || ignored(b.triangles[b.triangles.size() / 2])) continue;
    ThinRubber r;
    r.peg = true;
    r.thickness_mm = b.diameter_mm;
    r.length_mm = b.depth_mm;
    r.at_mm = b.centroid_mm;
    r.triangles = b.triangles;
    for (const uint32_t t : b.triangles) r.area_mm2 += mesh.area_mm2(t);
    r.at_risk = r.slenderness() > rules.slender_peg || r.thickness_mm < thin;
    out.push_back(std::move(r));
  }

  // The gap in front of every face: how far the facing wall is, and which face it is.
  std::vector<float> gap(n, 0);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 1024), [&](const auto& range) {
    if (progress.cancelled()) return;
    for (size_t t = range.begin(); t < range.end(); ++t) {
      if (in_bore[t] || ignored(static_cast<uint32_t>(t)) || !(mesh.area_mm2(t) > 0)) continue;
      const Vec3 normal = mesh.normal(t);
      const auto hit = rays.first_hit(mesh.centre(t) + normal * 1e-3, normal, 0);
      // Walls that face each other squarely; a corner is no gap.
      if (hit && hit->t_mm < look && dot(mesh.normal(hit->triangle), normal) < -0.85)
        gap[t] = static_cast<float>(hit->t_mm + 1e-3);
    }
  });
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.6);

  std::vector<int32_t> group(n, -1);
  std::vector<double> way(n, -1);
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (!(gap[seed] > 0) || group[seed] >= 0) continue;
    ThinRubber r;
    group[seed] = static_cast<int32_t>(seed);
    double area = 0;
    std::vector<std::pair<float, double>> gaps;
    flood_faces(
        pairs, seed,
        [&](uint32_t t) {
          r.triangles.push_back(t);
          const double a = mesh.area_mm2(t);
          area += a;
          gaps.emplace_back(gap[t], a);
          r.at_mm += (mesh.centre(t) + mesh.normal(t) * (0.5 * static_cast<double>(gap[t]))) * a;
        },
        [&](uint32_t t, uint32_t h) {
          const uint32_t o = pairs.twin[h] / 3;
          if (!(gap[o] > 0) || group[o] >= 0 || dot(mesh.normal(o), mesh.normal(t)) <= 0.5) return false;
          group[o] = static_cast<int32_t>(seed);
          return true;
        });
    if (area < 0.002 * span * span) continue;
    r.area_mm2 = area;
    r.at_mm = r.at_mm / area;
    std::sort(gaps.begin(), gaps.end());
    double half = 0;
    for (const auto& [g, a] : gaps) {
      half += a;
      r.thickness_mm = static_cast<double>(g);
      if (half >= 0.5 * area) break;
    }
    // From the rims where the gap opens (convex edges, or where the facing wall ends) inward along the wall.
    using Step = std::pair<double, uint32_t>;
    std::priority_queue<Step, std::vector<Step>, std::greater<>> queue;
    for (const uint32_t t : r.triangles)
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
        if (!pairs.paired(h)) continue;
        const uint32_t o = pairs.twin[h] / 3;
        if (group[o] == group[t]) continue;
        const Vec3 edge = mesh.points[edge_to(mesh, h)] - mesh.points[edge_from(mesh, h)];
        const double bend = dot(cross(mesh.normal(t), mesh.normal(o)), unit(edge, {1, 0, 0}));
        if (bend < -0.3) continue;  // a concave edge is the gap's floor, not its mouth
        const Vec3 rim = (mesh.points[edge_to(mesh, h)] + mesh.points[edge_from(mesh, h)]) * 0.5;
        queue.push({length(mesh.centre(t) - rim), t});
      }
    while (!queue.empty()) {
      const auto [d, t] = queue.top();
      queue.pop();
      if (way[t] >= 0 && way[t] <= d) continue;
      way[t] = d;
      for (uint32_t h = 3 * t; h < 3 * t + 3; ++h) {
        if (!pairs.paired(h)) continue;
        const uint32_t o = pairs.twin[h] / 3;
        if (group[o] != group[t]) continue;
        const double next = d + length(mesh.centre(o) - mesh.centre(t));
        if (way[o] < 0 || next < way[o]) queue.push({next, o});
      }
    }
    double far = 0;
    uint32_t farthest = r.triangles.front();
    for (const uint32_t t : r.triangles)
      if (way[t] > far) far = way[t], farthest = t;
    // To the farthest face's own far corner.
    double beyond = 0;
    for (int k = 0; k < 3; ++k) beyond = std::max(beyond, length(mesh.corner(farthest, k) - mesh.centre(farthest)));
    r.length_mm = far + 0.5 * beyond;
    r.at_risk = r.slenderness() > rules.slender_fin || r.thickness_mm < thin;
    if (r.at_risk) out.push_back(std::move(r));
  }
  // Both walls of one gap tell of the same fin: keep the one with more wall.
  std::stable_sort(out.begin(), out.end(), [](const ThinRubber& a, const ThinRubber& b) {
    if (a.at_risk != b.at_risk) return a.at_risk;
    return a.slenderness() > b.slenderness();
  });
  std::vector<ThinRubber> kept;
  for (ThinRubber& r : out) {
    const bool told = std::any_of(kept.begin(), kept.end(), [&](const ThinRubber& k) {
      return !r.peg && !k.peg && length(k.at_mm - r.at_mm) < std::max(2 * r.thickness_mm, 0.3 * r.length_mm);
    });
    if (!told) kept.push_back(std::move(r));
  }
  progress.report(1);
  return kept;
}

}  // namespace palinform
