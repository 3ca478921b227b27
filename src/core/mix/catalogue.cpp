#include "mix/catalogue.hpp"

#include <cmath>
#include <nlohmann/json.hpp>
#include <set>
#include <stdexcept>

#include "base/text.hpp"
#include "mix/proportion.hpp"

namespace palinform {

extern const std::string_view catalogue_json;

double Mixable::weight_ratio() const {
  return ratio_by_volume ? weight_ratio_from_volume(ratio_b / ratio_a, density_a_g_cm3, density_b_g_cm3)
                         : ratio_b / ratio_a;
}
std::string Mixable::ratio_text() const {
  if (by_percent) return shortest(ratio_b, 3) + " % of A" + (in_drops ? ", in drops" : "");
  const auto plain = [](double v) { return fixed(v, v == std::round(v) ? 0 : 1); };
  return plain(ratio_a) + " : " + plain(ratio_b) + (ratio_by_volume ? " by volume" : " by weight");
}

const Silicone* Catalogue::silicone(std::string_view id) const {
  for (const Silicone& s : silicones)
    if (s.id == id) return &s;
  return nullptr;
}
const Resin* Catalogue::resin(std::string_view id) const {
  for (const Resin& r : resins)
    if (r.id == id) return &r;
  return nullptr;
}

const MasterMaterial* Catalogue::master(std::string_view id) const {
  for (const MasterMaterial& m : masters)
    if (m.id == id) return &m;
  return nullptr;
}

namespace {

using Json = nlohmann::json;

/// Takes fields out of one material's object and remembers the first fault.
struct Fields {
  const Json& j;
  std::string name, fault;
  double number(const char* key, double low, double high) {
    if (!j.contains(key) || !j[key].is_number()) return note(key, "is missing"), low;
    const double v = j[key];
    if (!(v >= low && v <= high)) note(key, "is out of reason");
    return v;
  }
  std::optional<double> maybe(const char* key, double low, double high) {
    return j.contains(key) && !j[key].is_null() ? std::optional(number(key, low, high)) : std::nullopt;
  }
  std::string text(const char* key) {
    if (!j.contains(key) || !j[key].is_string()) return note(key, "is missing"), "";
    return j[key];
  }
  void note(const char* key, const char* what) {
    if (fault.empty()) fault = std::string("the field \"") + key + "\" " + what;
  }
};

void read_mixable(Fields& f, Mixable& m) {
  m.id = f.text("id");
  m.name = f.text("name");
  f.name = m.name.empty() ? m.id : m.name;
  m.density_g_cm3 = f.number("density_g_cm3", 0.3, 4);
  m.density_a_g_cm3 = f.number("density_a_g_cm3", 0.3, 4);
  m.density_b_g_cm3 = f.number("density_b_g_cm3", 0.3, 4);
  m.ratio_a = f.number("ratio_a", 1e-3, 1000);
  m.ratio_b = f.number("ratio_b", 1e-3, 1000);
  m.ratio_by_volume = f.text("ratio_by") == "volume";
  m.ratio_tolerance_pct = f.number("ratio_tolerance_pct", 0.1, 50);
  m.viscosity_mpa_s = f.number("viscosity_mpa_s", 1, 1e7);
  m.pot_life_min = f.number("pot_life_min", 0.2, 1000);
  m.demould_h = f.number("demould_h", 0.05, 200);
  m.reference_c = f.number("reference_c", 5, 80);
  m.colour = f.text("colour");
  m.clarity = f.text("clarity");
  m.price_per_kg = f.number("price_per_kg", 0, 1e5);
  if (f.j.contains("hazards") && f.j["hazards"].is_array()) {
    for (const auto& h : f.j["hazards"])
      if (h.is_string()) m.hazards.push_back(h);
  } else {
    f.note("hazards", "is missing");
  }
}

}  // namespace

Result<Catalogue> read_catalogue(std::string_view text) {
  const Json j = Json::parse(text, nullptr, false);
  const auto bad = [](std::string what, std::string where) {
    return Error{std::move(what), std::move(where), "Correct the catalogue."};
  };
  if (j.is_discarded() || !j.is_object()) return bad("this is no catalogue: it does not read as JSON", "catalogue");
  if (!j.contains("silicones") || !j.contains("resins")) return bad("silicones or resins are missing", "catalogue");
  Catalogue c;
  std::set<std::string> ids;
  for (const auto& e : j["silicones"]) {
    Fields f{e, "a silicone", ""};
    Silicone s;
    read_mixable(f, s);
    s.addition_cure = f.text("cure") == "addition";
    s.shore_a = f.number("shore_a", 0, 90);
    s.elongation_pct = f.number("elongation_pct", 10, 2000);
    s.tear_kn_m = f.number("tear_kn_m", 0.5, 60);
    s.shrink_pct = f.number("shrink_pct", 0, 3);
    s.shrink_u_pct = f.number("shrink_u_pct", 0, 3);
    s.expansion_per_k = f.number("expansion_per_k", 0, 1e-3);
    s.usual_pulls_simple = static_cast<int>(f.number("usual_pulls_simple", 1, 1000));
    s.usual_pulls_undercut = static_cast<int>(f.number("usual_pulls_undercut", 1, 1000));
    if (!f.fault.empty()) return bad(f.fault, f.name);
    if (!ids.insert(s.id).second) return bad("the id \"" + s.id + "\" is used twice", f.name);
    c.silicones.push_back(std::move(s));
  }
  for (const auto& e : j["resins"]) {
    Fields f{e, "a resin", ""};
    Resin r;
    read_mixable(f, r);
    r.family = f.text("family");
    r.shore_d = f.maybe("shore_d", 0, 100);
    r.shore_a = f.maybe("shore_a", 0, 100);
    r.reference_thickness_mm = f.number("reference_thickness_mm", 0.1, 100);
    r.shrink_thin_pct = f.number("shrink_thin_pct", 0, 10);
    r.shrink_thick_pct = f.number("shrink_thick_pct", 0, 10);
    r.thin_mm = f.number("thin_mm", 0.1, 200);
    r.thick_mm = f.number("thick_mm", 0.1, 200);
    r.shrink_u_pct = f.number("shrink_u_pct", 0, 5);
    r.heat_deflection_c = f.number("heat_deflection_c", 20, 300);
    r.heat_of_reaction_j_g = f.number("heat_of_reaction_j_g", 1, 1000);
    r.heat_capacity_j_gk = f.number("heat_capacity_j_gk", 0.5, 5);
    if (!f.fault.empty()) return bad(f.fault, f.name);
    if (!ids.insert(r.id).second) return bad("the id \"" + r.id + "\" is used twice", f.name);
    c.resins.push_back(std::move(r));
  }
  if (j.contains("masters") && j["masters"].is_array())
    for (const auto& e : j["masters"]) {
      Fields f{e, "a master's material", ""};
      MasterMaterial m;
      m.id = f.text("id");
      m.name = f.text("name");
      f.name = m.name;
      m.seal = f.text("seal");
      m.why = f.text("why");
      m.hands_min = f.number("hands_min", 0, 1000);
      m.wait_h = f.number("wait_h", 0, 2000);
      m.inhibits_addition = e.value("inhibits_addition", false);
      m.bonds = e.value("bonds", false);
      if (!f.fault.empty()) return bad(f.fault, f.name);
      if (!ids.insert(m.id).second) return bad("the id \"" + m.id + "\" is used twice", f.name);
      c.masters.push_back(std::move(m));
    }
  if (j.contains("hazards") && j["hazards"].is_object())
    for (const auto& [key, words] : j["hazards"].items())
      if (words.is_string()) c.hazards[key] = words;
  const auto every_hazard_known = [&](const Mixable& m) -> Status {
    for (const std::string& h : m.hazards)
      if (!c.hazards.contains(h)) return bad("the hazard \"" + h + "\" has no words", m.name);
    return {};
  };
  for (const auto& s : c.silicones)
    if (auto ok = every_hazard_known(s); !ok) return ok.error();
  for (const auto& r : c.resins)
    if (auto ok = every_hazard_known(r); !ok) return ok.error();
  return c;
}

const Catalogue& starting_catalogue() {
  static const Catalogue c = [] {
    auto read = read_catalogue(catalogue_json);
    if (!read) throw std::logic_error("built-in catalogue: " + read.error().text());
    return *std::move(read);
  }();
  return c;
}

}  // namespace palinform
