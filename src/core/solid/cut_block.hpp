#pragma once
/// A block cut in two by a surface over it, parts taken out: how the halves of a mould become solids (M5). The block is
/// written straight into a level set, which is ten times quicker than meshing it first and voxelizing the mesh.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"
#include "solid/height_field.hpp"
#include "solid/lattice.hpp"

namespace palinform {

/// What a piece takes up: below nought in its field. `into`: from the block's frame into the field's. Beyond the field
/// there is nothing of it.
struct PieceSpace {
  Lattice field;
  Transform into;
};

struct BlockPieces {
  TriMesh upper, lower;         ///< over and under the surface
  std::vector<TriMesh> pieces;  ///< in the order given; empty meshes where nothing is left of one
};

/// `box_mm` and the meshes stand in the surface's frame. `away` is taken out of everything; each of `pieces` is cut out
/// of both halves and given as a solid of its own, as far as it lies in the box and none before it took it. Upper and
/// lower share one field of distances, so they meet on the surface without a gap. Edges are true to half a voxel;
/// upright walls of the surface to one. Refused where the voxel is not above nought or there would be more than 400
/// million of them.
Result<BlockPieces> cut_block(const Box3& box_mm, const HeightField& surface, const std::vector<TriMesh>& away,
                              const std::vector<PieceSpace>& pieces, double voxel_mm,
                              const Progress& progress = Progress::none());

}  // namespace palinform
