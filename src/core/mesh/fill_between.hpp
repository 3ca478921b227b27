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

/// What fills a passage between its two cuts, as a solid of its own.
struct PassageBody {
  TriMesh mesh;  ///< closed
  std::vector<Vec3> from_rim_mm, to_rim_mm;
  /// Of its wall, what would hold it back were it pushed along the way, and against it.
  double leans_forward_mm2 = 0, leans_back_mm2 = 0;
};

/// `along`: unit, from the first cut to the second. Past each cut it goes on straight by so many mm, its outline there
/// kept, to an end square to the way; nought: the cut itself is its end, with the dimple that the fill names (below
/// nought a tip that stands out). Refused as filled_between().
Result<PassageBody> body_between(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                 const FillBetween& between, const Vec3& along, double past_from_mm, double past_to_mm);

}  // namespace palinform
