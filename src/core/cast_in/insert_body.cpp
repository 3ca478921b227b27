#include "cast_in/insert_body.hpp"

#include <cmath>
#include <numbers>
#include <vector>

namespace palinform {
namespace {

constexpr uint32_t round_sides = 96;

/// Corner radius of a regular polygon of the circle's area.
double fair_radius(double radius) {
  const double a = 2 * std::numbers::pi / round_sides;
  return radius * std::sqrt(a / std::sin(a));
}

struct Outline {
  std::vector<double> x, y;
};

Outline round_outline(double radius) {
  Outline o;
  for (uint32_t k = 0; k < round_sides; ++k) {
    const double t = 2 * std::numbers::pi * k / round_sides;
    o.x.push_back(fair_radius(radius) * std::cos(t)), o.y.push_back(fair_radius(radius) * std::sin(t));
  }
  return o;
}

/// Six-sided, with as many points as a round one, corners among them.
Outline hexagon(double across_flats) {
  Outline o;
  constexpr uint32_t a_side = round_sides / 6;
  const double corner = across_flats / std::sqrt(3.0);
  for (uint32_t k = 0; k < round_sides; ++k) {
    const double from = std::numbers::pi / 3 * (k / a_side), to = from + std::numbers::pi / 3;
    const double s = static_cast<double>(k % a_side) / a_side;
    o.x.push_back(corner * ((1 - s) * std::cos(from) + s * std::cos(to)));
    o.y.push_back(corner * ((1 - s) * std::sin(from) + s * std::sin(to)));
  }
  return o;
}

}  // namespace

TriMesh insert_body(const Insert& in, bool plugged) {
  using Kind = Insert::Kind;
  TriMesh m;
  if (in.kind == Kind::mesh || in.across_mm <= 0 || in.long_mm <= 0 || length(in.axis) == 0) return m;
  Outline outer;
  if (in.kind == Kind::plate)
    outer = {{0.5 * in.wide_mm, -0.5 * in.wide_mm, -0.5 * in.wide_mm, 0.5 * in.wide_mm},
             {0.5 * in.across_mm, 0.5 * in.across_mm, -0.5 * in.across_mm, -0.5 * in.across_mm}};
  else
    outer = in.kind == Kind::nut ? hexagon(in.across_mm) : round_outline(0.5 * in.across_mm);
  const bool bored = in.bored() && !plugged;
  if (in.bored() && in.bore_mm >= 0.98 * in.across_mm) return m;
  const Vec3 w = unit(in.axis), e = any_perpendicular(w), f = cross(w, e);
  const double turn = in.turn_deg * std::numbers::pi / 180;
  const Vec3 u = e * std::cos(turn) + f * std::sin(turn), v = cross(w, u);
  const auto n = static_cast<uint32_t>(outer.x.size());
  const auto ring = [&](const Outline& o, double z) {
    for (uint32_t k = 0; k < n; ++k) m.points.push_back(in.at_mm + u * o.x[k] + v * o.y[k] + w * z);
  };
  ring(outer, 0), ring(outer, in.long_mm);
  for (uint32_t k = 0; k < n; ++k) {
    const uint32_t o = (k + 1) % n;
    m.triangles.push_back({k, o, n + o});
    m.triangles.push_back({k, n + o, n + k});
  }
  if (!bored) {
    const auto low = static_cast<uint32_t>(m.points.size());
    m.points.push_back(in.at_mm), m.points.push_back(in.at_mm + w * in.long_mm);
    for (uint32_t k = 0; k < n; ++k) {
      const uint32_t o = (k + 1) % n;
      m.triangles.push_back({low, o, k});
      m.triangles.push_back({low + 1, n + k, n + o});
    }
    return m;
  }
  const Outline inner = round_outline(0.5 * in.bore_mm);
  ring(inner, 0), ring(inner, in.long_mm);
  for (uint32_t k = 0; k < n; ++k) {
    const uint32_t o = (k + 1) % n;
    m.triangles.push_back({2 * n + k, 3 * n + o, 2 * n + o});  // the bore's wall, seen from its axis
    m.triangles.push_back({2 * n + k, 3 * n + k, 3 * n + o});
    m.triangles.push_back({k, 2 * n + k, 2 * n + o});  // near end
    m.triangles.push_back({k, 2 * n + o, o});
    m.triangles.push_back({n + k, n + o, 3 * n + o});  // far end
    m.triangles.push_back({n + k, 3 * n + o, 3 * n + k});
  }
  return m;
}

}  // namespace palinform
