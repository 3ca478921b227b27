#include "mould/rim.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {

RimFit rim_fit(const KeyPlan& plan, const Vec3& inner, double sheet, double shrink_apart_pct, double parting_kpa) {
  RimFit r;
  r.layers = std::max(1, static_cast<int>(std::lround(plan.step_mm / sheet)));
  r.lip_mm = r.layers * sheet;
  const double draft = plan.draft_deg * std::numbers::pi / 180;
  r.play_mm = r.lip_mm * std::tan(draft);
  const double u = inner.x - 2 * plan.ring_mm, v = inner.y - 2 * plan.ring_mm;
  r.misfit_mm = 0.5 * std::max(u, v) * std::abs(shrink_apart_pct) / 100;
  r.holds_n = parting_kpa * 1e-3 * 2 * (u + v) * r.lip_mm / std::cos(draft);
  return r;
}

}  // namespace palinform
