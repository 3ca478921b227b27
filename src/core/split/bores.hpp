#pragma once
/// Bores of a part: round holes with their axis, diameter and depth, blind or through (M4).
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/feature.hpp"
#include "mesh/rays.hpp"

namespace palinform {

struct Bore {
  Vec3 axis, centroid_mm;
  double diameter_mm = 0, fit_rms_mm = 0, depth_mm = 0;
  bool through = false;
  std::vector<uint32_t> triangles;  ///< of its wall
};

/// Seeds are faces that see the opposite wall square across a gap; each is grown and fitted (feature.hpp). Largest
/// first. `exact`: faces a file states, which then give diameter and axis.
Result<std::vector<Bore>> find_bores(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                     std::span<const ExactFace> exact = {},
                                     const Progress& progress = Progress::none());

/// The larger flat faces' outward normals, largest area first, at most `most`; parallel ones once.
std::vector<Vec3> flat_normals(const TriMesh& mesh, size_t most);

}  // namespace palinform
