#include "picture/scene.hpp"

#include <algorithm>
#include <numbers>

namespace palinform {
namespace {
constexpr double degree = std::numbers::pi / 180;
}

Box3 Scene::box_mm() const {
  Box3 box;
  for (const Body& b : bodies) {
    if (!b.shape || b.shape->box_mm.empty()) continue;
    const Box3& s = b.shape->box_mm;
    for (int i = 0; i < 8; ++i)
      box.add(b.place.point({i & 1 ? s.max.x : s.min.x, i & 2 ? s.max.y : s.min.y, i & 4 ? s.max.z : s.min.z}));
  }
  return box;
}

void Camera::orbit(double dx, double dy) {
  const Transform about_z = Transform::turn({0, 0, 1}, -dx * 0.4 * degree);
  right = about_z.direction(right);
  up = about_z.direction(up);
  const Transform about_right = Transform::turn(right, -dy * 0.4 * degree);
  const Vec3 turned = about_right.direction(up);
  if (turned.z >= 0 || turned.z > up.z) up = turned;  // never over the pole: the bench stays below
  right = unit(right);
  up = unit(up - right * dot(up, right));
}

void Camera::pan(double dx, double dy) { target_mm += (up * dy - right * dx) * mm_per_px; }

void Camera::zoom(double factor, double x, double y) {
  const Vec3 before = unproject(x, y, 0);
  mm_per_px = std::clamp(mm_per_px / factor, 1e-5, 100.0);
  target_mm += before - unproject(x, y, 0);
}

void Camera::fit(const Box3& box, double margin) {
  if (box.empty() || width_px <= 0 || height_px <= 0) return;
  target_mm = box.centre();
  double w = 0, h = 0;
  for (int i = 0; i < 8; ++i) {
    const Vec3 v =
        Vec3{i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z} - target_mm;
    w = std::max(w, std::abs(dot(v, right)));
    h = std::max(h, std::abs(dot(v, up)));
  }
  const double keep = 1 - 2 * margin;
  mm_per_px = std::max({2 * w / (width_px * keep), 2 * h / (height_px * keep), 1e-5});
}

void Camera::look_from(double azimuth_deg, double elevation_deg) {
  const double a = azimuth_deg * degree, e = elevation_deg * degree;
  const Vec3 toward{std::cos(e) * std::cos(a), std::cos(e) * std::sin(a), std::sin(e)};
  right = unit(Vec3{-std::sin(a), std::cos(a), 0});
  up = cross(toward, right);
}

}  // namespace palinform
