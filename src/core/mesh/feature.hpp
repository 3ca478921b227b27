#pragma once
/// The face under the finger: grows a smooth patch from a picked triangle and says what it is (M4's detection, thin).
#include <optional>
#include <vector>

#include "mesh/topology.hpp"

namespace palinform {

enum class FaceKind { plane, bore, boss, free };

struct FaceFit {
  FaceKind kind = FaceKind::free;
  Vec3 point_mm;   ///< on the plane, or on the axis halfway along the patch
  Vec3 direction;  ///< outward normal of the plane, or the axis
  double diameter_mm = 0;
  double depth_mm = 0;    ///< extent of the patch along the axis
  double fit_rms_mm = 0;  ///< scatter of the patch's points about the fit
  std::vector<uint32_t> triangles;
};

/// Grows from `seed` over edges bent by less than `crease_deg`, then fits by least squares: a plane where the normals
/// agree, else a cylinder where they lie on a circle (bore when they point inward). `fans` and `pairs` belong to
/// `mesh`.
FaceFit fit_face(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, double crease_deg = 25);

}  // namespace palinform
