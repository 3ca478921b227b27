#pragma once
/// One half of a two-part block brushed on in coats, and backed in the same box with a paste or plaster (M5, M20).
#include <functional>
#include <string>
#include <vector>

#include "mould/jacket.hpp"
#include "solid/lattice.hpp"

namespace palinform {

/// Distances to the part alone, in a mould's frame: a wall or a coat that is dragged leaves them as they are.
struct PartDistances {
  Lattice field;
  size_t bytes() const { return 4 * field.value.size(); }
};
Result<PartDistances> part_distances(const TriMesh& mesh, const Transform& frame, double voxel_mm, double reach_mm,
                                     const Progress& progress = Progress::none());

struct BrushedHalf {
  std::vector<double> coats_mm3;  ///< each coat by itself, from master and bed outward
  double filler_mm3 = 0;          ///< with the last: hollows that would hold the backing, and loose keys
  double backing_mm3 = 0;         ///< what then fills the box
  double keys_mm3 = 0;            ///< that the bed stands over the parting surface, to be added to the other half
  double rubber_mm3() const;
  double voxel_mm = 0;
  TriMesh rubber, backing;  ///< as solids in the part's own frame
  TriMesh covered, beyond;  ///< all that the backing lies on, and all that it may fill, past the box's walls; closed
};

struct BrushedHalfAsked {
  bool upper = true;                               ///< side a
  std::vector<double> outer_mm;                    ///< each coat's outer offset, rising
  JacketRules rules = {};                          ///< of the loose keys
  std::function<double(double, double)> bed_mm{};  ///< height of the bed at a place; none: the parting surface's
  double voxel_mm = 0;                             ///< 0: by the box, skin_voxel_mm()
  /// While something is dragged: the part's distances, as far as coats and keys reach; the bed's are then told by its
  /// slope, and the voxel is theirs. Null: both are found out.
  const PartDistances* near = nullptr;
  bool to_write = true;  ///< with `covered` and `beyond`, which only written files need
};

/// The coats lie over the master's side and over the bed, up to the box's walls; the backing over everything that the
/// last of them hides from it along the pull, so that it draws off. Blocks kept out of the box hold none of it. Coats
/// by the share of each cell that lies under their outer offset: together with the backing they are the half's pour,
/// less what keys of the bed take of it.
/// Refused: no coats, coats as high as the box, over 80 million cells.
Result<BrushedHalf> brushed_half(const TriMesh& mesh, const Mould& mould, const BrushedHalfAsked& asked,
                                 const Progress& progress = Progress::none());

}  // namespace palinform
