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

/// The places by themselves, whatever the line: in the frame they were made for, with the nearest face of each.
struct SkinPlaces {
  std::vector<Vec3> at_mm;
  std::vector<float> off_mm;
  std::vector<uint32_t> triangle;
  size_t bytes() const { return 32 * off_mm.size(); }
};
/// Points of a lattice in that frame, some `cells` within `reach_mm` of the part outside it. O(cells · log triangles).
SkinPlaces skin_places(const TriMesh& mesh, const RayScene& rays, const Transform& frame, double reach_mm,
                       double cells);
/// Beside the part sided by the parting surface, on which the bed's flange lies, over the part by the nearest face. The
/// places are of the mould's frame.
SkinSamples sided(const SkinPlaces& places, const Split& split, const Mould& mould);

/// Both at once.
SkinSamples skin_samples(const TriMesh& mesh, const RayScene& rays, const Split& split, const Mould& mould,
                         double reach_mm, double cells = 60'000);

/// Side a's share of each coat, by volume between the part's offsets. `outer_mm`: each coat's outer offset, rising, the
/// last within the samples' reach. 1 where no sample lies in a coat.
std::vector<double> coat_shares_a(const SkinSamples& samples, const std::vector<double>& outer_mm);

}  // namespace palinform
