#pragma once
/// The solid of an insert that is given by its measures.
#include "cast_in/insert.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Closed, where it lies in the part's frame. Round ones have 96 sides and their true volume. With `plugged` its bore
/// is filled, as by a pin of the mould. Empty for a mesh, and for a bore that leaves no wall.
TriMesh insert_body(const Insert& insert, bool plugged);

}  // namespace palinform
