#include "stages/weighing.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mix/proportion.hpp"

namespace palinform {
namespace {

PourMix plan_pour(const Job& job, const Shop& shop, const Mixable& material, bool is_resin, std::string step,
                  double volume_mm3) {
  const MixRules& rules = shop.rules.mix;
  PourMix p;
  p.step = std::move(step);
  p.material = material.name;
  p.is_resin = is_resin;
  p.volume_mm3 = volume_mm3;
  p.viscosity_mpa_s = material.viscosity_mpa_s;
  p.density_g_cm3 = material.density_g_cm3;
  p.density_a_g_cm3 = material.density_a_g_cm3;
  p.density_b_g_cm3 = material.density_b_g_cm3;
  p.ratio_tolerance_pct = material.ratio_tolerance_pct;
  p.mix_min = rules.mix_min;
  p.degas_min = degas_minutes(material, is_resin, job.mix.degas, rules);
  p.foam_ratio = p.degas_min > 0
                     ? (material.pot_life_min < rules.fast_pot_life_min ? rules.foam_ratio_fast : rules.foam_ratio)
                     : 1.25;
  const double poured_g = volume_mm3 * 1e-3 * material.density_g_cm3;
  const double per_100 = is_resin ? rules.pour_min_per_100g_resin : rules.pour_min_per_100g_rubber;
  const BatchLimits limits{job.mix.cup_ml,
                           p.foam_ratio,
                           material.density_g_cm3,
                           material.pot_life_min,
                           material.reference_c,
                           job.size.room_c,
                           p.mix_min,
                           p.degas_min,
                           per_100};
  // The cups' loss adds to the mass, and the mass decides how many cups there are.
  const Proportion proportion{0, material.weight_ratio(), job.mix.scale_division_g, job.mix.waste_pct,
                              job.mix.cup_tare_g};
  int cups = 1;
  for (int round = 0; round < 4; ++round) {
    const auto w =
        weigh_batches(with_cup_loss_g(poured_g, rules.cup_loss_pct, rules.cup_loss_g, cups), proportion, limits);
    if (!w) break;
    p.batches = w->batches;
    p.weighing = w->each;
    if (p.batches.count <= cups) break;
    cups = p.batches.count;
  }
  p.need_g = p.batches.each_g * p.batches.count;
  p.pour_min = p.weighing.total_g / 100 * per_100;
  p.cup_ml_needed = p.weighing.total_g / material.density_g_cm3 * p.foam_ratio;
  for (const std::string& h : material.hazards)
    if (const auto words = shop.shelf.hazards.find(h); words != shop.shelf.hazards.end())
      p.cautions.push_back(words->second);
  return p;
}

}  // namespace

MixResult mix_result(const MouldResult& mould, const FormsResult* forms, double channels_mm3, const Job& job,
                     const Shop& shop) {
  const Silicone& sil = *shop.shelf.silicone(job.mix.silicone_id);
  const Resin& res = *shop.shelf.resin(job.mix.resin_id);
  MixResult r;
  const int a_pull = forms ? forms->plan().castings_a_pull : 1;
  for (const RubberPour& p : forms ? forms->plan().pours : mould.mould.pours) {
    if (p.volume_mm3 <= 0) continue;
    r.pours.push_back(plan_pour(job, shop, sil, false, "pour " + p.name, p.volume_mm3));
    r.rubber_g += r.pours.back().weighing.total_g * r.pours.back().batches.count;
  }
  const double with_channels = forms              ? a_pull * (mould.part_mm3 + forms->plan().resin_waste_mm3)
                               : channels_mm3 > 0 ? mould.part_mm3 + channels_mm3
                                                  : mould.part_mm3 * (1 + shop.rules.mix.channel_allowance_pct / 100);
  const int pulls = (job.copies + a_pull - 1) / a_pull;
  r.pours.push_back(plan_pour(job, shop, res, true, "casting", with_channels));
  r.resin_g = r.pours.back().weighing.total_g * r.pours.back().batches.count * pulls;
  r.castings_a_pull = a_pull;
  r.rubber_cost = r.rubber_g * 1e-3 * sil.price_per_kg;
  r.resin_cost = r.resin_g * 1e-3 * res.price_per_kg;
  return r;
}

}  // namespace palinform
