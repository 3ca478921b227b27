#include "mould/channel.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mesh/primitives.hpp"

namespace palinform {

double Channel::length_mm() const {
  double sum = 0;
  for (size_t k = 1; k < path_mm.size(); ++k) sum += length(path_mm[k] - path_mm[k - 1]);
  return sum;
}

double Channel::volume_mm3() const {
  const double r = 0.5 * diameter_mm, deep = std::min(cup_deep_mm, length_mm()), c = 0.5 * cup_mm;
  const double funnel = cup_mm > diameter_mm ? std::numbers::pi / 3 * deep * (c * c + c * r + r * r) : 0;
  return std::numbers::pi * r * r * (length_mm() - (funnel > 0 ? deep : 0)) + funnel;
}

std::vector<TriMesh> channel_bodies(const Channel& c) {
  std::vector<TriMesh> out;
  for (size_t k = 1; k < c.path_mm.size(); ++k) {
    const Vec3 way = c.path_mm[k] - c.path_mm[k - 1];
    if (length(way) < 1e-6) continue;
    out.push_back(rod(c.path_mm[k - 1], unit(way), length(way), 0.5 * c.diameter_mm, 0.5 * c.diameter_mm, 48));
    if (k + 1 < c.path_mm.size()) out.push_back(ball(c.path_mm[k], 0.5 * c.diameter_mm));
  }
  if (c.cup_mm > c.diameter_mm && c.path_mm.size() > 1) {
    const Vec3 end = c.path_mm.back(), way = end - c.path_mm[c.path_mm.size() - 2];
    const double deep = std::min(c.cup_deep_mm, length(way));
    if (deep > 1e-6)
      out.push_back(rod(end - unit(way) * deep, unit(way), deep, 0.5 * c.diameter_mm, 0.5 * c.cup_mm, 48));
  }
  return out;
}

}  // namespace palinform
