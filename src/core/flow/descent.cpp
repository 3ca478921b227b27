#include "flow/descent.hpp"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_reduce.h>

#include <array>
#include <cmath>

namespace palinform {
namespace {

struct Extent {
  double low, high;
};
/// In single precision, like the corners: a corner that two cells share has one height.
Extent extent(const Cavity& c, uint32_t first, uint32_t count, const Vec3& up) {
  const auto x = static_cast<float>(up.x), y = static_cast<float>(up.y), z = static_cast<float>(up.z);
  float low = 3e38f, high = -3e38f;
  for (uint32_t n = first; n < first + count; ++n) {
    const auto& p = c.point_mm[n];
    const float v = p[0] * x + p[1] * y + p[2] * z;
    low = std::min(low, v), high = std::max(high, v);
  }
  return {static_cast<double>(low), static_cast<double>(high)};
}

/// Area of the convex body of the points, given as (height, place square to up), at a height: the hull of where the
/// lines between points over and under it cross.
struct Corner {
  double z, u, v;
};
double section_area(const std::vector<Corner>& points, double z) {
  std::vector<std::array<double, 2>> q;
  for (const Corner& a : points)
    for (const Corner& b : points) {
      if (a.z < z || b.z >= z) continue;
      const double t = (z - b.z) / (a.z - b.z);
      q.push_back({b.u + t * (a.u - b.u), b.v + t * (a.v - b.v)});
    }
  if (q.size() < 3) return 0;
  std::sort(q.begin(), q.end());
  std::vector<std::array<double, 2>> hull;
  const auto turn = [](const auto& o, const auto& a, const auto& b) {
    return (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  };
  for (int side = 0; side < 2; ++side) {
    const size_t base = hull.size();
    for (const auto& p : q) {
      while (hull.size() >= base + 2 && turn(hull[hull.size() - 2], hull.back(), p) <= 0) hull.pop_back();
      hull.push_back(p);
    }
    hull.pop_back();
    std::reverse(q.begin(), q.end());
  }
  double twice = 0;
  for (size_t k = 0; k < hull.size(); ++k) {
    const auto &a = hull[k], &b = hull[(k + 1) % hull.size()];
    twice += a[0] * b[1] - a[1] * b[0];
  }
  return 0.5 * std::abs(twice);
}

}  // namespace

double Descent::share_of_cube(double s) const {
  const double a = run.x, b = run.y, c = run.z, thin = 1e-6 * a;
  const auto cube = [](double x) { return x > 0 ? x * x * x : 0; };
  const auto square = [](double x) { return x > 0 ? x * x : 0; };
  if (b < thin) return std::clamp(s / a, 0.0, 1.0);
  if (c < 1e-3 * a)
    return std::clamp((square(s) - square(s - a) - square(s - b) + square(s - a - b)) / (2 * a * b), 0.0, 1.0);
  return std::clamp((cube(s) - cube(s - a) - cube(s - b) - cube(s - c) + cube(s - a - b) + cube(s - a - c) +
                     cube(s - b - c) - cube(s - a - b - c)) /
                        (6 * a * b * c),
                    0.0, 1.0);
}

double Descent::share_above_exactly(const Cavity& c, uint32_t cell, int64_t at_level) const {
  const double quick = share_above(c, cell, at_level);
  if (quick <= 0 || quick >= 1 || c.whole(cell)) return quick;
  const Cavity::Part& p = c.part(cell);
  if (p.points > 16) return quick;
  const Vec3 side = any_perpendicular(up), other = cross(up, side);
  std::vector<Corner> points;
  std::vector<double> knots{top_mm(at_level)};
  for (uint32_t n = p.first_point; n < p.first_point + p.points; ++n) {
    const Vec3 q{static_cast<double>(c.point_mm[n][0]), static_cast<double>(c.point_mm[n][1]),
                 static_cast<double>(c.point_mm[n][2])};
    points.push_back({dot(q, up), dot(q, side), dot(q, other)});
    knots.push_back(points.back().z);
  }
  std::sort(knots.begin(), knots.end());
  // Between corners the section's area is a square of the height: Simpson's rule is exact, taken just inside.
  double over = 0, all = 0;
  for (size_t k = 0; k + 1 < knots.size(); ++k) {
    const double low = knots[k], high = knots[k + 1], span = high - low;
    if (span <= 1e-9) continue;
    const double v = span / 6 *
                     (section_area(points, low + 1e-7 * span) + 4 * section_area(points, low + 0.5 * span) +
                      section_area(points, high - 1e-7 * span));
    all += v;
    if (low >= top_mm(at_level)) over += v;
  }
  return all > 0 ? over / all : quick;
}

int64_t Descent::level_at(double height) const {
  return static_cast<int64_t>(std::llround((height - base_mm) / step_mm));
}

void descend(const Cavity& c, const Vec3& up, Descent& d) {
  constexpr uint32_t levels = 1u << 17;
  const size_t n = c.size();
  const double h = c.voxel_mm;
  d.up = up;
  d.order.resize(n);
  d.level.resize(n);
  d.ends.assign(levels + 1, 0);
  if (n == 0) return;
  const double cube_reach = h * (std::abs(up.x) + std::abs(up.y) + std::abs(up.z));
  // One table for each axis; the height of a cube's highest corner is the sum of three entries.
  const auto table = [&](int count, double slope) {
    std::vector<double> t(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i) t[static_cast<size_t>(i)] = (i + (slope > 0 ? 1 : 0)) * slope * h;
    return t;
  };
  const auto x = table(c.nx, up.x), y = table(c.ny, up.y), z = table(c.nz, up.z);
  const auto cube_top = [&](size_t k) {
    const auto& at = c.lattice[k];
    return x[at[0]] + y[at[1]] + z[at[2]];
  };
  const auto side_by_side = [](size_t count, const auto& work) {
    tbb::parallel_for(tbb::blocked_range<size_t>(0, count, 1 << 14), [&](const auto& r) {
      for (size_t k = r.begin(); k < r.end(); ++k) work(k);
    });
  };
  WideVector<Extent> parts(c.parts.size());
  side_by_side(parts.size(), [&](size_t q) { parts[q] = extent(c, c.parts[q].first_point, c.parts[q].points, up); });
  const auto top_of = [&](size_t k) {
    return c.whole(static_cast<uint32_t>(k)) ? cube_top(k) : parts[c.cell[k].part].high;
  };
  const Extent all = tbb::parallel_reduce(
      tbb::blocked_range<size_t>(0, n, 1 << 14), Extent{1e300, -1e300},
      [&](const auto& r, Extent e) {
        for (size_t k = r.begin(); k < r.end(); ++k) {
          const double top = top_of(k);
          e = {std::min(e.low, top), std::max(e.high, top)};
        }
        return e;
      },
      [](const Extent& a, const Extent& b) {
        return Extent{std::min(a.low, b.low), std::max(a.high, b.high)};
      });
  const double low = all.low, high = all.high;
  // A whole number of levels to a cell, so that heights along an axis come out exact.
  d.step_mm = cube_reach / std::max(1.0, std::floor((levels - 1) * cube_reach / std::max(high - low, cube_reach)));
  d.base_mm = low;
  const double per = 1 / d.step_mm;
  d.run = Vec3{std::abs(up.x), std::abs(up.y), std::abs(up.z)} * (h * per);
  if (d.run.x < d.run.y) std::swap(d.run.x, d.run.y);
  if (d.run.y < d.run.z) std::swap(d.run.y, d.run.z);
  if (d.run.x < d.run.y) std::swap(d.run.x, d.run.y);
  d.cut.resize(c.parts.size());
  side_by_side(parts.size(), [&](size_t q) {
    const Extent& e = parts[q];
    const auto& g = c.parts[q].centroid_mm;
    const double middle =
        static_cast<double>(g[0]) * up.x + static_cast<double>(g[1]) * up.y + static_cast<double>(g[2]) * up.z;
    const double down = std::clamp((e.high - middle) / std::max(e.high - e.low, 1e-12), 0.1, 0.9);
    d.cut[q] = {std::max(1.0f, static_cast<float>((e.high - e.low) * per)),
                static_cast<float>(down >= 0.5 ? down / (1 - down) : -(1 - down) / down)};
  });
  d.opening.resize(c.passage.size());
  side_by_side(c.passage.size(), [&](size_t q) {
    const Cavity::Passage& p = c.passage[q];
    d.opening[q] = static_cast<int32_t>(d.level_at(extent(c, p.first_point, p.points, up).high));
  });
  side_by_side(
      n, [&](size_t k) { d.level[k] = std::min(static_cast<uint32_t>((top_of(k) - low) * per + 0.5), levels - 1); });
  for (const uint32_t level : d.level) ++d.ends[levels - 1 - level + 1];
  for (uint32_t k = 0; k < levels; ++k) d.ends[k + 1] += d.ends[k];
  for (size_t k = 0; k < n; ++k) d.order[d.ends[levels - 1 - d.level[k]]++] = static_cast<uint32_t>(k);
}

}  // namespace palinform
