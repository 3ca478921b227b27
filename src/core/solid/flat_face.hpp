#pragma once
/// A flat face with holes as triangles (constrained Delaunay, CGAL).
#include <vector>

#include "base/drawing.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Closed loops in one plane, each once round without its first point repeated; which of them are holes follows from
/// how they lie in one another. Triangles index the loops' points in the order given, counter-clockwise. Refused where
/// loops cross or touch themselves or each other.
Result<std::vector<Triangle>> triangulated(const std::vector<std::vector<Point2>>& loops);

}  // namespace palinform
