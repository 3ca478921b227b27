#include "shelf/material.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mix/proportion.hpp"

namespace palinform {
namespace {

// In the order a sheet is read. Bounds are those of anything that could be such a material (ranges.md, with room).
constexpr FigureRule rules[] = {
    {"density_g_cm3", "density, mixed", 0.2, 9, "g/cm³"},
    {"density_a_g_cm3", "density of part A", 0.2, 9, "g/cm³"},
    {"density_b_g_cm3", "density of part B", 0.2, 9, "g/cm³"},
    {"viscosity_mpa_s", "viscosity, mixed", 0.5, 1e7, "mPa·s"},
    {"q10", "times faster, 10 °C warmer", 1.2, 4, ""},
    {"shore_a", "hardness, Shore A", 0, 100, ""},
    {"shore_d", "hardness, Shore D", 0, 100, ""},
    {"elongation_pct", "elongation", 1, 2000, "%"},
    {"tear_kn_m", "tear strength", 0.2, 100, "kN/m"},
    {"shrink_thin_pct", "shrinkage, thin", 0, 10, "%"},
    {"shrink_thick_pct", "shrinkage, thick", 0, 10, "%"},
    {"thin_mm", "thin is", 0.1, 200, "mm"},
    {"thick_mm", "thick is", 0.1, 500, "mm"},
    {"shrink_u_pct", "uncertainty of the shrinkage", 0, 5, "%"},
    {"expansion_per_k", "expansion by heat", 0, 1e-3, "1/K"},
    {"heat_deflection_c", "heat deflection", 20, 400, "°C"},
    {"heat_of_reaction_j_g", "heat of reaction", 0, 1500, "J/g"},
    {"heat_capacity_j_gk", "heat capacity", 0.3, 5, "J/(g·K)"},
    {"reference_thickness_mm", "thickness the times hold for", 0.1, 200, "mm"},
    {"self_clearing_mm", "clears itself of air up to", 0, 300, "mm"},
    {"degas_min", "minutes under vacuum", 0, 120, "min"},
    {"rest_min", "minutes of rest", 0, 120, "min"},
    {"stir_min", "minutes of stirring", 0, 60, "min"},
    {"recoat_from_min", "next coat from", 0, 5000, "min"},
    {"recoat_to_min", "next coat until", 0, 20'000, "min"},
    {"post_cure_min", "minutes of post-cure, warm", 0, 20'000, "min"},
    {"post_cure_c", "post-cure at", 25, 250, "°C"},
    {"coat_mm", "thickness of a coat", 0.01, 50, "mm"},
    {"share_low_pct", "least share of the mix", 0, 100, "%"},
    {"share_usual_pct", "usual share of the mix", 0, 100, "%"},
    {"share_most_pct", "greatest share of the mix", 0, 100, "%"},
    {"pulls_simple", "pulls, simple part", 1, 5000, ""},
    {"pulls_undercut", "pulls, deep undercuts", 1, 5000, ""},
    {"life_closed_months", "keeps, closed", 0.1, 600, "months"},
    {"life_open_days", "keeps, once opened", 0.1, 5000, "days"},
    {"price_per_kg", "price a kilo", 0, 1e5, "a kg"},
};

}  // namespace

std::span<const FigureRule> figure_rules() { return rules; }
const FigureRule* figure_rule(std::string_view key) {
  const auto at = std::find_if(std::begin(rules), std::end(rules), [&](const FigureRule& r) { return r.key == key; });
  return at == std::end(rules) ? nullptr : at;
}

std::string_view words_of(MaterialKind k) {
  constexpr std::array words{"mould rubber", "brush-on rubber", "putty",   "casting resin", "casting rubber",
                             "jacket paste", "plaster",         "pigment", "filler",        "thickener",
                             "thinner",      "release",         "barrier", "sealer"};
  return words[static_cast<size_t>(k)];
}
bool cures(MaterialKind k) { return k <= MaterialKind::jacket_paste; }

std::optional<double> Material::figure(std::string_view key) const {
  const auto at = figures.find(std::string(key));
  return at == figures.end() ? std::nullopt : std::optional(at->second.value);
}

Result<double> weight_ratio(const Material& m) {
  const auto bad = [&](std::string what, std::string remedy) {
    return Error{std::move(what), m.name, std::move(remedy)};
  };
  if (m.mixing.by == MixBy::percent || m.mixing.by == MixBy::drops) {
    if (!(m.mixing.percent > 0)) return bad("there is no percentage of catalyst", "Enter the usual one of its sheet.");
    return m.mixing.percent / 100;
  }
  if (!(m.mixing.a > 0) || !(m.mixing.b > 0))
    return bad("a ratio has two figures above nought", "Enter it as on the sheet, as in 100 : 10.");
  if (m.mixing.by == MixBy::weight) return m.mixing.b / m.mixing.a;
  const auto a = m.figure("density_a_g_cm3"), b = m.figure("density_b_g_cm3");
  if (!a || !b)
    return bad("a ratio by volume needs the densities of both parts", "Weigh 100 ml of each, or read the sheet.");
  return weight_ratio_from_volume(m.mixing.b / m.mixing.a, *a, *b);
}

Result<TimesAt> times_at(const Material& m, double c) {
  if (m.times.empty())
    return Error{"nothing says how long it stays workable", m.name, "Enter the pot life of its sheet."};
  std::vector<TimesAt> sorted = m.times;
  std::sort(sorted.begin(), sorted.end(), [](const TimesAt& x, const TimesAt& y) { return x.at_c < y.at_c; });
  const double q10 = m.figure("q10").value_or(2);
  // From the nearest that the sheet gives; beyond its warmest nothing gets shorter.
  const TimesAt* from = &sorted.front();
  for (const TimesAt& t : sorted)
    if (std::abs(t.at_c - c) < std::abs(from->at_c - c)) from = &t;
  const double warmest = sorted.size() > 1 ? std::min(c, sorted.back().at_c) : c;
  const double times = std::pow(q10, (from->at_c - warmest) / 10);
  TimesAt out = *from;
  out.at_c = c;
  out.pot_life_min *= times;
  for (auto* t : {&out.gel_min, &out.tack_free_min, &out.demould_h, &out.full_cure_h})
    if (*t) **t *= times;
  return out;
}

Status check_material(const Material& m) {
  const auto bad = [&](std::string what, std::string remedy = "") {
    return Error{std::move(what), m.name.empty() ? m.id : m.name, std::move(remedy)};
  };
  if (auto ok = check_fields(m); !ok) return bad(ok.error().what);
  if (m.id.empty() || m.id.find_first_of(" \t\n/\\\"'") != std::string::npos)
    return bad("an id is letters, digits and dashes, without spaces");
  if (trim(m.name).empty()) return bad("the material has no name", "Name it by what it is.");
  for (const auto& [key, f] : m.figures) {
    const FigureRule* rule = figure_rule(key);
    if (!rule) return bad("there is no figure \"" + key.substr(0, 60) + "\"");
    if (!(f.value >= rule->low && f.value <= rule->high))
      return bad(std::string(rule->words) + ": " + shortest(f.value, 6) + " is out of reason; it lies from " +
                 shortest(rule->low, 6) + " to " + shortest(rule->high, 6));
    if (f.u && !(*f.u >= 0 && *f.u <= rule->high))
      return bad(std::string(rule->words) + ": its uncertainty is out of reason");
  }
  const auto pair = [&](const char* low, const char* high, const char* what) -> Status {
    const auto a = m.figure(low), b = m.figure(high);
    return a && b && *a > *b ? Status(bad(what)) : Status{};
  };
  if (auto ok = pair("thin_mm", "thick_mm", "thin sections must be thinner than thick ones"); !ok) return ok;
  if (auto ok = pair("recoat_from_min", "recoat_to_min", "the window for the next coat closes before it opens"); !ok)
    return ok;
  if (auto ok = pair("share_low_pct", "share_most_pct", "the least share is over the greatest"); !ok) return ok;
  if (!m.clarity.empty() && m.clarity != "clear" && m.clarity != "translucent" && m.clarity != "opaque")
    return bad("it is clear, translucent or opaque");
  for (const std::string* part : {&m.moisture_part, &m.tint_part})
    if (!part->empty() && *part != "A" && *part != "B") return bad("a part is A or B");
  for (size_t i = 1; i < m.times.size(); ++i)
    for (size_t k = 0; k < i; ++k)
      if (m.times[i].at_c == m.times[k].at_c)
        return bad("the times at " + shortest(m.times[i].at_c, 4) + " °C stand twice");
  for (const TimesAt& t : m.times) {
    // Gel, tack-free, demould, full cure: each after the one before.
    double last = t.pot_life_min;
    for (const auto& next : {t.gel_min, t.tack_free_min, t.demould_h ? std::optional(60 * *t.demould_h) : std::nullopt,
                             t.full_cure_h ? std::optional(60 * *t.full_cure_h) : std::nullopt}) {
      if (!next) continue;
      if (*next < last - 1e-9)
        return bad("at " + shortest(t.at_c, 4) +
                   " °C the times fall out of order: pot life, gel, tack-free, demould, full cure");
      last = *next;
    }
  }
  if (!cures(m.kind)) return {};
  if (const auto r = weight_ratio(m); !r) return r.error();
  std::vector<AtPercent> sheet = m.mixing.at_percent;
  std::sort(sheet.begin(), sheet.end(), [](const auto& x, const auto& y) { return x.pct < y.pct; });
  for (size_t i = 1; i < sheet.size(); ++i) {
    if (sheet[i].pct == sheet[i - 1].pct) return bad(shortest(sheet[i].pct, 4) + " % of catalyst stands twice");
    if (sheet[i].pot_life_min > sheet[i - 1].pot_life_min)
      return bad("more catalyst cannot give a longer pot life: " + shortest(sheet[i].pct, 4) + " %");
  }
  if ((m.mixing.by == MixBy::percent || m.mixing.by == MixBy::drops) && !sheet.empty() &&
      (m.mixing.percent < sheet.front().pct - 1e-9 || m.mixing.percent > sheet.back().pct + 1e-9))
    return bad("the usual percentage lies outside the sheet's range");
  // The mix cannot be lighter or heavier than its parts by more than a twentieth.
  const auto a = m.figure("density_a_g_cm3"), b = m.figure("density_b_g_cm3"), mixed = m.figure("density_g_cm3");
  if (a && b && mixed) {
    const double r = *weight_ratio(m), sum = (1 + r) / (1 / *a + r / *b);
    if (std::abs(*mixed / sum - 1) > 0.05)
      return bad("the densities contradict each other: the parts give " + fixed(sum, 2) +
                 " g/cm³ mixed, the sheet says " + fixed(*mixed, 2));
  }
  return {};
}

std::vector<std::string> guesses(const Material& m) {
  std::vector<std::string> out;
  for (const auto& [key, f] : m.figures)
    if (f.source == FigureSource::guess) out.push_back(key);
  return out;
}

}  // namespace palinform
