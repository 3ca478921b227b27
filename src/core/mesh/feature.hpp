#pragma once
/// The face under the finger: grows a smooth patch from a picked triangle and says what it is (M4's detection, thin).
#include <optional>
#include <span>
#include <vector>

#include "mesh/exact_face.hpp"
#include "mesh/topology.hpp"

namespace palinform {

struct FaceFit {
  FaceKind kind = FaceKind::free;
  Vec3 point_mm;   ///< on the plane, or on the axis halfway along the patch
  Vec3 direction;  ///< outward normal of the plane, or the axis
  double diameter_mm = 0;
  double depth_mm = 0;    ///< extent of the patch along the axis
  double fit_rms_mm = 0;  ///< scatter of the patch's points about the fit
  bool exact = false;     ///< taken from the file's own statement, not from the triangles
  std::vector<uint32_t> triangles;
};

/// Grows from `seed` over edges bent by less than `crease_deg`, then fits by least squares: a plane where the normals
/// agree, else a cylinder where they lie on a circle (bore when they point inward). `fans` and `pairs` belong to
/// `mesh`.
FaceFit fit_face(const TriMesh& mesh, const EdgePairs& pairs, uint32_t seed, double crease_deg = 25);

/// `fit` with point, direction, diameter and depth of the exact face it lies on, where `exact` holds one of its kind
/// within 1° and 2 % of the diameter (0.1 mm of the plane); else `fit` itself.
FaceFit snapped(FaceFit fit, std::span<const ExactFace> exact);

}  // namespace palinform
