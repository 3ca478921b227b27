#include "mould/stages.hpp"

#include <algorithm>

namespace palinform {

StagedPour two_stage_pour(const Mould& m, bool upper) {
  StagedPour best;
  if (m.shadow.empty()) return best;
  const Box3& in = m.inner_mm;
  const double top = in.size().z, area = in.size().x * in.size().y;
  constexpr int steps = 40;
  // Heights are counted in the pour's own up, from the far face of the box: its floor when that half is poured last.
  const auto height = [&](size_t c) {
    return upper ? static_cast<double>(m.part_high_mm[c]) - in.min.z : in.max.z - static_cast<double>(m.part_low_mm[c]);
  };
  // The first stage covers the whole land, a wall thick: what is left free lies in this pour's own rubber.
  double land = 0;
  for (const float at : m.parting_mm)
    land = std::max(land, upper ? static_cast<double>(at) - in.min.z : in.max.z - static_cast<double>(at));
  for (int s = 1; s < steps; ++s) {
    const double z = top * s / steps;
    if (z < land + m.wall_mm) continue;
    // What must still be covered above z: columns whose part and wall reach over it.
    double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
    for (int j = 0; j < m.nv; ++j)
      for (int i = 0; i < m.nu; ++i) {
        const size_t c = m.column(i, j);
        if (!m.shadow[c] || height(c) + m.wall_mm <= z) continue;
        const double u = m.u0_mm + (i + 0.5) * m.pitch_mm, v = m.v0_mm + (j + 0.5) * m.pitch_mm;
        u0 = std::min(u0, u - m.wall_mm), u1 = std::max(u1, u + m.wall_mm);
        v0 = std::min(v0, v - m.wall_mm), v1 = std::max(v1, v + m.wall_mm);
      }
    if (u0 > u1) break;
    u0 = std::max(u0, in.min.x), u1 = std::min(u1, in.max.x), v0 = std::max(v0, in.min.y), v1 = std::min(v1, in.max.y);
    const double saved = (area - (u1 - u0) * (v1 - v0)) * (top - z);
    if (saved <= best.saved_mm3) continue;
    best = {z, saved, u1 - u0, v1 - v0, {}};
    const double low = upper ? in.min.z + z : in.min.z, high = upper ? in.max.z : in.max.z - z;
    const auto keep_free = [&](double x0, double y0, double x1, double y1) {
      if (x1 - x0 < 1e-6 || y1 - y0 < 1e-6) return;
      Box3 b;
      b.add({x0, y0, low}), b.add({x1, y1, high});
      best.free_mm.push_back(b);
    };
    keep_free(in.min.x, in.min.y, u0, in.max.y);
    keep_free(u1, in.min.y, in.max.x, in.max.y);
    keep_free(u0, in.min.y, u1, v0);
    keep_free(u0, v1, u1, in.max.y);
  }
  return best;
}

}  // namespace palinform
