#include "flow/crossings.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {
namespace {

/// Least distance between two straight pieces.
double apart_mm(const Vec3& a0, const Vec3& a1, const Vec3& b0, const Vec3& b1) {
  const Vec3 u = a1 - a0, v = b1 - b0, w = a0 - b0;
  const double uu = dot(u, u), uv = dot(u, v), vv = dot(v, v), uw = dot(u, w), vw = dot(v, w);
  const double flat = uu * vv - uv * uv;
  double s = flat > 1e-12 ? std::clamp((uv * vw - vv * uw) / flat, 0.0, 1.0) : 0;
  double t = vv > 1e-12 ? std::clamp((uv * s + vw) / vv, 0.0, 1.0) : 0;
  s = uu > 1e-12 ? std::clamp((uv * t - uw) / uu, 0.0, 1.0) : 0;
  return length(w + u * s - v * t);
}

}  // namespace

std::vector<Crossing> crossings_of(const Channel& c, const Mould& m, const std::vector<Key>& keys,
                                   const std::vector<PinPlan>& pins, double clear_mm) {
  std::vector<Crossing> out;
  const double radius = 0.5 * c.diameter_mm;
  int side = 0;  // of the surface that the channel was last clear of: 1 over it, −1 under it
  for (size_t k = 1; k < c.path_mm.size() && out.empty(); ++k) {
    const Vec3 a = c.path_mm[k - 1], b = c.path_mm[k];
    const int steps = std::max(1, static_cast<int>(length(b - a) / 0.5));
    for (int i = 0; i <= steps; ++i) {
      const Vec3 p = a + (b - a) * (static_cast<double>(i) / steps), q = m.frame.direction(p);
      bool in = true;
      for (int e = 0; e < 3; ++e) in &= q[e] >= m.inner_mm.min[e] && q[e] <= m.inner_mm.max[e];
      if (!in) break;
      const double over = q.z - m.parting_at(q.x, q.y);
      const int now = over > radius ? 1 : over < -radius ? -1 : 0;
      if (now != 0 && side != 0 && now != side) {
        out.push_back({Crossing::With::parting, 0, p});
        break;
      }
      if (now != 0) side = now;
    }
  }
  const auto runs_into = [&](const Vec3& a, const Vec3& b, double own_radius) {
    for (size_t i = 1; i < c.path_mm.size(); ++i)
      if (apart_mm(c.path_mm[i - 1], c.path_mm[i], a, b) < own_radius + radius + clear_mm) return true;
    return false;
  };
  for (size_t k = 0; k < pins.size(); ++k) {
    const PinPlan& pin = pins[k];
    if (runs_into(pin.foot_mm, pin.foot_mm + pin.draw * pin.length_mm(), 0.5 * pin.diameter_mm))
      out.push_back({Crossing::With::pin, k, pin.foot_mm});
  }
  for (size_t k = 0; k < keys.size(); ++k) {
    const Key& key = keys[k];
    const double turn = key.along_deg * std::numbers::pi / 180;
    const Vec3 along = Vec3{std::cos(turn), std::sin(turn), 0} * key.half_length_mm;
    if (runs_into(m.frame.direction_back(key.at_mm - along), m.frame.direction_back(key.at_mm + along), key.radius_mm))
      out.push_back({Crossing::With::key, k, m.frame.direction_back(key.at_mm)});
  }
  return out;
}

std::optional<Vec3> clear_foot(const Channel& c, const RayScene& rays, const TriMesh& mesh, const Vec3& up,
                               double top_mm, const Mould& m, const std::vector<Key>& keys,
                               const std::vector<PinPlan>& pins, double clear_mm, double within_mm,
                               const ChannelRules& rules) {
  const Box3 box = measure(mesh).box_mm;
  const Transform f = frame_along(up);
  const Vec3 foot = c.path_mm.front();
  // Level with the foot, aslant over it, and straight over it: half a ball of places, the nearest first.
  for (int ring = 1; ring <= 8; ++ring)
    for (int k = 0; k < 33; ++k) {
      const double r = within_mm * ring / 8, a = 2 * std::numbers::pi * (k % 16) / 16,
                   rise = k == 32   ? 0.5 * std::numbers::pi
                          : k >= 16 ? 0.25 * std::numbers::pi
                                    : 0;
      const Vec3 beside = f.rows[0] * std::cos(a) + f.rows[1] * std::sin(a);
      const SurfacePoint on = rays.closest(foot + (beside * std::cos(rise) + f.rows[2] * std::sin(rise)) * r);
      if (length(on.point_mm - foot) > within_mm) continue;
      const Channel tried =
          plan_channel(rays, box, on.point_mm, mesh.normal(on.triangle), up, top_mm, c.gate, c.name, rules);
      if (tried.clear && crossings_of(tried, m, keys, pins, clear_mm).empty()) return on.point_mm;
    }
  return std::nullopt;
}

}  // namespace palinform
