#pragma once
/// Several masters in one box, alike or different: where each stands, and all of them as one part.
#include <memory>
#include <vector>

#include "mesh/rays.hpp"
#include "mould/box.hpp"

namespace palinform {

/// What stands in a box so many times. `name`: of messages; the split's own pull is turned onto that of the first.
struct SetPart {
  const TriMesh* mesh = nullptr;
  const Split* split = nullptr;
  int masters = 1;
};

struct SetMaster {
  size_t part = 0;              ///< of the parts given
  Transform place;              ///< from its own frame into that of the first part
  uint32_t first_triangle = 0;  ///< of it in the set's mesh
};

/// The masters of one box as one body, with the split of each.
struct MasterSet {
  std::shared_ptr<const TriMesh> mesh;
  std::shared_ptr<const RayScene> rays;
  Split split;
  std::vector<SetMaster> masters;  ///< the first, of the first part, stands where it stood
};

/// Plan of one master, seen along its pull.
struct Footprint {
  double u_mm = 0, v_mm = 0;
};
/// Low corner of each in rows, `between_mm` apart, in the arrangement whose box takes least rubber: rows are filled
/// one after the other, the deepest first. In the order given; the same whatever the order.
std::vector<Point2> packed(const std::vector<Footprint>& prints, double between_mm);

/// Shifts of `count` masters in rows along the frame's first two axes, `between_mm` apart, in the arrangement whose box
/// takes least rubber; the first is nought.
std::vector<Vec3> master_places(const TriMesh& mesh, const Transform& frame, int count, double between_mm);

/// The mesh at each place.
TriMesh repeated(const TriMesh& mesh, const std::vector<Vec3>& places_mm);

/// All of it, in the first part's frame: each master's pull lies on that of the first, the middle of its line as high.
/// Refused where there is no room in memory's terms: more than five million triangles.
Result<MasterSet> master_set(const std::vector<SetPart>& parts, double between_mm);

}  // namespace palinform
