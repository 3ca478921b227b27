#pragma once
/// Fewer triangles for the same shape.
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Edge collapse down to about `faces` triangles (Lindstrom–Turk cost, CGAL). Stays closed and manifold; collapses
/// that would turn a face over are refused. `mesh` must be manifold and oriented.
TriMesh simplified(const TriMesh& mesh, size_t faces);

}  // namespace palinform
