// palin mix: what to weigh, count or draw up, in which order, and whether the cups come in time.
#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

#include "base/text.hpp"
#include "commands.hpp"
#include "findings/mix.hpp"
#include "ledger/workshop.hpp"
#include "mix/additives.hpp"
#include "mix/cups.hpp"
#include "mix/dose.hpp"
#include "mix/proportion.hpp"
#include "mix_dose.hpp"
#include "shelf/family.hpp"

namespace palinform::cli {
namespace {

struct Part {
  std::string name;
  double g = 0;
  std::optional<double> density_g_cm3;
  std::optional<long> drops;
};

/// "a=200,207": so much was wanted of A, so much went in.
Answer mended(const MixOptions& o, double r) {
  const size_t equals = o.mend.find('=');
  const std::string part = o.mend.substr(0, equals);
  std::string figures = equals == std::string::npos ? std::string() : o.mend.substr(equals + 1);
  std::replace(figures.begin(), figures.end(), ',', ' ');
  const auto pair = parse_numbers(figures);
  if ((part != "a" && part != "b") || !pair || pair->size() != 2 || (*pair)[0] <= 0 || (*pair)[1] <= 0)
    return Error{"\"" + o.mend + "\" tells no overshoot", "--mend", "Write a=200,207: wanted and what went in."};
  const double wanted = (*pair)[0], got = (*pair)[1];
  const Mending m = part == "a" ? mend_a(got, r) : mend_b(wanted / r, got, r);
  return Json{{"a_g", m.a_g}, {"b_g", m.b_g}, {"total_g", m.total_g}, {"add_a_g", m.add_a_g}, {"add_b_g", m.add_b_g}};
}

Json cup_json(const CupTime& c) {
  return {{"starts_min", c.starts_min},     {"weigh_from_min", c.weigh_from_min}, {"degas_from_min", c.degas_from_min},
          {"degas_to_min", c.degas_to_min}, {"pour_from_min", c.pour_from_min},   {"pour_to_min", c.pour_to_min},
          {"gels_min", c.gels_min}};
}

Result<std::vector<double>> brims_ml(const MixOptions& o) {
  std::string spaced = o.cups;
  std::replace(spaced.begin(), spaced.end(), ',', ' ');
  auto brims = parse_numbers(spaced);
  if (!brims || brims->empty() || std::any_of(brims->begin(), brims->end(), [](double v) { return !(v > 0); }))
    return Error{"\"" + o.cups + "\" names no cups", "--cups", "Write the brim of each in ml, as in 500,500,300."};
  return *brims;
}

/// The batch over the cups that are there, each filled by its share of what they hold.
Result<Json> cups_in_time(const MixOptions& o, const std::vector<double>& brims, double total_g, double density,
                          const Progress& progress) {
  if (o.pot_life <= 0) return Error{"cups in time need the pot life", "--cups", "Give --pot-life-min."};
  double hold_ml = 0;
  for (const double v : brims) hold_ml += v;
  // Foam needs its room only where there is a vacuum; stirring wants a fifth free.
  const double room = o.degas_min > 0 ? o.foam : 1.25;
  const double volume_ml = total_g / density;
  if (volume_ml * room > hold_ml)
    return Error{"the cups hold " + grouped(hold_ml / room) + " ml with room to " +
                     (o.degas_min > 0 ? "foam" : "stir") + "; the batch is " + grouped(volume_ml) + " ml",
                 "--cups", "Take larger cups, or more of them."};
  CupsAsked asked;
  asked.people = o.people;
  asked.pot_life_min = time_at_temperature(o.pot_life, 23, o.room);
  for (const double brim : brims) {
    const double g = total_g * brim / hold_ml;
    CupTimes t;
    t.weigh_min = 1;
    t.stir_min = o.stir_min >= 0 ? o.stir_min : 3 + std::max(0.0, g - 500) / 500;  // ranges.md: a rule of thumb
    t.degas_min = o.degas_min;
    t.pour_min = o.pour_min >= 0 ? o.pour_min : g / 100;
    asked.cups.push_back(t);
  }
  const auto plan = plan_cups(asked, progress);
  if (!plan) return plan.error();
  Json out{{"cups", Json::array()}, {"fits", plan->fits}, {"why", plan->why}};
  for (const CupTime& c : plan->cups) {
    Json one = cup_json(c);
    one["cup"] = c.cup + 1;
    one["g"] = total_g * brims[c.cup] / hold_ml;
    out["cups"].push_back(std::move(one));
  }
  out["done_min"] = plan->done_min;
  out["levers"] = Json::array();
  if (!plan->fits)
    for (const CupsLever& l : cups_levers(asked, progress)) out["levers"].push_back(l.what);
  return out;
}

/// What the bottle says stands in wherever the command line says nothing.
Status take_bottle(MixOptions& o, const std::function<bool(const char*)>& given) {
  auto w = Workshop::open(o.workshop);
  if (!w) return w.error();
  const auto found = (*w)->material(o.material);
  if (!found) return found.error();
  const Material m = with_guesses(*found);
  if (const auto r = weight_ratio(m); !r) return r.error();
  if (!given("--ratio")) {
    o.by = std::string(name_of(m.mixing.by));
    const bool share = m.mixing.by == MixBy::percent || m.mixing.by == MixBy::drops;
    o.ratio = share ? shortest(m.mixing.percent, 8) : shortest(m.mixing.a, 8) + ":" + shortest(m.mixing.b, 8);
  }
  const auto take = [&](const char* option, double& into, std::optional<double> v) {
    if (v && !given(option)) into = *v;
  };
  take("--density-a", o.density_a, m.figure("density_a_g_cm3"));
  take("--density-b", o.density_b, m.figure("density_b_g_cm3"));
  take("--tolerance-pct", o.tolerance, m.mixing.tolerance_pct);
  take("--stir-min", o.stir_min, m.figure("stir_min"));
  if (m.mixing.drop_g > 0) take("--drop-mass", o.drop_g, m.mixing.drop_g);
  if (const auto t = times_at(m, 23)) {
    double pot_life = t->pot_life_min;
    if (!m.mixing.at_percent.empty()) {
      // At the percentage that is asked for, which must lie within the sheet.
      const auto pct = parse_number(o.ratio);
      const auto at = at_percent(m.mixing.at_percent, pct.value_or(m.mixing.percent));
      if (!at) return at.error();
      pot_life = at->pot_life_min;
    }
    take("--pot-life-min", o.pot_life, pot_life);
  }
  o.b_first = m.moisture_part == "A";
  if (std::find(m.hazards.begin(), m.hazards.end(), "peroxide") != m.hazards.end()) o.peroxide = true;
  return {};
}

/// The doses of all cups: of the whole, of each batch, and the one that is measured worst.
struct Doses {
  Weighed each, worst;
  std::optional<WeighedBatches> planned;  ///< nothing where B is counted or cannot be weighed
  int count = 1;
  std::vector<double> brims_ml;  ///< of --cups
};
Result<Doses> judge_doses(const MixOptions& o, const Weighed& w, double parts_g, double r, double total_g,
                          double density) {
  Doses d;
  d.each = w;
  BatchLimits limits;
  limits.cup_ml = o.cup_ml;
  limits.foam_ratio = o.foam;
  limits.density_g_cm3 = density;
  limits.pot_life_min = o.pot_life;
  limits.room_c = o.room;
  limits.mix_min = 3;
  limits.pour_min_per_100g = 1;
  // Every cup is a dose of its own: what the whole could be weighed by says nothing of its share.
  d.count = plan_batches(total_g, limits).count;
  if (o.by == "drops") {
    if (d.count > 1) d.each = weighed_in_drops(parts_g / d.count, r, o);
  } else if (w.possible) {
    const Proportion p{parts_g, r, o.scale, o.waste, o.tare};
    if (const auto found = weigh_batches(parts_g, p, limits); found) {
      d.planned = *found;
      d.count = d.planned->batches.count;
      d.each.a_g = d.planned->each.a_g, d.each.b_g = d.planned->each.b_g;
      d.each.ratio_error_pct = d.planned->each.ratio_error_pct, d.each.ratio_u_pct = d.planned->each.ratio_u_pct;
    } else if (d.count > 1) {
      d.each = weighed_whole(parts_g / d.count, r, o);
    } else {
      return found.error();
    }
  }
  d.worst = w.unsafe(o.tolerance) ? w : d.each;
  if (!o.cups.empty()) {
    auto read = brims_ml(o);
    if (!read) return read.error();
    d.brims_ml = *std::move(read);
    double hold_ml = 0;
    for (const double v : d.brims_ml) hold_ml += v;
    for (const double v : d.brims_ml)
      if (const Weighed cup = weighed_whole((w.a_g + w.b_g) * v / hold_ml, r, o);
          !d.worst.unsafe(o.tolerance) && cup.unsafe(o.tolerance))
        d.worst = cup;
  }
  return d;
}

Answer mix(const MixOptions& o, const Progress& progress) {
  const auto ratio = weight_ratio(o);
  if (!ratio) return ratio.error();
  const double r = *ratio;
  if (!o.mend.empty()) return mended(o, r);
  if (o.by == "drops" && o.drop_g <= 0)
    return Error{"drops need the mass of one", "--by drops", "Weigh twenty together and give --drop-mass."};
  if (o.filler_pct > 0 && o.filler_density <= 0)
    return Error{"a filler needs its density", "--filler-pct", "Give --filler-density."};
  const double pigment = o.pigment_pct / 100, filler = o.filler_pct / 100;
  if (pigment + filler >= 0.95) return Error{"there is hardly anything left to cure", "--pigment-pct", ""};
  double density = 1.1;
  if (o.density_a > 0 && o.density_b > 0) density = (1 + r) / (1 / o.density_a + r / o.density_b);
  Json findings = Json::array();
  // Pigment and filler are shares of all that is in the cup; the two parts make up the rest.
  const double parts_g = o.need * (1 - pigment - filler);
  Weighed w;
  Json batches = Json::array();
  if (o.by == "drops") {
    w = weighed_in_drops(parts_g, r, o);
  } else if (const auto one = weigh({parts_g, r, o.scale, o.waste, o.tare}); one) {
    w.a_g = one->a_g, w.b_g = one->b_g;
    w.ratio_error_pct = one->ratio_error_pct, w.ratio_u_pct = one->ratio_u_pct;
  } else if (parts_g < 1e6 && std::min(parts_g / (1 + r), parts_g * r / (1 + r)) < o.scale) {
    w = weighed_whole(parts_g, r, o);
  } else {
    return one.error();
  }
  const double parts = w.a_g + w.b_g, total_g = parts / (1 - pigment - filler);
  Json filled_json;
  if (filler > 0) {
    const auto f = filled(filler, o.filler_density, density);
    if (!f) return f.error();
    filled_json = {{"volume_share", f->volume_share},
                   {"density_g_cm3", f->density_g_cm3},
                   {"viscosity_times", f->viscosity_times},
                   {"shrink_times", f->shrink_times},
                   {"heat_times", f->heat_times}};
    density = f->density_g_cm3;
  }
  const auto doses = judge_doses(o, w, parts_g, r, total_g, density);
  if (!doses) return doses.error();
  const Weighed &each = doses->each, &worst = doses->worst;
  const bool unsafe = worst.unsafe(o.tolerance);
  const bool silent = unsafe && o.peroxide;
  if (unsafe) findings.push_back(unsafe_finding(o, worst.a_g, r, o.density_b > 0 ? o.density_b : 1.1));

  // Thin into thick, moisture-hating B last; tint and filler into A.
  std::vector<Part> sequence{{"A", w.a_g, o.density_a > 0 ? std::optional(o.density_a) : std::nullopt, {}}};
  Json tint;
  if (pigment > 0) {
    const auto dose = weigh_tints(
        {{"pigment", pigment, o.pigment_most_pct > 0 ? std::optional(o.pigment_most_pct / 100) : std::nullopt}},
        total_g, o.scale);
    if (!dose) return dose.error();
    const TintDose& d = dose->front();
    sequence.push_back({"pigment", d.g, {}, {}});
    if (d.master_batch)
      tint = {{"pigment_g", d.stock_pigment_g}, {"into_a_g", d.stock_part_g}, {"use_g", d.stock_use_g}};
  }
  if (filler > 0) sequence.push_back({"filler", filler * total_g, o.filler_density, {}});
  sequence.push_back({"B", w.b_g, o.density_b > 0 ? std::optional(o.density_b) : std::nullopt, w.drops});
  if (o.b_first) std::swap(sequence.front(), sequence.back());  // A hates wet air: it goes in last
  Json steps = Json::array();
  double reading = o.tare;
  for (const Part& p : sequence) {
    reading += p.g;
    const bool told = !silent;
    const bool read = told && !p.drops && (w.possible || p.name == "A");
    steps.push_back({{"part", p.name},
                     {"g", told ? Json(p.g) : Json()},
                     {"ml", told && p.density_g_cm3 ? Json(p.g / *p.density_g_cm3) : Json()},
                     {"drops", told && p.drops ? Json(*p.drops) : Json()},
                     {"reading_g", read ? Json(reading) : Json()}});
  }

  if (each.possible && !silent)
    for (int i = 0; i < doses->count; ++i)
      batches.push_back(
          {{"a_g", each.a_g},
           {"b_g", each.b_g},
           {"drops", each.drops ? Json(*each.drops) : Json()},
           {"total_g", each.a_g + each.b_g},
           {"readings_g", each.drops ? Json::array({o.tare, o.tare + each.a_g})
                                     : Json::array({o.tare, o.tare + each.a_g, o.tare + each.a_g + each.b_g})}});
  if (const auto& planned = doses->planned) {
    if (!unsafe)
      for (const Finding& f : weighing_findings(planned->each, o.scale, o.tolerance, "mix"))
        findings.push_back({{"code", f.code}, {"what", f.what}, {"why", f.why}});
    if (planned->batches.count > many_batches)
      findings.push_back({{"code", "mix-many-batches"},
                          {"what", std::to_string(planned->batches.count) + " batches one after the other are no pour"},
                          {"why", planned->batches.limited_by == Batches::By::cup
                                      ? "Take a larger cup, or a smaller mould."
                                      : "More would gel before it is poured: take a slower grade, or a cooler room."}});
    if (planned->batches.too_slow || (o.pot_life > 0 && planned->batches.left_min < 0))
      findings.push_back({{"code", "mix-pot-life"},
                          {"what", "It would gel in the cup"},
                          {"why", "Stirring and pouring take longer than the pot life."}});
  }
  const auto figure = [&](double v) { return silent ? Json() : Json(v); };
  Json j{{"a_g", figure(w.a_g)},
         {"b_g", figure(w.b_g)},
         {"total_g", figure(total_g)},
         {"ratio_by_weight", r},
         {"ratio_error_pct", w.ratio_error_pct},
         {"ratio_u_pct", w.ratio_u_pct},
         {"unsafe", unsafe},
         {"readings_g",
          silent || !w.possible || w.drops ? Json() : Json::array({o.tare, o.tare + w.a_g, o.tare + w.a_g + w.b_g})},
         {"sequence", std::move(steps)},
         {"batches", std::move(batches)}};
  if (!tint.is_null() && !silent) j["master_batch"] = std::move(tint);
  if (!filled_json.is_null()) j["filled"] = std::move(filled_json);
  if (!o.cups.empty()) {
    auto cups = cups_in_time(o, doses->brims_ml, total_g, density, progress);
    if (!cups) return cups.error();
    if (!(*cups)["fits"].get<bool>())
      findings.push_back({{"code", "cups-late"},
                          {"severity", "stop"},
                          {"what", "The cups do not come in time"},
                          {"why", (*cups)["why"]}});
    if (silent)
      for (Json& c : (*cups)["cups"]) c["g"] = nullptr;
    for (auto& [key, value] : cups->items()) j[key] = value;
  }
  j["findings"] = std::move(findings);
  return j;
}

}  // namespace

void add_mix(CLI::App& app, Command& run) {
  auto o = std::make_shared<MixOptions>();
  auto* c = app.add_subcommand("mix", "What to weigh");
  auto* need = c->add_option("--need-g", o->need, "grams to be mixed, all together")->check(within(1e-3, 1e6));
  auto* ratio = c->add_option("--ratio", o->ratio, "a:b; with --by percent or drops also per cent of the base");
  auto* material = c->add_option("--material", o->material, "id of a bottle: its sheet stands in for what is not said");
  c->add_option("--workshop", o->workshop, "workshop.sqlite whose shelf it stands on")->needs(material);
  c->add_option("--by", o->by)->check(CLI::IsMember({"weight", "volume", "percent", "drops"}));
  c->add_option("--density-a", o->density_a, "g/cm3")->check(within(0.2, 25));
  c->add_option("--density-b", o->density_b, "g/cm3")->check(within(0.2, 25));
  c->add_option("--scale", o->scale, "scale division, g")->check(within(1e-4, 1000));
  c->add_option("--waste-pct", o->waste)->check(within(0, 200));
  c->add_option("--tare", o->tare, "g")->check(within(0, 1e5));
  c->add_option("--cup-ml", o->cup_ml)->check(within(1, 1e6));
  c->add_option("--foam", o->foam, "height of the foam over the liquid's")->check(within(1, 20));
  c->add_option("--pot-life-min", o->pot_life, "at 23 C")->check(within(0.2, 10000));
  c->add_option("--room-c", o->room)->check(within(-10, 60));
  c->add_option("--tolerance-pct", o->tolerance, "what the material allows on the ratio")->check(within(0.01, 50));
  c->add_option("--drop-mass", o->drop_g, "g of one drop, by weighing twenty or more")->check(within(1e-4, 1));
  c->add_flag("--peroxide", o->peroxide, "B is a peroxide: an unsafe dose is told without any figure");
  c->add_option("--pigment-pct", o->pigment_pct, "of the total, by weight")->check(within(0, 50));
  c->add_option("--pigment-most-pct", o->pigment_most_pct, "that its sheet allows")->check(within(0, 50));
  c->add_option("--filler-pct", o->filler_pct, "of the total, by weight")->check(within(0, 90));
  c->add_option("--filler-density", o->filler_density, "g/cm3")->check(within(0.05, 25));
  c->add_option("--cups", o->cups, "brim of each, ml: 500,500,300");
  c->add_option("--people", o->people)->check(within(1, 9));
  c->add_option("--stir-min", o->stir_min, "a cup; by its mass where left out")->check(within(0, 1000));
  c->add_option("--degas-min", o->degas_min, "a cup, in the chamber")->check(within(0, 1000));
  c->add_option("--pour-min", o->pour_min, "a cup; a minute for 100 g where left out")->check(within(0, 1000));
  c->add_option("--mend", o->mend, "a=WANTED,GOT or b=WANTED,GOT: what to pour after an overshoot");
  c->callback([o, need, ratio, c, &run] {
    if (need->empty() && o->mend.empty()) throw CLI::RequiredError("--need-g");
    if (ratio->empty() && o->material.empty()) throw CLI::RequiredError("--ratio");
    if (!o->material.empty() && o->workshop.empty()) throw CLI::RequiredError("--workshop");
    std::set<std::string> said;
    for (const CLI::Option* option : c->get_options())
      if (!option->empty()) said.insert(option->get_name());
    run = [o, said](const Progress& progress) -> Answer {
      MixOptions asked = *o;
      if (!asked.material.empty())
        if (auto ok = take_bottle(asked, [&](const char* name) { return said.contains(name); }); !ok) return ok.error();
      return mix(asked, progress);
    };
  });
}

}  // namespace palinform::cli
