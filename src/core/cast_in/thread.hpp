#pragma once
/// Screw threads of a part: the ISO metric figures, and how a thread comes into the casting (M24).
#include <array>
#include <span>
#include <string>
#include <string_view>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"
#include "cast_in/insert.hpp"

namespace palinform {

/// A thread on a bore or a stud: what the job says of it.
struct ThreadChoice {
  /// rubber: the mould's own, unscrewed from it. hard: a screw in the bore, a nut or sleeve on the stud, part of the
  /// mould, unscrewed before it opens. insert: a threaded bush or stud is cast in. cut: tap or die, afterwards.
  enum class How { rubber, hard, insert, cut } how = How::cut;
  Vec3 at_mm;         ///< on its wall, on the master
  Vec3 axis;          ///< of the bore or stud
  bool stud = false;  ///< outside thread; else a bore's
  bool left_hand = false;
  double nominal_mm = 6, pitch_mm = 1;
  double found_mm = 0, deep_mm = 0;  ///< the bore's or stud's own diameter and length on the master
  bool operator==(const ThreadChoice&) const = default;
  static void fields(auto& s, auto&& f) {
    f("how", s.how);
    f("at_mm", s.at_mm);
    f("axis", s.axis);
    f("stud", s.stud);
    f("left_hand", s.left_hand);
    f("nominal_mm", s.nominal_mm, Within{0.3, 300});
    f("pitch_mm", s.pitch_mm, Within{0.05, 20});
    f("found_mm", s.found_mm, Within{0, 1000});
    f("deep_mm", s.deep_mm, Within{0, 5000});
  }
};
template <>
inline constexpr std::array names<ThreadChoice::How>{"rubber"sv, "hard"sv, "insert"sv, "cut"sv};

/// ISO metric profile (ISO 68-1, 60°): diameters in mm of nominal d and pitch P.
double pitch_diameter_mm(double nominal_mm, double pitch_mm);  ///< d − 3/8·√3·P
double minor_bore_mm(double nominal_mm, double pitch_mm);      ///< D1 = d − 5/8·√3·P, of the inside thread
double minor_stud_mm(double nominal_mm, double pitch_mm);      ///< d3 = d − 17/24·√3·P, of the outside thread
double tap_core_mm(double nominal_mm, double pitch_mm);        ///< bored before tapping: d − P
double die_blank_mm(double nominal_mm, double pitch_mm);       ///< turned before the die: d − 0.1·P (rule of thumb)

/// One nominal size of ISO 261's first and second choice, with its pitches, coarse first.
struct IsoThread {
  double nominal_mm;
  std::array<double, 3> pitches_mm;  ///< 0: none
};
std::span<const IsoThread> iso_threads();
/// The coarse pitch of a nominal size; 0 where the table has none.
double coarse_pitch_mm(double nominal_mm);
/// The size whose tapped bore, or whose stud, comes nearest to a measured diameter, coarse: of a bore its core or its
/// minor diameter, of a stud the nominal. `nominal_mm` 0 where none comes within a fifth of a pitch.
IsoThread thread_like(double diameter_mm, bool stud);

/// "M4", "M8 × 1" where the pitch is not the coarse one, "Ø5.5 × 0.9" where it is no ISO size; "M4 left".
std::string words_of(const ThreadChoice& t);

struct ThreadRules {
  double rubber_pitch_mm = 0.5, rubber_pitch_per_shore_mm = 0.04;  ///< least pitch that rubber forms: so much, and more
                                                                   ///< for every degree of Shore A
  double bush_wall_mm = 1.2;                                       ///< of a bush round its thread
  double engage_share = 1.5;  ///< of the nominal size: how long a bush or a tapped thread should be
  static void fields(auto& s, auto&& f) {
    f("rubber_pitch_mm", s.rubber_pitch_mm, Within{0, 20});
    f("rubber_pitch_per_shore_mm", s.rubber_pitch_per_shore_mm, Within{0, 1});
    f("bush_wall_mm", s.bush_wall_mm, Within{0.2, 20});
    f("engage_share", s.engage_share, Within{0.3, 5});
  }
  double least_rubber_pitch_mm(double shore_a) const { return rubber_pitch_mm + rubber_pitch_per_shore_mm * shore_a; }
};

/// The bush that carries a thread, or the screw that is one, cast in where the thread is.
Insert threaded_insert(const ThreadChoice& thread, const ThreadRules& rules);

/// Does a bore of that place and diameter belong to the thread?
bool at_thread(const ThreadChoice& thread, const Vec3& centroid_mm);

}  // namespace palinform
