#pragma once
/// A deep half poured in two stages: all over up to a height, then only round what stands higher, in a smaller frame.
#include "mould/box.hpp"

namespace palinform {

struct StagedPour {
  double height_mm = 0;  ///< of the first stage over the box's floor for that pour; 0: one stage does as well
  double saved_mm3 = 0;  ///< of rubber
  double frame_u_mm = 0, frame_v_mm = 0;  ///< inside of the second stage's frame
  std::vector<Box3> free_mm;              ///< round that frame, in the mould's frame: no rubber goes there
};

/// The height that saves most, with the wall kept over and beside the part everywhere. `upper`: pour a, else pour b.
StagedPour two_stage_pour(const Mould& mould, bool upper);

}  // namespace palinform
