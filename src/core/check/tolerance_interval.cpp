#include "check/tolerance_interval.hpp"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

namespace palinform {

Result<ToleranceInterval> tolerance_interval(const std::vector<double>& means_mm, double coverage, double confidence) {
  const auto refuse = [](const char* what) { return Error{what, "originals", "Measure more of them."}; };
  if (means_mm.size() < 2) return refuse("a spread takes two originals at least");
  if (!(coverage > 0 && coverage < 1 && confidence > 0 && confidence < 1))
    return refuse("coverage and confidence lie between nought and one");
  ToleranceInterval t;
  t.n = means_mm.size();
  const auto n = static_cast<double>(t.n);
  for (const double v : means_mm) {
    if (!std::isfinite(v)) return refuse("a mean is no number");
    t.mean_mm += v / n;
  }
  double squares = 0;
  for (const double v : means_mm) squares += (v - t.mean_mm) * (v - t.mean_mm);
  t.spread_mm = std::sqrt(squares / (n - 1));
  const double z = boost::math::quantile(boost::math::normal(), 0.5 + 0.5 * coverage);
  const double chi = boost::math::quantile(boost::math::chi_squared(n - 1), 1 - confidence);
  t.k = z * std::sqrt((n - 1) * (1 + 1 / n) / chi);
  t.lower_mm = t.mean_mm - t.k * t.spread_mm, t.upper_mm = t.mean_mm + t.k * t.spread_mm;
  return t;
}

}  // namespace palinform
