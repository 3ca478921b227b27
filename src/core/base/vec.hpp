#pragma once
/// Small fixed vectors for points and directions. Millimetres where a point is meant; unit length where a direction is.
#include <array>
#include <cmath>
#include <cstdint>

namespace palinform {

struct Vec3 {
  double x = 0, y = 0, z = 0;
  double& operator[](int i) { return i == 0 ? x : i == 1 ? y : z; }
  double operator[](int i) const { return i == 0 ? x : i == 1 ? y : z; }
  Vec3& operator+=(const Vec3& o) { return x += o.x, y += o.y, z += o.z, *this; }
  Vec3& operator-=(const Vec3& o) { return x -= o.x, y -= o.y, z -= o.z, *this; }
  Vec3& operator*=(double s) { return x *= s, y *= s, z *= s, *this; }
  bool operator==(const Vec3&) const = default;
};

inline Vec3 operator+(Vec3 a, const Vec3& b) { return a += b; }
inline Vec3 operator-(Vec3 a, const Vec3& b) { return a -= b; }
inline Vec3 operator-(const Vec3& a) { return {-a.x, -a.y, -a.z}; }
inline Vec3 operator*(Vec3 a, double s) { return a *= s; }
inline Vec3 operator*(double s, Vec3 a) { return a *= s; }
inline Vec3 operator/(Vec3 a, double s) { return a *= 1.0 / s; }
inline double dot(const Vec3& a, const Vec3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
inline Vec3 cross(const Vec3& a, const Vec3& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
inline double length(const Vec3& a) { return std::sqrt(dot(a, a)); }
inline bool finite(const Vec3& a) { return std::isfinite(a.x) && std::isfinite(a.y) && std::isfinite(a.z); }

/// Unit vector along `a`; `fallback` where `a` has no length.
inline Vec3 unit(const Vec3& a, const Vec3& fallback = {0, 0, 1}) {
  const double n = length(a);
  return n > 0 ? a / n : fallback;
}

/// A unit vector at right angles to unit vector `d`; the same for the same `d`.
inline Vec3 any_perpendicular(const Vec3& d) {
  const Vec3 axis = std::abs(d.x) < 0.6 ? Vec3{1, 0, 0} : std::abs(d.y) < 0.6 ? Vec3{0, 1, 0} : Vec3{0, 0, 1};
  return unit(cross(d, axis));
}

struct Box3 {
  Vec3 min{1e300, 1e300, 1e300}, max{-1e300, -1e300, -1e300};
  bool operator==(const Box3&) const = default;
  bool empty() const { return min.x > max.x; }
  void add(const Vec3& p) {
    for (int i = 0; i < 3; ++i) {
      min[i] = std::min(min[i], p[i]);
      max[i] = std::max(max[i], p[i]);
    }
  }
  Vec3 size() const { return empty() ? Vec3{} : max - min; }
  Vec3 centre() const { return empty() ? Vec3{} : (min + max) * 0.5; }
};

/// Rotation then translation: p ↦ R·p + t. `rows` are the rows of R. Rigid unless built otherwise.
struct Transform {
  std::array<Vec3, 3> rows{Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}};
  Vec3 shift;
  bool operator==(const Transform&) const = default;
  Vec3 direction(const Vec3& v) const { return {dot(rows[0], v), dot(rows[1], v), dot(rows[2], v)}; }
  Vec3 point(const Vec3& p) const { return direction(p) + shift; }
  /// Inverse of a rigid transform applied to a direction or a point.
  Vec3 direction_back(const Vec3& v) const { return rows[0] * v.x + rows[1] * v.y + rows[2] * v.z; }
  Vec3 point_back(const Vec3& p) const { return direction_back(p - shift); }
  /// Of a rigid transform.
  Transform inverse() const {
    Transform t;
    for (size_t i = 0; i < 3; ++i)
      t.rows[i] = {rows[0][static_cast<int>(i)], rows[1][static_cast<int>(i)], rows[2][static_cast<int>(i)]};
    t.shift = -t.direction(shift);
    return t;
  }
  /// This one, then the other.
  Transform then(const Transform& next) const {
    Transform t;
    for (size_t i = 0; i < 3; ++i)
      t.rows[i] = rows[0] * next.rows[i].x + rows[1] * next.rows[i].y + rows[2] * next.rows[i].z;
    t.shift = next.point(shift);
    return t;
  }
  static Transform move(const Vec3& by) { return {{Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}}, by}; }
  /// Right-handed rotation of `angle_rad` about unit `axis` through the origin.
  static Transform turn(const Vec3& axis, double angle_rad) {
    const double c = std::cos(angle_rad), s = std::sin(angle_rad), k = 1 - c;
    const Vec3& a = axis;
    return {{Vec3{c + a.x * a.x * k, a.x * a.y * k - a.z * s, a.x * a.z * k + a.y * s},
             Vec3{a.y * a.x * k + a.z * s, c + a.y * a.y * k, a.y * a.z * k - a.x * s},
             Vec3{a.z * a.x * k - a.y * s, a.z * a.y * k + a.x * s, c + a.z * a.z * k}},
            {}};
  }
};

}  // namespace palinform
