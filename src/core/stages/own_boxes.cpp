#include "stages/own_boxes.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

struct Lying {
  double longer, shorter;
};
Lying plan_of(const Vec3& v) { return {std::max(v.x, v.y), std::min(v.x, v.y)}; }

}  // namespace

std::string box_too_small(const Vec3& needed, const Vec3& inside, double rim) {
  const Lying n = plan_of(needed), b = plan_of(inside);
  const auto by = [](double mm) { return fixed(std::max(1.0, std::ceil(mm - 1e-6)), 0) + " mm"; };
  if (b.longer < n.longer - 1e-6) return by(n.longer - b.longer) + " too short";
  if (b.shorter < n.shorter - 1e-6) return by(n.shorter - b.shorter) + " too narrow";
  if (inside.z < needed.z + rim - 1e-6) return by(needed.z + rim - inside.z) + " too low";
  return {};
}

std::vector<DamPlate> dam_plates(const Vec3& needed, const Vec3& inside, double sheet) {
  const Lying n = plan_of(needed), b = plan_of(inside);
  std::vector<DamPlate> out;
  // A plate that leaves less than its own sheet and a finger beyond it saves nothing.
  const double least = sheet + 8;
  double width = b.shorter;
  if (b.longer - n.longer > least) {
    out.push_back({"across the box", n.longer, b.shorter, needed.z, (b.longer - n.longer) * b.shorter * needed.z});
  }
  if (b.shorter - n.shorter > least) {
    const double run = out.empty() ? b.longer : n.longer;
    out.push_back({"along the box", n.shorter, run, needed.z, (width - n.shorter) * run * needed.z});
  }
  return out;
}

std::vector<BoxOffer> box_offers(const Vec3& needed, double part_mm3, const std::vector<OwnBox>& boxes, double rim) {
  const double least = needed.x * needed.y * needed.z - part_mm3;
  std::vector<BoxOffer> out;
  for (const OwnBox& b : boxes) {
    BoxOffer o;
    o.name = b.name, o.adjusts = b.adjusts;
    o.inside_mm = {b.long_mm, b.wide_mm, b.high_mm};
    o.why_not = box_too_small(needed, o.inside_mm, rim);
    if (b.adjusts && o.takes()) {
      const Lying n = plan_of(needed);
      o.inside_mm.x = n.longer, o.inside_mm.y = n.shorter;
    }
    o.rubber_mm3 = o.inside_mm.x * o.inside_mm.y * needed.z - part_mm3;
    o.more_mm3 = o.rubber_mm3 - least;
    for (const DamPlate& p : dam_plates(needed, o.inside_mm, 6)) o.dammed_mm3 += p.saves_mm3;
    o.below_brim_mm = o.inside_mm.z - needed.z;
    out.push_back(std::move(o));
  }
  std::stable_sort(out.begin(), out.end(), [](const BoxOffer& a, const BoxOffer& b) {
    if (a.takes() != b.takes()) return a.takes();
    return a.takes() ? a.rubber_mm3 < b.rubber_mm3 : a.inside_mm.x * a.inside_mm.y > b.inside_mm.x * b.inside_mm.y;
  });
  return out;
}

}  // namespace palinform
