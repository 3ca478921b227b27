#pragma once
/// What is seen on a casting, what it is worth, and what its run has told: the ground on which causes are found (M23).
#include <optional>
#include <string>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"

namespace palinform {

enum class Fault {
  hollow,
  pinholes,
  pimples,
  not_full,
  flash,
  step,
  tacky,
  soft,
  torn,
  skin,
  warped,
  small,
  colour,
};
template <>
inline constexpr std::array names<Fault>{"void"sv,   "pinholes"sv, "pimples"sv, "short"sv, "flash"sv,
                                         "step"sv,   "tacky"sv,    "soft"sv,    "torn"sv,  "skin"sv,
                                         "warped"sv, "small"sv,    "colour"sv};
/// "Void", "Pinholes", "Short fill", "Torn mould"…
constexpr std::string_view words_of(Fault f) {
  constexpr std::array words{"Void"sv,   "Pinholes"sv,    "Pimples"sv,     "Short fill"sv, "Flash"sv,
                             "Step"sv,   "Tacky place"sv, "Soft core"sv,   "Torn mould"sv, "Skin under a face"sv,
                             "Warped"sv, "Wrong size"sv,  "Wrong colour"sv};
  return words[static_cast<size_t>(f)];
}

struct FaultSeen {
  Fault fault = Fault::hollow;
  std::optional<Vec3> at_mm;  ///< on the part; none: all over, or not told
  double size_mm = 0;         ///< across; 0: not told
  /// To the nearest pocket that Flow foresaw when the place was told, and of that: later changes of the plan leave it.
  std::optional<double> pocket_distance_mm = {}, pocket_mm3 = {};
  bool confirmed = false;  ///< its cause, as the person has found it
  std::string cause;       ///< name_of(Cause), once confirmed
  bool operator==(const FaultSeen&) const = default;
  static void fields(auto& s, auto&& f) {
    f("fault", s.fault);
    f("at_mm", s.at_mm);
    f("size_mm", s.size_mm, Within{0, 2000});
    f("pocket_distance_mm", s.pocket_distance_mm, Within{0, 1e6});
    f("pocket_mm3", s.pocket_mm3, Within{0, 1e12});
    f("confirmed", s.confirmed);
    f("cause", s.cause, AtMost{60});
  }
};

/// What a casting is good for.
enum class Worth { unsaid, good, repaired, tests, scrap };
template <>
inline constexpr std::array names<Worth>{"unsaid"sv, "good"sv, "repaired"sv, "tests"sv, "scrap"sv};
constexpr std::string_view words_of(Worth w) {
  constexpr std::array words{"not said"sv, "good"sv, "good after repair"sv, "for tests"sv, "scrap"sv};
  return words[static_cast<size_t>(w)];
}

/// Does it fit what it belongs to?
enum class Mate { untried, fits, tight, loose };
template <>
inline constexpr std::array names<Mate>{"untried"sv, "fits"sv, "tight"sv, "loose"sv};

/// How one casting really came about. What is not known is not there, and does not count.
struct CastRecord {
  std::optional<double> ratio_off_pct, ratio_tolerance_pct;  ///< of B against what A asked for
  std::optional<double> minutes_b_to_filled, pot_life_min;   ///< pot life by the sheet, at `reference_c`
  std::optional<double> room_c, reference_c;
  std::optional<bool> degassed;        ///< the resin
  std::optional<double> pressure_kpa;  ///< reached while it cured
  std::optional<bool> rubber_degassed;
  std::optional<double> lot_days_past;  ///< its best-before; below nought: days to go
  std::optional<double> opened_days;    ///< since the bottle was opened
  std::optional<double> demould_h, demould_needed_h;
  std::optional<double> pull;  ///< of its mould, from 1
  std::optional<double> clamp_n, clamp_needed_n;
  std::optional<double> tilt_deg, tilt_planned_deg;
  std::optional<bool> sealed, released;
  std::optional<bool> patch_cured;  ///< a patch test: cured, or tacky
  std::string surface;              ///< of the master; empty: not told
  bool operator==(const CastRecord&) const = default;
  static void fields(auto& s, auto&& f) {
    f("ratio_off_pct", s.ratio_off_pct, Within{-100, 1000});
    f("ratio_tolerance_pct", s.ratio_tolerance_pct, Within{0, 100});
    f("minutes_b_to_filled", s.minutes_b_to_filled, Within{0, 1e5});
    f("pot_life_min", s.pot_life_min, Within{0, 1e5});
    f("room_c", s.room_c, Within{-40, 200});
    f("reference_c", s.reference_c, Within{-40, 200});
    f("degassed", s.degassed);
    f("pressure_kpa", s.pressure_kpa, Within{0, 5000});
    f("rubber_degassed", s.rubber_degassed);
    f("lot_days_past", s.lot_days_past, Within{-1e5, 1e5});
    f("opened_days", s.opened_days, Within{0, 1e5});
    f("demould_h", s.demould_h, Within{0, 1e5});
    f("demould_needed_h", s.demould_needed_h, Within{0, 1e5});
    f("pull", s.pull, Within{0, 1e6});
    f("clamp_N", s.clamp_n, Within{0, 1e6});
    f("clamp_needed_N", s.clamp_needed_n, Within{0, 1e6});
    f("tilt_deg", s.tilt_deg, Within{-360, 360});
    f("tilt_planned_deg", s.tilt_planned_deg, Within{-360, 360});
    f("sealed", s.sealed);
    f("released", s.released);
    f("patch_cured", s.patch_cured);
    f("surface", s.surface, AtMost{200});
  }
};

}  // namespace palinform
