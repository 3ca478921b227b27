#include "mix/shared_batch.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {

Result<SharedBatch> share_batch(const CavityShare& first, std::vector<CavityShare> others, const BatchLimits& l) {
  if (!(first.pour_g > 0)) return Error{"there is nothing to cast", first.job_name, ""};
  const double life = l.pot_life_min > 0 ? time_at_temperature(l.pot_life_min, l.pot_life_ref_c, l.room_c) : 0;
  SharedBatch b;
  const auto fits = [&](double g) {
    const double minutes = l.mix_min + l.degas_min + g / 100 * l.pour_min_per_100g;
    const double ml = g / l.density_g_cm3 * l.foam_ratio;
    return (l.pot_life_min <= 0 || minutes <= life + 1e-9) && (l.cup_ml <= 0 || ml <= l.cup_ml + 1e-9);
  };
  if (!fits(first.pour_g))
    return Error{"one batch is not enough for this job alone", first.job_name, "Cast it by itself, in several cups."};
  b.in.push_back(first);
  b.poured_g = first.pour_g;
  // Time and cup both go by grams, so the small ones first make the most castings.
  std::stable_sort(others.begin(), others.end(),
                   [](const CavityShare& a, const CavityShare& c) { return a.pour_g < c.pour_g; });
  for (CavityShare& o : others) {
    const bool goes = o.pour_g > 0 && fits(b.poured_g + o.pour_g);
    if (goes) b.poured_g += o.pour_g;
    (goes ? b.in : b.out).push_back(std::move(o));
  }
  b.pour_min = b.poured_g / 100 * l.pour_min_per_100g;
  b.left_min = life - l.mix_min - l.degas_min - b.pour_min;
  b.cup_ml_needed = b.poured_g / l.density_g_cm3 * l.foam_ratio;
  return b;
}

}  // namespace palinform
