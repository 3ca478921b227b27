#pragma once
/// Simple repair of a mesh into a sound skin (M1): merge, drop, stitch, orient, fill. Every change is counted.
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/topology.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct RepairOptions {
  double merge_mm = 0;               ///< points closer than this become one; 0: one part in 10⁶ of the largest extent
  size_t largest_hole_edges = 2000;  ///< holes with more edges are left open
};

struct RepairCount {
  size_t merged_points = 0;
  size_t removed_faces = 0;   ///< degenerate or doubled
  size_t stitched_edges = 0;  ///< open edges that found their partner
  size_t turned_faces = 0;
  size_t filled_holes = 0;
  size_t added_faces = 0;
  size_t holes_left = 0;
  double volume_change_mm3 = 0;  ///< after − before, both by the divergence theorem
  static void fields(auto& s, auto&& f) {
    f("merged_points", s.merged_points);
    f("removed_faces", s.removed_faces);
    f("stitched_edges", s.stitched_edges);
    f("turned_faces", s.turned_faces);
    f("filled_holes", s.filled_holes);
    f("added_faces", s.added_faces);
    f("holes_left", s.holes_left);
    f("volume_change_mm3", s.volume_change_mm3);
  }
};

struct Repaired {
  TriMesh mesh;
  RepairCount count;
};

/// Runs the five steps in that order. Does not resolve self-intersections; check the result with check_soundness.
Result<Repaired> repair(const TriMesh& mesh, const RepairOptions& options = {},
                        const Progress& progress = Progress::none());

/// Per face: does it look the wrong way? Within a piece the majority by area decides which faces agree; the piece as a
/// whole must then enclose positive volume, or negative where it lies inside another piece (a cavity).
Result<std::vector<bool>> turned_faces(const TriMesh& mesh, const EdgePairs& pairs, const Components& parts,
                                       const Progress& progress = Progress::none());

/// Triangles that close the polygon `loop` (Liepa's minimal-weight filling, CGAL), as indices into `loop`.
std::vector<Triangle> fill_loop(const std::vector<Vec3>& loop);

}  // namespace palinform
