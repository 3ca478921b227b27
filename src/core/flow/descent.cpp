#include "flow/descent.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

int64_t Descent::level_at(double height) const {
  return static_cast<int64_t>(std::llround((height - base_mm) / step_mm));
}

void descend(const Cavity& c, const Vec3& up, Descent& d) {
  constexpr uint32_t levels = 1u << 17;
  const size_t n = c.cells.size();
  const double h = c.voxel_mm;
  d.order.resize(n);
  d.level.resize(n);
  d.ends.assign(levels + 1, 0);
  d.reach_mm = h * (std::abs(up.x) + std::abs(up.y) + std::abs(up.z));
  if (n == 0) return;
  // One table for each axis; a height is the sum of three entries.
  const auto table = [&](int count, double slope) {
    std::vector<double> t(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i) t[static_cast<size_t>(i)] = (i + 0.5) * slope * h;
    return t;
  };
  const auto x = table(c.nx, up.x), y = table(c.ny, up.y), z = table(c.nz, up.z);
  double low = 1e300, high = -1e300;
  for (size_t k = 0; k < n; ++k) {
    const auto& at = c.lattice[k];
    const double v = x[at[0]] + y[at[1]] + z[at[2]];
    low = std::min(low, v), high = std::max(high, v);
  }
  // A whole number of levels to a cell, so that heights along an axis come out exact.
  d.step_mm = d.reach_mm / std::max(1.0, std::floor((levels - 1) * d.reach_mm / std::max(high - low, d.reach_mm)));
  d.base_mm = low + 0.5 * d.reach_mm;
  const double per = 1 / d.step_mm;
  for (size_t k = 0; k < n; ++k) {
    const auto& at = c.lattice[k];
    const auto level = std::min(static_cast<uint32_t>((x[at[0]] + y[at[1]] + z[at[2]] - low) * per + 0.5), levels - 1);
    d.level[k] = level;
    ++d.ends[levels - 1 - level + 1];
  }
  for (uint32_t k = 0; k < levels; ++k) d.ends[k + 1] += d.ends[k];
  for (size_t k = 0; k < n; ++k) d.order[d.ends[levels - 1 - d.level[k]]++] = static_cast<uint32_t>(k);
}

}  // namespace palinform
