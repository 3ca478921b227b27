#pragma once
/// A closed mesh cut up by a cubic lattice: which piece of which face lies in which cell. What is counted per cell
/// (volumes, open faces, roof heights) is then counted on the surface itself, not on the lattice.
#include <cstdint>
#include <vector>

#include "base/progress.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Cells of edge `voxel_mm`; cell (i, j, k) reaches from origin + (i, j, k)·voxel to one voxel farther along each axis.
struct CellLattice {
  double voxel_mm = 1;
  Vec3 origin_mm;
  int nx = 0, ny = 0, nz = 0;

  uint64_t key(int i, int j, int k) const {
    return (static_cast<uint64_t>(k) * static_cast<uint64_t>(ny) + static_cast<uint64_t>(j)) *
               static_cast<uint64_t>(nx) +
           static_cast<uint64_t>(i);
  }
  int count(int axis) const { return axis == 0 ? nx : axis == 1 ? ny : nz; }
};

/// One face's piece in one cell: a convex polygon, counter-clockwise seen from outside.
struct Facet {
  uint64_t cell = 0;
  uint32_t face = 0;
  uint32_t first = 0;  ///< its corners are corner[first] … corner[first + count − 1] of the CutMesh
  uint32_t count = 0;
};

struct CutMesh {
  std::vector<Facet> facets;   ///< by cell, then face: at most one for each pair
  std::vector<Vec3> corner;    ///< in voxels from the lattice's origin
  std::vector<uint8_t> along;  ///< of each corner: what its edge to the next corner lies on; see below
  /// `along` 0, 1, 2: that edge of the face. Others: the cell's side `side(axis, high)`.
  static constexpr uint8_t side(int axis, bool high) { return static_cast<uint8_t>(3 + 2 * axis + (high ? 0 : 1)); }
  static bool on_side(uint8_t label) { return label >= 3; }
};

/// The mesh must lie inside the lattice. Neighbouring cells see the very same corners on the side they share.
/// O(pieces); deterministic on any number of threads. Empty when cancelled.
CutMesh cut_mesh(const TriMesh& mesh, const CellLattice& lattice, const Progress& progress = Progress::none());

}  // namespace palinform
