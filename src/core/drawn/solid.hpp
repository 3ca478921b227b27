#pragma once
/// An original drawn from measures: bodies put on and cut away, one after the other, into one closed mesh (M30).
#include "base/progress.hpp"
#include "drawn/body_mesh.hpp"
#include "drawn/tracing.hpp"

namespace palinform {

struct Drawn {
  std::vector<DrawnBody> bodies;  ///< after what was traced
  Tracing tracing;
  double u_mm = 0.1;  ///< standard uncertainty of one measure of the bodies: a worn part, a caliper held by hand
  bool operator==(const Drawn&) const = default;
  static void fields(auto& s, auto&& f) {
    f("bodies", s.bodies, AtMost{400});
    f("tracing", s.tracing);
    f("u_mm", s.u_mm, Within{0, 100});
  }
  /// Something to make a solid of.
  bool complete() const;
};

struct DrawnSolid {
  TriMesh mesh;
  std::vector<ExactFace> exact;  ///< planes and cylinders as they were typed
  double u_mm = 0;               ///< of a measure across the whole
  double u_volume_mm3 = 0;       ///< of its volume, every face out by `u_mm` / 2 at once
  size_t apart = 1;              ///< pieces that do not touch
};

/// Adds unite, cuts take away, in their order: exactly, on the triangles. Refused where a body is (body_mesh), where
/// the first is a cut, a cut leaves nothing, or bodies meet in an edge or a point only, in words that name the body.
Result<DrawnSolid> draw_solid(const Drawn& drawn, const Progress& progress = Progress::none());

/// All bodies in order: what was traced, then the typed ones.
Result<std::vector<DrawnBody>> all_bodies(const Drawn& drawn, double* u_mm = nullptr);

}  // namespace palinform
