#include "mesh/primitives.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace palinform {

TriMesh rod(const Vec3& foot, const Vec3& draw, double length_mm, double foot_radius, double head_radius, uint32_t n) {
  TriMesh m;
  const Vec3 a = any_perpendicular(draw), b = cross(draw, a);
  for (const bool head : {false, true})
    for (uint32_t k = 0; k < n; ++k) {
      const double t = 2 * std::numbers::pi * k / n;
      m.points.push_back(foot + draw * (head ? length_mm : 0) +
                         (a * std::cos(t) + b * std::sin(t)) * (head ? head_radius : foot_radius));
    }
  m.points.push_back(foot);
  m.points.push_back(foot + draw * length_mm);
  for (uint32_t k = 0; k < n; ++k) {
    const uint32_t o = (k + 1) % n;
    m.triangles.push_back({k, o, n + o});
    m.triangles.push_back({k, n + o, n + k});
    m.triangles.push_back({2 * n, o, k});
    m.triangles.push_back({2 * n + 1, n + k, n + o});
  }
  return m;
}

TriMesh ball(const Vec3& centre, double radius, int times) {
  TriMesh m;
  const double g = (1 + std::sqrt(5.0)) / 2;
  m.points = {{-1, g, 0},  {1, g, 0},  {-1, -g, 0}, {1, -g, 0}, {0, -1, g},  {0, 1, g},
              {0, -1, -g}, {0, 1, -g}, {g, 0, -1},  {g, 0, 1},  {-g, 0, -1}, {-g, 0, 1}};
  m.triangles = {{0, 11, 5},  {0, 5, 1},  {0, 1, 7},  {0, 7, 10}, {0, 10, 11}, {1, 5, 9}, {5, 11, 4},
                 {11, 10, 2}, {10, 7, 6}, {7, 1, 8},  {3, 9, 4},  {3, 4, 2},   {3, 2, 6}, {3, 6, 8},
                 {3, 8, 9},   {4, 9, 5},  {2, 4, 11}, {6, 2, 10}, {8, 6, 7},   {9, 8, 1}};
  for (int t = 0; t < times; ++t) {
    std::map<std::pair<uint32_t, uint32_t>, uint32_t> middle;
    const auto between = [&](uint32_t a, uint32_t b) {
      const std::pair key(std::min(a, b), std::max(a, b));
      const auto [it, fresh] = middle.try_emplace(key, static_cast<uint32_t>(m.points.size()));
      if (fresh) m.points.push_back((m.points[a] + m.points[b]) * 0.5);
      return it->second;
    };
    std::vector<Triangle> finer;
    for (const Triangle& f : m.triangles) {
      const uint32_t a = between(f[0], f[1]), b = between(f[1], f[2]), c = between(f[2], f[0]);
      finer.insert(finer.end(), {{f[0], a, c}, {f[1], b, a}, {f[2], c, b}, {a, b, c}});
    }
    m.triangles = std::move(finer);
  }
  for (Vec3& p : m.points) p = centre + unit(p) * radius;
  return m;
}

TriMesh box_in_frame(const Transform& frame, const Vec3& low, const Vec3& high) {
  TriMesh m;
  for (int k = 0; k < 8; ++k)
    m.points.push_back(frame.direction_back({k & 1 ? high.x : low.x, k & 2 ? high.y : low.y, k & 4 ? high.z : low.z}));
  m.triangles = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                 {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
  return m;
}

void append(TriMesh& a, const TriMesh& b) {
  const auto shift = static_cast<uint32_t>(a.points.size());
  a.points.insert(a.points.end(), b.points.begin(), b.points.end());
  for (const Triangle& t : b.triangles) a.triangles.push_back({t[0] + shift, t[1] + shift, t[2] + shift});
}

}  // namespace palinform
