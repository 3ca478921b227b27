#pragma once
/// In which order bodies that lie against each other come apart, each straight along its own way (M4).
#include <string>
#include <vector>

#include "base/progress.hpp"
#include "mesh/rays.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

struct ComesOut {
  std::string name;
  const TriMesh* mesh = nullptr;
  const RayScene* rays = nullptr;  ///< of it
  Vec3 way;                        ///< unit
  int turn = 0;                    ///< of those that are free the lowest goes first
};

struct OutOrder {
  std::vector<size_t> order;  ///< all of them
  struct Stuck {
    size_t who = 0, by = 0;
    Vec3 at_mm;  ///< on the one that is stuck, where it would run into the other
  };
  std::vector<Stuck> stuck;  ///< those that nothing frees, with what is most in their way
};

/// Each is swept along its way past what is still there: rays from its faces that look that way. Faces that lie closer
/// than `slack_mm`, or run along the way to within 8°, touch and do not hold; so does a share of under half a per cent
/// of what looks that way. O(bodies² · faces looked at).
OutOrder out_order(const std::vector<ComesOut>& bodies, double slack_mm, const Progress& progress = Progress::none());

}  // namespace palinform
