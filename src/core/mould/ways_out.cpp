#include "mould/ways_out.hpp"

#include <algorithm>

#include "mould/halves.hpp"

namespace palinform {
namespace {

/// The nearest place on another master that lies ahead of one of the solid's, and whose it is.
std::optional<std::pair<Vec3, size_t>> met(const TriMesh& solid, const Vec3& draw, const MasterSet& set, size_t own) {
  const auto owner = [&](uint32_t triangle) {
    const auto next = std::upper_bound(set.masters.begin(), set.masters.end(), triangle,
                                       [](uint32_t t, const SetMaster& m) { return t < m.first_triangle; });
    return static_cast<size_t>(next - set.masters.begin()) - 1;
  };
  std::optional<std::pair<Vec3, size_t>> out;
  double nearest = 1e300;
  const size_t stride = std::max<size_t>(1, solid.points.size() / 200);
  for (size_t i = 0; i < solid.points.size(); i += stride)
    for (const RayHit& hit : set.rays->all_hits(solid.points[i], draw)) {
      const size_t who = owner(hit.triangle);
      if (who == own) continue;
      if (hit.t_mm < nearest) nearest = hit.t_mm, out = {solid.points[i] + draw * hit.t_mm, who};
      break;
    }
  return out;
}

}  // namespace

std::vector<NoWayOut> no_ways_out(const MasterSet& set, const Mould& block,
                                  const std::vector<std::vector<PinPlan>>& pins) {
  std::vector<NoWayOut> out;
  for (size_t m = 0; m < set.masters.size(); ++m) {
    if (set.masters[m].part >= pins.size()) continue;
    for (const PinPlan& planned : pins[set.masters[m].part]) {
      const PinPlan p = moved(planned, set.masters[m].place);
      if (const auto other = met(pin_mesh(p), p.draw, set, m)) {
        out.push_back({p.name, m, other->second, 0, other->first});
        continue;
      }
      const Vec3 head_end = p.foot_mm + p.draw * (p.length_mm() - p.grip_mm);
      const double left = way_out_mm(block.inner_mm, block.frame.direction(head_end), block.frame.direction(p.draw));
      if (left > 0.5 * p.grip_mm) out.push_back({p.name, m, std::nullopt, left, head_end});
    }
  }
  return out;
}

}  // namespace palinform
