#pragma once
/// A section through the closed mould at true scale: part, parting surface, box, walls and fill heights (M5).
#include "base/drawing.hpp"
#include "mould/keys.hpp"

namespace palinform {

/// Cut through the middle of the box along its longer side, seen square to the pull. The part's outline is cut exactly;
/// the parting surface is the mould's own grid.
Drawing section_drawing(const TriMesh& mesh, const Mould& mould, const KeyPlan& keys, const std::string& job_name);

/// Where the plane `dot(p, n) = at` cuts a mesh: segments in the plane's frame (rows u, w, n), joined end to end where
/// they meet.
std::vector<std::vector<Point2>> plane_cut(const TriMesh& mesh, const Transform& frame, double at_mm);

}  // namespace palinform
