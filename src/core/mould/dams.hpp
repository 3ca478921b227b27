#pragma once
/// Dams keep rubber out of a box's empty corners (trade.md, step 5).
#include "mould/box.hpp"

namespace palinform {

/// Rubber that lies farther from the part than the wall, seen along the pull, and could be dammed off; mm³. Corners
/// with less than `least_mm2` of plan are not worth a dam.
struct DamSaving {
  double rubber_mm3 = 0;
  int corners = 0;
};
DamSaving dam_saving(const Mould& mould, double least_mm2 = 150);

}  // namespace palinform
