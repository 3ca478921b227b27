#pragma once
/// Registration: what makes the halves go together in one place and one way only (M5). Keys are bumps of side b in the
/// parting surface, and sockets of side a.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "mould/box.hpp"

namespace palinform {

enum class KeyKind { studs, bars, bed, rim, pins, wave };
template <>
inline constexpr std::array names<KeyKind>{"studs"sv, "bars"sv, "bed"sv, "rim"sv, "pins"sv, "wave"sv};
std::string_view words_of(KeyKind k);  ///< "pressed studs", "half-round bars", …

struct Key {
  Vec3 at_mm;            ///< on the parting surface, in the mould's frame
  double radius_mm = 4;  ///< at its foot; of a bar, half its width
  double height_mm = 3;
  double half_length_mm = 0;  ///< of a bar beyond its middle, along `along_deg`
  double along_deg = 0;       ///< in the frame, from u toward v
  double clearance_mm = 0;    ///< to the part or the wall, whichever is nearer
};

/// Rules of thumb.
struct KeyRules {
  double radius_mm = 0;                                               ///< 0: as follows
  double radius_share = 0.3, radius_min_mm = 2.5, radius_max_mm = 8;  ///< of the wall, and its bounds
  double clearance_mm = 2;                                            ///< least, to part and wall
  /// Wanted where the land is wide enough. A wall by the rule (10 … 12 mm) is not: with a key 6 mm across it would have
  /// to be 18 mm. Then as much of both as there is room for, down to `clearance_mm`.
  double to_part_mm = 8, to_wall_mm = 4;
  double draft_deg = 15;       ///< least is 10: steeper sides bind
  double height_share = 0.75;  ///< of the radius
  double step_mm = 4;          ///< height of bed and rim
  double rim_sheet_mm = 2;     ///< thickness of the sheet that a rim is stacked from
  static void fields(auto& s, auto&& f) {
    f("radius_mm", s.radius_mm, Within{0, 1000});
    f("radius_share", s.radius_share, Within{0.05, 1});
    f("radius_min_mm", s.radius_min_mm, Within{0.5, 100});
    f("radius_max_mm", s.radius_max_mm, Within{0.5, 100});
    f("clearance_mm", s.clearance_mm, Within{0.2, 100});
    f("to_part_mm", s.to_part_mm, Within{0, 1000});
    f("to_wall_mm", s.to_wall_mm, Within{0, 1000});
    f("draft_deg", s.draft_deg, Within{10, 45});
    f("height_share", s.height_share, Within{0.1, 2});
    f("step_mm", s.step_mm, Within{0.2, 100});
    f("rim_sheet_mm", s.rim_sheet_mm, Within{0.2, 40});
  }
};

/// The rules with a job's own size across a key's foot and clearance to part and wall.
KeyRules key_rules(KeyRules rules, std::optional<double> across_mm, std::optional<double> clear_mm);

struct KeyPlan {
  KeyKind kind = KeyKind::studs;
  std::vector<Key> keys;                            ///< none for bed, rim and wave, which run all round
  double draft_deg = 15, step_mm = 0, ring_mm = 0;  ///< ring: width of bed or rim at the wall
  bool assembly_unique = false;                     ///< the pattern maps onto itself under no turn that the box allows
  double stiffness_u = 0, stiffness_v = 0;          ///< keys that hold against a shift along u and v
  double stiffness_turn_mm = 0;                     ///< root mean square distance of the keys from their middle
  /// Height of key material over the plain parting surface at a place of the frame.
  double bump_mm(double u, double v, const Box3& inner_mm) const;
};

/// Keys where the land is wide enough, spread as far as it allows, one of them off the pattern so that a turned half
/// does not close. `moved`: places the person chose, taken as they are (their clearance is told).
KeyPlan place_keys(const Mould& mould, KeyKind kind, const KeyRules& rules = {}, const std::vector<Vec3>& moved = {});

/// Distance of every column to the nearest column of the part, in plan, mm; 0 in the part.
std::vector<float> part_distance(const Mould& mould);
/// Distance of every column to the nearest column of the part, or to the box's wall where that is nearer, mm.
std::vector<float> land_clearance(const Mould& mould);

}  // namespace palinform
