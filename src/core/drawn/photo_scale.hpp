#pragma once
/// From a picture's pixels to millimetres on the part's face: by the scanner's dots, by a distance that was measured,
/// or by a rectangle of known sides, which also takes the slant out. M30 in docs/methods.
#include <array>
#include <vector>

#include "base/drawing.hpp"
#include "base/fields.hpp"
#include "base/hash.hpp"
#include "base/names.hpp"
#include "base/result.hpp"

namespace palinform {

struct Pixel {
  double x = 0, y = 0;  ///< from the upper left corner, right and down
  bool operator==(const Pixel&) const = default;
  static void fields(auto& s, auto&& f) {
    f("x", s.x, Within{-1e5, 1e5});
    f("y", s.y, Within{-1e5, 1e5});
  }
};

/// How a picture is scaled.
struct PhotoScale {
  enum class Way { none, dots, distance, rectangle } way = Way::none;
  double dpi = 300;
  std::array<Pixel, 2> ends;  ///< of the measured distance
  double distance_mm = 0;
  std::array<Pixel, 4> corners;     ///< of the rectangle, once round from any corner
  double wide_mm = 0, deep_mm = 0;  ///< its sides: from the first corner to the second, from the second to the third
  double off_plane_mm = 0;          ///< the traced face stands so far above the ruler or the rectangle
  double camera_mm = 0;             ///< from the camera to the ruler's plane; 0: not known
  bool operator==(const PhotoScale&) const = default;
  static void fields(auto& s, auto&& f) {
    f("way", s.way);
    f("dpi", s.dpi, Within{10, 10'000});
    f("ends_px", s.ends);
    f("distance_mm", s.distance_mm, Within{0, 1e4});
    f("corners_px", s.corners);
    f("wide_mm", s.wide_mm, Within{0, 1e4});
    f("deep_mm", s.deep_mm, Within{0, 1e4});
    f("off_plane_mm", s.off_plane_mm, Within{-500, 500});
    f("camera_mm", s.camera_mm, Within{0, 1e5});
  }
};
template <>
inline constexpr std::array names<PhotoScale::Way>{"none"sv, "dots"sv, "distance"sv, "rectangle"sv};

/// A plane's map, both ways: pixels are right and down, millimetres right and up.
struct PhotoMap {
  std::array<double, 9> to_mm{}, to_px{};  ///< rows of the two matrices
  Point2 mm(const Pixel& p) const;
  Pixel px(const Point2& p) const;
  double mm_per_px(const Pixel& at) const;  ///< there, the mean of both directions
  /// Standard uncertainty of the scale itself, as a share: what a length is wrong by, whatever its place.
  double u_scale = 0;
  double slant_deg = 0;  ///< of the camera, as the rectangle shows it by its sides' shares; 0 by the other ways
  double parallax = 1;   ///< what lengths were multiplied with for the face's height
  bool parallax_guessed = false;
};

/// `click_px`: standard uncertainty of a clicked place. Refused where the scale is not complete, two points stand in
/// one place, or the four corners do not go round a rectangle seen from above.
Result<PhotoMap> photo_map(const PhotoScale& scale, double click_px = 0.7);

}  // namespace palinform
