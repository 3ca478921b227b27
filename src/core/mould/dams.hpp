#pragma once
/// Dams keep rubber out of a box's empty corners (trade.md, step 5).
#include "mould/box.hpp"

namespace palinform {

/// What upright blocks in the corners of the box would save: each the largest rectangle of the plan that reaches into
/// its corner and stays the wall away from the part, whole millimetres, as high as the box. Corners with less than
/// `least_mm2` of plan are not worth one.
struct DamSaving {
  double rubber_mm3 = 0;
  int corners = 0;
  std::vector<Box3> blocks_mm;  ///< in the mould's frame
};
DamSaving dam_saving(const Mould& mould, double least_mm2 = 150);

}  // namespace palinform
