#pragma once
/// Is the mesh the skin of a solid? (M1) A mesh is sound when closed, oriented, manifold and free of
/// self-intersections.
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct Soundness {
  size_t components = 0;
  size_t open_edges = 0;
  size_t non_manifold_edges = 0;
  size_t self_intersections = 0;  ///< pairs of triangles that cut or overlap one another
  size_t degenerate_faces = 0;    ///< repeated corner, or no area
  size_t flipped_components = 0;  ///< pieces whose faces look the wrong way, in whole or in part
  bool operator==(const Soundness&) const = default;
  static void fields(auto& s, auto&& f) {
    f("components", s.components);
    f("open_edges", s.open_edges);
    f("non_manifold_edges", s.non_manifold_edges);
    f("self_intersections", s.self_intersections);
    f("degenerate_faces", s.degenerate_faces);
    f("flipped_components", s.flipped_components);
  }
  bool sound() const {
    return open_edges + non_manifold_edges + self_intersections + degenerate_faces + flipped_components == 0;
  }
};

/// Full report. `with_intersections` false leaves that slowest part out (the count stays 0).
Result<Soundness> check_soundness(const TriMesh& mesh, bool with_intersections = true,
                                  const Progress& progress = Progress::none());

/// Pairs of triangles (first < second, ordered) that intersect other than along a shared edge or at a shared corner.
/// Exact predicates (CGAL) after a box sweep. At most `most` pairs are
/// returned; the count is full, but for meshes with twenty million pairs of boxes that touch, where it stops.
struct Intersections {
  size_t count = 0;
  std::vector<std::pair<uint32_t, uint32_t>> pairs;
};
Result<Intersections> self_intersections(const TriMesh& mesh, size_t most = 1000,
                                         const Progress& progress = Progress::none());

/// Faces with a repeated corner or no area.
bool is_degenerate(const TriMesh& mesh, size_t triangle);

}  // namespace palinform
