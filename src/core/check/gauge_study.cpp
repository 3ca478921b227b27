#include "check/gauge_study.hpp"

#include <algorithm>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>

namespace palinform {

Result<GaugeStudy> gauge_study(const GaugeReadings& x) {
  const auto refuse = [](const char* what) {
    return Error{what, "gauge study", "Three people measure five parts twice each."};
  };
  if (x.size() < 2 || x[0].size() < 2 || x[0][0].size() < 2) return refuse("two of each are needed at least");
  GaugeStudy s;
  s.people = static_cast<int>(x.size()), s.parts = static_cast<int>(x[0].size());
  s.repeats = static_cast<int>(x[0][0].size());
  const double o = s.people, p = s.parts, r = s.repeats;
  double all = 0;
  std::vector<double> by_person(x.size(), 0), by_part(x[0].size(), 0);
  for (size_t i = 0; i < x.size(); ++i) {
    if (x[i].size() != x[0].size()) return refuse("everybody measures the same parts");
    for (size_t j = 0; j < x[i].size(); ++j) {
      if (x[i][j].size() != x[0][0].size()) return refuse("every part is measured equally often");
      for (const double v : x[i][j]) {
        if (!std::isfinite(v)) return refuse("a reading is no number");
        all += v, by_person[i] += v, by_part[j] += v;
      }
    }
  }
  const double mean = all / (o * p * r);
  double ss_person = 0, ss_part = 0, ss_cell = 0, ss_error = 0;
  for (const double v : by_person) ss_person += p * r * std::pow(v / (p * r) - mean, 2);
  for (const double v : by_part) ss_part += o * r * std::pow(v / (o * r) - mean, 2);
  for (const auto& person : x)
    for (const auto& cell : person) {
      double m = 0;
      for (const double v : cell) m += v / r;
      ss_cell += r * std::pow(m - mean, 2);
      for (const double v : cell) ss_error += std::pow(v - m, 2);
    }
  const double ss_both = std::max(0.0, ss_cell - ss_person - ss_part);
  const double df_both = (o - 1) * (p - 1), df_error = o * p * (r - 1);
  const double ms_person = ss_person / (o - 1), ms_part = ss_part / (p - 1), ms_both = ss_both / df_both,
               ms_error = ss_error / df_error;
  s.interaction =
      ms_error > 0 && ms_both / ms_error > boost::math::quantile(boost::math::fisher_f(df_both, df_error), 0.75);
  double repeat = ms_error, between = 0, part = 0;
  if (s.interaction) {
    between = std::max(0.0, (ms_person - ms_both) / (p * r)) + std::max(0.0, (ms_both - ms_error) / r);
    part = std::max(0.0, (ms_part - ms_both) / (o * r));
  } else {
    repeat = (ss_both + ss_error) / (df_both + df_error);
    between = std::max(0.0, (ms_person - repeat) / (p * r));
    part = std::max(0.0, (ms_part - repeat) / (o * r));
  }
  s.repeatability_mm = std::sqrt(repeat);
  s.reproducibility_mm = std::sqrt(between);
  s.u_mm = std::sqrt(repeat + between);
  s.part_to_part_mm = std::sqrt(part);
  const double total = repeat + between + part;
  s.share_pct = total > 0 ? 100 * std::sqrt((repeat + between) / total) : 0;
  return s;
}

}  // namespace palinform
