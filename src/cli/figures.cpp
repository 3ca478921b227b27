// palin mix, size, judge: sums on figures alone.
#include "base/text.hpp"
#include "check/conformity.hpp"
#include "commands.hpp"
#include "mesh/save.hpp"
#include "mix/proportion.hpp"
#include "size/chain.hpp"

namespace palinform::cli {
namespace {

/// Reads fields of an input file; the first fault is kept, with the field's name.
class Fields {
 public:
  Fields(const Json& j, std::string where, Error& fault) : j_(j), where_(std::move(where)), fault_(fault) {}
  double number(const char* key, std::optional<double> otherwise = std::nullopt) {
    if (!j_.is_object() || !j_.contains(key) || j_[key].is_null()) {
      if (!otherwise) note(std::string("\"") + key + "\" is missing");
      return otherwise.value_or(0);
    }
    if (!j_[key].is_number()) return note(std::string("\"") + key + "\" should be a number"), 0;
    return j_[key].get<double>();
  }
  std::optional<double> maybe(const char* key) {
    return j_.is_object() && j_.contains(key) && !j_[key].is_null() ? std::optional(number(key)) : std::nullopt;
  }
  std::string text(const char* key, const std::string& otherwise) {
    if (!j_.is_object() || !j_.contains(key)) return otherwise;
    if (!j_[key].is_string()) return note(std::string("\"") + key + "\" should be text"), "";
    return j_[key].get<std::string>();
  }
  void note(std::string what) {
    if (fault_.what.empty()) fault_ = {std::move(what), where_, "Correct the file; cli.md lists the fields."};
  }

 private:
  const Json& j_;
  std::string where_;
  Error& fault_;
};

Result<Json> read_json(const std::string& file) {
  const auto bytes = read_file(file);
  if (!bytes) return bytes.error();
  Json j = Json::parse(*bytes, nullptr, false);
  if (j.is_discarded() || !j.is_object())
    return Error{"it does not read as a JSON object", base_name(file), "Check brackets and commas."};
  return j;
}

Answer run_size(const std::string& file) {
  auto read = read_json(file);
  if (!read) return read.error();
  const Json& j = *read;
  Error fault;
  Fields top(j, base_name(file), fault);
  const std::string master = top.text("master", "original");
  if (master != "original" && master != "scaled" && master != "scaled-per-axis")
    top.note("\"master\" should be original, scaled or scaled-per-axis");
  if (master == "scaled-per-axis") top.note("a scale per axis is not offered by this version");
  const Json none = Json::object();
  const Json& sil = j.contains("silicone") ? j["silicone"] : none;
  const Json& res = j.contains("resin") ? j["resin"] : none;
  const Json& flash = j.contains("flash_mm") ? j["flash_mm"] : none;
  Fields s(sil, "silicone", fault), r(res, "resin", fault), f(flash, "flash_mm", fault);
  ChainMaterials m;
  m.sil_shrink_pct = s.number("shrink_pct");
  m.sil_shrink_u_pct = s.number("u_pct", 0);
  m.sil_expansion_per_k = s.number("alpha_per_k", 0);
  m.res_shrink_pct = r.number("shrink_pct");
  m.res_shrink_u_pct = r.number("u_pct", 0);
  m.room_c = top.number("room_c", 21);
  m.gel_c = top.number("gel_c", m.room_c);
  m.gel_u_c = top.number("gel_u_c", 0);
  m.flash_mm = f.number("mean", 0);
  m.flash_u_mm = f.number("u", 0);
  std::vector<MeasuredSize> sizes;
  if (!j.contains("sizes") || !j["sizes"].is_array() || j["sizes"].empty())
    top.note("\"sizes\" should be a list with at least one size");
  else
    for (const Json& e : j["sizes"]) {
      Fields z(e, "size " + std::to_string(sizes.size() + 1), fault);
      MeasuredSize q;
      q.id = "s" + std::to_string(sizes.size() + 1);
      q.name = z.text("name", q.id);
      const auto kind = size_kind(z.text("kind", "outer"));
      const auto formed = formed_by(z.text("formed_by", "rubber"));
      if (!kind) z.note("\"kind\" is unknown");
      if (!formed) z.note("\"formed_by\" is unknown");
      q.kind = kind.value_or(SizeKind::outer);
      q.formed = formed.value_or(FormedBy::rubber);
      q.nominal_mm = z.number("nominal_mm");
      q.lower_mm = z.number("lower_mm");
      q.upper_mm = z.number("upper_mm");
      q.instrument_u_mm = z.number("u_mm", 0);
      q.resolution_mm = 0;
      q.pin_mm = z.maybe("pin_mm");
      q.stock_mm = z.maybe("stock_mm");
      if (q.formed == FormedBy::pin && !q.pin_mm) q.pin_mm = q.nominal_mm;
      if (fault.what.empty())
        if (auto ok = check_size(q); !ok) fault = ok.error();
      sizes.push_back(std::move(q));
    }
  if (!fault.what.empty()) return fault;

  double scale = 1;
  if (master == "scaled")
    scale = j.contains("scale") && j["scale"].is_number() ? j["scale"].get<double>() : best_scale(sizes, m);
  Json out{{"scale", {{"x", scale}, {"y", scale}, {"z", scale}}}, {"sizes", Json::array()}};
  double worst = 2;
  std::string tightest;
  for (const MeasuredSize& q : sizes) {
    ChainMaterials own = m;
    if (q.formed == FormedBy::pin) own.pin_u_mm = q.instrument_u_mm;
    const Prediction p = predict(q, own, scale);
    if (p.p_in_limits < worst) worst = p.p_in_limits, tightest = q.name;
    Json remedies = Json::array();
    if (p.verdict != Verdict::holds) {
      if (q.formed != FormedBy::pin && (q.kind == SizeKind::bore || q.kind == SizeKind::slot))
        remedies.push_back("pin");
      if (q.formed != FormedBy::pin && master == "original") remedies.push_back("scaled-master");
      if (q.formed != FormedBy::pin) remedies.push_back("resin");
    }
    Json steps = Json::array();
    for (const ChainStep& c : p.steps)
      steps.push_back(
          {{"step", name_of(c.kind)}, {"change_mm", c.change_mm}, {"u_mm", c.u_mm}, {"after_mm", c.after_mm}});
    out["sizes"].push_back({{"name", q.name},
                            {"predicted_mm", p.predicted_mm},
                            {"u_mm", p.u_mm},
                            {"p_in_limits", p.p_in_limits},
                            {"verdict", name_of(p.verdict)},
                            {"remedies", std::move(remedies)},
                            {"steps", std::move(steps)}});
  }
  out["tightest"] = tightest;
  return out;
}

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
      const double res = z.number("resolution_mm", 0), u = z.number("instrument_u_mm", 0), low = z.number("lower_mm"),
                   high = z.number("upper_mm");
      if (low > high) z.note("the lower limit lies above the upper limit");
      if (res < 0 || u < 0) z.note("an instrument cannot have a negative uncertainty");
      const Judgement k = judge(values, res, u, low, high, rule == "guard" ? DecisionRule::guard : DecisionRule::plain);
      verdicts.push_back(k.verdict);
      out["sizes"].push_back({{"name", name},
                              {"n", k.reading.n},
                              {"mean_mm", k.reading.n ? Json(k.reading.mean_mm) : Json()},
                              {"u_mm", k.reading.n ? Json(k.reading.u_mm) : Json()},
                              {"expanded_mm", k.reading.n ? Json(k.expanded_mm) : Json()},
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
  c->add_option("--need-g", o->need, "grams to be mixed")->required();
  c->add_option("--ratio", o->ratio, "a:b")->required();
  c->add_option("--by", o->by)->check(CLI::IsMember({"weight", "volume"}));
  c->add_option("--density-a", o->density_a, "g/cm3")->check(CLI::PositiveNumber);
  c->add_option("--density-b", o->density_b, "g/cm3")->check(CLI::PositiveNumber);
  c->add_option("--scale", o->scale, "scale division, g");
  c->add_option("--waste-pct", o->waste);
  c->add_option("--tare", o->tare, "g");
  c->add_option("--cup-ml", o->cup_ml)->check(CLI::PositiveNumber);
  c->add_option("--foam", o->foam, "height of the foam over the liquid's")->check(CLI::PositiveNumber);
  c->add_option("--pot-life-min", o->pot_life, "at 23 C")->check(CLI::PositiveNumber);
  c->add_option("--room-c", o->room);
  c->add_option("--tolerance-pct", o->tolerance, "what the material allows on the ratio")->check(CLI::PositiveNumber);
  c->callback([o, &run] {
    run = [o](Progress&) -> Answer {
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
      const Batches batches = plan_batches(o->need, limits);
      const auto w = weigh({o->need, r, o->scale, o->waste, o->tare});
      if (!w) return w.error();
      const auto each = weigh({batches.each_g, r, o->scale, o->waste, o->tare});
      if (!each) return each.error();
      Json list = Json::array();
      for (int i = 0; i < batches.count; ++i)
        list.push_back({{"a_g", each->a_g},
                        {"b_g", each->b_g},
                        {"total_g", each->total_g},
                        {"readings_g", Json::array({each->readings_g[0], each->readings_g[1], each->readings_g[2]})}});
      Json findings = Json::array();
      for (const Finding& f : weighing_findings(*each, o->scale, o->tolerance, "mix"))
        findings.push_back({{"code", f.code}, {"what", f.what}, {"why", f.why}});
      if (batches.too_slow)
        findings.push_back({{"code", "mix-pot-life"},
                            {"what", "It would gel in the cup"},
                            {"why", "Stirring alone takes the pot life."}});
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

void add_size(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("size", "Predict the casting's sizes");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](Progress&) { return run_size(*file); }; });
}

void add_judge(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("judge", "Judge measured sizes against their limits");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](Progress&) { return run_judge(*file); }; });
}

}  // namespace palinform::cli
