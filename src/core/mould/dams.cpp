#include "mould/dams.hpp"

#include <algorithm>
#include <cmath>

#include "mould/keys.hpp"

namespace palinform {

DamSaving dam_saving(const Mould& m, double least_mm2) {
  DamSaving out;
  if (m.nu < 1) return out;
  const std::vector<float> away = part_distance(m);
  const Vec3 size = m.inner_mm.size();
  std::vector<uint8_t> taken(away.size(), 0);
  const auto column = [&](bool right, bool back, int i, int j) {
    return m.column(right ? m.nu - 1 - i : i, back ? m.nv - 1 - j : j);
  };
  struct Block {
    int nu = 0, nv = 0;
    double u_mm = 0, v_mm = 0;
    double area() const { return u_mm * v_mm; }
  };
  const auto largest = [&](bool right, bool back) {
    Block best;
    int free = m.nu;  // row by row from the corner's wall: how far from it all of the rows so far are free
    for (int j = 0; j < m.nv && free > 0; ++j) {
      int run = 0;
      while (run < free && !taken[column(right, back, run, j)] &&
             static_cast<double>(away[column(right, back, run, j)]) > m.wall_mm)
        ++run;
      free = run;
      const Block b{free, j + 1, std::floor(std::min(free * m.pitch_mm, size.x)),
                    std::floor(std::min((j + 1) * m.pitch_mm, size.y))};
      if (b.area() > best.area()) best = b;
    }
    return best;
  };
  for (int round = 0; round < 4; ++round) {
    Block best;
    bool right = false, back = false;
    for (const bool r : {false, true})
      for (const bool b : {false, true})
        if (const Block x = largest(r, b); x.area() > best.area()) best = x, right = r, back = b;
    if (best.area() < least_mm2) break;
    for (int j = 0; j < best.nv; ++j)
      for (int i = 0; i < best.nu; ++i) taken[column(right, back, i, j)] = 1;
    ++out.corners;
    out.rubber_mm3 += best.area() * size.z;
    const Box3& in = m.inner_mm;
    Box3 block;
    block.add({right ? in.max.x - best.u_mm : in.min.x, back ? in.max.y - best.v_mm : in.min.y, in.min.z});
    block.add({right ? in.max.x : in.min.x + best.u_mm, back ? in.max.y : in.min.y + best.v_mm, in.max.z});
    out.blocks_mm.push_back(block);
  }
  return out;
}

}  // namespace palinform
