#pragma once
/// Several masters in one box: where each stands, and all of them as one part.
#include <memory>
#include <vector>

#include "mesh/rays.hpp"
#include "mould/box.hpp"

namespace palinform {

/// The masters of one box as one body, with the split of each.
struct MasterSet {
  std::shared_ptr<const TriMesh> mesh;
  std::shared_ptr<const RayScene> rays;
  Split split;
  std::vector<Vec3> places_mm;  ///< shift of each, part's frame; the first stands where it stood
};

/// Shifts of `count` masters in rows along the frame's first two axes, `between_mm` apart, in the arrangement whose box
/// takes least rubber; the first is nought.
std::vector<Vec3> master_places(const TriMesh& mesh, const Transform& frame, int count, double between_mm);

/// The mesh at each place.
TriMesh repeated(const TriMesh& mesh, const std::vector<Vec3>& places_mm);

/// All of it. Refused where there is no room in memory's terms: more than five million triangles.
Result<MasterSet> master_set(const TriMesh& mesh, const Split& split, int count, double between_mm);

}  // namespace palinform
