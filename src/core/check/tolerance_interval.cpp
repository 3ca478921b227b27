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

std::optional<OriginalsSpread> spread_of_originals(const MeasuredSize& size) {
  std::vector<double> means;
  double squares = 0, freedom = 0, shares = 0;  // of the readings about their means; shares: sum of 1/n
  const auto add = [&](const std::vector<double>& readings) {
    if (readings.empty()) return;
    const ReadingMean r = mean_of_readings(readings, size.resolution_mm, size.instrument_u_mm);
    const auto n = static_cast<double>(r.n);
    squares += r.spread_mm * r.spread_mm * (n - 1);
    freedom += n - 1, shares += 1 / n;
    means.push_back(r.mean_mm);
  };
  add(size.readings_mm);
  for (const auto& other : size.further_originals_mm) add(other);
  if (means.size() < 3) return std::nullopt;
  const auto t = tolerance_interval(means);
  if (!t) return std::nullopt;
  OriginalsSpread out;
  out.interval = *t;
  const double scatter2 = freedom > 0 ? squares / freedom : 0, step2 = size.resolution_mm * size.resolution_mm / 12;
  out.repeat_mm = std::sqrt(scatter2 * shares / static_cast<double>(means.size()) + step2);
  const double own2 = t->spread_mm * t->spread_mm - out.repeat_mm * out.repeat_mm;
  out.resolved = own2 > 0;
  const double reach = t->k * std::sqrt(std::max(0.0, own2));
  out.interval.lower_mm = t->mean_mm - reach, out.interval.upper_mm = t->mean_mm + reach;
  return out;
}

void take_limits(MeasuredSize& s, const OriginalsSpread& spread) {
  s.lower_mm = spread.interval.lower_mm, s.upper_mm = spread.interval.upper_mm;
  s.limits_from = std::to_string(spread.interval.n) + " originals: 95 % of all, 95 % sure";
  s.limits_guessed = false;
}

}  // namespace palinform
