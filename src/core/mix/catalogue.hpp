#pragma once
/// The materials a workshop may use, and its rules of thumb. Read from JSON; every field has its unit in its name.
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/hash.hpp"
#include "base/result.hpp"
#include "mould/forms.hpp"
#include "split/ways.hpp"

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

/// Rules of thumb (ranges.md), all of them guesses and shown as such.
struct Rules {
  double wall_min_mm = 10, wall_share = 0.12, wall_extra_soft_mm = 3, wall_soft_below_shore_a = 20;
  double cup_loss_pct = 3, cup_loss_g = 2, channel_allowance_pct = 15;
  double foam_ratio = 4, foam_ratio_fast = 6, fast_pot_life_min = 15;
  double mix_min = 3, degas_min = 5, pour_min_per_100g_rubber = 1, pour_min_per_100g_resin = 0.8;
  double flash_mm = 0.08, flash_u_mm = 0.05, gel_u_c = 1.5, pin_u_mm = 0.004, guessed_section_mm = 6;
  double visible_void_mm = 1, visible_show_mm = 0.5, hand_price_per_h = 40;
  double doubling_share = 2.5;                             ///< viscosity doubles in pot life over this
  double finish_u_mm = 0.008, finish_allowance_mm = 0.05;  ///< of a size reamed, skimmed or shimmed
  /// reach/mouth at which rubber of a Shore A hardness still flexes out of an undercut.
  std::vector<std::pair<double, double>> flex_ratio_at_shore{{15, 1.5}, {30, 1.0}, {40, 0.7}, {50, 0.4}};
  std::string fit_slides = "H8/f7", fit_turns = "H9/e9", fit_presses = "H7/s6";
  double snap_grip_min_pct = 0.4, snap_grip_max_pct = 1;
  double parting_kpa = 15, parting_by_hand_n = 120;
  WayRates ways;
  FormRates forms;
  double thin_slender_peg = 2.5, thin_slender_fin = 4, thin_mm_at_40a = 0.8;
  double pin_into_wall_mm = 8, pin_grip_mm = 10;
};

/// Minutes in the vacuum chamber: none where the shop does not degas, nor for resins too quick for it.
double degas_minutes(const Mixable& material, bool is_resin, bool degas, const Rules& rules);

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
  Rules rules;
  const Silicone* silicone(std::string_view id) const;
  const Resin* resin(std::string_view id) const;
  const MasterMaterial* master(std::string_view id) const;
};

/// Reads a catalogue; refuses a missing field or a figure outside reason, naming material and field.
Result<Catalogue> read_catalogue(std::string_view json);
/// The one built in.
const Catalogue& starting_catalogue();

}  // namespace palinform
