#pragma once
/// A scalar on a regular lattice, for shapes that are put together column by column: distances in, surface out.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Value (i, j, k) stands at (i0 + i, j0 + j, k0 + k)·voxel_mm; i fastest.
struct Lattice {
  double voxel_mm = 1;
  int i0 = 0, j0 = 0, k0 = 0, ni = 0, nj = 0, nk = 0;
  std::vector<float> value;
  size_t index(int i, int j, int k) const {
    return (static_cast<size_t>(k) * static_cast<size_t>(nj) + static_cast<size_t>(j)) * static_cast<size_t>(ni) +
           static_cast<size_t>(i);
  }
  float& at(int i, int j, int k) { return value[index(i, j, k)]; }
  float at(int i, int j, int k) const { return value[index(i, j, k)]; }
  Vec3 place_mm(int i, int j, int k) const {
    return Vec3{static_cast<double>(i0 + i), static_cast<double>(j0 + j), static_cast<double>(k0 + k)} * voxel_mm;
  }
};

/// A lattice over a box and one voxel beyond, all `fill`. Refused over 80 million values.
Result<Lattice> lattice_over(const Box3& box_mm, double voxel_mm, float fill);

/// Signed distance to a closed mesh, negative inside, cut off at ±`band_mm`. True to a fiftieth of a voxel within a
/// voxel of the skin, to a third of one beyond. In wide bands (over 4½ voxels, the part within the box) the skin's
/// nearest points are handed on from value to value.
Result<Lattice> distance_lattice(const TriMesh& mesh, const Box3& box_mm, double voxel_mm, double band_mm,
                                 const Progress& progress = Progress::none());

/// Where the value is nought, as a sound mesh about the negative side; what lies at the lattice's border is taken as
/// outside. Specks under (3 voxels)³ beside it are dropped.
Result<TriMesh> lattice_surface(const Lattice& field, const Progress& progress = Progress::none());

}  // namespace palinform
