#pragma once
/// A part as lines on paper: true edges and outline seen from one side, what is hidden told apart. For sheets at true
/// scale, where a shaded picture cannot be measured.
#include <vector>

#include "base/drawing.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

namespace palinform {

/// Where a drawing looks from: rows are right, up and toward the eye.
Transform eye_frame(const Vec3& toward_eye, const Vec3& up);

struct LineViewOptions {
  double sharp_deg = 30;      ///< edges bent by more are drawn
  double step_share = 0.01;   ///< visibility is tried every this share of the part's diagonal
  double shortest_share = 0;  ///< edges shorter than this share of the diagonal are left out (scans)
};

/// Visible edges and outline as strokes (Pen::edge), in the frame's first two coordinates, mm.
std::vector<Stroke> edges_seen(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const Transform& frame, const LineViewOptions& options = {});

/// A line on the surface as strokes: `pen` where it is seen, Pen::hidden where the part stands before it.
std::vector<Stroke> line_seen(const RayScene& rays, const Transform& frame, const std::vector<Vec3>& points,
                              bool closed, Pen pen);

}  // namespace palinform
