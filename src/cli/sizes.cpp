// palin size, fit, learn.
#include "commands.hpp"
#include "fields.hpp"
#include "original/fits.hpp"
#include "size/learn.hpp"
#include "size/scale_choice.hpp"

namespace palinform::cli {
namespace {

/// Codes of what would help one size, likeliest first.
std::vector<const char*> remedies_of(const MeasuredSize& q, const Prediction& p, const std::string& master) {
  std::vector<const char*> out;
  if (p.verdict == Verdict::holds || q.kind == SizeKind::angle) return out;
  const bool hole = q.kind == SizeKind::bore || q.kind == SizeKind::slot;
  const bool small = p.predicted_mm < 0.5 * (q.lower_mm + q.upper_mm);
  if (q.formed != FormedBy::pin) {
    if (hole) out.push_back("pin");
    if (q.kind == SizeKind::bore) out.push_back("ream");
    if (!hole && !small) out.push_back("skim");
    if (!hole && small) out.push_back("shim");
    if (q.kind == SizeKind::slot && !small) out.push_back("shim");
    if (master == "original") out.push_back("scaled-master");
    if (master == "scaled") out.push_back("scaled-per-axis");
    out.push_back("resin");
  } else {
    out.push_back("pin");  // of another diameter
  }
  return out;
}

Answer run_size(const std::string& file, int draws, const Progress& progress) {
  auto read = read_json(file);
  if (!read) return read.error();
  const Json& j = *read;
  Error fault;
  Fields top(j, base_name(file), fault);
  const std::string master = top.text("master", "original");
  if (master != "original" && master != "scaled" && master != "scaled-per-axis")
    top.note("\"master\" should be original, scaled or scaled-per-axis");
  const Json none = Json::object();
  const Json& sil = j.contains("silicone") ? j["silicone"] : none;
  const Json& res = j.contains("resin") ? j["resin"] : none;
  const Json& flash = j.contains("flash_mm") ? j["flash_mm"] : none;
  Fields s(sil, "silicone", fault), r(res, "resin", fault), f(flash, "flash_mm", fault);
  ChainMaterials m;
  m.sil_shrink_pct = s.number_in("shrink_pct", -5, 20);
  m.sil_shrink_u_pct = s.number_in("u_pct", 0, 20, 0);
  m.sil_expansion_per_k = s.number_in("alpha_per_k", 0, 0.01, 0);
  m.res_shrink_pct = r.number_in("shrink_pct", -5, 20);
  m.res_shrink_u_pct = r.number_in("u_pct", 0, 20, 0);
  m.room_c = top.number_in("room_c", -10, 60, 21);
  m.gel_c = top.number_in("gel_c", -10, 200, m.room_c);
  m.gel_u_c = top.number_in("gel_u_c", 0, 50, 0);
  m.flash_mm = f.number_in("mean", -5, 20, 0);
  m.flash_u_mm = f.number_in("u", 0, 20, 0);
  const double generations = top.number("generations", 1);
  if (generations != 1 && generations != 2) top.note("\"generations\" should be 1 or 2");
  m.generations = generations == 2 ? 2 : 1;
  std::vector<ChainInput> sizes;
  if (!j.contains("sizes") || !j["sizes"].is_array() || j["sizes"].empty())
    top.note("\"sizes\" should be a list with at least one size");
  else
    for (const Json& e : j["sizes"]) {
      Fields z(e, "size " + std::to_string(sizes.size() + 1), fault);
      MeasuredSize q;
      q.id = "s" + std::to_string(sizes.size() + 1);
      q.name = z.text("name", q.id);
      const auto kind = named<SizeKind>(z.text("kind", "outer"));
      const auto formed = named<FormedBy>(z.text("formed_by", "rubber"));
      const auto finish = named<Finishing>(z.text("finish", "none"));
      const std::string axis = z.text("axis", "none");
      if (!kind) z.note("\"kind\" is unknown");
      if (!formed) z.note("\"formed_by\" is unknown");
      if (!finish) z.note("\"finish\" is unknown");
      if (axis == "x" || axis == "y" || axis == "z")
        q.scale_share[axis[0] - 'x'] = 1;
      else if (axis != "none")
        z.note("\"axis\" should be x, y, z or none");
      q.kind = kind.value_or(SizeKind::outer);
      q.formed = formed.value_or(FormedBy::rubber);
      q.finish = finish.value_or(Finishing::none);
      q.nominal_mm = z.number_in("nominal_mm", 1e-3, 1e4);
      q.lower_mm = z.number_in("lower_mm", -1e4, 1e4);
      q.upper_mm = z.number_in("upper_mm", -1e4, 1e4);
      q.instrument_u_mm = z.number_in("u_mm", 0, 100, 0);
      q.resolution_mm = 0;
      q.pin_mm = z.maybe("pin_mm");
      q.stock_mm = z.maybe("stock_mm");
      if (q.formed == FormedBy::pin && !q.pin_mm) q.pin_mm = q.nominal_mm;
      if (fault.what.empty())
        if (auto ok = check_size(q); !ok) fault = ok.error();
      ChainMaterials own = m;
      if (q.formed == FormedBy::pin) own.pin_u_mm = q.instrument_u_mm;
      sizes.push_back({std::move(q), own});
    }
  MasterScale scale;
  bool given = false;
  if (j.contains("scale") && master != "original") {
    const Json& g = j["scale"];
    given = true;
    if (g.is_number()) {
      scale = MasterScale::all(g.get<double>());
    } else {
      Fields q(g, "scale", fault);
      scale = {q.number("x"), q.number("y"), q.number("z")};
    }
    for (const double v : {scale.x, scale.y, scale.z})
      if (!(v >= 0.2 && v <= 5)) top.note("the scale should be from 0.2 to 5");
  }
  if (!fault.what.empty()) return fault;
  const ScaleFreedom freedom = master == "scaled-per-axis" ? ScaleFreedom::per_axis : ScaleFreedom::one;
  if (master != "original" && !given) scale = best_scale(sizes, freedom);

  Json out{{"scale", {{"x", scale.x}, {"y", scale.y}, {"z", scale.z}}}, {"sizes", Json::array()}};
  double worst = 2;
  std::string tightest;
  std::vector<Prediction> predictions;
  for (const ChainInput& q : sizes) predictions.push_back(predict(q.size, q.materials, scale));
  std::vector<DrawnSize> drawn;
  if (draws > 0) {
    auto got = draw_sizes(sizes, scale, draws, 1, progress);
    if (!got) return got.error();
    drawn = *std::move(got);
  }
  for (size_t i = 0; i < sizes.size(); ++i) {
    const Prediction& p = predictions[i];
    const MeasuredSize& q = sizes[i].size;
    if (p.p_in_limits < worst) worst = p.p_in_limits, tightest = q.name;
    Json remedies = Json::array(), steps = Json::array();
    for (const char* code : remedies_of(q, p, master)) remedies.push_back(code);
    for (const ChainStep& c : p.steps)
      steps.push_back(
          {{"step", name_of(c.kind)}, {"change_mm", c.change_mm}, {"u_mm", c.u_mm}, {"after_mm", c.after_mm}});
    Json one{{"name", q.name},
             {"predicted_mm", p.predicted_mm},
             {"u_mm", p.u_mm},
             {"p_in_limits", p.p_in_limits},
             {"verdict", name_of(p.verdict)},
             {"remedies", std::move(remedies)},
             {"cast_mm", p.cast_mm},
             {"steps", std::move(steps)}};
    if (!drawn.empty()) one["drawn"] = {{"mean_mm", drawn[i].mean_mm}, {"u_mm", drawn[i].u_mm}};
    out["sizes"].push_back(std::move(one));
  }
  out["tightest"] = tightest;
  if (!drawn.empty()) {
    const DrawCheck c = compare_draws(predictions, drawn);
    out["draws"] = {{"count", draws}, {"worst_ratio", c.worst_ratio}, {"agrees", c.agrees()}};
  }
  const ScaleLimits limits = scale_limits(sizes, freedom);
  Json never = Json::array(), conflicts = Json::array();
  for (const size_t i : limits.never) never.push_back(sizes[i].size.name);
  for (const ScaleConflict& c : limits.conflicts)
    conflicts.push_back({{"wants_more", sizes[c.wants_more].size.name},
                         {"needs_scale_from", c.low},
                         {"wants_less", sizes[c.wants_less].size.name},
                         {"bears_scale_to", c.high}});
  out["never_hold"] = std::move(never);
  out["conflicts"] = std::move(conflicts);
  return out;
}

Answer run_fit(const std::string& text) {
  const auto f = read_fit(text);
  if (!f) return f.error();
  const auto limits = [](const Limits& l) { return Json{{"lower_mm", l.lower_mm}, {"upper_mm", l.upper_mm}}; };
  return Json{{"nominal_mm", f->nominal_mm},
              {"hole", limits(f->hole)},
              {"shaft", limits(f->shaft)},
              {"clearance_mm", {{"min", f->clearance_min_mm}, {"max", f->clearance_max_mm}}},
              {"nature", f->nature()}};
}

Json estimate(const Estimate& e) { return {{"value", e.value}, {"u", e.u}}; }

Answer run_learn(const std::string& file) {
  auto read = read_json(file);
  if (!read) return read.error();
  const Json& j = *read;
  Error fault;
  Fields top(j, base_name(file), fault);
  const Json none = Json::object();
  Fields prior(j.contains("prior") ? j["prior"] : none, "prior", fault);
  const Estimate before{prior.number_in("shrink_pct", -5, 20), prior.number_in("u_pct", 0, 20)};
  std::vector<LearnRow> rows;
  if (!j.contains("castings") || !j["castings"].is_array() || j["castings"].empty()) {
    top.note("\"castings\" should be a list with at least one casting");
  } else {
    int n = 0;
    for (const Json& c : j["castings"]) {
      const std::string where = "casting " + std::to_string(++n);
      Fields casting(c, where, fault);
      const double gel = casting.number_in("gel_c", -10, 200, 0), room = casting.number_in("room_c", -10, 200, gel);
      if (!c.is_object() || !c.contains("sizes") || !c["sizes"].is_array()) {
        casting.note("\"sizes\" should be a list");
        continue;
      }
      for (const Json& e : c["sizes"]) {
        Fields z(e, where + ", size " + std::to_string(rows.size() + 1), fault);
        LearnRow r;
        r.casting = n;
        r.name = z.text("name", "size " + std::to_string(rows.size() + 1));
        const auto formed = named<FormedBy>(z.text("formed_by", "rubber"));
        if (!formed) z.note("\"formed_by\" is unknown");
        r.formed = formed.value_or(FormedBy::rubber);
        r.master_mm = z.number_in("master_mm", 1e-3, 1e4);
        r.measured_mm = z.number_in("measured_mm", 1e-3, 1e4);
        r.u_mm = z.number_in("u_mm", 1e-6, 100);
        r.stock_mm = z.number_in("stock_mm", -100, 100, 0);
        r.warmth_k = gel - room;
        rows.push_back(std::move(r));
      }
    }
  }
  if (!fault.what.empty()) return fault;
  const auto l = learn(rows, before);
  if (!l) return l.error();
  Json residuals = Json::array();
  for (const LearnResidual& r : l->residuals)
    residuals.push_back({{"casting", rows[r.row].casting},
                         {"name", rows[r.row].name},
                         {"residual_mm", r.residual_mm},
                         {"normalised", r.normalised}});
  return Json{{"total_shrink_pct", estimate(l->total_shrink_pct)},
              {"flash_mm", l->flash_mm ? estimate(*l->flash_mm) : Json{{"value", nullptr}, {"u", nullptr}}},
              {"heat_per_k", l->heat_per_k ? estimate(*l->heat_per_k) : Json()},
              {"posterior",
               {{"shrink_pct", l->posterior_pct.value},
                {"u_pct", l->posterior_pct.u},
                {"value", l->posterior_pct.value},
                {"u", l->posterior_pct.u}}},
              {"correlation", l->correlation ? Json(*l->correlation) : Json()},
              {"scatter_ratio", l->scatter_ratio},
              {"used", l->used},
              {"residuals", std::move(residuals)}};
}

}  // namespace

void add_size(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto draws = std::make_shared<int>(0);
  auto* c = app.add_subcommand("size", "Predict the casting's sizes");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->add_option("--draws", *draws, "check by this many random draws a size")->check(within(2, 10'000'000));
  c->callback([file, draws, &run] {
    run = [file, draws](const Progress& progress) { return run_size(*file, *draws, progress); };
  });
}

void add_fit(CLI::App& app, Command& run) {
  auto text = std::make_shared<std::string>();
  auto* c = app.add_subcommand("fit", "Limits and clearance of a fit");
  c->add_option("FIT", *text, "such as 25H7/g6")->required();
  c->callback([text, &run] { run = [text](const Progress&) { return run_fit(*text); }; });
}

void add_learn(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("learn", "Learn shrinkage and flash from castings");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](const Progress&) { return run_learn(*file); }; });
}

}  // namespace palinform::cli
