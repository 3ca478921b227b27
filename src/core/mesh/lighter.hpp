#pragma once
/// A copy of a mesh with fewer triangles, for what need not be worked out on all of them (meshoptimizer).
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// At most about `most` triangles where the surface then stays within `off_mm`; more where it would not. Closed meshes
/// stay closed. The mesh itself where it is light enough.
TriMesh lighter(const TriMesh& mesh, size_t most, double off_mm);

}  // namespace palinform
