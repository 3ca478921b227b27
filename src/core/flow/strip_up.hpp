#pragma once
/// Which way up a part hangs from its bar (M6).
#include "mesh/rays.hpp"

namespace palinform {

/// The way up in the rubber pour that keeps least air when resin comes in by the nub, then the other way up: the part's
/// axes and diagonals in the frame of `pull`, and the pull itself, which wins where they are equal. A sweep each.
Result<Vec3> strip_up(const TriMesh& mesh, const RayScene& rays, const Vec3& pull,
                      const Progress& progress = Progress::none());

}  // namespace palinform
