#pragma once
/// The place of a triangle that lies nearest to a point, by its Voronoi regions (Ericson, Real-Time Collision Detection,
/// 5.1.5). A triangle without area gives a place of its edges.
#include "base/vec.hpp"

namespace palinform {

inline Vec3 closest_on_triangle(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& p) {
  const Vec3 ab = b - a, ac = c - a, ap = p - a, bp = p - b, cp = p - c;
  const double d1 = dot(ab, ap), d2 = dot(ac, ap), d3 = dot(ab, bp), d4 = dot(ac, bp), d5 = dot(ab, cp),
               d6 = dot(ac, cp);
  const double va = d3 * d6 - d5 * d4, vb = d5 * d2 - d1 * d6, vc = d1 * d4 - d3 * d2;
  if (d1 <= 0 && d2 <= 0) return a;
  if (d3 >= 0 && d4 <= d3) return b;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + ab * (d1 / (d1 - d3));
  if (d6 >= 0 && d5 <= d6) return c;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + ac * (d2 / (d2 - d6));
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  return a + ab * (vb / (va + vb + vc)) + ac * (vc / (va + vb + vc));
}

}  // namespace palinform
