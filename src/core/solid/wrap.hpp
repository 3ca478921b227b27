#pragma once
/// A sound skin around anything, by level sets (OpenVDB): where exact repair fails. It costs accuracy, and says how
/// much.
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct WrapOptions {
  double voxel_mm = 0;    ///< 0: the largest extent / 250
  double volume_mm3 = 0;  ///< about what the solid should enclose; tells a leak through a hole. 0: unknown
};

struct Wrapped {
  TriMesh mesh;
  double voxel_mm = 0;
  double bridged_mm = 0;  ///< gaps and passages narrower than this may have closed
  double off_p95_mm = 0;  ///< 95 of 100 points of the new skin lie nearer than this to the old faces
  double off_max_mm = 0;  ///< the farthest (over a bridged hole it is the bridge)
};

/// Offsets the faces outward by half the bridged width, keeps the outer skins, and offsets back. The width is doubled
/// until the solid no longer leaks out through its holes. Voids inside are filled. Refused where no width up to a
/// twentieth of the extent closes it.
Result<Wrapped> wrap(const TriMesh& mesh, const WrapOptions& options = {}, const Progress& progress = Progress::none());

}  // namespace palinform
