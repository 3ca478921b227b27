// palin judge: sums on figures alone.
#include "base/text.hpp"
#include "check/conformity.hpp"
#include "commands.hpp"
#include "fields.hpp"

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

void add_judge(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("judge", "Judge measured sizes against their limits");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](const Progress&) { return run_judge(*file); }; });
}

}  // namespace palinform::cli
