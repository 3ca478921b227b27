#include "mix/dose.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {
namespace {

const double half_uniform = 0.5 / std::sqrt(3.0);  // standard uncertainty of rounding to one

Dose whole(double need_g, double step_g, double step_u_relative) {
  Dose d;
  d.need_g = need_g;
  d.count = std::lround(need_g / step_g);
  d.g = static_cast<double>(d.count) * step_g;
  d.rounding_pct = 100 * std::abs(d.g - need_g) / need_g;
  d.u_pct = d.count > 0 ? 100 * std::hypot(half_uniform / static_cast<double>(d.count), step_u_relative) : 100;
  return d;
}

}  // namespace

Result<DropMass> weigh_drops(int count, double total_g, double division_g, std::optional<double> spread_g) {
  if (count < 20)
    return Error{counted(count, "drop tells", "drops tell") + " too little", "drops", "Weigh twenty or more together."};
  if (!(total_g > 0) || !(division_g > 0)) return Error{"the drops weigh nothing", "drops", "Weigh them again."};
  const double n = count, drop = total_g / n, s = spread_g.value_or(0.05 * drop);
  if (!(s >= 0)) return Error{"the spread must not be below nought", "drops", ""};
  return DropMass{drop, std::hypot(division_g / std::sqrt(12.0) / n, s / std::sqrt(n))};
}

DropMass stated_drop(double g, double u_pct) { return {g, g * u_pct / 100}; }

Dose dose_in_drops(double need_g, const DropMass& drop) { return whole(need_g, drop.g, drop.u_g / drop.g); }

Dose dose_in_divisions(double need_g, double division_g) { return whole(need_g, division_g, 0); }

DoseHelp help_for_dose(double base_g, double r, double division_g, double tolerance_pct, double density,
                       const std::optional<DropMass>& drop) {
  DoseHelp h;
  const double need_g = base_g * r;
  // In a batch of one's own choosing the dose is a whole number of divisions; only reading it is uncertain.
  const double least = std::ceil(2 * half_uniform * 100 / tolerance_pct - 1e-9);
  const double dose_g = std::max(least * division_g, std::ceil(need_g / division_g - 1e-9) * division_g);
  h.batch_g = dose_g * (1 + 1 / r);
  h.batch_waste_g = std::max(0.0, h.batch_g - base_g * (1 + r));
  const auto coarsest = [&](std::initializer_list<double> steps, double g_per_step) -> std::optional<double> {
    for (const double step : steps)
      if (!dose_in_divisions(need_g, step * g_per_step).unsafe(tolerance_pct)) return step;
    return std::nullopt;
  };
  h.division_g = coarsest({0.5, 0.2, 0.1, 0.05, 0.02, 0.01, 0.005, 0.002, 0.001}, 1);
  if (h.division_g && *h.division_g >= division_g) h.division_g.reset();
  h.syringe_ml = coarsest({0.1, 0.05, 0.02, 0.01}, density);
  if (drop)
    if (const Dose d = dose_in_drops(need_g, *drop); !d.unsafe(tolerance_pct)) h.drops = d;
  return h;
}

Result<AtPercent> at_percent(const std::vector<AtPercent>& sheet, double pct) {
  if (sheet.empty()) return Error{"the sheet gives no percentage", "catalyst", "Enter what the sheet says."};
  const auto [low, high] =
      std::minmax_element(sheet.begin(), sheet.end(), [](const auto& a, const auto& b) { return a.pct < b.pct; });
  if (!(pct >= low->pct - 1e-9 && pct <= high->pct + 1e-9))
    return Error{shortest(pct, 4) + " % lies outside the sheet's " + shortest(low->pct, 4) + " to " +
                     shortest(high->pct, 4) + " %",
                 "catalyst", "Too little stays soft, too much runs hot and brittle: stay within the sheet."};
  std::vector<AtPercent> sorted = sheet;
  std::sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.pct < b.pct; });
  for (size_t i = 0; i < sorted.size(); ++i) {
    const AtPercent& b = sorted[i];
    if (pct > b.pct && i + 1 < sorted.size()) continue;
    if (i == 0 || pct >= b.pct) return AtPercent{pct, b.pot_life_min, b.demould_h};
    const AtPercent& a = sorted[i - 1];
    const double t = std::log(pct / a.pct) / std::log(b.pct / a.pct);
    const auto between = [&](double x, double y) { return x * std::pow(y / x, t); };
    return AtPercent{pct, between(a.pot_life_min, b.pot_life_min), between(a.demould_h, b.demould_h)};
  }
  return sorted.back();
}

Mending mend_a(double a_got_g, double r) {
  Mending m;
  m.a_g = a_got_g;
  m.b_g = m.add_b_g = a_got_g * r;
  m.total_g = m.a_g + m.b_g;
  return m;
}

Mending mend_b(double a_g, double b_got_g, double r) {
  Mending m;
  m.a_g = std::max(a_g, b_got_g / r);
  m.b_g = std::max(b_got_g, a_g * r);
  m.add_a_g = m.a_g - a_g;
  m.add_b_g = m.b_g - b_got_g;
  m.total_g = m.a_g + m.b_g;
  return m;
}

}  // namespace palinform
