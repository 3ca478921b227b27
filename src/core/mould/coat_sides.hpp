#pragma once
/// Which side of a brushed skin takes how much of each coat (M20).
#include <cstdint>
#include <vector>

#include "mesh/rays.hpp"
#include "mould/box.hpp"

namespace palinform {

/// Places round the part, evenly spread: how far each lies off it, and on which side of the line. They stand on the
/// part and its line alone, so that coats of any thickness are counted on the same ones.
struct SkinSamples {
  std::vector<float> off_mm;
  std::vector<uint8_t> on_b;  ///< 1: on side b
  size_t bytes() const { return 5 * off_mm.size(); }
};

/// Points of a lattice in the mould's frame, some `cells` within `reach_mm` of the part outside it: beside the part
/// sided by the parting surface, on which the bed's flange lies, over the part by the nearest face.
SkinSamples skin_samples(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& mould,
                         double reach_mm, double cells = 60'000);

/// Side a's share of each coat, by volume between the part's offsets. `outer_mm`: each coat's outer offset, rising, the
/// last within the samples' reach. 1 where no sample lies in a coat.
std::vector<double> coat_shares_a(const SkinSamples& samples, const std::vector<double>& outer_mm);

}  // namespace palinform
