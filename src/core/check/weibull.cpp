#include "check/weibull.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

constexpr double z_90 = 1.6449;       // of both sides together
constexpr double worth_of_sheet = 3;  // moulds

double mean_of(double shape, double scale) { return scale * std::tgamma(1 + 1 / shape); }

}  // namespace

Result<LifeLaw> fit_weibull(const std::vector<Life>& lives) {
  const auto refuse = [](const char* what) { return Error{what, "lives", "Wait for more of them to end."}; };
  LifeLaw law;
  double sum_log = 0, top = 0;
  for (const Life& l : lives) {
    if (!std::isfinite(l.pulls) || l.pulls < 0) return refuse("a life is no number of pulls");
    top = std::max(top, l.pulls);
    if (!l.ended) {
      law.going_on += l.pulls > 0;
      continue;
    }
    ++law.ended;
    sum_log += std::log(std::max(0.5, l.pulls));  // one that failed at its first pull has had half of it
  }
  if (law.ended < 2) return refuse("fewer than two have ended");
  if (top <= 0) return refuse("none has done a pull");
  // Scaled by the longest, so that no power overflows.
  const auto t_of = [&](const Life& l) { return std::max(l.ended ? 0.5 : 0.0, l.pulls) / top; };
  const double mean_log = sum_log / law.ended - std::log(top);
  const auto score = [&](double k) {
    double a = 0, b = 0;
    for (const Life& l : lives) {
      const double t = t_of(l);
      if (t <= 0) continue;
      const double p = std::pow(t, k);
      a += p * std::log(t), b += p;
    }
    return a / b - 1 / k - mean_log;
  };
  // The score rises with the shape: halved until it stands.
  double low = 0.05, high = 0.1;
  while (score(high) < 0 && high < 200) high *= 1.5;
  for (int i = 0; i < 100; ++i) {
    const double mid = 0.5 * (low + high);
    (score(mid) < 0 ? low : high) = mid;
  }
  law.shape = 0.5 * (low + high);
  double sum = 0;
  for (const Life& l : lives)
    if (const double t = t_of(l); t > 0) sum += std::pow(t, law.shape);
  law.scale = top * std::pow(sum / law.ended, 1 / law.shape);
  law.mean = mean_of(law.shape, law.scale);
  // The logarithm of the scale has a spread of about 1 over shape and root of those that ended.
  const double u = z_90 * 1.05 / (law.shape * std::sqrt(static_cast<double>(law.ended)));
  law.low = law.mean * std::exp(-u), law.high = law.mean * std::exp(u);
  return law;
}

LifeLaw life_law(const std::vector<Life>& lives, double sheet_pulls) {
  const auto ended = std::count_if(lives.begin(), lives.end(), [](const Life& l) { return l.ended; });
  if (ended >= 5)
    if (const auto law = fit_weibull(lives)) return *law;
  LifeLaw law;
  law.by_sheet = true;
  law.shape = 1;
  double pulls = worth_of_sheet * std::max(1.0, sheet_pulls);
  for (const Life& l : lives) {
    if (!std::isfinite(l.pulls) || l.pulls < 0) continue;
    pulls += l.pulls;
    law.ended += l.ended, law.going_on += !l.ended && l.pulls > 0;
  }
  const double n = worth_of_sheet + law.ended;
  law.mean = law.scale = pulls / n;
  // Of a gamma on the mean, by the cube root of Wilson and Hilferty.
  const auto quantile = [&](double z) { return std::pow(1 - 1 / (9 * n) + z / (3 * std::sqrt(n)), 3.0); };
  law.low = law.mean / quantile(z_90), law.high = law.mean / std::max(0.05, quantile(-z_90));
  return law;
}

double chance_of(const LifeLaw& law, double pulls, double more) {
  if (law.scale <= 0) return 0;
  const auto h = [&](double t) { return std::pow(std::max(0.0, t) / law.scale, law.shape); };
  return std::exp(h(pulls) - h(pulls + std::max(0.0, more)));
}

double pulls_to_come(const LifeLaw& law, double pulls) {
  if (law.scale <= 0) return 0;
  // ∫ of the chance to go on, by Simpson's rule over ten scales.
  const int n = 2000;
  const double end = 12 * law.scale / std::min(1.0, law.shape), h = end / n;
  double sum = 1 + chance_of(law, pulls, end);
  for (int i = 1; i < n; ++i) sum += (i % 2 ? 4 : 2) * chance_of(law, pulls, i * h);
  return sum * h / 3;
}

}  // namespace palinform
