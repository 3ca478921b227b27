#pragma once
/// Fits: what clearance two mating sizes leave, and which limits a size needs to suit its mate.
#include <array>
#include <string>
#include <string_view>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "original/iso_limits.hpp"

namespace palinform {

struct Limits {
  double lower_mm = 0, upper_mm = 0;
  bool operator==(const Limits&) const = default;
};

/// One size with its class: "25H7". `nominal_mm` 25.
struct ClassedSize {
  double nominal_mm = 0;
  ToleranceClass tolerance;
  Limits limits;  ///< the limits themselves
};
/// Reads "25H7", "Ø25 H7", "25,5 js6".
Result<ClassedSize> classed_size(std::string_view text);

struct Fit {
  double nominal_mm = 0;
  ToleranceClass hole_class, shaft_class;
  Limits hole, shaft;
  double clearance_min_mm = 0, clearance_max_mm = 0;  ///< negative: interference
  /// "always clears", "always grips", "may clear or grip".
  std::string_view nature() const;
};
/// Reads "25H7/g6". The hole stands before the stroke.
Result<Fit> read_fit(std::string_view text);

/// What the part must do with its mate.
enum class FitWish { slides, turns, presses, snaps };
template <>
inline constexpr std::array names<FitWish>{"slides"sv, "turns"sv, "presses"sv, "snaps"sv};

/// Rules of thumb for the clearance of each wish: the fit whose clearance range is wanted, and the grip of a snap as a
/// share of the size.
struct FitRules {
  std::string slides = "H8/f7", turns = "H9/e9", presses = "H7/s6";
  double snap_grip_min_pct = 0.4, snap_grip_max_pct = 1.0;
  static void fields(auto& s, auto&& f) {
    f("slides", s.slides);
    f("turns", s.turns);
    f("presses", s.presses);
    f("snap_grip_min_pct", s.snap_grip_min_pct, Within{0, 20});
    f("snap_grip_max_pct", s.snap_grip_max_pct, Within{0, 20});
  }
};

struct LimitsForMate {
  Limits limits;                                      ///< for this part's size
  double clearance_min_mm = 0, clearance_max_mm = 0;  ///< that is kept
  std::string how;                                    ///< "slides over a mate of 7.985 to 8.000"
};
/// Limits for a size so that, whatever the mate measures within its own limits, the clearance stays in the wished
/// range. `hole`: this size is the inner one (bore, slot). Refused where the mate alone uses the whole range up.
Result<LimitsForMate> limits_for_mate(const Limits& mate, bool hole, FitWish wish, const FitRules& rules = {});

/// Reads limits as people write them, for a size of this nominal: "±0.1", "+0.1 0", "7.9..8.1", "7.9 8.1", "H7",
/// "ISO 2768 m" or "m". A radius takes ISO 2768's figures for edge radii; an angle (degrees) those for angles, by
/// `leg_mm`, the length of its shorter leg.
struct LimitsRead {
  Limits limits;
  std::string source;  ///< "H7", "ISO 2768-m"; empty where the limits were typed themselves
};
enum class LimitsOf { length, radius, angle };
Result<LimitsRead> read_limits(std::string_view text, double nominal, LimitsOf of = LimitsOf::length,
                               double leg_mm = 10);

}  // namespace palinform
