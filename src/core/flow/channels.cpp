#include "flow/channels.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {

double top_along(const Box3& box, const Transform& frame, const Vec3& up) {
  double top = -1e300;
  for (int k = 0; k < 8; ++k)
    top = std::max(top, dot(up, frame.direction_back({k & 1 ? box.max.x : box.min.x, k & 2 ? box.max.y : box.min.y,
                                                      k & 4 ? box.max.z : box.min.z})));
  return top;
}

Channel plan_channel(const RayScene& rays, const Box3& box, const Vec3& at, const Vec3& normal, const Vec3& up,
                     double top, bool gate, const std::string& name, const ChannelRules& r) {
  Channel c;
  c.name = name;
  c.gate = gate;
  c.diameter_mm = gate ? r.gate_mm : r.vent_mm;
  if (gate) c.cup_mm = r.cup_ratio * c.diameter_mm, c.cup_deep_mm = r.cup_deep_mm;
  const double radius = 0.5 * c.diameter_mm;
  const Vec3 foot = at - normal * r.sink_mm;
  // Clear of the part along a run: its middle and four lines round it, past the first bit at the foot.
  const auto run_clear = [&](const Vec3& from, const Vec3& dir, double len, double skip) {
    const Vec3 a = any_perpendicular(dir), b = cross(dir, a);
    for (int k = 0; k < 5; ++k) {
      const double t = k * 0.5 * std::numbers::pi;
      const Vec3 side = k == 4 ? Vec3{} : (a * std::cos(t) + b * std::sin(t)) * (0.9 * radius);
      const auto hit = rays.first_hit(from + side + dir * skip, dir);
      if (hit && hit->t_mm < len - skip) return false;
    }
    return true;
  };
  const double rise = std::max(1.0, top - dot(up, at));
  c.path_mm = {foot, at + up * rise};
  const bool faces_up = dot(normal, up) > -0.2;
  const double skip = radius + 0.4;
  if (faces_up && run_clear(at, up, rise, skip)) return c;
  // Out to the side nearest to the way the wall looks, far enough to stand beside the part, then up.
  Vec3 level = normal - up * dot(normal, up);
  if (length(level) < 1e-3) {
    const Vec3 out = at - box.centre();
    level = out - up * dot(out, up);
  }
  if (length(level) < 1e-3) level = any_perpendicular(up);
  level = unit(level);
  const Vec3 across = cross(up, level);
  for (int k = 0; k < 24; ++k) {
    const double t = ((k + 1) / 2) * (k % 2 ? 1 : -1) * std::numbers::pi / 12;
    const Vec3 side = level * std::cos(t) + across * std::sin(t);
    if (dot(side, normal) < -0.2) continue;
    const double reach =
        std::max(0.0, top_along(box, {}, side) - dot(side, at));  // of the box beyond the foot, that way
    // Beside the part as soon as the way up is clear, at the latest beyond its box.
    const double drop = dot(normal, up) < -0.6 ? radius + 2 : 0;  // under the part: down first
    const Vec3 low = at - up * drop;
    if (drop > 0 && !run_clear(at, -up, drop, 0.3)) continue;
    for (const double share : {0.25, 0.5, 0.75, 1.0}) {
      const double out = share * reach + radius + r.beside_mm;
      const Vec3 corner = low + side * out;
      if (!run_clear(low, side, out, drop > 0 ? 0 : skip) || !run_clear(corner, up, rise + drop, 0)) continue;
      // Rubber enough between the upright and the part.
      double near = 1e300;
      for (int s = 0; s <= 8; ++s)
        near = std::min(near, rays.closest(corner + up * ((rise + drop) * s / 8)).distance_mm);
      if (near < radius + std::min(3.0, r.beside_mm)) continue;
      c.path_mm = {foot};
      if (drop > 0) c.path_mm.push_back(low);
      c.path_mm.push_back(corner);
      c.path_mm.push_back(corner + up * (rise + drop));
      return c;
    }
  }
  c.clear = false;
  return c;
}

}  // namespace palinform
