#include "mould/dams.hpp"

#include "mould/keys.hpp"

namespace palinform {

DamSaving dam_saving(const Mould& m, double least_mm2) {
  DamSaving out;
  if (m.nu < 1) return out;
  const std::vector<float> away = part_distance(m);
  const Vec3 middle = m.inner_mm.centre();
  double area[4] = {0, 0, 0, 0};
  for (int j = 0; j < m.nv; ++j)
    for (int i = 0; i < m.nu; ++i) {
      if (static_cast<double>(away[m.column(i, j)]) <= m.wall_mm) continue;
      const double u = m.u0_mm + (i + 0.5) * m.pitch_mm, v = m.v0_mm + (j + 0.5) * m.pitch_mm;
      area[(u > middle.x) + 2 * (v > middle.y)] += m.pitch_mm * m.pitch_mm;
    }
  for (const double a : area)
    if (a >= least_mm2) ++out.corners, out.rubber_mm3 += a * m.inner_mm.size().z;
  return out;
}

}  // namespace palinform
