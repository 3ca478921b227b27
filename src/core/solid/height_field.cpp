#include "solid/height_field.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

HeightField sample_heights(double u0, double v0, double u1, double v1, double pitch,
                           const std::function<double(double, double)>& height) {
  HeightField f;
  f.u0_mm = u0;
  f.v0_mm = v0;
  f.nu = std::max(1, static_cast<int>(std::ceil((u1 - u0) / pitch - 1e-9))) + 1;
  f.nv = std::max(1, static_cast<int>(std::ceil((v1 - v0) / pitch - 1e-9))) + 1;
  f.pitch_u_mm = (u1 - u0) / (f.nu - 1);
  f.pitch_v_mm = (v1 - v0) / (f.nv - 1);
  f.z_mm.resize(static_cast<size_t>(f.nu) * static_cast<size_t>(f.nv));
  for (int j = 0; j < f.nv; ++j)
    for (int i = 0; i < f.nu; ++i) f.at(i, j) = static_cast<float>(height(f.u(i), f.v(j)));
  return f;
}

double HeightField::height(double u_mm, double v_mm) const {
  const double x = std::clamp((u_mm - u0_mm) / pitch_u_mm, 0.0, nu - 1.0),
               y = std::clamp((v_mm - v0_mm) / pitch_v_mm, 0.0, nv - 1.0);
  const int i = std::min(static_cast<int>(x), nu - 2), j = std::min(static_cast<int>(y), nv - 2);
  const double fx = x - i, fy = y - j;
  const auto z = [&](int a, int b) { return static_cast<double>(at(a, b)); };
  return (z(i, j) * (1 - fx) + z(i + 1, j) * fx) * (1 - fy) + (z(i, j + 1) * (1 - fx) + z(i + 1, j + 1) * fx) * fy;
}

TriMesh height_solid(const HeightField& f, double flat, bool below) {
  TriMesh m;
  const auto nu = static_cast<uint32_t>(f.nu), nv = static_cast<uint32_t>(f.nv);
  m.points.reserve(static_cast<size_t>(nu) * nv + 2 * (nu + nv));
  for (uint32_t j = 0; j < nv; ++j)
    for (uint32_t i = 0; i < nu; ++i)
      m.points.push_back({f.u(static_cast<int>(i)), f.v(static_cast<int>(j)),
                          static_cast<double>(f.at(static_cast<int>(i), static_cast<int>(j)))});
  const auto id = [&](uint32_t i, uint32_t j) { return j * nu + i; };
  const auto put = [&](uint32_t a, uint32_t b, uint32_t c) {
    m.triangles.push_back(below ? Triangle{a, b, c} : Triangle{a, c, b});
  };
  for (uint32_t j = 0; j + 1 < nv; ++j)
    for (uint32_t i = 0; i + 1 < nu; ++i) {
      const uint32_t a = id(i, j), b = id(i + 1, j), c = id(i + 1, j + 1), d = id(i, j + 1);
      // The diagonal that follows the ground: across it the heights differ less.
      if (std::abs(m.points[a].z - m.points[c].z) <= std::abs(m.points[b].z - m.points[d].z)) {
        put(a, b, c), put(a, c, d);
      } else {
        put(a, b, d), put(b, c, d);
      }
    }
  std::vector<uint32_t> rim;
  for (uint32_t i = 0; i + 1 < nu; ++i) rim.push_back(id(i, 0));
  for (uint32_t j = 0; j + 1 < nv; ++j) rim.push_back(id(nu - 1, j));
  for (uint32_t i = nu - 1; i > 0; --i) rim.push_back(id(i, nv - 1));
  for (uint32_t j = nv - 1; j > 0; --j) rim.push_back(id(0, j));
  const auto first = static_cast<uint32_t>(m.points.size());
  for (const uint32_t r : rim) m.points.push_back({m.points[r].x, m.points[r].y, flat});
  const auto hub = static_cast<uint32_t>(m.points.size());
  m.points.push_back({f.u0_mm + 0.5 * (f.nu - 1) * f.pitch_u_mm, f.v0_mm + 0.5 * (f.nv - 1) * f.pitch_v_mm, flat});
  for (uint32_t k = 0; k < rim.size(); ++k) {
    const auto n = static_cast<uint32_t>((k + 1) % rim.size());
    put(rim[k], first + k, first + n);
    put(rim[k], first + n, rim[n]);
    put(first + n, first + k, hub);
  }
  return m;
}

}  // namespace palinform
