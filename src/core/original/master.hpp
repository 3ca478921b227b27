#pragma once
/// What is said about the part beside its sizes: its faces, its finish, what it is made of, and how the master is
/// prepared from the original.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/hash.hpp"
#include "base/names.hpp"
#include "base/result.hpp"
#include "drawn/stand_in.hpp"

namespace palinform {

/// A face singled out by the person. The face is the flat or cylindrical patch around the point (feature.hpp).
struct FaceMark {
  enum class Kind { show, hidden, keep_clear } kind = Kind::show;  ///< hidden: the flat back that nobody sees
  Vec3 point_mm;                                                   ///< on the original's surface
  bool operator==(const FaceMark&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("point_mm", s.point_mm);
  }
};
template <>
inline constexpr std::array names<FaceMark::Kind>{"show"sv, "hidden"sv, "keep-clear"sv};

enum class Gloss { unsaid, plain, gloss, texture };
enum class Later { unsaid, nothing, paint, glue };
template <>
inline constexpr std::array names<Gloss>{"unsaid"sv, "plain"sv, "gloss"sv, "texture"sv};
template <>
inline constexpr std::array names<Later>{"unsaid"sv, "nothing"sv, "paint"sv, "glue"sv};

enum class Clay { unsaid, sulphur_free, sulphur, water };
enum class Gloves { unsaid, nitrile, vinyl, latex };
enum class Stick { unsaid, metal, wood };
template <>
inline constexpr std::array names<Clay>{"unsaid"sv, "sulphur-free"sv, "sulphur"sv, "water"sv};
template <>
inline constexpr std::array names<Gloves>{"unsaid"sv, "nitrile"sv, "vinyl"sv, "latex"sv};
template <>
inline constexpr std::array names<Stick>{"unsaid"sv, "metal"sv, "wood"sv};

/// What touches rubber and casting besides each other, and what stands between.
struct Contacts {
  Clay clay = Clay::unsaid;
  Gloves gloves = Gloves::unsaid;
  Stick stick = Stick::unsaid;
  bool sealed = false, barrier = false, released = false;
  std::optional<double> cured_h = {};  ///< of a casting that serves as master, at the job's room temperature
  bool operator==(const Contacts&) const = default;
  static void fields(auto& s, auto&& f) {
    f("clay", s.clay);
    f("gloves", s.gloves);
    f("stick", s.stick);
    f("sealed", s.sealed);
    f("barrier", s.barrier);
    f("released", s.released);
    f("cured_h", s.cured_h, Within{0, 1e5});
  }
};

struct Finish {
  Gloss surface = Gloss::unsaid;
  Later later = Later::unsaid;
  std::string master_material;  ///< id in the catalogue's list of masters; empty: unsaid
  Contacts contacts = {};
  bool operator==(const Finish&) const = default;
  static void fields(auto& s, auto&& f) {
    f("surface", s.surface);
    f("later", s.later);
    f("master_material", s.master_material);
    f("contacts", s.contacts);
  }
};

/// One change from the original to the master. Points lie on the master as the steps before it left it.
struct MasterStep {
  enum class Kind { mirror, stock, plug, join } kind = Kind::mirror;
  int axis = 0;            ///< mirror: 0 x, 1 y, 2 z
  Vec3 point_mm;           ///< stock, plug: on the face meant
  double mm = 0;           ///< stock: thickness; plug: the dimple across, 0 none
  std::string mesh, file;  ///< join: hash of the other half, and its file's name
  bool operator==(const MasterStep&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("axis", s.axis, Within{0, 2});
    f("point_mm", s.point_mm);
    f("mm", s.mm, Within{-100, 1000});
    f("mesh", s.mesh);
    f("file", s.file);
  }
};
template <>
inline constexpr std::array names<MasterStep::Kind>{"mirror"sv, "stock"sv, "plug"sv, "join"sv};
/// "mirror across x", "1.0 mm of stock", "bore plugged, dimple 1.5 mm", "joined with left.stl"
std::string words_of(const MasterStep& s);
/// Figures in reason.
Status check_step(const MasterStep& s);

/// How a bore across the pull is dealt with.
struct BoreTreatment {
  enum class Kind { pin, tape } kind = Kind::pin;  ///< a hard pin forms it; or its mouths are taped over and it is lost
  Vec3 point_mm;                                   ///< on the bore's wall, on the master
  double radius_mm = 0;                            ///< tape over an undercut: the skin this far round; 0: a bore
  bool operator==(const BoreTreatment&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("point_mm", s.point_mm);
    f("radius_mm", s.radius_mm, Within{0, 1e4});
  }
};
template <>
inline constexpr std::array names<BoreTreatment::Kind>{"pin"sv, "tape"sv};

/// A part without a mesh or a drawing: outer measures by calipers, and the volume by displaced water or by weight.
struct BareOriginal {
  Vec3 extent_mm;  ///< length, width, height
  std::optional<double> displaced_ml;
  std::optional<double> weighed_g;
  double density_g_cm3 = 1.1;         ///< of the original's material, for the weighed way
  StandIn like = StandIn::by_volume;  ///< what stands for it
  bool operator==(const BareOriginal&) const = default;
  static void fields(auto& s, auto&& f) {
    f("extent_mm", s.extent_mm);
    f("displaced_ml", s.displaced_ml, Within{0, 1e6});
    f("weighed_g", s.weighed_g, Within{0, 1e6});
    f("density_g_cm3", s.density_g_cm3, Within{0.05, 25});
    f("like", s.like);
  }
  /// Extent and a volume are there.
  bool complete() const { return extent_mm.x > 0 && extent_mm.y > 0 && extent_mm.z > 0 && (displaced_ml || weighed_g); }
};
/// Volume in mm³, by water where both are given. Refused where measures are missing, not above zero, or the volume does
/// not fit into the measures.
Result<double> bare_volume_mm3(const BareOriginal& b);
/// Its standard uncertainty: water is read to 2 % or half a millilitre, a weight with a guessed density to 3 %.
double bare_volume_u_mm3(const BareOriginal& b);

}  // namespace palinform
