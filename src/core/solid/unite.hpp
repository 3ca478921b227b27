#pragma once
/// Exact unions of closed meshes (CGAL).
#include <optional>

#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Union of two closed, oriented meshes that each are free of self-intersections. Refused where the result would not be
/// a manifold or an input is not one.
Result<TriMesh> unite(const TriMesh& a, const TriMesh& b);
/// `a` without `b`; empty where nothing of it is left. Refused as a union is.
Result<TriMesh> subtract(const TriMesh& a, const TriMesh& b);

/// Unites the closed pieces of one mesh that overlap one another, largest first; pieces inside another with opposite
/// orientation (voids) are kept. Nothing where a piece is not closed by itself or the union fails.
std::optional<TriMesh> unite_pieces(const TriMesh& mesh, size_t* united);

/// Takes out faces around self-intersections and fills the gaps anew; genus may change. Nothing where that does not
/// end in a mesh free of them.
std::optional<TriMesh> without_self_intersections(const TriMesh& mesh);

}  // namespace palinform
