#pragma once
/// A drawn body as a closed mesh, with the planes and cylinders it states.
#include <vector>

#include "drawn/body.hpp"
#include "mesh/exact_face.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct BodyMesh {
  TriMesh mesh;
  std::vector<ExactFace> exact;
};

/// In its place. Round faces lie within `off_mm` of their chords, and enclose what the true ones do. Refused as
/// check_body() refuses it, and where an outline or profile crosses itself or a rounding has no room.
Result<BodyMesh> body_mesh(const DrawnBody& body, double off_mm);

/// How the body's own frame lies: x is the world's where the axis is upright, else level; a lying bar's height is up.
Transform body_frame(const DrawnBody& body);

/// Chords' error for a body of that size: a 4000th of it, within 0.005 and 0.05 mm.
double chord_error_mm(double size_mm);
/// Its largest measure, about.
double rough_size_mm(const DrawnBody& body);

}  // namespace palinform
