#pragma once
/// A core or insert that is hung in the mould and cast in: what it is, where it lies, what holds it (M24).
#include <string>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/vec.hpp"

namespace palinform {

struct Insert {
  /// mesh: its own closed mesh, in the part's frame. nut: six-sided, with a bore. The others by their measures.
  enum class Kind { mesh, rod, tube, plate, nut } kind = Kind::rod;
  /// seats: what of it stands out of the part lies in sockets of the rubber. pin: its bore sits on a pin of the mould,
  /// which keeps resin out of it. wire: hung from fine wire that is cut off.
  enum class Hold { seats, pin, wire } hold = Hold::seats;
  std::string name;
  std::string mesh_hash, file;  ///< of a mesh; its file's name, for people
  Vec3 at_mm;                   ///< middle of its near end; a mesh is moved by it
  Vec3 axis{0, 0, 1};           ///< from the near end on
  double turn_deg = 0;          ///< about the axis
  double across_mm = 4;         ///< diameter; a plate's thickness; a nut's across its flats
  double bore_mm = 2;           ///< of tube and nut
  double wide_mm = 10;          ///< of a plate
  double long_mm = 20;          ///< along the axis
  std::string material = "steel";
  double density_g_cm3 = 7.85;
  bool operator==(const Insert&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("hold", s.hold);
    f("name", s.name, AtMost{80});
    f("mesh", s.mesh_hash, AtMost{64});
    f("file", s.file, AtMost{1000});
    f("at_mm", s.at_mm);
    f("axis", s.axis);
    f("turn_deg", s.turn_deg, Within{-360, 360});
    f("across_mm", s.across_mm, Within{0.1, 1000});
    f("bore_mm", s.bore_mm, Within{0, 1000});
    f("wide_mm", s.wide_mm, Within{0.1, 2000});
    f("long_mm", s.long_mm, Within{0.1, 5000});
    f("material", s.material, AtMost{80});
    f("density_g_cm3", s.density_g_cm3, Within{0.01, 25});
  }
  bool bored() const { return (kind == Kind::tube || kind == Kind::nut) && bore_mm > 0; }
};
template <>
inline constexpr std::array names<Insert::Kind>{"mesh"sv, "rod"sv, "tube"sv, "plate"sv, "nut"sv};
template <>
inline constexpr std::array names<Insert::Hold>{"seats"sv, "pin"sv, "wire"sv};
/// "lies in its sockets", "on a pin of the mould", "hung from wire"
constexpr std::string_view words_of(Insert::Hold h) {
  return h == Insert::Hold::seats ? "lies in sockets of the rubber"
         : h == Insert::Hold::pin ? "sits on a pin of the mould"
                                  : "hangs from fine wire";
}

/// What an insert must keep to: rules of thumb.
struct InsertRules {
  double seat_mm = 3;        ///< that it must stand out of the part to be held there; less is a touch that shows
  double cover_mm = 1.5;     ///< of resin over it: under that it fills badly and cracks
  double heat_cover_mm = 3;  ///< metal draws the heat out of resin thinner than that: it cures slower
  double gate_share = 1;     ///< of the sprue's diameter that must be free before the gate
  static void fields(auto& s, auto&& f) {
    f("seat_mm", s.seat_mm, Within{0.2, 50});
    f("cover_mm", s.cover_mm, Within{0.1, 50});
    f("heat_cover_mm", s.heat_cover_mm, Within{0.1, 100});
    f("gate_share", s.gate_share, Within{0, 10});
  }
};

}  // namespace palinform
