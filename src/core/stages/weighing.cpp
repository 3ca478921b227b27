#include "stages/weighing.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mix/proportion.hpp"

namespace palinform {
namespace {

PourMix plan_pour(const Job& job, const Catalogue& catalogue, const Mixable& material, bool is_resin, std::string step,
                  double volume_mm3, std::vector<Finding>& findings) {
  const Rules& rules = catalogue.rules;
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
  for (Finding& f : weighing_findings(p.weighing, job.mix.scale_division_g, material.ratio_tolerance_pct, p.step))
    findings.push_back(std::move(f));
  if (p.batches.too_slow || p.batches.left_min < 0) {
    Finding f{"mix-pot-life", Severity::stop, {}, "It would gel in the cup", "", {}};
    f.where.step = p.step;
    f.why = "Stirring " + fixed(p.mix_min, 0) + " min and vacuum " + fixed(p.degas_min, 0) + " min leave nothing of " +
            fixed(p.batches.pot_life_min, 1) + " min pot life at " + fixed(job.size.room_c, 0) + " °C for pouring.";
    if (p.degas_min > 0) f.remedies.push_back({"Skip the vacuum", edits::Degas{false}});
    findings.push_back(std::move(f));
  } else if (p.batches.count > 1) {
    const bool many = p.batches.count > many_batches;
    Finding f{"mix-batches",
              many ? Severity::stop : Severity::note,
              {},
              counted(p.batches.count, "batch", "batches") + " for " + p.step,
              "",
              {}};
    f.where.step = p.step;
    f.why = p.batches.limited_by == Batches::By::cup
                ? "Foam to " + significant(p.foam_ratio, 2) + " × the height must fit a cup of " +
                      grouped(job.mix.cup_ml) + " ml (rule of thumb)."
                : "More would gel before it is poured.";
    if (many)
      f.why += " So many cups one after the other is no pour: take a larger cup, a slower grade or a smaller mould.";
    if (p.batches.limited_by == Batches::By::cup) {
      const double cup_ml = std::ceil(p.cup_ml_needed * p.batches.count / 100) * 100;
      f.remedies.push_back({"A cup of " + grouped(cup_ml) + " ml", edits::TakeCup{cup_ml}});
    }
    findings.push_back(std::move(f));
  }
  for (const std::string& h : material.hazards)
    if (const auto words = catalogue.hazards.find(h); words != catalogue.hazards.end())
      p.cautions.push_back(words->second);
  return p;
}

}  // namespace

MixResult mix_result(const MouldResult& mould, const FormsResult* forms, double channels_mm3, const Job& job,
                     const Catalogue& catalogue) {
  const Silicone& sil = *catalogue.silicone(job.mix.silicone_id);
  const Resin& res = *catalogue.resin(job.mix.resin_id);
  MixResult r;
  if (job.mix.guessed) {
    Finding f{"mix-guessed", Severity::note, {}, "The shop's usual materials stand in", "", {}};
    f.why = sil.name + " and " + res.name + ", a cup of " + grouped(job.mix.cup_ml) + " ml and a scale of " +
            significant(job.mix.scale_division_g, 2) + " g: nobody chose them for this job yet.";
    f.remedies = {{"They are right", edits::ConfirmMaterials{}}};
    r.findings.push_back(std::move(f));
  }
  const int a_pull = forms ? forms->plan().castings_a_pull : 1;
  for (const RubberPour& p : forms ? forms->plan().pours : mould.mould.pours) {
    if (p.volume_mm3 <= 0) continue;
    r.pours.push_back(plan_pour(job, catalogue, sil, false, "pour " + p.name, p.volume_mm3, r.findings));
    r.rubber_g += r.pours.back().weighing.total_g * r.pours.back().batches.count;
  }
  const double with_channels = forms              ? a_pull * (mould.part_mm3 + forms->plan().resin_waste_mm3)
                               : channels_mm3 > 0 ? mould.part_mm3 + channels_mm3
                                                  : mould.part_mm3 * (1 + catalogue.rules.channel_allowance_pct / 100);
  const int pulls = (job.copies + a_pull - 1) / a_pull;
  r.pours.push_back(plan_pour(job, catalogue, res, true, "casting", with_channels, r.findings));
  r.resin_g = r.pours.back().weighing.total_g * r.pours.back().batches.count * pulls;
  r.castings_a_pull = a_pull;
  r.rubber_cost = r.rubber_g * 1e-3 * sil.price_per_kg;
  r.resin_cost = r.resin_g * 1e-3 * res.price_per_kg;
  return r;
}

}  // namespace palinform
