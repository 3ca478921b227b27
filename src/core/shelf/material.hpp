#pragma once
/// A material of the shop's own: what its bottle says, what was measured here, and what is a guess of its family.
#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "base/check_fields.hpp"
#include "base/names.hpp"
#include "mix/dose.hpp"

namespace palinform {

enum class MaterialKind {
  mould_rubber,
  brush_rubber,
  putty,
  casting_resin,
  casting_rubber,
  jacket_paste,
  plaster,
  pigment,
  filler,
  thickener,
  thinner,
  release,
  barrier,
  sealer
};
template <>
inline constexpr std::array names<MaterialKind>{"mould-rubber"sv,   "brush-rubber"sv, "putty"sv,   "casting-resin"sv,
                                                "casting-rubber"sv, "jacket-paste"sv, "plaster"sv, "pigment"sv,
                                                "filler"sv,         "thickener"sv,    "thinner"sv, "release"sv,
                                                "barrier"sv,        "sealer"sv};
std::string_view words_of(MaterialKind k);  ///< "mould rubber"
/// Two parts that cure together, or with a catalyst; the rest is stirred in, brushed on or mixed with water.
bool cures(MaterialKind k);

enum class FigureSource { guess, sheet, measured };
template <>
inline constexpr std::array names<FigureSource>{"guess"sv, "sheet"sv, "measured"sv};

struct Figure {
  double value = 0;
  std::optional<double> u = {};  ///< standard uncertainty, in the same unit
  FigureSource source = FigureSource::sheet;
  bool operator==(const Figure&) const = default;
  static void fields(auto& s, auto&& f) {
    f("value", s.value);
    f("u", s.u);
    f("source", s.source);
  }
};

/// A figure a material may have: "degas_min", what it is, and between which values anything may lie at all.
struct FigureRule {
  std::string_view key, words;
  double low, high;
  std::string_view unit;  ///< as shown; empty: a bare number
};
std::span<const FigureRule> figure_rules();
const FigureRule* figure_rule(std::string_view key);

enum class MixBy { weight, volume, percent, drops };
template <>
inline constexpr std::array names<MixBy>{"weight"sv, "volume"sv, "percent"sv, "drops"sv};

/// How the parts go together. Per cent and drops are of the base (A).
struct Mixing {
  MixBy by = MixBy::weight;
  double a = 1, b = 1;                ///< by weight or volume
  double percent = 0;                 ///< usual; of percent and drops
  std::vector<AtPercent> at_percent;  ///< pot life and demould over the sheet's range
  double drop_g = 0, drop_u_g = 0;    ///< calibrated; 0: not yet
  double tolerance_pct = 3;
  bool operator==(const Mixing&) const = default;
  static void fields(auto& s, auto&& f) {
    f("by", s.by);
    f("a", s.a, Within{0, 1e4});
    f("b", s.b, Within{0, 1e4});
    f("percent", s.percent, Within{0, 100});
    f("at_percent", s.at_percent, AtMost{20});
    f("drop_g", s.drop_g, Within{0, 1});
    f("drop_u_g", s.drop_u_g, Within{0, 1});
    f("tolerance_pct", s.tolerance_pct, Within{0.05, 50});
  }
};

/// The sheet's times at one temperature.
struct TimesAt {
  double at_c = 23, pot_life_min = 0;
  std::optional<double> gel_min = {}, tack_free_min = {}, demould_h = {}, full_cure_h = {};
  bool operator==(const TimesAt&) const = default;
  static void fields(auto& s, auto&& f) {
    f("at_c", s.at_c, Within{-20, 150});
    f("pot_life_min", s.pot_life_min, Within{0.1, 10'000});
    f("gel_min", s.gel_min, Within{0.1, 20'000});
    f("tack_free_min", s.tack_free_min, Within{0.1, 50'000});
    f("demould_h", s.demould_h, Within{0.01, 1000});
    f("full_cure_h", s.full_cure_h, Within{0.01, 2000});
  }
};

struct Material {
  std::string id;
  int version = 1;  ///< a changed figure makes the next
  MaterialKind kind = MaterialKind::mould_rubber;
  std::string family;  ///< "addition": where what is missing is guessed from
  std::string name;
  Mixing mixing;
  std::vector<TimesAt> times;
  std::map<std::string, Figure> figures;  ///< by FigureRule::key
  std::string colour, clarity;            ///< clarity: clear, translucent, opaque
  std::string moisture_part;              ///< "A", "B" or "": the one that hates wet air, and so goes last
  std::string tint_part;                  ///< where pigment goes
  std::vector<std::string> hazards;       ///< keys into Catalogue::hazards
  std::vector<double> packs_kg;
  std::string label_a, label_b;  ///< colours of the bottles' labels
  bool retired = false;
  bool operator==(const Material&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{80});
    f("version", s.version, Within{1, 1e6});
    f("kind", s.kind);
    f("family", s.family, AtMost{80});
    f("name", s.name, AtMost{120});
    f("mixing", s.mixing);
    f("times", s.times, AtMost{20});
    f("figures", s.figures, AtMost{80});
    f("colour", s.colour);
    f("clarity", s.clarity);
    f("moisture_part", s.moisture_part, AtMost{1});
    f("tint_part", s.tint_part, AtMost{1});
    f("hazards", s.hazards, AtMost{20});
    f("packs_kg", s.packs_kg, AtMost{20});
    f("label_a", s.label_a, AtMost{40});
    f("label_b", s.label_b, AtMost{40});
    f("retired", s.retired);
  }
  std::optional<double> figure(std::string_view key) const;
};

/// m_B / m_A; by volume from the parts' densities; per cent and drops of the base. Refused: a ratio of nought or below,
/// by volume without the densities of both parts.
Result<double> weight_ratio(const Material& m);
/// The times at a temperature: between the sheet's by Q10 (its own figure, else 2), never shorter than the shortest of
/// the sheet where that is warmer. Refused without any.
Result<TimesAt> times_at(const Material& m, double temperature_c);

/// One clear sentence for what cannot be: a figure outside reason or of no known name, no name, a ratio that is none,
/// densities that contradict the mix, a catalyst range that runs backward, times that fall out of order.
Status check_material(const Material& m);

/// Keys of figures that are guesses of the family.
std::vector<std::string> guesses(const Material& m);

}  // namespace palinform
