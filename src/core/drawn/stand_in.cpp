#include "drawn/stand_in.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

#include "base/text.hpp"
#include "drawn/body_mesh.hpp"
#include "mesh/primitives.hpp"

namespace palinform {
namespace {

/// Corners of the cube −1 … 1 in a grid of n × n a side, each once.
TriMesh cube_grid(int n) {
  TriMesh m;
  std::map<std::tuple<int, int, int>, uint32_t> known;
  const auto point = [&](int x, int y, int z) {
    const auto [it, fresh] = known.try_emplace({x, y, z}, static_cast<uint32_t>(m.points.size()));
    if (fresh) m.points.push_back(Vec3{x * 1.0, y * 1.0, z * 1.0} * (2.0 / n) - Vec3{1, 1, 1});
    return it->second;
  };
  for (int axis = 0; axis < 3; ++axis)
    for (const int side : {0, n})
      for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j) {
          const auto corner = [&](int a, int b) {
            int c[3];
            c[axis] = side, c[(axis + 1) % 3] = a, c[(axis + 2) % 3] = b;
            return point(c[0], c[1], c[2]);
          };
          const uint32_t a = corner(i, j), b = corner(i + 1, j), c = corner(i + 1, j + 1), d = corner(i, j + 1);
          if (side == n)
            m.triangles.insert(m.triangles.end(), {{a, b, c}, {a, c, d}});
          else
            m.triangles.insert(m.triangles.end(), {{a, c, b}, {a, d, c}});
        }
  return m;
}

/// The cube's grid pulled onto |x|^n + |y|^n + |z|^n = 1, in the box.
TriMesh swollen(const TriMesh& cube, const Vec3& half, double power) {
  TriMesh m = cube;
  for (Vec3& p : m.points) {
    double sum = 0;
    for (int k = 0; k < 3; ++k) sum += std::pow(std::abs(p[k]), power);
    p *= std::pow(sum, -1 / power);
    for (int k = 0; k < 3; ++k) p[k] *= half[k];
    p.z += half.z;
  }
  return m;
}

}  // namespace

StandIn stand_in_for(const Vec3& e, double volume, StandIn like) {
  if (like != StandIn::by_volume) return like;
  return volume >= 0.45 * e.x * e.y * e.z ? StandIn::rounded : StandIn::shell;
}

Result<TriMesh> stand_in_mesh(const Vec3& e, double volume, StandIn like) {
  const double box = e.x * e.y * e.z;
  if (!(e.x > 0 && e.y > 0 && e.z > 0) || !finite(e))
    return Error{"length, width and height must be above zero", "original", "Measure the box the part fits in."};
  if (!(volume > 0) || volume > box * 1.02)
    return Error{
        "a volume of " + grouped(volume * 1e-3, 1) + " ml does not fit into a box of " + grouped(box * 1e-3, 1) + " ml",
        "original", "Check the measures, the reading and the density."};
  const Vec3 half = e * 0.5;
  if (volume >= box * 0.999) return box_in_frame({}, {-half.x, -half.y, 0}, {half.x, half.y, e.z});
  if (stand_in_for(e, volume, like) == StandIn::shell) {
    // Open below: walls and roof of one thickness, found by halving.
    double low = 0, high = std::min({half.x, half.y, e.z});
    const auto filled = [&](double t) { return box - (e.x - 2 * t) * (e.y - 2 * t) * (e.z - t); };
    for (int k = 0; k < 80; ++k) {
      const double t = 0.5 * (low + high);
      (filled(t) < volume ? low : high) = t;
    }
    DrawnBody b = begun(BodyShape::shell);
    b.length_mm = e.x, b.width_mm = e.y, b.height_mm = e.z, b.wall_mm = b.floor_mm = low, b.corner_mm = 0;
    b.axis = {0, 0, -1}, b.at_mm = {0, 0, e.z};
    auto m = body_mesh(b, chord_error_mm(e.x));
    if (!m) return m.error();
    return std::move(m->mesh);
  }
  const TriMesh cube = cube_grid(24);
  double low = 0.25, high = 60;
  for (int k = 0; k < 60; ++k) {
    const double power = std::sqrt(low * high);
    (measure(swollen(cube, half, power)).volume_mm3 < volume ? low : high) = power;
  }
  return swollen(cube, half, std::sqrt(low * high));
}

}  // namespace palinform
