#pragma once
// For this room: directions along which something could be drawn out of a mould.
#include <cmath>
#include <vector>

#include "base/vec.hpp"

namespace palinform {

struct DrawWays {
  std::vector<Vec3> ways;  ///< unit
  size_t plain = 0;        ///< the first so many: the axes, and the axes turned into the plane across the pull
};

/// The plain ones, then `globe` spread evenly over all there are (golden angle).
inline DrawWays draw_ways(const Vec3& pull, int globe) {
  DrawWays out;
  for (int axis = 0; axis < 3; ++axis)
    for (const double sign : {1.0, -1.0}) {
      Vec3 d;
      d[axis] = sign;
      out.ways.push_back(d);
      const Vec3 across = d - pull * dot(d, pull);
      if (length(across) > 0.3) out.ways.push_back(unit(across));
    }
  out.plain = out.ways.size();
  for (int i = 0; i < globe; ++i) {
    const double z = 1 - (2 * i + 1.0) / globe, r = std::sqrt(1 - z * z), a = i * 2.399963229728653;
    out.ways.push_back({r * std::cos(a), r * std::sin(a), z});
  }
  return out;
}

}  // namespace palinform
