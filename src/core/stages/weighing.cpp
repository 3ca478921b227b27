#include "stages/weighing.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "mix/cup_film.hpp"
#include "mix/dose.hpp"
#include "mix/proportion.hpp"
#include "shelf/catalogue_view.hpp"
#include "stages/materials.hpp"

namespace palinform {
namespace {

/// The recipe's doses for one batch. They go in first, so every reading after them is higher; a master batch brings
/// some of A along, which is then not poured.
void colour(PourMix& p, const ColourRecipe& recipe, double share, double division_g, const Shop& shop) {
  std::vector<PigmentLimit> limits;
  for (const RecipeTint& t : recipe.tints)
    if (const Material* m = shop.bottle(t.material_id))
      if (const auto most = m->figure("share_most_pct")) limits.push_back({m->id, *most / 100});
  const auto doses = scaled_recipe(recipe, p.weighing.total_g / (1 - share), division_g, limits);
  if (!doses) {
    p.no_colour = doses.error().text();
    return;
  }
  p.tints = *doses;
  double brought = 0;
  for (const TintDose& d : p.tints) {
    p.tints_g += d.weighed_g();
    if (d.master_batch) brought += d.stock_use_g - d.g;
  }
  if (brought >= p.part_g(false)) {
    p.no_colour = std::string("the master batches would bring more of ") + p.part(false) + " than there is";
    p.tints.clear(), p.tints_g = 0;
    return;
  }
  p.weighing.readings_g[1] += p.tints_g - brought;
  p.weighing.readings_g[2] += p.tints_g - brought;
}

enum class Poured { rubber, second_rubber, resin, jacket, putty };

/// What a pour takes of what the job stirs in: the first coat of a skin stays thin, to run into every detail.
std::vector<Addition> additions_of(const MixSetup& mix, Poured what, const std::string& step) {
  if (what == Poured::resin) return mix.resin_adds;
  if (what != Poured::rubber) return {};  // what is stirred in is chosen for the first rubber
  std::vector<Addition> out = mix.rubber_adds;
  if (step.ends_with("coat 1")) std::erase_if(out, [](const Addition& a) { return a.kind == Additive::thickener; });
  return out;
}

PourMix plan_pour(const Job& job, const Shop& shop, const Mixable& material, Poured what, std::string step,
                  double volume_mm3) {
  const MixRules& rules = shop.rules.mix;
  std::vector<std::string> hazards = material.hazards;
  const bool is_resin = what == Poured::resin;
  PourMix p;
  p.step = std::move(step);
  p.material = material.name;
  p.material_id = material.id;
  p.ratio = material.ratio_text();
  p.is_resin = is_resin;
  p.jacket = what == Poured::jacket;
  p.lumps = what == Poured::putty;
  p.volume_mm3 = volume_mm3;
  p.viscosity_mpa_s = material.viscosity_mpa_s;
  p.density_g_cm3 = material.density_g_cm3;
  p.density_a_g_cm3 = material.density_a_g_cm3;
  p.density_b_g_cm3 = material.density_b_g_cm3;
  p.ratio_tolerance_pct = material.ratio_tolerance_pct;
  p.by_percent = material.by_percent;
  // A paste and a putty are worked by hand: no vacuum, and a putty no cup.
  p.air = is_resin ? job.mix.resin_air : p.jacket || p.lumps ? AirBy::none : job.mix.rubber_air;
  p.self_clearing_mm = material.self_clearing_mm.value_or(0);
  const CupMinutes minutes = cup_minutes(material, is_resin, p.air, rules);
  p.mix_min = minutes.stir_min;
  // Kneaded to one colour well inside its minutes (rule of thumb: four tenths of them).
  if (p.lumps && !material.stir_min)
    p.mix_min =
        std::min(p.mix_min, 0.4 * time_at_temperature(material.pot_life_min, material.reference_c, job.size.room_c));
  p.degas_min = minutes.chamber_min;
  p.wait_min = minutes.wait_min;
  p.foam_ratio = minutes.foam_ratio;
  const double poured_g = volume_mm3 * 1e-3 * material.density_g_cm3;
  const double per_100 = p.lumps    ? 0.5  // pressed, not poured
                         : is_resin ? rules.pour_min_per_100g_resin
                                    : rules.pour_min_per_100g_rubber;
  // Putty needs no cup: as much at a time as hands can knead.
  const BatchLimits limits{p.lumps ? shop.rules.mould.forms.putty_lump_g / material.density_g_cm3 : job.mix.cup_ml,
                           p.foam_ratio,
                           material.density_g_cm3,
                           material.pot_life_min,
                           material.reference_c,
                           job.size.room_c,
                           p.mix_min,
                           p.degas_min + p.wait_min,
                           per_100};
  // The cups' loss adds to the mass, and the mass decides how many cups there are.
  const Proportion proportion{0, material.weight_ratio(), job.mix.scale_division_g, job.mix.waste_pct,
                              p.lumps ? 0 : job.mix.cup_tare_g};
  // What stays behind: a film over the wetted wall of the shop's own cup, else a flat share and a little.
  const auto with_loss = [&](int cups) {
    if (p.lumps) return poured_g;
    if (job.mix.cup_name.empty()) {
      p.loss_g_per_cup = rules.cup_loss_g + poured_g * rules.cup_loss_pct / 100 / cups;
      return with_cup_loss_g(poured_g, rules.cup_loss_pct, rules.cup_loss_g, cups);
    }
    const double fill_ml = poured_g / cups / material.density_g_cm3;
    p.wetted_mm2 = wetted_mm2(job.mix.cup(), fill_ml);
    p.film_cups = material.film_mm ? material.film_cups : 0;
    p.loss_g_per_cup = cup_loss_g(job.mix.cup(), fill_ml, material.density_g_cm3,
                                  material.film_mm.value_or(film_mm(material.viscosity_mpa_s)),
                                  static_cast<int>(std::lround(rules.pourings)));
    return poured_g + cups * p.loss_g_per_cup;
  };
  // Pigment is a share of all that is in the cup; the two parts make up the rest.
  const double coloured = is_resin && job.mix.colour ? job.mix.colour->share() : 0;
  const std::vector<Addition> additions = additions_of(job.mix, what, p.step);
  const double liquid = 1 - coloured - share_of(additions);
  int cups = 1;
  for (int round = 0; round < 4; ++round) {
    const auto w = weigh_batches(with_loss(cups) * liquid, proportion, limits);
    if (!w) break;
    p.batches = w->batches;
    p.weighing = w->each;
    if (p.batches.count <= cups) break;
    cups = p.batches.count;
  }
  p.need_g = p.batches.each_g * p.batches.count;
  if (material.in_drops && material.drop_g > 0 && p.weighing.a_g > 0) {
    const Dose dose = dose_in_drops(p.weighing.a_g * material.weight_ratio(), {material.drop_g, material.drop_u_g});
    p.drops = dose.count;
    p.weighing.b_g = dose.g;
    p.weighing.total_g = p.weighing.a_g + dose.g;
    p.weighing.readings_g[2] = p.weighing.readings_g[1] + dose.g;
    p.weighing.ratio_error_pct = 100 * (dose.g / dose.need_g - 1);
    p.weighing.ratio_u_pct = std::hypot(dose.u_pct, 100 * job.mix.scale_division_g / std::sqrt(12.0) / p.weighing.a_g);
  }
  // What hates wet air goes in last; else the part that the sheet wants coloured goes in on the colour.
  p.b_first = !p.drops && (material.moisture_part == "A" ||
                           (coloured > 0 && material.tint_part == "B" && material.moisture_part != "B"));
  p.weighing.readings_g[1] = p.weighing.readings_g[0] + p.part_g(false);
  if (coloured > 0) colour(p, *job.mix.colour, 1 - liquid, job.mix.scale_division_g, shop);
  p.adds = weigh_additions(additions, p.weighing.total_g, coloured);
  for (AdditionDose& a : p.adds) {
    a.g = std::round(a.g / job.mix.scale_division_g) * job.mix.scale_division_g;
    p.adds_g += a.g;
    if (const Material* m = shop.bottle(a.material_id))
      for (const std::string& h : m->hazards)
        if (std::find(hazards.begin(), hazards.end(), h) == hazards.end()) hazards.push_back(h);
  }
  p.weighing.readings_g[2] += p.adds_g;
  p.pour_min = (p.weighing.total_g + p.adds_g) / 100 * per_100;
  if (p.batches.count > 1 && p.batches.count <= many_batches && material.pot_life_min > 0 && !p.lumps) {
    CupsAsked asked;
    asked.people = job.mix.people;
    asked.pot_life_min = p.batches.pot_life_min;
    asked.cups.assign(static_cast<size_t>(p.batches.count), {1, p.mix_min, p.degas_min, p.pour_min});
    if (auto plan = plan_cups(asked)) {
      p.cups = *std::move(plan);
      if (!p.cups->fits) p.cup_levers = cups_levers(asked);
    }
  }
  if (p.lumps)
    for (const bool second : {false, true}) {
      const double ml = p.part_g(second) / (second != p.b_first ? material.density_b_g_cm3 : material.density_a_g_cm3);
      p.lump_mm[second] = std::cbrt(6000 * ml / std::numbers::pi);
    }
  p.cup_ml_needed = (p.weighing.total_g + p.adds_g) / material.density_g_cm3 * p.foam_ratio;
  const bool unsafe =
      p.weighing.a_g <= 0 || unsafe_dose(p.weighing.ratio_error_pct, p.weighing.ratio_u_pct, p.ratio_tolerance_pct);
  p.no_figures =
      unsafe && std::find(material.hazards.begin(), material.hazards.end(), "peroxide") != material.hazards.end();
  for (const std::string& h : hazards)
    if (const auto words = shop.shelf.hazards.find(h); words != shop.shelf.hazards.end())
      p.cautions.push_back(words->second);
  return p;
}

}  // namespace

namespace {

/// One that goes in in two stages as the two that it is weighed as.
std::vector<std::pair<RubberPour, int>> in_stages(const std::vector<RubberPour>& pours) {
  std::vector<std::pair<RubberPour, int>> out;
  for (const RubberPour& p : pours) {
    if (p.stage_mm3 <= 0) {
      out.push_back({p, 0});
      continue;
    }
    RubberPour first = p, second = p;
    first.volume_mm3 = p.stage_mm3, first.fill_height_mm = p.stage_fill_mm;
    second.volume_mm3 = p.volume_mm3 - p.stage_mm3;
    second.name += " stage 2";
    out.push_back({std::move(first), 1});
    out.push_back({std::move(second), 2});
  }
  return out;
}

/// The rubber of the form, a further piece out of the halves' share: all together as much as the box holds.
std::vector<RubberPour> pours_of(const MouldResult& mould, const FormsResult* forms,
                                 const std::vector<double>& pieces_mm3) {
  std::vector<RubberPour> out = forms ? forms->plan().pours : mould.block().pours;
  if (pieces_mm3.size() <= 2 || out.size() != 2 || pieces_mm3[0] + pieces_mm3[1] <= 0) return out;
  double further = 0;
  std::vector<RubberPour> first;
  for (size_t k = 2; k < pieces_mm3.size(); ++k) {
    RubberPour p;
    p.name = "piece " + std::to_string(k - 1);
    p.volume_mm3 = pieces_mm3[k];
    further += pieces_mm3[k];
    first.push_back(std::move(p));
  }
  const double left = std::max(0.0, out[0].volume_mm3 + out[1].volume_mm3 - further);
  for (size_t k = 0; k < 2; ++k) out[k].volume_mm3 = left * pieces_mm3[k] / (pieces_mm3[0] + pieces_mm3[1]);
  out.insert(out.begin(), first.begin(), first.end());
  return out;
}

}  // namespace

MixResult mix_result(const MouldResult& mould, const FormsResult* forms, const std::vector<double>& pieces_mm3,
                     const CastBesides& besides, const Job& job, const Shop& shop) {
  const Silicone& sil = *shop.shelf.silicone(job.mix.silicone_id);
  const Resin& res = *shop.shelf.resin(job.mix.resin_id);
  MixResult r;
  const int a_pull = forms ? forms->plan().castings_a_pull : 1;
  const Form form = forms ? forms->form : Form::two_part;
  const Ends ends = job.days.ends;
  const bool makes = ends == Ends::both || ends == Ends::mould, casts = ends == Ends::both || ends == Ends::castings;
  const std::optional<Silicone> second = second_rubber(job, shop);
  // Of every master in the mould, as each stands out of its own.
  std::array<double, 2> seats{};
  for (size_t s = 0; s < 2; ++s) {
    seats[s] = a_pull * besides.seats[s];
    if (parts_in_box(job)) seats[s] += mould.others_seats_mm3[s];
  }
  if (forms)
    for (const OnBar& o : forms->on_bar) seats[0] += o.many * o.seats_mm3;
  if (makes) {
    std::set<std::string> coated;  // sides
    for (auto& [p, stage] : in_stages(pours_of(mould, forms, pieces_mm3))) {
      // Seats lie at the part: of two stages the first goes round it, of coats the first as well.
      const bool first = stage < 2 && (p.side.empty() || coated.insert(p.side).second);
      if (first)
        p.volume_mm3 -= p.name.starts_with("b")   ? seats[1]
                        : p.name.starts_with("a") ? seats[0]
                        : p.name == "whole"       ? seats[0] + seats[1]
                                                  : 0;
      if (p.volume_mm3 <= 0) continue;
      const bool other = second && p.name.starts_with("b");
      PourMix& x = r.pours.emplace_back(plan_pour(job, shop, other ? *second : sil,
                                                  form == Form::putty ? Poured::putty
                                                  : other             ? Poured::second_rubber
                                                                      : Poured::rubber,
                                                  "pour " + p.name, p.volume_mm3));
      x.side = p.side;
      x.stage = stage;
      if (stage == 2) x.frame_u_mm = p.frame_u_mm, x.frame_v_mm = p.frame_v_mm;
      if (has_box(form) && p.side.empty()) x.fill_height_mm = p.fill_height_mm;
      const double g = x.weighing.total_g * x.batches.count;
      r.rubber_g += g;
      if (other) r.rubber_b_g += g;
    }
  }
  if (const Material* paste = makes && forms && forms->backed() ? jacket_material(job.mix, shop) : nullptr)
    if (const auto mixed = mixed_of(*paste)) {
      const FormPlan& plan = forms->plan();
      for (const char* side : {"a", "b"}) {
        const double mm3 = *side == 'b' ? plan.hard_b_mm3 : plan.hard_mm3 - plan.hard_b_mm3;
        if (mm3 <= 0) continue;
        const MouldRules& rules = shop.rules.mould;
        // A shell is laid in layers; what backs a half in its box is poured.
        const int layers =
            form != Form::skin
                ? 1
                : std::max(1, static_cast<int>(std::ceil(rules.forms.jacket_mm / rules.jacket.layer_mm - 1e-9)));
        for (int k = 1; k <= layers; ++k) {
          std::string name = std::string(form == Form::skin ? "jacket " : "backing ") + side;
          if (layers > 1) name += " layer " + std::to_string(k);
          PourMix& x =
              r.pours.emplace_back(plan_pour(job, shop, *mixed, Poured::jacket, std::move(name), mm3 / layers));
          x.side = side;
          x.stage = layers > 1 ? k : 0, x.layers = layers;
          if (form != Form::skin) x.fill_height_mm = mould.block().pours[*side == 'b'].fill_height_mm;
          r.jacket_g += x.weighing.total_g * x.batches.count;
        }
      }
      r.jacket_cost = r.jacket_g * 1e-3 * mixed->price_per_kg;
    }
  const double channels_mm3 = besides.channels;
  const double cast_mm3 = mould.part_mm3 + besides.films - besides.inserts;
  const bool own_waste = forms && (form != Form::two_part || channels_mm3 <= 0);
  const double with_channels = own_waste          ? a_pull * (cast_mm3 + forms->plan().resin_waste_mm3)
                               : channels_mm3 > 0 ? a_pull * (cast_mm3 + channels_mm3)
                                                  : cast_mm3 * (1 + shop.rules.mix.channel_allowance_pct / 100);
  double others = 0;
  if (parts_in_box(job))
    others =
        mould.others_mm3 + besides.of_others.value_or(mould.others_mm3 * shop.rules.mix.channel_allowance_pct / 100);
  // On a bar the resin that stays in it is all told with the part in hand.
  if (forms)
    for (const OnBar& o : forms->on_bar) others += o.many * o.cast_mm3;
  const int pulls = pulls_wanted(job, a_pull);
  if (casts) r.pours.push_back(plan_pour(job, shop, res, Poured::resin, "casting", with_channels + others));
  if (casts) r.resin_g = r.pours.back().weighing.total_g * r.pours.back().batches.count * pulls;
  r.castings_a_pull = castings_a_pull(job, a_pull);
  r.pulls = pulls;
  if (makes) r.u_rubber_g = mould.u_part_mm3 * 1e-3 * sil.density_g_cm3;
  if (casts) r.u_resin_g = mould.u_part_mm3 * 1e-3 * res.density_g_cm3 * job.copies;
  r.rubber_cost = (r.rubber_g - r.rubber_b_g) * 1e-3 * sil.price_per_kg;
  if (second) r.rubber_cost += r.rubber_b_g * 1e-3 * second->price_per_kg;
  r.resin_cost = r.resin_g * 1e-3 * res.price_per_kg;
  return r;
}

Result<PourMix> small_batch(double g, bool resin, const Job& job, const Shop& shop) {
  const auto sil = planned_rubber(job.mix, shop);
  const auto res = planned_resin(job.mix, shop);
  if (resin ? !res : !sil) return Error{"no material is chosen to mix", "mix", "Choose it in Mix."};
  const Mixable& m = resin ? static_cast<const Mixable&>(*res) : *sil;
  return plan_pour(job, shop, m, resin ? Poured::resin : Poured::rubber, resin ? "casting" : "pour top-up",
                   g * 1e3 / m.density_g_cm3);
}

Result<SharedBatch> batch_with_others(const MixResult& mix, const Job& job, std::vector<CavityShare> others,
                                      const Shop& shop) {
  const auto p = std::find_if(mix.pours.begin(), mix.pours.end(), [](const PourMix& x) { return x.is_resin; });
  if (p == mix.pours.end()) return Error{"this job casts nothing", "mix", "Let it end with castings, in Days."};
  const BatchLimits limits{job.mix.cup_ml,
                           p->foam_ratio,
                           p->density_g_cm3,
                           p->batches.pot_life_min,
                           job.size.room_c,
                           job.size.room_c,
                           p->mix_min,
                           p->degas_min + p->wait_min,
                           shop.rules.mix.pour_min_per_100g_resin};
  return share_batch({job.id, job.name, p->volume_mm3 * 1e-3 * p->density_g_cm3}, std::move(others), limits);
}

std::vector<Need> needs_of(const MixResult& mix, const MixSetup& m, int moulds, const Shop& shop) {
  std::vector<Need> out;
  const auto add = [&](const auto& material, const std::optional<Material>& copy, double g) {
    if (!material || !(g > 0)) return;
    Need n{material->id, material->name, g};
    if (copy) n.life_open_days = copy->figure("life_open_days").value_or(0), n.pack_kg = copy->packs_kg;
    out.push_back(std::move(n));
  };
  add(planned_rubber(m, shop), m.rubber, (mix.rubber_g - mix.rubber_b_g) * moulds);
  add(planned_rubber_b(m, shop), m.rubber_b, mix.rubber_b_g * moulds);
  if (const Material* paste = mix.jacket_g > 0 ? jacket_material(m, shop) : nullptr)
    add(std::optional(*paste), std::optional(*paste), mix.jacket_g * moulds);
  add(planned_resin(m, shop), m.resin, mix.resin_g);
  // Pigment, filler and the like, one line a material however many pours take it.
  const auto further = [&](const std::string& id, const std::string& name, double g) {
    const auto at = std::find_if(out.begin(), out.end(), [&](const Need& n) { return n.material_id == id; });
    if (at != out.end()) {
      at->mass_g += g;
      return;
    }
    Need n{id, name, g};
    if (const Material* b = shop.bottle(id))
      n.life_open_days = b->figure("life_open_days").value_or(0), n.pack_kg = b->packs_kg;
    out.push_back(std::move(n));
  };
  for (const PourMix& p : mix.pours) {
    const double a_mould = p.weighing.total_g * p.batches.count;
    // Of the casting there are as many as all its grams are times one pull's.
    const double cups = p.batches.count * (p.is_resin ? (a_mould > 0 ? mix.resin_g / a_mould : 0) : moulds);
    for (const TintDose& d : p.tints) further(d.material_id, d.name, d.g * cups);
    for (const AdditionDose& a : p.adds) further(a.material_id, a.name, a.g * cups);
  }
  return out;
}

}  // namespace palinform
