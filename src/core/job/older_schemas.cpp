#include "job/older_schemas.hpp"

namespace palinform::json {
namespace {

/// Takes a key along where it is there, under a new name where one is given.
void carry(const Given& from, Given& into, const char* key, const char* as = nullptr) {
  if (const auto at = from.find(key); at != from.end()) into[as ? as : key] = *at;
}
const Given& object(const Given& from, const char* key) {
  static const Given none = Given::object();
  const auto at = from.find(key);
  return at != from.end() && at->is_object() ? *at : none;
}

}  // namespace

Given from_older_schema(const Given& j) {
  Given out = Given::object();
  for (const char* key : {"id", "name", "client", "copies", "answers", "seed"}) carry(j, out, key);

  Given& original = out["original"] = Given::object();
  for (const char* key : {"mesh", "duties", "sizes", "bare", "marks", "finish", "master_steps"})
    carry(j, original, key);
  // A duty that is not known was passed over.
  if (original.contains("duties") && original["duties"].is_array()) {
    Given known = Given::array();
    for (const Given& d : original["duties"])
      if (d.is_string()) known.push_back(d);
    original["duties"] = std::move(known);
  }
  // Limits that were not given stood at the nominal.
  if (original.contains("sizes") && original["sizes"].is_array())
    for (Given& s : original["sizes"])
      for (const char* limit : {"lower_mm", "upper_mm"})
        if (s.is_object() && !s.contains(limit)) carry(s, s, "nominal_mm", limit);

  Given& size = out["size"] = Given::object();
  for (const char* key : {"master", "scale", "generations", "room_c", "gel_c", "learned"}) carry(j, size, key);
  if (const auto room = j.find("room_c"); room != j.end() && !j.contains("gel_c")) size["gel_c"] = *room;
  if (const auto a = j.find("axis_scale"); a != j.end() && a->is_array() && a->size() == 3)
    size["axis_scale"] = {{"x", (*a)[0]}, {"y", (*a)[1]}, {"z", (*a)[2]}};

  Given& split = out["split"] = Given::object();
  for (const char* key : {"pull", "pull_weights", "bores", "piece_pulls", "way"}) carry(j, split, key);
  carry(j, split, "split_marks", "marks");

  Given& mould = out["mould"] = Given::object();
  for (const char* key : {"form", "wall_mm", "box", "master_g"}) carry(j, mould, key);
  carry(object(j, "keys"), mould, "kind", "keys");
  carry(object(j, "keys"), mould, "places_mm", "key_places_mm");
  if (j.contains("build") && j["build"].is_object()) {
    Given& build = mould["build"] = j["build"];
    if (const auto bed = build.find("bed_mm"); bed != build.end() && bed->is_array() && bed->size() == 2) {
      const Given sides = *bed;
      build["bed_u_mm"] = sides[0];
      build["bed_v_mm"] = sides[1];
    }
  }

  carry(j, out, "flow");

  Given& mix = out["mix"] = object(j, "mix");
  for (const char* key : {"silicone", "resin", "needs"}) carry(j, mix, key);
  if (mix.contains("needs") && mix["needs"].is_object())
    mix["needs"]["shore_is_d"] = mix["needs"].value("shore_scale", std::string("D")) == "D";

  Given& days = out["days"] = object(j, "days");
  Given& bench = days["bench"] = Given::object();
  carry(days, bench, "bench_days", "days");
  carry(days, bench, "bench_from_min", "from_min");
  carry(days, bench, "bench_to_min", "to_min");

  Given& check = out["check"] = Given::object();
  carry(j, check, "rule");
  carry(j, check, "castings");
  return out;
}

void from_schema_6(Given& j) {
  const auto mix = j.find("mix");
  if (mix == j.end() || !mix->is_object()) return;
  const auto degas = mix->find("degas");
  if (degas == mix->end()) return;
  if (!degas->is_boolean()) throw Bad{"mix.degas", "it should be true or false"};
  (*mix)["rubber_air"] = (*mix)["resin_air"] = degas->get<bool>() ? "vacuum" : "none";
}

void from_schema_7(Given& j) {
  const auto days = j.find("days");
  if (days == j.end() || !days->is_object()) return;
  const auto changes = days->find("changes");
  if (changes == days->end() || !changes->is_object()) return;
  // Weighing and stirring were one step, and a casting's came before its number.
  constexpr std::pair<const char*, const char*> renamed[] = {
      {"cast-mix", "stir-cast"}, {"cast-degas", "degas-cast"}, {"cast-pour", "pour-cast"}, {"mix", "stir"}};
  Given now = Given::object();
  for (const auto& [key, value] : changes->items()) {
    std::string name = key;
    for (const auto& [was, is] : renamed)
      if (name.starts_with(std::string(was) + "-")) {
        name = is + name.substr(std::string(was).size());
        break;
      }
    now[name] = value;
  }
  *changes = std::move(now);
}

}  // namespace palinform::json
