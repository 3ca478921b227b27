#pragma once
/// A size that matters on the original: what it is, its limits, what was read, where it sits on the mesh.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/hash.hpp"
#include "base/names.hpp"
#include "base/result.hpp"

namespace palinform {

enum class SizeKind { outer, bore, slot, centre, step, thickness, radius, angle };  ///< an angle's figures are degrees
/// What shapes the size in the mould.
enum class FormedBy { rubber, pin, across_line, open_face };
/// What is done to the casting afterwards to bring this size in: cut the bore out, take off, or build up.
enum class Finishing { none, ream, skim, shim };

template <>
inline constexpr std::array names<SizeKind>{"outer"sv, "bore"sv,      "slot"sv,   "centre"sv,
                                            "step"sv,  "thickness"sv, "radius"sv, "angle"sv};
template <>
inline constexpr std::array names<FormedBy>{"rubber"sv, "pin"sv, "across-line"sv, "open-face"sv};
template <>
inline constexpr std::array names<Finishing>{"none"sv, "ream"sv, "skim"sv, "shim"sv};
/// "mm", or "°" for an angle.
std::string_view unit_of(SizeKind k);

struct MeasuredSize {
  std::string id;    ///< stays while the name changes: "s1"
  std::string name;  ///< "Pen bore"
  SizeKind kind = SizeKind::outer;
  FormedBy formed = FormedBy::rubber;
  double nominal_mm = 0;
  double lower_mm = 0, upper_mm = 0;                      ///< the limits themselves
  std::vector<double> readings_mm;                        ///< of the original
  std::vector<std::vector<double>> further_originals_mm;  ///< of others of its kind: what they say of its limits
  double resolution_mm = 0.01;                            ///< of the instrument
  double instrument_u_mm = 0.01;                          ///< its standard uncertainty besides resolution
  std::optional<double> pin_mm;                           ///< size of the hard pin, where formed by one
  std::optional<double> stock_mm;                         ///< added on an open face
  std::optional<double> section_mm;  ///< wall thickness there, for shrinkage and cure; guessed when absent
  bool limits_guessed = false;       ///< proposed by the program, not yet confirmed
  std::string limits_from;           ///< where they come from: "H7", "ISO 2768-m", "slides on a mate of 7.98 mm"
  Finishing finish = Finishing::none;
  std::optional<double> fit_rms_mm;  ///< scatter of the mesh about the fitted face, where the mesh proposed the size
  std::optional<double> depth_mm;    ///< of a bore or boss
  Vec3 scale_share;     ///< how far a scale along x, y, z stretches the size (strain weights); all nought: by the line
  Vec3 from_mm, to_mm;  ///< ends of the dimension line, on the mesh
  bool operator==(const MeasuredSize&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{40});
    f("name", s.name);
    f("kind", s.kind);
    f("formed_by", s.formed);
    f("nominal_mm", s.nominal_mm, Within{0, 1e5});
    f("lower_mm", s.lower_mm, Within{-1e5, 1e5});
    f("upper_mm", s.upper_mm, Within{-1e5, 1e5});
    f("readings_mm", s.readings_mm);
    f("further_originals_mm", s.further_originals_mm, AtMost{200});
    f("resolution_mm", s.resolution_mm, Within{0, 1e3});
    f("instrument_u_mm", s.instrument_u_mm, Within{0, 1e3});
    f("limits_guessed", s.limits_guessed);
    f("limits_from", s.limits_from);
    f("finish", s.finish);
    f("from_mm", s.from_mm);
    f("to_mm", s.to_mm);
    f("pin_mm", s.pin_mm, Within{0, 1e5});
    f("stock_mm", s.stock_mm, Within{-1e3, 1e3});
    f("section_mm", s.section_mm, Within{0, 1e4});
    f("fit_rms_mm", s.fit_rms_mm, Within{0, 1e4});
    f("depth_mm", s.depth_mm, Within{0, 1e5});
    f("scale_share", s.scale_share);
  }
};

/// Mean of readings and its standard uncertainty (M12): u² = s²/n + res²/12 + u_inst², no type-A term for one reading.
struct ReadingMean {
  size_t n = 0;
  double mean_mm = 0, spread_mm = 0;  ///< spread: sample standard deviation, 0 below two readings
  double u_mm = 0;
  double u_spread_mm = 0, u_instrument_mm = 0;  ///< its two parts: more readings narrow only the first
  bool type_a = false;                          ///< the spread took part in u
};
ReadingMean mean_of_readings(const std::vector<double>& readings_mm, double resolution_mm, double instrument_u_mm);

/// What the size measures on the master: the readings' mean where there are any, else the mesh's nominal.
double master_value_mm(const MeasuredSize& s);
double master_u_mm(const MeasuredSize& s);

/// Limits the right way round, nominal positive, readings finite and above zero.
Status check_size(const MeasuredSize& s);

/// How far scales along x, y and z stretch this size, to first order: the squares of its line's direction cosines, a
/// bore's two cross directions, a third each where no direction is known, nothing for an angle. They sum to 1 or 0.
Vec3 scale_share_of(const MeasuredSize& s);

/// A reading that can hardly be of this size in millimetres: more than a fifth (and 1 mm) off the nominal. `meant_mm`
/// is what it would be in inches, centimetres, or with the point moved, where that lands within 5 % of the nominal.
struct ReadingDoubt {
  size_t index = 0;
  double reading_mm = 0;
  std::optional<double> meant_mm;
  std::string guess;  ///< "inches", "centimetres", "a slipped decimal point"
};
std::vector<ReadingDoubt> doubtful_readings(const MeasuredSize& s);

/// Starting limits for a size nobody gave any: ± max(0.1 mm, 0.25 %), rounded to 0.01 mm (rule of thumb, shown as a
/// guess).
void guess_limits(MeasuredSize& s);

/// "92.0 ±0.25", "6.0 +0.1 0", "Ø8 +0.015 0": nominal with limits, in mm.
std::string limits_text(const MeasuredSize& s);

}  // namespace palinform
