#include "rules/equipment.hpp"

#include <algorithm>
#include <set>

#include "base/json_fields.hpp"

namespace palinform {

Status check_equipment(const Equipment& e) {
  if (auto ok = check_fields(e); !ok) return ok;
  const auto bad = [](std::string what) { return Error{std::move(what), "the shop", ""}; };
  const auto twice = [&](const auto& list, const char* what) -> Status {
    std::set<std::string> seen;
    for (const auto& one : list) {
      if (trim(one.name).empty()) return bad(std::string("a ") + what + " needs a name");
      if (!seen.insert(one.name).second) return bad(std::string("two ") + what + "s are called " + one.name);
    }
    return {};
  };
  if (auto ok = twice(e.scales, "scale"); !ok) return ok;
  if (auto ok = twice(e.cups, "cup"); !ok) return ok;
  if (auto ok = twice(e.boxes, "box"); !ok) return ok;
  for (const OwnScale& s : e.scales)
    if (s.division_g * 50 > s.capacity_g) return bad(s.name + ": a scale reads more than fifty of its divisions");
  for (const auto* sizes : {&e.drills_mm, &e.rods_mm, &e.sheets_mm})
    for (const double mm : *sizes)
      if (!(mm > 0 && mm < 1000)) return bad("a drill, rod or sheet is thicker than nought and thinner than a metre");
  for (const double ml : e.syringes_ml)
    if (!(ml > 0 && ml <= 1000)) return bad("a syringe holds more than nought and at most a litre");
  if (e.hours.from_min >= e.hours.to_min) return bad("the bench must open before it shuts");
  for (const std::string& day : e.holidays)
    if (!parse_wall_time(day + "T00:00")) return bad("\"" + day + "\" is no day: write 2026-12-25");
  return {};
}

Places places_of(const Equipment& e) { return {{"fume place", e.fume_places}, {"clamps", e.clamp_sets}}; }

std::set<int64_t> holidays_of(const Equipment& e) {
  std::set<int64_t> out;
  for (const std::string& day : e.holidays)
    if (const auto t = parse_wall_time(day + "T00:00")) out.insert(day_number(*t));
  return out;
}

std::string equipment_to_json(const Equipment& e) {
  json::Json j{{"schema", 1}};
  j.update(json::write(e));
  return j.dump(1);
}

Result<Equipment> equipment_from_json(std::string_view text, const std::string& file) {
  const json::Given given = json::Given::parse(text, nullptr, false);
  if (!given.is_object()) return Error{"this does not read as a shop's equipment", file, ""};
  Equipment e;
  try {
    json::read(given, e, "");
  } catch (const json::Bad& b) { return Error{"\"" + b.path + "\": " + b.what, file, "Correct it in the file."}; }
  if (auto ok = check_equipment(e); !ok) return ok.error();
  return e;
}

std::optional<int> overdue_months(const OwnGauge& gauge, const std::string& today) {
  const auto now = parse_wall_time(today + "T00:00"), then = parse_wall_time(gauge.checked_on + "T00:00");
  if (!now) return std::nullopt;
  if (!then) return 1;
  const auto months = [](const std::string& day) {
    return 12 * std::stoi(day.substr(0, 4)) + std::stoi(day.substr(5, 2));
  };
  const int past = months(today) - months(gauge.checked_on) - gauge.good_months;
  const bool later_in_month = today.substr(8, 2) > gauge.checked_on.substr(8, 2);
  if (past < 0 || (past == 0 && !later_in_month)) return std::nullopt;
  return std::max(1, past);
}

const OwnScale* scale_for(const Equipment& e, double total_g) {
  const OwnScale* best = nullptr;
  for (const OwnScale& s : e.scales)
    if (s.capacity_g >= total_g && (!best || s.division_g < best->division_g)) best = &s;
  return best;
}

std::optional<double> syringe_for(const Equipment& e, double ml) {
  std::optional<double> best;
  for (const double s : e.syringes_ml)
    if (s >= ml && (!best || s < *best)) best = s;
  return best;
}

const OwnCup* cup_for(const Equipment& e, double brim_ml) {
  const OwnCup* best = nullptr;
  for (const OwnCup& c : e.cups)
    if (c.brim_ml >= brim_ml - 1e-9 && (!best || c.brim_ml < best->brim_ml)) best = &c;
  return best;
}

}  // namespace palinform
