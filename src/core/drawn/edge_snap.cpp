#include "drawn/edge_snap.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

double GreyPicture::at(double x, double y) const {
  x = std::clamp(x - 0.5, 0.0, width - 1.0), y = std::clamp(y - 0.5, 0.0, height - 1.0);
  const int i = std::min(static_cast<int>(x), std::max(0, width - 2)),
            j = std::min(static_cast<int>(y), std::max(0, height - 2));
  const double fx = x - i, fy = y - j;
  const auto g = [&](int a, int b) {
    return static_cast<double>(grey[static_cast<size_t>(std::min(b, height - 1)) * static_cast<size_t>(width) +
                                    static_cast<size_t>(std::min(a, width - 1))]);
  };
  return (g(i, j) * (1 - fx) + g(i + 1, j) * fx) * (1 - fy) + (g(i, j + 1) * (1 - fx) + g(i + 1, j + 1) * fx) * fy;
}

namespace {

/// Change of brightness over three pixels, along a direction.
double change(const GreyPicture& p, double x, double y, const Pixel& d) {
  return p.at(x + 1.5 * d.x, y + 1.5 * d.y) - p.at(x - 1.5 * d.x, y - 1.5 * d.y);
}

}  // namespace

std::optional<Pixel> edge_across(const GreyPicture& p, const Pixel& at, const Pixel& d, double reach, double least) {
  if (p.width < 4 || p.height < 4) return std::nullopt;
  constexpr double step = 0.5;
  const int n = static_cast<int>(std::ceil(reach / step));
  std::vector<double> c(static_cast<size_t>(2 * n + 1));
  for (int k = -n; k <= n; ++k)
    c[static_cast<size_t>(k + n)] = std::abs(change(p, at.x + d.x * k * step, at.y + d.y * k * step, d));
  double best = 0;
  int where = 0;
  for (int k = -n; k <= n; ++k) {
    const double v = c[static_cast<size_t>(k + n)] * (1 - (2.0 / 3) * std::abs(k) / std::max(1, n));
    if (v > best) best = v, where = k;
  }
  if (c[static_cast<size_t>(where + n)] < least) return std::nullopt;
  // The middle of the change itself: what lies half-way between the levels on either side, found as the change's
  // centre of mass over the peak. A parabola through three samples would follow the sampling.
  double sum = 0, first = 0;
  const double floor = 0.25 * c[static_cast<size_t>(where + n)];
  for (int side : {-1, 1})
    for (int k = side > 0 ? where : where - 1; k >= -n && k <= n && std::abs(k - where) <= 8; k += side) {
      const double v = c[static_cast<size_t>(k + n)] - floor;
      if (v <= 0) break;
      sum += v, first += v * k;
    }
  const double k = sum > 0 ? first / sum : where;
  return Pixel{at.x + d.x * k * step, at.y + d.y * k * step};
}

std::optional<Pixel> snapped_to_edge(const GreyPicture& p, const Pixel& near, double reach, double least) {
  if (p.width < 4 || p.height < 4) return std::nullopt;
  const int n = static_cast<int>(std::ceil(reach));
  double best = 0;
  Pixel where, across;
  double strength = 0;
  for (int j = -n; j <= n; ++j)
    for (int i = -n; i <= n; ++i) {
      const double far = std::hypot(i, j);
      if (far > reach) continue;
      const double x = near.x + i, y = near.y + j;
      const double gx = change(p, x, y, {1, 0}), gy = change(p, x, y, {0, 1}), g = std::hypot(gx, gy);
      const double v = g * (1 - (2.0 / 3) * far / std::max(1.0, reach));
      if (v > best) best = v, where = {x, y}, strength = g, across = {gx / std::max(1e-9, g), gy / std::max(1e-9, g)};
    }
  if (strength < least) return std::nullopt;
  const auto fine = edge_across(p, where, across, 3, least);
  return fine ? fine : std::optional(where);
}

}  // namespace palinform
