// palin why: from what is seen on a casting to why, on figures alone (M23).
#include "base/text.hpp"
#include "check/cause.hpp"
#include "commands.hpp"
#include "fields.hpp"
#include "shop.hpp"

namespace palinform::cli {
namespace {

Answer run_why(const std::string& file) {
  auto read = read_json(file);
  if (!read) return read.error();
  const Json& j = *read;
  Error fault;
  Fields top(j, base_name(file), fault);
  if (!j.contains("seen") || !j["seen"].is_object()) {
    top.note("\"seen\" should be an object with \"fault\"");
    return fault;
  }
  const Json& seen_json = j["seen"];
  Fields seen(seen_json, "seen", fault);
  const std::string name = seen.text("fault", "");
  const auto what = named<Fault>(name);
  std::string all;
  for (const std::string_view n : names<Fault>) all += (all.empty() ? "" : ", ") + std::string(n);
  if (!what) seen.note("\"fault\" should be one of " + all);
  Seen s;
  s.fault = what.value_or(Fault::hollow);
  const auto bounded = [&](Fields& f, const char* key, double low, double high) -> std::optional<double> {
    const auto v = f.maybe(key);
    if (v && !(*v >= low && *v <= high))
      f.note(std::string("\"") + key + "\" should lie between " + shortest(low) + " and " + shortest(high));
    return v;
  };
  s.pocket_distance_mm = bounded(seen, "pocket_distance_mm", 0, 1e6);
  s.pocket_mm3 = bounded(seen, "pocket_mm3", 0, 1e9);

  const Json empty = Json::object();
  if (j.contains("record") && !j["record"].is_object() && !j["record"].is_null())
    top.note("\"record\" should be an object");
  const Json& record_json = j.contains("record") && j["record"].is_object() ? j["record"] : empty;
  Fields f(record_json, "record", fault);
  const auto flag = [&](const char* key) -> std::optional<bool> {
    if (!record_json.contains(key) || record_json[key].is_null()) return std::nullopt;
    if (!record_json[key].is_boolean()) {
      f.note(std::string("\"") + key + "\" should be true or false");
      return std::nullopt;
    }
    return record_json[key].get<bool>();
  };
  CastRecord r;
  r.ratio_off_pct = bounded(f, "ratio_off_pct", -100, 1000);
  r.ratio_tolerance_pct = bounded(f, "ratio_tolerance_pct", 0, 100);
  r.minutes_b_to_filled = bounded(f, "minutes_b_to_filled", 0, 1e5);
  r.pot_life_min = bounded(f, "pot_life_min", 0, 1e5);
  r.room_c = bounded(f, "room_c", -40, 200);
  r.reference_c = bounded(f, "reference_c", -40, 200);
  r.degassed = flag("degassed");
  r.pressure_kpa = bounded(f, "pressure_kpa", 0, 5000);
  r.rubber_degassed = flag("rubber_degassed");
  r.lot_days_past = bounded(f, "lot_days_past", -1e5, 1e5);
  r.opened_days = bounded(f, "opened_days", 0, 1e5);
  r.demould_h = bounded(f, "demould_h", 0, 1e5);
  r.demould_needed_h = bounded(f, "demould_needed_h", 0, 1e5);
  r.pull = bounded(f, "pull", 0, 1e6);
  r.clamp_n = bounded(f, "clamp_N", 0, 1e6);
  r.clamp_needed_n = bounded(f, "clamp_needed_N", 0, 1e6);
  r.tilt_deg = bounded(f, "tilt_deg", -360, 360);
  r.tilt_planned_deg = bounded(f, "tilt_planned_deg", -360, 360);
  r.sealed = flag("sealed");
  r.released = flag("released");
  if (const std::string patch = f.text("patch_test", ""); !patch.empty()) {
    if (patch != "cured" && patch != "tacky") f.note("\"patch_test\" should be cured or tacky");
    r.patch_cured = patch == "cured";
  }
  r.surface = f.text("surface", "");
  if (!fault.what.empty()) return fault;

  const auto shop = shop_asked();
  if (!shop) return shop.error();
  const auto books = books_asked();
  if (!books) return books.error();
  const Why w = why_of(s, r, books->equipment.causes, (*shop)->rules.check.cause);
  Json causes = Json::array();
  for (const CauseFound& c : w.causes)
    causes.push_back({{"cause", name_of(c.cause)},
                      {"words", words_of(c.cause)},
                      {"p", c.p},
                      {"for", c.speaks_for},
                      {"against", c.speaks_against}});
  Json change;
  if (w.change) change = {{"cause", name_of(w.change->cause)}, {"what", w.change->what}, {"to_do", w.change->to_do}};
  return Json{{"fault", name}, {"causes", std::move(causes)}, {"unknown", w.unknown}, {"change", std::move(change)}};
}

}  // namespace

void add_why(CLI::App& app, Command& run) {
  auto file = std::make_shared<std::string>();
  auto* c = app.add_subcommand("why", "Likely causes of what is seen on a casting");
  c->add_option("FILE", *file, "JSON, see cli.md")->required();
  c->callback([file, &run] { run = [file](const Progress&) { return run_why(*file); }; });
}

}  // namespace palinform::cli
