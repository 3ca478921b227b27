#pragma once
/// A mesh in outline, fast: for a first picture of what has a million triangles.
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Points that share a cell, `cells` of them along the longest side, are the first of them; triangles that then span
/// nothing go. Every point is one of the mesh's, so that the outline lies on its skin, but it need be neither closed
/// nor sound: it is to be looked at. O(n). The mesh itself where it has no more than `most` triangles.
TriMesh sketch_of(TriMesh mesh, size_t most, int cells);

}  // namespace palinform
