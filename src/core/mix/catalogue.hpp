#pragma once
/// The materials a workshop may use. Read from JSON; every field has its unit in its name.
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/hash.hpp"
#include "base/result.hpp"

namespace palinform {

/// What every two-part material has. Pot life and demould time hold at `reference_c`.
struct Mixable {
  std::string id, name;
  double density_g_cm3 = 1, density_a_g_cm3 = 1, density_b_g_cm3 = 1;
  double ratio_a = 1, ratio_b = 1;
  bool ratio_by_volume = false;
  double ratio_tolerance_pct = 3;
  double viscosity_mpa_s = 0;
  double pot_life_min = 0, demould_h = 0, reference_c = 23;
  std::string colour, clarity;
  std::vector<std::string> hazards;  ///< keys into Catalogue::hazards
  double price_per_kg = 0;           ///< no currency
  std::optional<double> stir_min = {}, degas_min = {}, rest_min = {}, self_clearing_mm = {};
  bool by_percent = false;                         ///< B is a percentage of A
  bool in_drops = false;                           ///< … counted in drops
  double drop_g = 0, drop_u_g = 0;                 ///< of one, weighed; 0: nobody has yet
  std::string moisture_part = {}, tint_part = {};  ///< "A", "B" or nothing
  std::optional<double> film_mm = {};              ///< that stays on a cup's wall, as emptied cups showed it
  int film_cups = 0;                               ///< so many of them
  /// m_B / m_A.
  double weight_ratio() const;
  /// "100 : 4 by weight"
  std::string ratio_text() const;
};

struct Silicone : Mixable {
  bool addition_cure = true;
  double shore_a = 30, elongation_pct = 0, tear_kn_m = 0;
  double shrink_pct = 0, shrink_u_pct = 0, expansion_per_k = 0;
  int usual_pulls_simple = 0, usual_pulls_undercut = 0;
  bool see_through() const { return clarity == "clear" || clarity == "translucent"; }
};

struct Resin : Mixable {
  std::string family;
  std::optional<double> shore_d, shore_a;
  double reference_thickness_mm = 3;
  double shrink_thin_pct = 0, shrink_thick_pct = 0, thin_mm = 3, thick_mm = 15, shrink_u_pct = 0;
  double heat_deflection_c = 0, heat_of_reaction_j_g = 0, heat_capacity_j_gk = 0;
};

/// Rules of thumb (ranges.md).
struct MixRules {
  double cup_loss_pct = 3, cup_loss_g = 2;  ///< what stays in the cup
  double channel_allowance_pct = 15;        ///< for gate and vents while they are not laid out
  double foam_ratio = 4, foam_ratio_fast = 6, fast_pot_life_min = 15;  ///< rise under vacuum; of a fast material
  double mix_min = 3, degas_min = 5;
  double pour_min_per_100g_rubber = 1, pour_min_per_100g_resin = 0.8;
  double rest_min = 5, warm_air_min = 1;  ///< for air to rise by itself; of warm air over the cup
  double free_over_stirring = 1.25;       ///< height of a cup over the liquid's, so that it can be stirred
  double thinner_halves_pct = 5;          ///< so much of it halves the viscosity
  double thickener_doubles_pct = 0.5;     ///< so much of it doubles the viscosity
  double pourings = 2;                    ///< cups a batch goes through: it is poured over into a second, clean one
  static void fields(auto& s, auto&& f) {
    f("cup_loss_pct", s.cup_loss_pct, Within{0, 100});
    f("cup_loss_g", s.cup_loss_g, Within{0, 1000});
    f("channel_allowance_pct", s.channel_allowance_pct, Within{0, 500});
    f("foam_ratio", s.foam_ratio, Within{1, 20});
    f("foam_ratio_fast", s.foam_ratio_fast, Within{1, 20});
    f("fast_pot_life_min", s.fast_pot_life_min, Within{0, 1000});
    f("mix_min", s.mix_min, Within{0, 120});
    f("degas_min", s.degas_min, Within{0, 240});
    f("pour_min_per_100g_rubber", s.pour_min_per_100g_rubber, Within{0, 60});
    f("pour_min_per_100g_resin", s.pour_min_per_100g_resin, Within{0, 60});
    f("rest_min", s.rest_min, Within{0, 120});
    f("warm_air_min", s.warm_air_min, Within{0, 30});
    f("free_over_stirring", s.free_over_stirring, Within{1, 5});
    f("thinner_halves_pct", s.thinner_halves_pct, Within{0.1, 100});
    f("thickener_doubles_pct", s.thickener_doubles_pct, Within{0.01, 100});
    f("pourings", s.pourings, Within{1, 4});
  }
};

/// What a master may be made of, and what that asks before rubber touches it.
struct MasterMaterial {
  std::string id, name;
  std::string seal;  ///< what to do, in words
  double hands_min = 0, wait_h = 0;
  bool inhibits_addition = false;  ///< its surface stops addition-cure silicone unless sealed
  bool bonds = false;              ///< silicone sticks to it without release
  std::string why;
};

struct Catalogue {
  std::vector<Silicone> silicones;
  std::vector<Resin> resins;
  std::vector<MasterMaterial> masters;
  std::map<std::string, std::string> hazards;  ///< the caution in words
  const Silicone* silicone(std::string_view id) const;
  const Resin* resin(std::string_view id) const;
  const MasterMaterial* master(std::string_view id) const;
};

/// Reads a catalogue; refuses a missing field or a figure outside reason, naming material and field.
Result<Catalogue> read_catalogue(std::string_view json);
/// The one built in.
const Catalogue& starting_catalogue();

}  // namespace palinform
