#pragma once
/// Exact minimum cut over the faces of a mesh (Boykov–Kolmogorov: two growing trees, augmented where they meet).
/// The mesh's own half-edges are the arcs, so that no graph has to be built.
#include <cstdint>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/topology.hpp"

namespace palinform {

struct CutProblem {
  std::vector<float> cost_a, cost_b;  ///< per face: price of giving it to a, to b; ≥ 0
  std::vector<float> seam;            ///< per half-edge: price of a line along it, the same for both halves; ≥ 0
};

struct CutSolution {
  std::vector<uint8_t> label;  ///< per face: 0 a, 1 b
  double price = 0;            ///< of the cut: the least there is
};

/// Labels with the least total price. Where several cuts cost the same, the one with most faces on side a. Cancel is
/// heard every few thousand steps.
Result<CutSolution> cheapest_cut(const EdgePairs& pairs, const CutProblem& problem,
                                 const Progress& progress = Progress::none());

}  // namespace palinform
