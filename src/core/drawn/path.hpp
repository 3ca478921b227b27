#pragma once
/// Closed paths of few points: straight between corners, round through an arc's middle, smooth through a row of points.
#include <vector>

#include "base/drawing.hpp"
#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/result.hpp"

namespace palinform {

/// `corner`: straight lines meet. `arc`: the middle of a circle's arc from the point before to the one after; where
/// every point is one, all lie on one circle. `smooth`: a curve runs through without a bend.
enum class NodeKind { corner, arc, smooth };
template <>
inline constexpr std::array names<NodeKind>{"corner"sv, "arc"sv, "smooth"sv};

struct PathNode {
  double x = 0, y = 0;  ///< mm, or pixels of a picture
  NodeKind kind = NodeKind::corner;
  double fillet_mm = 0;  ///< of a corner between two straight lines
  bool operator==(const PathNode&) const = default;
  static void fields(auto& s, auto&& f) {
    f("x", s.x, Within{-1e6, 1e6});
    f("y", s.y, Within{-1e6, 1e6});
    f("kind", s.kind);
    f("fillet_mm", s.fillet_mm, Within{0, 1e4});
  }
};
using Path = std::vector<PathNode>;

/// The path as points, counter-clockwise, no two in one place; arcs and curves within `off_mm` of their chords. Refused
/// where there are fewer than three points, a fillet has no room, or three points of an arc lie on a line and back.
Result<std::vector<Point2>> flattened(const Path& path, double off_mm);

/// A circle's polygon of the circle's own area; at least 24 sides, a multiple of four.
std::vector<Point2> circle_points(const Point2& centre, double radius_mm, double off_mm);
/// How many sides that is.
int circle_sides(double radius_mm, double off_mm);

/// Circle through points by least squares; nothing where they lie on a line.
struct CircleFit {
  Point2 centre;
  double radius_mm = 0, rms_mm = 0;
};
std::optional<CircleFit> fit_circle(const std::vector<Point2>& points);

/// Area inside a polygon; below nought where it runs clockwise.
double polygon_area(const std::vector<Point2>& loop);

}  // namespace palinform
