#pragma once
/// Solids taken out of solids, and solids grown, by level sets (OpenVDB): for what is printed or poured, where a
/// stated voxel is accuracy enough and a sound result matters more than exact edges.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// All of `blocks` together, less every mesh of `away`, each of those grown by `grow_mm`. All closed; the result is
/// closed, manifold, and true to about half a voxel at edges. Pieces smaller than (3 voxels)³ are dropped. Refused
/// where the voxel is not above nought or there would be more than 400 million of them.
Result<TriMesh> carved(const std::vector<TriMesh>& blocks, const std::vector<TriMesh>& away, double grow_mm,
                       double voxel_mm, const Progress& progress = Progress::none());

/// The solid grown outward by `by_mm` (inward where negative).
Result<TriMesh> grown(const TriMesh& solid, double by_mm, double voxel_mm, const Progress& progress = Progress::none());

/// Volumes of the solid grown by each of `by_mm`, from one field of distances.
Result<std::vector<double>> grown_volumes_mm3(const TriMesh& solid, const std::vector<double>& by_mm, double voxel_mm,
                                              const Progress& progress = Progress::none());

}  // namespace palinform
