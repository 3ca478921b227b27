#include "mesh/thickness.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {

std::optional<Wall> wall_at(const TriMesh& mesh, const RayScene& rays, const Vec3& near) {
  const SurfacePoint s = rays.closest(near);
  const Vec3 in = -mesh.normal(s.triangle);
  const double skip = 1e-5 * rays.diagonal_mm();
  const auto hit = rays.first_hit(s.point_mm, in, skip);
  if (!hit) return std::nullopt;
  return Wall{s.point_mm, s.point_mm + in * hit->t_mm, hit->t_mm};
}

std::optional<double> section_at_mm(const TriMesh& mesh, const RayScene& rays, const Vec3& near, int count) {
  const SurfacePoint s = rays.closest(near);
  const Vec3 n = mesh.normal(s.triangle), u = any_perpendicular(n), v = cross(n, u);
  const double skip = 1e-5 * rays.diagonal_mm();
  double radius = 1e300;
  for (int i = 0; i < count; ++i) {
    // Golden-angle spiral over the inner half-space, from straight in to 60° off: flatter rays meet the facets next
    // door.
    const double c = 1 - (1 - std::cos(60 * std::numbers::pi / 180)) * (i + 0.5) / count, sine = std::sqrt(1 - c * c);
    const double a = i * std::numbers::pi * (3 - std::sqrt(5.0));
    const Vec3 d = n * -c + u * (sine * std::cos(a)) + v * (sine * std::sin(a));
    const auto hit = rays.first_hit(s.point_mm - n * skip, d, skip);
    if (hit) radius = std::min(radius, hit->t_mm / (2 * c));  // |q−p| = t, (p−q)·n = t·c
  }
  if (radius > 1e200) return std::nullopt;
  return 2 * radius;
}

}  // namespace palinform
