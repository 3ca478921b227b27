#include "solid/columns.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

struct Crossing {
  double at;
  uint32_t face;
  int sign;  // +1 going in, −1 coming out
};

}  // namespace

Transform frame_along(const Vec3& d) {
  const Vec3 w = unit(d);
  for (int k = 0; k < 3; ++k)
    if (std::abs(w[k]) > 1 - 1e-12) {
      Transform t;
      const double s = w[k] > 0 ? 1 : -1;
      Vec3 axis[3];
      for (int i = 0; i < 3; ++i) axis[i][(k + 1 + i) % 3] = 1;
      t.rows = {axis[0], axis[1] * s, axis[2] * s};
      return t;
    }
  const Vec3 u = any_perpendicular(w);
  return {{u, cross(w, u), w}, {}};
}

double Columns::volume_mm3() const {
  double sum = 0;
  for (const Span& s : span) sum += s.high_mm - s.low_mm;
  return sum * pitch_mm * pitch_mm;
}

double Columns::volume_error_mm3() const {
  double half[2] = {0, 0};
  for (size_t c = 0; c < count(); ++c)
    for (uint32_t s = start[c]; s < start[c + 1]; ++s)
      half[(c % static_cast<size_t>(nu) + c / static_cast<size_t>(nu)) % 2] += span[s].high_mm - span[s].low_mm;
  return std::abs(half[0] - half[1]) * pitch_mm * pitch_mm;
}

Result<Columns> build_columns(const TriMesh& mesh, const Transform& frame, double pitch, double margin,
                              const Progress& progress) {
  Box3 box;
  Transform turn = frame;
  turn.shift = {};
  for (const Vec3& p : mesh.points) box.add(turn.direction(p));
  if (box.empty() || !(pitch > 0)) return Error{"there is nothing to fill columns with", "mesh", ""};
  const Vec3 size = box.size();
  const double nu = std::max(1.0, std::ceil((size.x + 2 * margin) / pitch - 1e-9)),
               nv = std::max(1.0, std::ceil((size.y + 2 * margin) / pitch - 1e-9));
  if (!(nu * nv <= 4e7)) return Error{"the columns would be too many", "mesh", "Use a coarser pitch."};
  return build_columns(mesh, frame, pitch,
                       {box.centre().x - 0.5 * nu * pitch, box.centre().y - 0.5 * nv * pitch, static_cast<int>(nu),
                        static_cast<int>(nv)},
                       progress);
}

Result<Columns> build_columns(const TriMesh& mesh, const Transform& frame, double pitch, const ColumnGrid& grid,
                              const Progress& progress) {
  Columns out;
  out.frame = frame;
  out.frame.shift = {};
  out.pitch_mm = pitch;
  out.nu = grid.nu, out.nv = grid.nv, out.u0_mm = grid.u0_mm, out.v0_mm = grid.v0_mm;
  std::vector<Vec3> q(mesh.points.size());
  for (size_t i = 0; i < q.size(); ++i) q[i] = out.frame.direction(mesh.points[i]);

  // Orientation of p against edge a→b, computed from the lower to the higher point index so that both faces of the
  // edge see exactly opposite signs. A point on the edge counts as moved by (ε, ε²): then no column ever runs in a face
  // that stands along it, whose edges would otherwise be met from one side only.
  const auto side = [&](uint32_t a, uint32_t b, double px, double py) {
    const bool swap = a > b;
    const Vec3 &s = q[swap ? b : a], &e = q[swap ? a : b];
    const double v = (e.x - s.x) * (py - s.y) - (e.y - s.y) * (px - s.x);
    const bool left = v != 0 ? v > 0 : e.y != s.y ? e.y < s.y : e.x > s.x;
    return swap ? !left : left;
  };
  const auto each_crossing = [&](size_t t, auto&& use) {
    const Triangle& v = mesh.triangles[t];
    const Vec3 &a = q[v[0]], &b = q[v[1]], &c = q[v[2]];
    const double area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (area == 0) return;
    const auto first = [&](double x, double o) { return static_cast<int>(std::ceil((x - o) / pitch - 0.5 - 1e-9)); };
    const auto last = [&](double x, double o) { return static_cast<int>(std::floor((x - o) / pitch - 0.5 + 1e-9)); };
    const int i0 = std::max(0, first(std::min({a.x, b.x, c.x}), out.u0_mm)),
              i1 = std::min(out.nu - 1, last(std::max({a.x, b.x, c.x}), out.u0_mm));
    const int j0 = std::max(0, first(std::min({a.y, b.y, c.y}), out.v0_mm)),
              j1 = std::min(out.nv - 1, last(std::max({a.y, b.y, c.y}), out.v0_mm));
    for (int j = j0; j <= j1; ++j)
      for (int i = i0; i <= i1; ++i) {
        const double x = out.u0_mm + (i + 0.5) * pitch, y = out.v0_mm + (j + 0.5) * pitch;
        const bool l0 = side(v[0], v[1], x, y), l1 = side(v[1], v[2], x, y), l2 = side(v[2], v[0], x, y);
        if (l0 != l1 || l1 != l2 || l0 != (area > 0)) continue;
        const double wb = ((x - a.x) * (c.y - a.y) - (y - a.y) * (c.x - a.x)) / area;
        const double wc = ((b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x)) / area;
        use(static_cast<size_t>(j) * static_cast<size_t>(out.nu) + static_cast<size_t>(i),
            a.z + wb * (b.z - a.z) + wc * (c.z - a.z), area > 0 ? -1 : 1);
      }
  };
  std::vector<uint32_t> at(out.count() + 1, 0);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (t % 65536 == 0 && progress.cancelled()) return Error::stopped();
    each_crossing(t, [&](size_t c, double, int) { ++at[c + 1]; });
  }
  for (size_t c = 0; c < out.count(); ++c) at[c + 1] += at[c];
  std::vector<Crossing> crossing(at.back());
  std::vector<uint32_t> fill(at.begin(), at.end() - 1);
  progress.report(0.4);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (t % 65536 == 0 && progress.cancelled()) return Error::stopped();
    each_crossing(t, [&](size_t c, double z, int sign) { crossing[fill[c]++] = {z, static_cast<uint32_t>(t), sign}; });
  }
  progress.report(0.8);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, out.count(), 512), [&](const auto& range) {
    for (size_t c = range.begin(); c < range.end(); ++c)
      std::sort(crossing.begin() + at[c], crossing.begin() + at[c + 1], [](const Crossing& a, const Crossing& b) {
        return a.at != b.at ? a.at < b.at : a.sign != b.sign ? a.sign > b.sign : a.face < b.face;
      });
  });
  out.start.assign(out.count() + 1, 0);
  for (size_t c = 0; c < out.count(); ++c) {
    int depth = 0;
    Span s;
    for (uint32_t k = at[c]; k < at[c + 1]; ++k) {
      const int before = depth;
      depth += crossing[k].sign;
      if (before <= 0 && depth > 0) s.low_mm = crossing[k].at, s.low_face = crossing[k].face;
      if (before > 0 && depth <= 0) {
        s.high_mm = crossing[k].at, s.high_face = crossing[k].face;
        if (s.high_mm > s.low_mm) out.span.push_back(s);
      }
    }
    out.broken += depth != 0;
    out.start[c + 1] = static_cast<uint32_t>(out.span.size());
  }
  return out;
}

void spread_over(std::vector<double>& layers, double base, double step, double low, double high, double area) {
  const int last = static_cast<int>(layers.size()) - 1;
  const int b0 = std::clamp(static_cast<int>((low - base) / step), 0, last),
            b1 = std::clamp(static_cast<int>((high - base) / step), 0, last);
  const auto part = [&](int b) {
    layers[static_cast<size_t>(b)] +=
        area * std::max(0.0, std::min(high, base + (b + 1) * step) - std::max(low, base + b * step));
  };
  part(b0);
  const double whole = area * step;
  for (int b = b0 + 1; b < b1; ++b) layers[static_cast<size_t>(b)] += whole;
  if (b1 > b0) part(b1);
}

}  // namespace palinform
