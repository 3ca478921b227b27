#pragma once
/// Who is next to whom: half-edge pairing of a triangle mesh, corner fans, components.
#include <cstdint>
#include <vector>

#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Half-edge h = 3·t + k runs from corner k of triangle t to its next corner.
struct EdgePairs {
  static constexpr uint32_t open = 0xFFFFFFFFu;          ///< no face on the other side
  static constexpr uint32_t non_manifold = 0xFFFFFFFEu;  ///< more than two faces meet
  std::vector<uint32_t> twin;     ///< per half-edge: the other side's half-edge, or one of the two marks above
  std::vector<bool> same_way;     ///< per half-edge with a twin: both run the same way, so one face is turned over
  size_t open_edges = 0;          ///< undirected
  size_t non_manifold_edges = 0;  ///< undirected
  size_t turned_pairs = 0;        ///< undirected edges whose two faces disagree on which side is out

  bool paired(uint32_t half_edge) const { return twin[half_edge] < non_manifold; }
};

inline uint32_t next_half_edge(uint32_t h) { return h % 3 == 2 ? h - 2 : h + 1; }
inline uint32_t edge_from(const TriMesh& m, uint32_t h) { return m.triangles[h / 3][h % 3]; }
inline uint32_t edge_to(const TriMesh& m, uint32_t h) { return m.triangles[h / 3][(h + 1) % 3]; }

/// Pairs half-edges by their end points. O(n log n).
EdgePairs pair_edges(const TriMesh& mesh);

/// Corners (3·t + k) at each point: those of point p are corner[start[p]] … corner[start[p + 1] − 1].
struct Fans {
  std::vector<uint32_t> start, corner;
};
Fans point_fans(const TriMesh& mesh);

/// Connected pieces across shared edges: a piece number per triangle, numbered by their first triangle.
struct Components {
  std::vector<uint32_t> of_triangle;
  size_t count = 0;
};
Components components(const TriMesh& mesh, const EdgePairs& pairs);
/// Signed volume of each piece (divergence theorem, about the box's centre); a face in `turned`, where that is given,
/// counts as turned over.
std::vector<double> component_volumes_mm3(const TriMesh& mesh, const Components& parts,
                                          const std::vector<bool>& turned = {});

/// Chains of open half-edges, each closed loop in the order its edges run. Chains that do not close are left out.
std::vector<std::vector<uint32_t>> open_loops(const TriMesh& mesh, const EdgePairs& pairs);

}  // namespace palinform
