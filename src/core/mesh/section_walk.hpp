#pragma once
/// Where a plane cuts a mesh, one closed cut at a time: by walking from face to face, so that the cost is that of the
/// cut and not of the mesh. The same walk carves the cut into the mesh.
#include <optional>
#include <vector>

#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform {

struct CutPlane {
  Vec3 point_mm, normal;  ///< unit
  double lift_mm(const Vec3& p) const { return dot(p - point_mm, normal); }
};

/// One closed cut. Seen against the normal it runs counter-clockwise round a hollow, clockwise round a solid.
struct SectionLoop {
  std::vector<uint32_t> half_edges;  ///< by which each face is left, in order; from above the plane to below it
  std::vector<Vec3> points_mm;       ///< where those edges meet the plane
  double area_mm2() const { return 0.5 * length(doubled_mm2()); }
  /// Twice the area along the plane's normal: with it round a hollow, against it round a solid.
  Vec3 doubled_mm2() const;
  double length_mm() const;
  Vec3 centroid_mm() const;  ///< of the enclosed area
};

/// The cut that runs over `triangle`; nothing where the plane misses that face or the mesh is open along the way.
std::optional<SectionLoop> walk_section(const TriMesh& mesh, const EdgePairs& pairs, uint32_t triangle,
                                        const CutPlane& plane);

/// The cut round the hollow that the plane's point lies in; nothing where that point is in the solid, or the hollow
/// runs out into the open in this plane.
std::optional<SectionLoop> section_round(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                         const CutPlane& plane);

/// Splits the faces along the cut; `mesh` keeps its shape. The corners put in, in the order of the loop.
std::vector<uint32_t> carve_section(TriMesh& mesh, const EdgePairs& pairs, const SectionLoop& loop);

/// How often a closed polygon in the plane runs round a point of it.
int winding(const std::vector<Vec3>& polygon_mm, const CutPlane& plane);

/// The middle and radius of the largest circle inside the polygon, to 1 % of it.
struct Inscribed {
  Vec3 centre_mm;
  double radius_mm = 0;
};
Inscribed inscribed_circle(const std::vector<Vec3>& polygon_mm, const Vec3& normal);

}  // namespace palinform
