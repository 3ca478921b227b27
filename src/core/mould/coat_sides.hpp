#pragma once
/// Which side of a brushed skin takes how much of each coat (M20).
#include <vector>

#include "mesh/rays.hpp"
#include "mould/box.hpp"

namespace palinform {

/// Side a's share of each coat, by volume between the part's offsets. `outer_mm`: each coat's outer offset, rising.
/// Points of a lattice in the mould's frame, some `cells` in the last coat: beside the part sided by the parting
/// surface, on which the bed's flange lies, over the part by the nearest face.
std::vector<double> coat_shares_a(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& mould,
                                  const std::vector<double>& outer_mm, double cells = 60'000);

}  // namespace palinform
