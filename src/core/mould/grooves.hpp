#pragma once
/// Narrow places of an open mould that a stream does not reach: filled by syringe before the rest.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct Groove {
  double volume_mm3 = 0;
  double deep_mm = 0;  ///< its lowest place under the open face
  Vec3 at_mm;          ///< over that place, on the open face; part's frame
};

/// What all of them hold, ml.
double grooves_ml(const std::vector<Groove>& grooves);

/// Places of the part that are narrower in plan than `narrow_mm` at their height and at least that deep below where
/// they open, seen along the outward normal of its open face: what an opening by a disc of that width takes away,
/// layer by layer. Bits in upright corners do not count. Deepest first.
Result<std::vector<Groove>> grooves_of(const TriMesh& mesh, const Vec3& flat_normal, double narrow_mm,
                                       const Progress& progress = Progress::none());

}  // namespace palinform
