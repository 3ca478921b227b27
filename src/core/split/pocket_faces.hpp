#pragma once
/// Which faces of a part a slide forms, and the way it is best drawn (M4).
#include <vector>

#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "split/pocket_slide.hpp"

namespace palinform {

struct PocketFaces {
  std::vector<uint32_t> triangles;  ///< that the slide forms, in order; empty: there is no pocket at that place
  double area_mm2 = 0;              ///< of them
  double held_mm2 = 0;              ///< of the pocket besides, which does not leave along the draw
  double parallel_mm2 = 0;          ///< of those it forms, what stands within half a degree of the draw
  double deep_mm = 0;               ///< the faces' extent along the draw
  Vec3 centroid_mm;                 ///< of the area it forms
};

/// The pocket: the faces round `slide.at_mm` that hang together and leave neither along `slide.pull` nor against it,
/// looked at from their centres. Of it the slide forms what leaves along its draw. A place that lies beside the pocket
/// by less than a fiftieth of the part is taken to it. O(faces of the pocket · log faces).
PocketFaces pocket_faces(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const PocketSlide& slide);

/// The way along which most of the pocket's faces leave; of nearly equal ones the shortest draw, square to the pull.
Vec3 best_draw(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const PocketSlide& slide);

/// A draw by two angles in degrees: turned about the pull from where the part's +x (of a pull along x its +y) lies
/// across it, and raised from there toward the pull.
struct DrawAngles {
  double turned_deg = 0, raised_deg = 0;
};
Vec3 draw_of(const DrawAngles& angles, const Vec3& pull);
DrawAngles angles_of(const Vec3& draw, const Vec3& pull);

}  // namespace palinform
