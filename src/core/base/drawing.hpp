#pragma once
/// A flat drawing at true scale, as plain data: millimetres, y up, origin at the lower left of the sheet. Written as
/// SVG or DXF here; print/ puts it on paper.
#include <string>
#include <vector>

#include "base/names.hpp"

#include "base/vec.hpp"

namespace palinform {

struct Point2 {
  double x = 0, y = 0;
  bool operator==(const Point2&) const = default;
};

/// What a line means decides how it is drawn: outlines are cut, the rest is information.
enum class Pen { outline, edge, hidden, line, centre, measure, side_a, side_b };
/// Also the DXF layers.
template <>
inline constexpr std::array names<Pen>{"outline"sv, "edge"sv,    "hidden"sv, "parting-line"sv,
                                       "centre"sv,  "measure"sv, "side-a"sv, "side-b"sv};
double width_mm(Pen p);

struct Stroke {
  Pen pen = Pen::outline;
  std::vector<Point2> points;
  bool closed = false;
};
struct Round {
  Pen pen = Pen::outline;
  Point2 centre;
  double radius_mm = 1;
};
struct Label {
  Point2 at;  ///< of the base line, by `align`
  std::string text;
  double height_mm = 3;
  int align = -1;  ///< −1 starts there, 0 is centred, 1 ends there
};

struct Drawing {
  std::string title;
  double width_mm = 100, height_mm = 100;
  std::vector<Stroke> strokes;
  std::vector<Round> rounds;
  std::vector<Label> labels;

  void line(Pen pen, Point2 a, Point2 b) { strokes.push_back({pen, {a, b}, false}); }
  void frame(Pen pen, Point2 low, Point2 high) {
    strokes.push_back({pen, {low, {high.x, low.y}, high, {low.x, high.y}}, true});
  }
  /// A measure between two points, drawn `off_mm` to the left of the way from a to b, with its text.
  void measure(Point2 a, Point2 b, double off_mm, const std::string& text);
  /// Another drawing put down with its lower left at `at`.
  void place(const Drawing& other, Point2 at);
};

/// SVG with real millimetres for width and height.
std::string to_svg(const Drawing& drawing);
/// DXF (R12), millimetres, one layer a pen; outlines as closed polylines.
/// R12 text by dxflib, which writes to files only: through a temporary one. Empty where that cannot be made.
std::string to_dxf(const Drawing& drawing);

}  // namespace palinform
