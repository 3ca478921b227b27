#include "shelf/catalogue_view.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "shelf/family.hpp"

namespace palinform {
namespace {

/// What rubbers and resins share.
Status take_mixable(const Material& m, Mixable& out) {
  const auto r = weight_ratio(m);
  if (!r) return r.error();
  if (m.times.empty()) return times_at(m, 23).error();
  const TimesAt& t = m.times.front();
  out.id = m.id;
  out.name = m.name;
  out.density_g_cm3 = m.figure("density_g_cm3").value_or(1.1);
  out.density_a_g_cm3 = m.figure("density_a_g_cm3").value_or(out.density_g_cm3);
  out.density_b_g_cm3 = m.figure("density_b_g_cm3").value_or(out.density_g_cm3);
  out.ratio_by_volume = m.mixing.by == MixBy::volume;
  out.ratio_a = out.ratio_by_volume || m.mixing.by == MixBy::weight ? m.mixing.a : 100;
  out.ratio_b = out.ratio_by_volume || m.mixing.by == MixBy::weight ? m.mixing.b : m.mixing.percent;
  out.ratio_tolerance_pct = m.mixing.tolerance_pct;
  out.viscosity_mpa_s = m.figure("viscosity_mpa_s").value_or(20'000);
  out.pot_life_min = t.pot_life_min;
  out.demould_h = t.demould_h.value_or(t.pot_life_min / 10);
  out.reference_c = t.at_c;
  out.colour = m.colour;
  out.clarity = m.clarity.empty() ? "opaque" : m.clarity;
  out.hazards = m.hazards;
  out.price_per_kg = m.figure("price_per_kg").value_or(0);
  out.stir_min = m.figure("stir_min"), out.degas_min = m.figure("degas_min"), out.rest_min = m.figure("rest_min");
  out.self_clearing_mm = m.figure("self_clearing_mm");
  out.moisture_part = m.moisture_part, out.tint_part = m.tint_part;
  out.in_drops = m.mixing.by == MixBy::drops;
  out.by_percent = out.in_drops || m.mixing.by == MixBy::percent;
  out.drop_g = m.mixing.drop_g, out.drop_u_g = m.mixing.drop_u_g;
  if (out.by_percent && !m.mixing.at_percent.empty())
    if (const auto at = at_percent(m.mixing.at_percent, m.mixing.percent)) {
      out.pot_life_min = at->pot_life_min;
      out.demould_h = at->demould_h;
    }
  return {};
}

Material mixable_of(const Mixable& s) {
  Material m;
  m.id = s.id;
  m.name = s.name;
  m.mixing.by = s.ratio_by_volume ? MixBy::volume : MixBy::weight;
  m.mixing.a = s.ratio_a, m.mixing.b = s.ratio_b;
  m.mixing.tolerance_pct = s.ratio_tolerance_pct;
  m.times = {{s.reference_c, s.pot_life_min, {}, {}, s.demould_h, {}}};
  m.colour = s.colour, m.clarity = s.clarity == "none" ? "" : s.clarity;
  m.hazards = s.hazards;
  const auto put = [&](const char* key, double v) { m.figures[key] = {v, std::nullopt, FigureSource::sheet}; };
  put("density_g_cm3", s.density_g_cm3), put("density_a_g_cm3", s.density_a_g_cm3);
  put("density_b_g_cm3", s.density_b_g_cm3), put("viscosity_mpa_s", s.viscosity_mpa_s);
  put("price_per_kg", s.price_per_kg);
  for (const auto& [key, v] : {std::pair{"stir_min", s.stir_min}, std::pair{"degas_min", s.degas_min},
                               std::pair{"rest_min", s.rest_min}, std::pair{"self_clearing_mm", s.self_clearing_mm}})
    if (v) put(key, *v);
  m.moisture_part = s.moisture_part, m.tint_part = s.tint_part;
  return m;
}

}  // namespace

Result<Mixable> mixed_of(const Material& given) {
  Mixable out;
  if (auto ok = take_mixable(with_guesses(given), out); !ok) return ok.error();
  return out;
}

Result<Silicone> rubber_of(const Material& given) {
  const Material m = with_guesses(given);
  Silicone s;
  if (auto ok = take_mixable(m, s); !ok) return ok.error();
  s.addition_cure = !m.family.starts_with("condensation");
  s.shore_a = m.figure("shore_a").value_or(30);
  s.elongation_pct = m.figure("elongation_pct").value_or(300);
  s.tear_kn_m = m.figure("tear_kn_m").value_or(15);
  s.shrink_pct = m.figure("shrink_thin_pct").value_or(0.1);
  s.shrink_u_pct = m.figure("shrink_u_pct").value_or(0.05);
  s.expansion_per_k = m.figure("expansion_per_k").value_or(2.75e-4);
  s.usual_pulls_simple = static_cast<int>(m.figure("pulls_simple").value_or(30));
  s.usual_pulls_undercut = static_cast<int>(m.figure("pulls_undercut").value_or(10));
  return s;
}

Result<Resin> resin_of(const Material& given) {
  const Material m = with_guesses(given);
  Resin r;
  if (auto ok = take_mixable(m, r); !ok) return ok.error();
  const Family* f = family(m.family);
  r.family = f ? lower_ascii(f->name) : m.family;
  r.shore_d = m.figure("shore_d");
  r.shore_a = m.figure("shore_a");
  r.reference_thickness_mm = m.figure("reference_thickness_mm").value_or(3);
  r.shrink_thin_pct = m.figure("shrink_thin_pct").value_or(0.2);
  r.shrink_thick_pct = m.figure("shrink_thick_pct").value_or(0.6);
  r.thin_mm = m.figure("thin_mm").value_or(3);
  r.thick_mm = m.figure("thick_mm").value_or(15);
  r.shrink_u_pct = m.figure("shrink_u_pct").value_or(0.1);
  r.heat_deflection_c = m.figure("heat_deflection_c").value_or(60);
  r.heat_of_reaction_j_g = m.figure("heat_of_reaction_j_g").value_or(250);
  r.heat_capacity_j_gk = m.figure("heat_capacity_j_gk").value_or(1.8);
  return r;
}

Material material_of(const Silicone& s) {
  Material m = mixable_of(s);
  m.kind = MaterialKind::mould_rubber;
  m.family = s.addition_cure ? "addition" : "condensation";
  // What is too stiff to be poured is kneaded: its minutes are guessed as a putty's, not as a cup's that is stirred.
  constexpr double kneaded_mpa_s = 500'000;
  if (s.addition_cure && s.viscosity_mpa_s >= kneaded_mpa_s) m.family = "putty-addition";
  if (!s.addition_cure) m.moisture_part = "B";
  const auto put = [&](const char* key, double v, std::optional<double> u = {}) {
    m.figures[key] = {v, u, FigureSource::sheet};
  };
  put("shore_a", s.shore_a), put("elongation_pct", s.elongation_pct), put("tear_kn_m", s.tear_kn_m);
  put("shrink_thin_pct", s.shrink_pct, s.shrink_u_pct), put("shrink_thick_pct", s.shrink_pct, s.shrink_u_pct);
  put("shrink_u_pct", s.shrink_u_pct), put("expansion_per_k", s.expansion_per_k);
  put("pulls_simple", s.usual_pulls_simple), put("pulls_undercut", s.usual_pulls_undercut);
  return m;
}

Material material_of(const Resin& r) {
  Material m = mixable_of(r);
  m.kind = r.shore_a ? MaterialKind::casting_rubber : MaterialKind::casting_resin;
  m.family = r.family;
  for (const Family& f : families())
    if (lower_ascii(f.name) == r.family) m.family = f.id;
  const auto put = [&](const char* key, double v, std::optional<double> u = {}) {
    m.figures[key] = {v, u, FigureSource::sheet};
  };
  if (r.shore_a) put("shore_a", *r.shore_a);
  if (r.shore_d) put("shore_d", *r.shore_d);
  put("reference_thickness_mm", r.reference_thickness_mm);
  put("shrink_thin_pct", r.shrink_thin_pct, r.shrink_u_pct),
      put("shrink_thick_pct", r.shrink_thick_pct, r.shrink_u_pct);
  put("thin_mm", r.thin_mm), put("thick_mm", r.thick_mm), put("shrink_u_pct", r.shrink_u_pct);
  put("heat_deflection_c", r.heat_deflection_c), put("heat_of_reaction_j_g", r.heat_of_reaction_j_g);
  put("heat_capacity_j_gk", r.heat_capacity_j_gk);
  return m;
}

Catalogue catalogue_of(const std::vector<Material>& shelf, const Catalogue& words, std::vector<std::string>* left_out) {
  Catalogue c;
  c.masters = words.masters;
  c.hazards = words.hazards;
  const auto lost = [&](const Material& m) {
    if (left_out) left_out->push_back(m.name);
  };
  for (const Material& m : shelf) {
    if (m.retired) continue;
    if (m.kind == MaterialKind::mould_rubber) {
      if (const auto s = rubber_of(m))
        c.silicones.push_back(*s);
      else
        lost(m);
    } else if (m.kind == MaterialKind::casting_resin || m.kind == MaterialKind::casting_rubber) {
      if (const auto r = resin_of(m))
        c.resins.push_back(*r);
      else
        lost(m);
    }
  }
  return c;
}

std::vector<Material> starting_shelf() {
  std::vector<Material> out;
  for (const Silicone& s : starting_catalogue().silicones) out.push_back(with_guesses(material_of(s)));
  for (const Resin& r : starting_catalogue().resins) out.push_back(with_guesses(material_of(r)));
  // One of every kind the built-in list has none of, as its family has it: all guesses.
  const auto has = [&](MaterialKind k) {
    return std::any_of(out.begin(), out.end(), [&](const Material& m) { return m.kind == k; });
  };
  std::vector<Material> more;
  for (const Family& f : families())
    if (!has(f.kind)) more.push_back(from_family(f, f.id, f.name));
  for (const char* id : {"self-clearing-addition", "condensation-catalyst-range", "polyester", "casting-silicone"})
    more.push_back(from_family(*family(id), id, family(id)->name));
  out.insert(out.end(), more.begin(), more.end());
  return out;
}

}  // namespace palinform
