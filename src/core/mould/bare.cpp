#include "mould/bare.hpp"

#include <algorithm>

namespace palinform {

Mould bare_mould(const Vec3& extent, double part_mm3, double wall) {
  double m[3] = {extent.x, extent.y, extent.z};
  std::sort(m, m + 3);
  Mould out;
  out.wall_mm = wall;
  const Vec3 inner{m[2] + 2 * wall, m[1] + 2 * wall, m[0] + 2 * wall};
  out.inner_mm.min = inner * -0.5;
  out.inner_mm.max = inner * 0.5;
  out.part_mm3 = part_mm3;
  out.box_mm3 = inner.x * inner.y * inner.z;
  out.rubber_mm3 = out.box_mm3 - part_mm3;
  // The part's share of each height is unknown: half of its volume lies in the middle slab of each half, evenly.
  const double half = inner.z / 2, area = inner.x * inner.y, part_height = m[0] / 2;
  for (const char* name : {"a", "b"}) {
    RubberPour p;
    p.name = name;
    p.volume_mm3 = out.rubber_mm3 / 2;
    p.fill_height_mm = half;
    const double thin = (area * part_height - part_mm3 / 2);
    p.curve = {{0, 0}, {part_height, std::max(0.0, thin)}, {half, p.volume_mm3}};
    out.pours.push_back(std::move(p));
  }
  const double panel = 6;
  out.panels = {{"long side", inner.x + 2 * panel, inner.z, panel},
                {"long side", inner.x + 2 * panel, inner.z, panel},
                {"short side", inner.y, inner.z, panel},
                {"short side", inner.y, inner.z, panel},
                {"floor", inner.x + 2 * panel, inner.y + 2 * panel, panel}};
  return out;
}

}  // namespace palinform
