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
double degas_minutes(const Mixable& m, bool is_resin, bool degas, const Rules& r) {
  return degas && (!is_resin || m.pot_life_min > 2 * (r.mix_min + r.degas_min)) ? r.degas_min : 0;
}

std::string Mixable::ratio_text() const {
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
  if (j.contains("rules") && j["rules"].is_object()) {
    const Json& r = j["rules"];
    const auto take = [&](const char* key, double& into) {
      if (r.contains(key) && r[key].is_number()) into = r[key];
    };
    Rules& u = c.rules;
    take("wall_min_mm", u.wall_min_mm), take("wall_share", u.wall_share),
        take("wall_extra_soft_mm", u.wall_extra_soft_mm);
    take("wall_soft_below_shore_a", u.wall_soft_below_shore_a), take("cup_loss_pct", u.cup_loss_pct),
        take("cup_loss_g", u.cup_loss_g);
    take("channel_allowance_pct", u.channel_allowance_pct), take("foam_ratio", u.foam_ratio),
        take("foam_ratio_fast", u.foam_ratio_fast);
    take("fast_pot_life_min", u.fast_pot_life_min), take("mix_min", u.mix_min), take("degas_min", u.degas_min);
    take("pour_min_per_100g_rubber", u.pour_min_per_100g_rubber),
        take("pour_min_per_100g_resin", u.pour_min_per_100g_resin);
    take("flash_mm", u.flash_mm), take("flash_u_mm", u.flash_u_mm), take("gel_u_c", u.gel_u_c),
        take("pin_u_mm", u.pin_u_mm);
    take("guessed_section_mm", u.guessed_section_mm), take("visible_void_mm", u.visible_void_mm),
        take("visible_show_mm", u.visible_show_mm), take("doubling_share", u.doubling_share),
        take("hand_price_per_h", u.hand_price_per_h);
    take("finish_u_mm", u.finish_u_mm), take("finish_allowance_mm", u.finish_allowance_mm);
    take("snap_grip_min_pct", u.snap_grip_min_pct), take("snap_grip_max_pct", u.snap_grip_max_pct);
    take("way_bed_base_min", u.ways.bed_base_min);
    take("way_bed_min_per_mm", u.ways.bed_min_per_mm);
    take("way_bed_climb_min_per_mm", u.ways.bed_climb_min_per_mm);
    take("way_board_base_min", u.ways.board_base_min);
    take("way_board_min_per_mm", u.ways.board_min_per_mm);
    take("way_board_flat_mm", u.ways.board_flat_mm);
    take("way_print_base_min", u.ways.print_base_min);
    take("way_print_mm3_per_min", u.ways.print_mm3_per_min);
    take("way_cut_base_min", u.ways.cut_base_min);
    take("way_cut_min_per_mm", u.ways.cut_min_per_mm);
    take("way_cut_depth_per_pass_mm", u.ways.cut_depth_per_pass_mm);
    take("way_open_base_min", u.ways.open_base_min);
    take("way_piece_base_min", u.ways.piece_base_min);
    take("way_pin_min", u.ways.pin_min);
    take("way_pour_min", u.ways.pour_min);
    take("way_wait_price_per_h", u.ways.wait_price_per_h);
    take("way_witness_price_per_mm", u.ways.witness_price_per_mm);
    take("form_bed_min", u.forms.bed_min);
    take("form_box_min", u.forms.box_min);
    take("form_pour_min", u.forms.pour_min);
    take("form_coat_min", u.forms.coat_min);
    take("form_jacket_min", u.forms.jacket_min);
    take("form_putty_min", u.forms.putty_min);
    take("form_cut_min", u.forms.cut_min);
    take("form_print_set_up_min", u.forms.print_set_up_min);
    take("form_strip_bar_min", u.forms.strip_bar_min);
    take("form_piece_min", u.forms.piece_min);
    take("form_coat_mm", u.forms.coat_mm);
    take("form_skin_mm", u.forms.skin_mm);
    take("form_jacket_mm", u.forms.jacket_mm);
    take("form_putty_mm", u.forms.putty_mm);
    take("form_cup_wall_mm", u.forms.cup_wall_mm);
    take("form_print_price_per_cm3", u.forms.print_price_per_cm3);
    take("form_squeeze_over_pct", u.forms.squeeze_over_pct);
    take("form_channel_pct", u.forms.channel_pct);
    take("form_tiny_mm", u.forms.tiny_mm);
    take("form_large_mm", u.forms.large_mm);
    u.forms.hand_price_per_h = u.hand_price_per_h;
    take("parting_kpa", u.parting_kpa), take("parting_by_hand_n", u.parting_by_hand_n);
    u.ways.hand_price_per_h = u.hand_price_per_h;
    take("thin_slender_peg", u.thin_slender_peg), take("thin_slender_fin", u.thin_slender_fin);
    take("thin_mm_at_40a", u.thin_mm_at_40a), take("pin_into_wall_mm", u.pin_into_wall_mm);
    take("pin_grip_mm", u.pin_grip_mm);
    if (r.contains("flex_ratio_at_shore") && r["flex_ratio_at_shore"].is_array()) {
      u.flex_ratio_at_shore.clear();
      for (const Json& e : r["flex_ratio_at_shore"])
        if (e.is_array() && e.size() == 2) u.flex_ratio_at_shore.emplace_back(e[0].get<double>(), e[1].get<double>());
    }
    const auto word = [&](const char* key, std::string& into) {
      if (r.contains(key) && r[key].is_string()) into = r[key];
    };
    word("fit_slides", u.fit_slides), word("fit_turns", u.fit_turns), word("fit_presses", u.fit_presses);
  }
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
