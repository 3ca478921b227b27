#pragma once
/// The sheet to lay a clay bed by: the part from four sides at true scale with its line, heights over the board at
/// numbered stations, and the bevel that keeps the rubber's edge whole.
#include "base/drawing.hpp"
#include "split/witness.hpp"

namespace palinform {

struct ClayGuide {
  Drawing sheet;
  std::vector<Station> stations;
};

/// The board lies under the part's lowest place along the pull, side b down. O(edges · log faces) a view.
ClayGuide clay_guide(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays, const Split& split,
                     const std::string& job_name, int stations = 16);

}  // namespace palinform
