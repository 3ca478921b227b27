#pragma once
/// What an original without a scan is drawn from: plain bodies by their measures, put on and cut away.
#include <span>
#include <string>
#include <string_view>

#include "base/vec.hpp"
#include "drawn/path.hpp"

namespace palinform {

enum class BodyShape { plate, bar, disc, tube, ring, dome, cone, shell, angle, channel, turned, outline, slot };
template <>
inline constexpr std::array names<BodyShape>{"plate"sv,  "bar"sv,     "disc"sv,  "tube"sv,  "ring"sv,
                                             "dome"sv,   "cone"sv,    "shell"sv, "angle"sv, "channel"sv,
                                             "turned"sv, "outline"sv, "slot"sv};
std::string_view words_of(BodyShape s);  ///< "Plate", "L-section", …

/// A place on a turned body's profile, from the axis out and from its foot up.
struct ProfilePoint {
  double r_mm = 0, z_mm = 0, fillet_mm = 0;
  bool operator==(const ProfilePoint&) const = default;
  static void fields(auto& s, auto&& f) {
    f("r_mm", s.r_mm, Within{0, 5000});
    f("z_mm", s.z_mm, Within{-5000, 10'000});
    f("fillet_mm", s.fillet_mm, Within{0, 1e4});
  }
};

/// One body. Its own frame has the middle of its foot at nought and rises along z; `at`, `axis` and `turn` put it in
/// its place. Which measures count is told by measures_of(); the others are passed over.
struct DrawnBody {
  std::string id;  ///< stays while the rest changes: "b1"
  BodyShape shape = BodyShape::plate;
  bool cut = false;     ///< taken away from all before it
  std::string name;     ///< "Flange"; empty: by its shape
  Vec3 at_mm;           ///< middle of the foot
  Vec3 axis{0, 0, 1};   ///< the way it rises
  double turn_deg = 0;  ///< about that axis
  double length_mm = 0, width_mm = 0, height_mm = 0;
  double diameter_mm = 0, inner_mm = 0, top_mm = 0;  ///< across: outside, hole, at the top
  double wall_mm = 0, floor_mm = 0;
  double corner_mm = 0;  ///< radius of the upright corners
  double edge_mm = 0;    ///< rounding along foot and head
  std::vector<ProfilePoint> profile;
  Path outline;
  std::vector<Path> holes;
  bool operator==(const DrawnBody&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{40});
    f("shape", s.shape);
    f("cut", s.cut);
    f("name", s.name, AtMost{80});
    f("at_mm", s.at_mm);
    f("axis", s.axis);
    f("turn_deg", s.turn_deg, Within{-360, 360});
    f("length_mm", s.length_mm, Within{0, 10'000});
    f("width_mm", s.width_mm, Within{0, 10'000});
    f("height_mm", s.height_mm, Within{0, 10'000});
    f("diameter_mm", s.diameter_mm, Within{0, 10'000});
    f("inner_mm", s.inner_mm, Within{0, 10'000});
    f("top_mm", s.top_mm, Within{0, 10'000});
    f("wall_mm", s.wall_mm, Within{0, 5000});
    f("floor_mm", s.floor_mm, Within{0, 5000});
    f("corner_mm", s.corner_mm, Within{0, 5000});
    f("edge_mm", s.edge_mm, Within{0, 5000});
    f("profile", s.profile, AtMost{400});
    f("outline", s.outline, AtMost{1000});
    f("holes", s.holes, AtMost{200});
  }
};

/// One measure of a shape: which field, how it is called, what a new body begins with, whether nought is allowed.
struct BodyMeasure {
  std::string_view key, words;  ///< "length", "Length"
  double DrawnBody::*value;
  double begin_mm;
  bool may_be_nought = false;
};
std::span<const BodyMeasure> measures_of(BodyShape shape);

/// A body of that shape with the measures it begins with.
DrawnBody begun(BodyShape shape);
/// Its name, or its shape's: "Flange", "Plate".
std::string name_of(const DrawnBody& b);

/// Measures above nought where they must be, and such that they make that body: a hole smaller than its tube, a wall
/// that leaves a hollow, roundings that have room.
Status check_body(const DrawnBody& b);

}  // namespace palinform
