#pragma once
/// Solids taken out of solids, and solids grown, by level sets (OpenVDB): for what is printed or poured, where a
/// stated voxel is accuracy enough and a sound result matters more than exact edges.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// All of `blocks` together, less every mesh of `away`, each of those grown by `grow_mm`. All closed; what a block
/// encloses is filled, so a hollow inside it is to be among `away`; the result is closed, manifold, and true to about
/// half a voxel at edges. Pieces smaller than (3 voxels)³ are dropped. Refused where the voxel is not above nought or
/// there would be more than 400 million of them.
Result<TriMesh> carved(const std::vector<TriMesh>& blocks, const std::vector<TriMesh>& away, double grow_mm,
                       double voxel_mm, const Progress& progress = Progress::none());

/// The solid grown outward by `by_mm` (inward where negative).
Result<TriMesh> grown(const TriMesh& solid, double by_mm, double voxel_mm, const Progress& progress = Progress::none());

/// How much lies round a solid within each distance of it.
struct GrowthCurve {
  double step_mm = 0;
  std::vector<double> within_mm3;  ///< outside the solid, nearer than 0, step, 2 step, …
  /// Straight between two steps; nought within nought; what lies past its end is not known and told as its end.
  double at_mm3(double by_mm) const;
};

/// From one field of distances out to `reach_mm`, each cell by the share of it that lies nearer: flat faces to
/// rounding, curved ones to a voxel's square. Refused as carved() is.
Result<GrowthCurve> growth_curve(const TriMesh& solid, double reach_mm, double voxel_mm,
                                 const Progress& progress = Progress::none());

}  // namespace palinform
