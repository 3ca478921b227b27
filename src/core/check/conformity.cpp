#include "check/conformity.hpp"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <limits>

namespace palinform {

double coverage_factor(double dof) {
  constexpr double two_sigma = 0.9544997361036416;
  if (!(dof < 1e6)) return 2;
  return boost::math::quantile(boost::math::students_t(std::max(1.0, dof)), 0.5 + 0.5 * two_sigma);
}

Judgement judge(const std::vector<double>& readings, double resolution, double instrument_u, double lower, double upper,
                DecisionRule rule) {
  Judgement j;
  j.reading = mean_of_readings(readings, resolution, instrument_u);
  const double type_a = j.reading.spread_mm / std::sqrt(static_cast<double>(std::max<size_t>(1, j.reading.n)));
  j.dof = type_a > 0 ? std::pow(j.reading.u_mm / type_a, 4) * static_cast<double>(j.reading.n - 1)
                     : std::numeric_limits<double>::infinity();
  j.coverage = coverage_factor(j.dof);
  j.expanded_mm = j.coverage * j.reading.u_mm;
  if (j.reading.n == 0) return j;
  // What a sum of readings leaves in the sixteenth digit is no measurement.
  const double step = resolution > 0 ? 1e-3 * resolution : 1e-9;
  const auto steps = [&](double v) { return std::llround(v / step); };
  const long long y = steps(j.reading.mean_mm), guard = rule == DecisionRule::guard ? steps(j.expanded_mm) : 0,
                  low = steps(lower), high = steps(upper);
  if (y >= low + guard && y <= high - guard)
    j.verdict = Conformity::conforms;
  else if (y < low - guard || y > high + guard)
    j.verdict = Conformity::fails;
  return j;
}

Conformity overall(const std::vector<Conformity>& verdicts) {
  if (std::find(verdicts.begin(), verdicts.end(), Conformity::fails) != verdicts.end()) return Conformity::fails;
  const bool all = !verdicts.empty() && std::all_of(verdicts.begin(), verdicts.end(),
                                                    [](Conformity c) { return c == Conformity::conforms; });
  return all ? Conformity::conforms : Conformity::undecided;
}

}  // namespace palinform
