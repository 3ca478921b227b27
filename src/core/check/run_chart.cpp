#include "check/run_chart.hpp"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

namespace palinform {
namespace {

constexpr double d2 = 1.128;  // of two consecutive values

/// `need` of the last `of` lie beyond `sigmas` on one side.
bool beyond(const std::vector<double>& z, size_t end, size_t of, size_t need, double sigmas) {
  if (end + 1 < of) return false;
  for (const double side : {1.0, -1.0}) {
    size_t n = 0;
    for (size_t i = end + 1 - of; i <= end; ++i) n += z[i] * side > sigmas;
    if (n >= need && z[end] * side > sigmas) return true;
  }
  return false;
}

}  // namespace

RunChart run_chart(const std::vector<RunPoint>& points, double lower, double upper) {
  RunChart r;
  const size_t n = points.size();
  if (n == 0) return r;
  for (const RunPoint& p : points) r.mean_mm += p.mm / static_cast<double>(n);
  if (n < 2) return r;
  double ranges = 0;
  for (size_t i = 1; i < n; ++i) ranges += std::abs(points[i].mm - points[i - 1].mm);
  r.sigma_mm = ranges / static_cast<double>(n - 1) / d2;
  if (r.sigma_mm > 0) {
    std::vector<double> z(n);
    for (size_t i = 0; i < n; ++i) z[i] = (points[i].mm - r.mean_mm) / r.sigma_mm;
    for (size_t i = 0; i < n; ++i) {
      if (std::abs(z[i]) > 3) r.signs.push_back({SignalKind::beyond_three, points[i].pull});
      if (beyond(z, i, 3, 2, 2)) r.signs.push_back({SignalKind::two_of_three, points[i].pull});
      if (beyond(z, i, 5, 4, 1)) r.signs.push_back({SignalKind::four_of_five, points[i].pull});
      if (beyond(z, i, 8, 8, 0)) r.signs.push_back({SignalKind::eight_on_one_side, points[i].pull});
    }
  }
  const bool low = std::isfinite(lower), high = std::isfinite(upper);
  if (n >= 3) {
    double x = 0, sxx = 0, sxy = 0;
    for (const RunPoint& p : points) x += p.pull / static_cast<double>(n);
    for (const RunPoint& p : points) sxx += (p.pull - x) * (p.pull - x), sxy += (p.pull - x) * (p.mm - r.mean_mm);
    if (sxx > 0) {
      Drift d;
      d.mm_a_pull = sxy / sxx;
      double left = 0;
      for (const RunPoint& p : points) {
        const double e = p.mm - r.mean_mm - d.mm_a_pull * (p.pull - x);
        left += e * e;
      }
      const double dof = static_cast<double>(n) - 2;
      d.scatter_mm = std::sqrt(left / dof);
      d.u_mm_a_pull = d.scatter_mm / std::sqrt(sxx);
      d.at_first_mm = r.mean_mm + d.mm_a_pull * (points.front().pull - x);
      const double t = boost::math::quantile(boost::math::students_t(dof), 0.975);
      d.sure = std::abs(d.mm_a_pull) > t * d.u_mm_a_pull;
      const auto leaves = [&](double side) -> std::optional<int> {
        for (int pull = points.back().pull + 1; pull <= points.back().pull + 1000; ++pull) {
          const double at = r.mean_mm + d.mm_a_pull * (pull - x);
          const double band =
              t * d.scatter_mm * std::sqrt(1 + 1 / static_cast<double>(n) + (pull - x) * (pull - x) / sxx);
          // The edge that meets a limit first, or last.
          const bool down = low && (d.mm_a_pull < 0 || (d.mm_a_pull == 0 && band > 0)),
                     up = high && (d.mm_a_pull > 0 || (d.mm_a_pull == 0 && band > 0));
          if ((down && at - side * band < lower) || (up && at + side * band > upper)) return pull;
        }
        return std::nullopt;
      };
      if (low || high) r.leaves_from = leaves(1), r.leaves_to = leaves(-1);
      r.drift = d;
    }
  }
  if (n >= 5 && low && high && upper > lower && r.sigma_mm > 0) {
    Capability c;
    double squares = 0;
    for (const RunPoint& p : points) squares += (p.mm - r.mean_mm) * (p.mm - r.mean_mm);
    const double dof = static_cast<double>(n) - 1, s = std::sqrt(squares / dof);
    if (s > 0) {
      c.cp = (upper - lower) / (6 * s);
      c.cpk = std::min(upper - r.mean_mm, r.mean_mm - lower) / (3 * s);
      const boost::math::chi_squared chi(dof);
      const double lo = std::sqrt(boost::math::quantile(chi, 0.025) / dof),
                   hi = std::sqrt(boost::math::quantile(chi, 0.975) / dof);
      c.cp_low = c.cp * lo, c.cp_high = c.cp * hi;
      // Bissell's approximation.
      const double half = 1.959964 * std::sqrt(1 / (9.0 * static_cast<double>(n)) + c.cpk * c.cpk / (2 * dof));
      c.cpk_low = c.cpk - half, c.cpk_high = c.cpk + half;
      r.capability = c;
    }
  }
  return r;
}

}  // namespace palinform
