#include <algorithm>
#include <cmath>

#include "mould/box.hpp"
#include "mould/line_heights.hpp"

namespace palinform {

TriMesh rubber_half(const Mould& m, const TriMesh& mesh, const Split& split, bool upper) {
  TriMesh out;
  const uint8_t side = upper ? 0 : 1;
  std::vector<uint32_t> to(mesh.points.size(), 0xFFFFFFFFu);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (split.side[t] != side) continue;
    Triangle tri;
    for (int k = 0; k < 3; ++k) {
      uint32_t& v = to[mesh.triangles[t][k]];
      if (v == 0xFFFFFFFFu) {
        v = static_cast<uint32_t>(out.points.size());
        out.points.push_back(mesh.points[mesh.triangles[t][k]]);
      }
      tri[2 - k] = v;
    }
    out.triangles.push_back(tri);
  }
  // The parting surface on the grid's corners; cells under the part are left out and the rim is drawn onto the line.
  const LineHeights line(split, m.frame);
  const int cu = m.nu + 1, cv = m.nv + 1;
  const auto cell = [&](int i, int j) {
    return static_cast<size_t>(j) * static_cast<size_t>(m.nu) + static_cast<size_t>(i);
  };
  std::vector<uint32_t> corner(static_cast<size_t>(cu) * static_cast<size_t>(cv), 0xFFFFFFFFu);
  const auto corner_point = [&](int i, int j) {
    uint32_t& id = corner[static_cast<size_t>(j) * static_cast<size_t>(cu) + static_cast<size_t>(i)];
    if (id != 0xFFFFFFFFu) return id;
    double u = std::clamp(m.u0_mm + i * m.pitch_mm, m.inner_mm.min.x, m.inner_mm.max.x);
    double v = std::clamp(m.v0_mm + j * m.pitch_mm, m.inner_mm.min.y, m.inner_mm.max.y);
    double sum = 0;
    int n = 0;
    bool rim = false;
    for (int dj = -1; dj <= 0; ++dj)
      for (int di = -1; di <= 0; ++di) {
        const int x = i + di, y = j + dj;
        if (x < 0 || y < 0 || x >= m.nu || y >= m.nv) continue;
        if (m.shadow[cell(x, y)])
          rim = true;
        else
          sum += m.parting_mm[cell(x, y)], ++n;
      }
    Vec3 p{u, v, n ? sum / n : 0};
    if (rim && !line.empty()) {
      const Vec3& at = line.point(line.nearest(u, v));
      if (std::hypot(at.x - u, at.y - v) < 2 * m.pitch_mm) p = at;
    }
    p.z = std::clamp(p.z, m.inner_mm.min.z, m.inner_mm.max.z);
    id = static_cast<uint32_t>(out.points.size());
    out.points.push_back(m.frame.direction_back(p));
    return id;
  };
  const auto add = [&](uint32_t a, uint32_t b, uint32_t d, bool flip) {
    if (a == b || b == d || d == a) return;
    out.triangles.push_back(flip ? Triangle{a, d, b} : Triangle{a, b, d});
  };
  for (int j = 0; j < m.nv; ++j)
    for (int i = 0; i < m.nu; ++i) {
      if (m.shadow[cell(i, j)]) continue;
      const uint32_t p00 = corner_point(i, j), p10 = corner_point(i + 1, j), p11 = corner_point(i + 1, j + 1),
                     p01 = corner_point(i, j + 1);
      add(p00, p10, p11, upper);
      add(p00, p11, p01, upper);
    }
  // Walls from the surface's edge to the end of the box, then the lid.
  const double end = upper ? m.inner_mm.max.z : m.inner_mm.min.z;
  const auto above = [&](uint32_t id) {
    Vec3 p = m.frame.direction(out.points[id]);
    p.z = end;
    out.points.push_back(m.frame.direction_back(p));
    return static_cast<uint32_t>(out.points.size() - 1);
  };
  std::vector<uint32_t> rim;
  for (int i = 0; i < cu - 1; ++i) rim.push_back(corner_point(i, 0));
  for (int j = 0; j < cv - 1; ++j) rim.push_back(corner_point(cu - 1, j));
  for (int i = cu - 1; i > 0; --i) rim.push_back(corner_point(i, cv - 1));
  for (int j = cv - 1; j > 0; --j) rim.push_back(corner_point(0, j));
  std::vector<uint32_t> far;
  for (const uint32_t id : rim) far.push_back(above(id));
  const Vec3 middle = m.inner_mm.centre();
  const uint32_t hub = static_cast<uint32_t>(out.points.size());
  out.points.push_back(m.frame.direction_back({middle.x, middle.y, end}));
  for (size_t k = 0; k < rim.size(); ++k) {
    const size_t n = (k + 1) % rim.size();
    add(rim[k], rim[n], far[n], !upper);
    add(rim[k], far[n], far[k], !upper);
    add(far[k], far[n], hub, !upper);
  }
  return out;
}

}  // namespace palinform
