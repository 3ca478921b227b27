#pragma once
/// The slide of a pocket as a solid: the pocket filled, and straight out through rubber and wall to its grip (M4).
#include "split/pieces.hpp"
#include "split/pins.hpp"

namespace palinform {

/// Over the outline of the pocket's faces seen along its draw, hollows filled, from the faces to `rules.grip_mm`
/// outside of a block with `wall_mm` of rubber round the part (half as much again over and under it), less the part.
/// Edges are true to half of `voxel_mm`, faces to a fiftieth. `pocket`: its pull is the draw. Refused where the pocket
/// has no faces or is too large for that voxel.
Result<PinPlan> plan_pocket_slide(const TriMesh& mesh, const ExtraPiece& pocket, const Vec3& pull, double wall_mm,
                                  const std::string& name, const PinRules& rules, double voxel_mm,
                                  const Progress& progress = Progress::none());

}  // namespace palinform
