#pragma once
/// How much rubber stands round the part, and the box that follows from it or is given.
#include <optional>

#include "base/drawing.hpp"
#include "base/vec.hpp"

namespace palinform {

struct Walls {
  double side_mm = 10, floor_mm = 10, top_mm = 10;
  /// A box's inside, long and wide, where one is given: the part stands in its middle, and the rubber fills it.
  /// Nothing: the box is made to the walls.
  std::optional<Point2> inside_mm = {};
  auto fields(auto&& f) const {
    return f(side_mm, floor_mm, top_mm, inside_mm ? inside_mm->x : 0.0, inside_mm ? inside_mm->y : 0.0);
  }
};

/// The rubber's box in the frame the part's box is given in, third axis up. Never smaller than part and walls: a box
/// that does not hold them is no box for this part (box_fits).
Box3 box_round(const Box3& part_mm, const Walls& walls);

/// Whether a box's plan takes the part with its walls, its long side along u or along v.
bool box_fits(const Box3& part_mm, const Walls& walls, const Point2& inside_mm);

}  // namespace palinform
