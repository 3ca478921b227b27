#pragma once
// What is measured: a torus with a ripple, so that nothing is axis-aligned by luck.
#include <cmath>
#include <cstdint>
#include <map>

#include "shapes.hpp"

inline const palinform::TriMesh& bench_part(int64_t triangles) {
  static std::map<int64_t, palinform::TriMesh> made;
  palinform::TriMesh& m = made[triangles];
  if (m.triangles.empty()) {
    const int across = static_cast<int>(std::sqrt(static_cast<double>(triangles) / 4)),
              around = static_cast<int>(triangles / 2 / across);
    m = shapes::torus(40, 12, around, across);
    for (palinform::Vec3& p : m.points) p = p * (1 + 0.02 * std::sin(9 * std::atan2(p.y, p.x)) * std::cos(0.4 * p.z));
  }
  return m;
}
