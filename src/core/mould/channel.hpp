#pragma once
/// A gate with its sprue, or a vent, as something to be cut into the rubber: a round channel along a path.
#include <string>
#include <vector>

#include "mesh/tri_mesh.hpp"

namespace palinform {

struct Channel {
  std::string name;  ///< "gate", "vent 1"
  bool gate = false;
  std::vector<Vec3> path_mm;  ///< from just inside the part's wall to the open air, part's frame; at least two points
  double diameter_mm = 2;
  double cup_mm = 0;       ///< diameter of the funnel at its open end; 0: none
  double cup_deep_mm = 0;  ///< of the funnel
  bool clear = true;       ///< it meets the part nowhere but at its foot
  double length_mm() const;
  /// Channel and funnel, joints counted once, as if all of it lay outside the part.
  double volume_mm3() const;
};

/// Closed bodies that together are the channel: rods, balls at the bends, the funnel. They overlap.
std::vector<TriMesh> channel_bodies(const Channel& channel);

}  // namespace palinform
