#include "drawn/file.hpp"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "base/text.hpp"
#include "mesh/load.hpp"

namespace palinform {
namespace {

using Json = nlohmann::json;

struct Bad {
  std::string what;
};

/// Other names a measure goes by, besides its own.
const std::map<std::string_view, std::vector<std::string_view>> other_names{
    {"thickness", {"height", "depth", "length"}},
    {"height", {"length", "thickness", "depth", "legs", "upright"}},
    {"depth", {"height", "thickness"}},
    {"length", {"height", "long"}},
    {"width", {"wide", "foot"}},
    {"diameter", {"outer", "outer_diameter", "base_diameter", "base", "across"}},
    {"inner", {"inner_diameter", "hole", "bore"}},
    {"top", {"top_diameter"}},
    {"section", {"section_diameter", "wire"}},
    {"wall", {"thickness"}},
    {"floor", {"bottom"}},
    {"corner", {"corner_radius", "fillet"}},
    {"edge", {"edge_radius", "edge_rounding", "rounding"}},
};

double number(const Json& j, const std::string& key) {
  if (!j.is_number() || !std::isfinite(j.get<double>())) throw Bad{"\"" + key + "\" is no number"};
  return j.get<double>();
}

Vec3 vector(const Json& j, const std::string& key, double unit) {
  if (!j.is_array() || j.size() != 3) throw Bad{"\"" + key + "\" should be three numbers"};
  return Vec3{number(j[0], key), number(j[1], key), number(j[2], key)} * unit;
}

Path path(const Json& j, const std::string& key) {
  Path out;
  if (!j.is_array()) throw Bad{"\"" + key + "\" should be a list of points"};
  if (j.size() > 1000) throw Bad{"\"" + key + "\" has more than 1 000 points"};
  for (const Json& p : j) {
    PathNode n;
    if (p.is_array() && (p.size() == 2 || p.size() == 3)) {
      n.x = number(p[0], key), n.y = number(p[1], key);
      if (p.size() == 3 && p[2].is_string()) {
        const auto kind = named<NodeKind>(p[2].get<std::string>());
        if (!kind) throw Bad{"\"" + key + "\": a point is corner, arc or smooth"};
        n.kind = *kind;
      } else if (p.size() == 3) {
        n.fillet_mm = number(p[2], key);
      }
    } else {
      throw Bad{"\"" + key + "\": a point is [x, y], with a rounding or its kind as third"};
    }
    out.push_back(n);
  }
  return out;
}

/// A hole is a list of points, or {"at": [x, y], "diameter": d}.
Path hole(const Json& j, double unit) {
  if (!j.is_object()) return path(j, "holes_mm");
  const std::string key = "holes_mm";
  if (!j.contains("at") || !j["at"].is_array() || j["at"].size() != 2) throw Bad{"a round hole needs \"at\": [x, y]"};
  const bool mm = j.contains("diameter_mm");
  if (!mm && !j.contains("diameter")) throw Bad{"a round hole needs a diameter"};
  const double r = (mm ? number(j["diameter_mm"], key) : number(j["diameter"], key) * unit) / 2;
  if (!(r > 0)) throw Bad{"a round hole's diameter must be above nought"};
  const double x = number(j["at"][0], key), y = number(j["at"][1], key);
  Path out;
  for (int k = 0; k < 4; ++k)
    out.push_back({x + r * std::cos(k * M_PI / 2), y + r * std::sin(k * M_PI / 2), NodeKind::arc, 0});
  return out;
}

/// What a person may as well have measured: said again as the shape's own measures.
BodyShape plainly(BodyShape shape, const Json& j) {
  const auto has = [&](const char* key) { return j.contains(key) || j.contains(std::string(key) + "_mm"); };
  const bool round = has("diameter") || has("radius");
  if (shape == BodyShape::bar && round && !has("width")) return BodyShape::disc;
  if (shape == BodyShape::ring && (has("inner") || has("inner_diameter") || has("hole"))) return BodyShape::tube;
  return shape;
}

DrawnBody body(const Json& j, double unit, bool cut) {
  if (!j.is_object()) throw Bad{"a body should be an object"};
  if (!j.contains("shape") || !j["shape"].is_string()) throw Bad{"\"shape\" is missing"};
  std::string word = j["shape"].get<std::string>();
  if (word == "L" || word == "l") word = "angle";
  if (word == "U" || word == "u") word = "channel";
  if (word == "bore" || word == "boss" || word == "cylinder") word = "disc";
  const auto shape = named<BodyShape>(word);
  if (!shape) {
    std::string all;
    for (const auto n : names<BodyShape>) all += (all.empty() ? "" : ", ") + std::string(n);
    throw Bad{"there is no shape \"" + lower_ascii(word.substr(0, 40)) + "\"; there are " + all};
  }
  DrawnBody b;
  b.shape = plainly(*shape, j);
  b.cut = cut;
  std::set<std::string> read{"shape"};
  const auto take = [&](const std::string& key) -> const Json* {
    const auto at = j.find(key);
    if (at == j.end()) return nullptr;
    read.insert(key);
    return &*at;
  };
  /// A length under that key, in the file's unit or, with `_mm`, in millimetres.
  const auto length = [&](const std::string& key) -> std::optional<double> {
    if (const Json* v = take(key + "_mm")) return number(*v, key + "_mm");
    if (const Json* v = take(key)) return number(*v, key) * unit;
    return std::nullopt;
  };
  for (const char* key : {"at", "at_mm"})
    if (const Json* v = take(key)) b.at_mm = vector(*v, key, std::string_view(key) == "at" ? unit : 1);
  if (const Json* v = take("axis")) {
    b.axis = vector(*v, "axis", 1);
    if (!(palinform::length(b.axis) > 1e-9)) throw Bad{"\"axis\" has no direction"};
  }
  if (const Json* v = take("turn_deg")) b.turn_deg = number(*v, "turn_deg");
  if (const Json* v = take("name"); v && v->is_string()) b.name = v->get<std::string>().substr(0, 80);
  std::vector<std::string> missing;
  for (const BodyMeasure& m : measures_of(b.shape)) {
    auto v = length(std::string(m.key));
    if (!v && m.key == "diameter")
      if (const auto r = length("radius")) v = 2 * *r;
    if (const auto at = other_names.find(m.key); !v && at != other_names.end())
      for (const std::string_view other : at->second) {
        // A name that is another measure of this shape is that measure.
        const auto own = measures_of(b.shape);
        if (std::any_of(own.begin(), own.end(), [&](const BodyMeasure& o) { return o.key == other; })) continue;
        if ((v = length(std::string(other)))) break;
      }
    if (v)
      b.*m.value = *v;
    else if (!m.may_be_nought)
      missing.push_back(std::string(m.key));
  }
  if (b.shape == BodyShape::tube && !(b.inner_mm > 0))
    if (const auto wall = length("wall")) {
      b.inner_mm = b.diameter_mm - 2 * *wall;
      std::erase(missing, "inner");
    }
  if (b.shape == BodyShape::turned) {
    const Json* p = take("profile_mm");
    if (!p) throw Bad{"a turned body needs \"profile_mm\": [[r, z], …]"};
    for (const PathNode& n : path(*p, "profile_mm")) b.profile.push_back({n.x, n.y, n.fillet_mm});
    for (const ProfilePoint& q : b.profile)
      if (q.r_mm < 0) throw Bad{"\"profile_mm\": no point lies beyond the axis"};
  }
  if (b.shape == BodyShape::outline) {
    const Json* p = take("points_mm");
    if (!p) throw Bad{"an outline needs \"points_mm\": [[x, y], …]"};
    b.outline = path(*p, "points_mm");
    if (const Json* h = take("holes_mm")) {
      if (!h->is_array() || h->size() > 200) throw Bad{"\"holes_mm\" should be a list of at most 200 holes"};
      for (const Json& one : *h) b.holes.push_back(hole(one, unit));
    }
  }
  if (!missing.empty()) throw Bad{std::string(name_of(b.shape)) + ": \"" + missing.front() + "\" is missing"};
  for (const auto& [key, v] : j.items())
    if (!read.contains(key))
      throw Bad{std::string(name_of(b.shape)) + ": it has no measure \"" + key.substr(0, 40) + "\""};
  if (auto ok = check_body(b); !ok) throw Bad{ok.error().what};
  return b;
}

}  // namespace

Result<Drawn> read_drawing(std::string_view text, const std::string& name) {
  const auto bad = [&](std::string what) { return Error{std::move(what), name, "docs/cli.md shows such a file."}; };
  const Json j = Json::parse(text, nullptr, false);
  if (j.is_discarded() || !j.is_object()) return bad("it does not read as a JSON object");
  Drawn d;
  try {
    double unit = 1;
    if (j.contains("unit")) {
      const auto u = j["unit"].is_string() ? named<LengthUnit>(j["unit"].get<std::string>()) : std::nullopt;
      if (!u) return bad("\"unit\" is mm, cm, in or m");
      unit = mm_per(*u);
    }
    if (j.contains("u_mm")) d.u_mm = number(j["u_mm"], "u_mm");
    if (d.u_mm < 0 || d.u_mm > 100) return bad("\"u_mm\" lies from 0 to 100");
    for (const auto& [key, v] : j.items())
      if (key != "unit" && key != "u_mm" && key != "add" && key != "cut" && key != "name")
        return bad("there is nothing called \"" + key.substr(0, 40) + "\" in such a file");
    for (const bool cut : {false, true}) {
      const char* key = cut ? "cut" : "add";
      if (!j.contains(key)) continue;
      if (!j[key].is_array()) return bad("\"" + std::string(key) + "\" should be a list of bodies");
      if (j[key].size() > 200) return bad("\"" + std::string(key) + "\" holds more than 200 bodies");
      size_t number = 0;
      for (const Json& b : j[key]) {
        ++number;
        try {
          d.bodies.push_back(body(b, unit, cut));
        } catch (const Bad& e) { return bad(std::string(key) + " " + std::to_string(number) + ": " + e.what); }
      }
    }
  } catch (const Bad& e) { return bad(e.what); }
  if (d.bodies.empty()) return bad("it adds no body");
  return d;
}

}  // namespace palinform
