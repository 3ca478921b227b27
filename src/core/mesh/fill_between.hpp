#pragma once
/// Closes a passage of a mesh between two cuts across it, exactly: the wall between them is taken out, each cut is
/// capped (M4).
#include <vector>

#include "mesh/section_walk.hpp"

namespace palinform {

struct FillBetween {
  CutPlane from, to;  ///< across the passage, their points in it; both normals look from the first to the second
  double dimple_from_mm = 0;  ///< across a 90° dimple in the middle of that cap, to start a drill in; 0: none
  double dimple_to_mm = 0;
  std::string name;  ///< for messages
};

/// All at once, since passages that cross one another are closed only together. Refused, in words, where a cut does not
/// close round its passage, or what lies between the cuts opens elsewhere too. A hollow that no way leads into any more
/// is filled as well.
Result<TriMesh> filled_between(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const std::vector<FillBetween>& fills);

}  // namespace palinform
