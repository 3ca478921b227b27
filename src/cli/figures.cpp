// palin mix, size, judge: sums on figures alone.
#include "base/text.hpp"
#include "check/conformity.hpp"
#include "commands.hpp"
#include "fields.hpp"
#include "findings/mix.hpp"
#include "mix/proportion.hpp"

namespace palinform::cli {
namespace {

Answer run_judge(const std::string& file) {
  auto read = read_json(file);
  if (!read) return read.error();
  const Json& j = *read;
  Error fault;
  Fields top(j, base_name(file), fault);
  const std::string rule = top.text("rule", "guard");
  if (rule != "guard" && rule != "plain") top.note("\"rule\" should be guard or plain");
  Json out{{"sizes", Json::array()}};
  std::vector<Conformity> verdicts;
  if (!j.contains("sizes") || !j["sizes"].is_array() || j["sizes"].empty())
    top.note("\"sizes\" should be a list with at least one size");
  else
    for (const Json& e : j["sizes"]) {
      Fields z(e, "size " + std::to_string(verdicts.size() + 1), fault);
      const std::string name = z.text("name", "size " + std::to_string(verdicts.size() + 1));
      std::vector<double> values;
      if (!e.is_object() || !e.contains("values_mm") || !e["values_mm"].is_array())
        z.note("\"values_mm\" should be a list of numbers");
      else
        for (const Json& v : e["values_mm"]) {
          if (v.is_number())
            values.push_back(v.get<double>());
          else
            z.note("\"values_mm\" should be a list of numbers");
        }
      // An instrument whose uncertainty is not known is none that judges: it is asked for, never taken as nought.
      const double res = z.number_in("resolution_mm", 0, 100), u = z.number_in("instrument_u_mm", 0, 100),
                   low = z.number_in("lower_mm", -1e6, 1e6), high = z.number_in("upper_mm", -1e6, 1e6);
      if (low > high) z.note("the lower limit lies above the upper limit");
      for (const double v : values)
        if (std::abs(v) > 1e6) z.note("\"values_mm\" should lie between -1000000 and 1000000");
      const Judgement k = judge(values, res, u, low, high, rule == "guard" ? DecisionRule::guard : DecisionRule::plain);
      verdicts.push_back(k.verdict);
      out["sizes"].push_back({{"name", name},
                              {"n", k.reading.n},
                              {"mean_mm", k.reading.n ? Json(k.reading.mean_mm) : Json()},
                              {"u_mm", k.reading.n ? Json(k.reading.u_mm) : Json()},
                              {"expanded_mm", k.reading.n ? Json(k.expanded_mm) : Json()},
                              {"coverage_k", k.reading.n ? Json(k.coverage) : Json()},
                              {"dof", k.reading.n && std::isfinite(k.dof) ? Json(k.dof) : Json()},
                              {"type_a", k.reading.type_a},
                              {"verdict", name_of(k.verdict)}});
    }
  if (!fault.what.empty()) return fault;
  out["overall"] = name_of(overall(verdicts));
  return out;
}

}  // namespace

void add_mix(CLI::App& app, Command& run) {
  struct Options {
    double need = 0, density_a = 0, density_b = 0, scale = 0.1, waste = 5, tare = 0, cup_ml = 0, foam = 4, pot_life = 0,
           room = 23, tolerance = 3;
    std::string ratio, by = "weight";
  };
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("mix", "What to weigh");
  c->add_option("--need-g", o->need, "grams to be mixed")->required()->check(within(1e-3, 1e6));
  c->add_option("--ratio", o->ratio, "a:b")->required();
  c->add_option("--by", o->by)->check(CLI::IsMember({"weight", "volume"}));
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
  c->callback([o, &run] {
    run = [o](const Progress&) -> Answer {
      const size_t colon = o->ratio.find(':');
      const auto a = parse_number(o->ratio.substr(0, colon));
      const auto b = colon == std::string::npos ? std::nullopt : parse_number(o->ratio.substr(colon + 1));
      if (!a || !b || *a <= 0 || *b <= 0)
        return Error{"\"" + o->ratio + "\" is no ratio", "--ratio", "Write two numbers above zero, as in 100:10."};
      double r = *b / *a;
      if (o->by == "volume") {
        if (o->density_a <= 0 || o->density_b <= 0)
          return Error{"a ratio by volume needs both densities", "--by volume", "Give --density-a and --density-b."};
        r = weight_ratio_from_volume(r, o->density_a, o->density_b);
      }
      double density = 1.1;
      if (o->density_a > 0 && o->density_b > 0) density = (1 + r) / (1 / o->density_a + r / o->density_b);
      BatchLimits limits;
      limits.cup_ml = o->cup_ml;
      limits.foam_ratio = o->foam;
      limits.density_g_cm3 = density;
      limits.pot_life_min = o->pot_life;
      limits.room_c = o->room;
      limits.mix_min = 3;
      limits.pour_min_per_100g = 1;
      const auto w = weigh({o->need, r, o->scale, o->waste, o->tare});
      if (!w) return w.error();
      const auto planned = weigh_batches(o->need, {o->need, r, o->scale, o->waste, o->tare}, limits);
      if (!planned) return planned.error();
      const Batches& batches = planned->batches;
      const Weighing* each = &planned->each;
      Json list = Json::array();
      for (int i = 0; i < batches.count; ++i)
        list.push_back({{"a_g", each->a_g},
                        {"b_g", each->b_g},
                        {"total_g", each->total_g},
                        {"readings_g", Json::array({each->readings_g[0], each->readings_g[1], each->readings_g[2]})}});
      Json findings = Json::array();
      for (const Finding& f : weighing_findings(*each, o->scale, o->tolerance, "mix"))
        findings.push_back({{"code", f.code}, {"what", f.what}, {"why", f.why}});
      if (batches.count > many_batches)
        findings.push_back(
            {{"code", "mix-many-batches"},
             {"what", std::to_string(batches.count) + " batches one after the other are no pour"},
             {"why", batches.limited_by == Batches::By::cup
                         ? "Take a larger cup, or a smaller mould."
                         : "More would gel before it is poured: take a slower grade, or a cooler room."}});
      if (batches.too_slow || (o->pot_life > 0 && batches.left_min < 0))
        findings.push_back({{"code", "mix-pot-life"},
                            {"what", "It would gel in the cup"},
                            {"why", "Stirring and pouring take longer than the pot life."}});
      return Json{{"a_g", w->a_g},
                  {"b_g", w->b_g},
                  {"total_g", w->total_g},
                  {"ratio_by_weight", r},
                  {"ratio_error_pct", w->ratio_error_pct},
                  {"ratio_u_pct", w->ratio_u_pct},
                  {"readings_g", Json::array({w->readings_g[0], w->readings_g[1], w->readings_g[2]})},
                  {"batches", std::move(list)},
                  {"findings", std::move(findings)}};
    };
  });
}

void add_judge(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("judge", "Judge measured sizes against their limits");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](const Progress&) { return run_judge(*file); }; });
}

}  // namespace palinform::cli
