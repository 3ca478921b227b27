#include "mix/proportion.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

double weight_ratio_from_volume(double volume_b_per_a, double density_a, double density_b) {
  return volume_b_per_a * density_b / density_a;
}

Result<Weighing> weigh(const Proportion& p) {
  const auto bad = [](std::string what, std::string remedy) {
    return Error{std::move(what), "mix", std::move(remedy)};
  };
  for (const double v : {p.need_g, p.ratio_b_per_a, p.scale_division_g})
    if (!std::isfinite(v) || v <= 0)
      return bad("need, ratio and scale division must be above zero", "Check the figures.");
  if (!std::isfinite(p.waste_pct) || p.waste_pct < 0 || !std::isfinite(p.tare_g) || p.tare_g < 0)
    return bad("waste and tare cannot be negative", "Check the figures.");
  const double d = p.scale_division_g, r = p.ratio_b_per_a;
  // A hair of slack, so that 200 g on a 0.1 g scale is 2,000 divisions and not 2,001 by rounding.
  const double lowest = std::ceil(p.need_g / d - 1e-9),
               highest = std::floor(p.need_g * (1 + p.waste_pct / 100) / d + 1e-9);
  if (lowest > 1e7) return bad("the need is over ten million scale divisions", "Use a coarser scale division.");
  const int64_t first = std::max<int64_t>(2, static_cast<int64_t>(lowest)),
                last = std::max(first, static_cast<int64_t>(highest));
  int64_t best_a = 0, best_b = 0;
  double best = 1e300;
  for (int64_t n = first; n <= last; ++n) {
    const int64_t middle = static_cast<int64_t>(std::llround(static_cast<double>(n) / (1 + r)));
    for (int64_t a = std::max<int64_t>(1, middle - 1); a <= std::min(n - 1, middle + 1); ++a) {
      const int64_t b = n - a;
      const double error = std::abs(static_cast<double>(b) / (static_cast<double>(a) * r) - 1);
      if (error < best - 1e-12) best = error, best_a = a, best_b = b;
    }
  }
  if (best_a == 0) {  // extreme ratios: one division of the smaller part is already too much or just enough
    best_a = r >= 1 ? 1 : std::max<int64_t>(1, first - 1);
    best_b = std::max<int64_t>(1, first - best_a);
  }
  Weighing w;
  w.a_g = static_cast<double>(best_a) * d;
  w.b_g = static_cast<double>(best_b) * d;
  w.total_g = static_cast<double>(best_a + best_b) * d;
  w.ratio_error_pct = (w.b_g / (w.a_g * r) - 1) * 100;
  const double u = d / std::sqrt(12.0);
  w.ratio_u_pct = 100 * std::hypot(u / w.a_g, u / w.b_g);
  w.over_waste = w.total_g > p.need_g * (1 + p.waste_pct / 100) + 1e-6 * d;
  w.readings_g[0] = p.tare_g;
  w.readings_g[1] = p.tare_g + w.a_g;
  w.readings_g[2] = p.tare_g + w.a_g + w.b_g;
  return w;
}

double time_at_temperature(double t_ref, double ref_c, double c) { return t_ref * std::pow(2.0, (ref_c - c) / 10); }

Batches plan_batches(double total_g, const BatchLimits& l) {
  Batches b;
  b.each_g = total_g;
  b.pot_life_min = l.pot_life_min > 0 ? time_at_temperature(l.pot_life_min, l.pot_life_ref_c, l.room_c) : 0;
  double most_g = total_g;
  if (l.cup_ml > 0) {
    const double cup_g = l.cup_ml / std::max(1.0, l.foam_ratio) * l.density_g_cm3;
    if (cup_g < most_g) most_g = cup_g, b.limited_by = Batches::By::cup;
  }
  if (l.pot_life_min > 0 && l.pour_min_per_100g > 0) {
    const double pouring = b.pot_life_min - l.mix_min - l.degas_min;
    if (pouring <= 0) {
      b.too_slow = true;
    } else if (const double time_g = 100 * pouring / l.pour_min_per_100g; time_g < most_g) {
      most_g = time_g;
      b.limited_by = Batches::By::time;
    }
  }
  if (total_g > 0 && most_g > 0) b.count = std::max(1, static_cast<int>(std::ceil(total_g / most_g - 1e-9)));
  b.each_g = total_g / b.count;
  b.left_min = b.pot_life_min - l.mix_min - l.degas_min - b.each_g / 100 * l.pour_min_per_100g;
  return b;
}

Result<WeighedBatches> weigh_batches(double total_g, Proportion p, const BatchLimits& l) {
  WeighedBatches out;
  out.batches = plan_batches(total_g, l);
  double most = l.cup_ml > 0 ? l.cup_ml / std::max(1.0, l.foam_ratio) * l.density_g_cm3 : 1e300;
  Batches::By by = Batches::By::cup;
  if (l.pot_life_min > 0 && l.pour_min_per_100g > 0 && !out.batches.too_slow) {
    const double in_time = 100 * (out.batches.pot_life_min - l.mix_min - l.degas_min) / l.pour_min_per_100g;
    if (in_time < most) most = in_time, by = Batches::By::time;
  }
  const double waste_pct = p.waste_pct;
  const int first = out.batches.count;
  double least = 1e300;
  int no_less = 0;
  for (int n = first;; ++n) {
    p.need_g = total_g / n;
    // What may be wasted is also bounded by what cup and time leave.
    p.waste_pct = std::clamp(100 * (most / p.need_g - 1), 0.0, waste_pct);
    const auto w = weigh(p);
    if (!w) return w.error();
    no_less = w->total_g < least - 1e-9 ? 0 : no_less + 1;
    least = std::min(least, w->total_g);
    // Where even the least that can be weighed is too much, further cups change nothing.
    if (w->total_g > most * (1 + 1e-9) && no_less < 50 && n < 1000) continue;
    out.each = *w;
    out.batches.count = n;
    out.batches.each_g = total_g / n;
    if (n > first) out.batches.limited_by = by;
    out.batches.left_min = out.batches.pot_life_min - l.mix_min - l.degas_min - w->total_g / 100 * l.pour_min_per_100g;
    return out;
  }
}

double with_cup_loss_g(double poured_g, double loss_pct, double loss_g_per_cup, int cups) {
  return poured_g * (1 + loss_pct / 100) + loss_g_per_cup * cups;
}

}  // namespace palinform
