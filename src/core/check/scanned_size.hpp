#pragma once
/// A size measured again in a scan that lies on its master (M27).
#include <span>
#include <string>
#include <vector>

#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "original/size.hpp"

namespace palinform {

struct ScannedSize {
  std::string size_id;
  double mm = 0, u_mm = 0;     ///< standard uncertainty: see sizes_from_scan()
  size_t points = 0;           ///< places looked at
  bool refitted = false;       ///< a cylinder was fitted to the whole wall
  double out_of_round_mm = 0;  ///< of a refitted one: from the lowest tenth to the highest
};

/// What is measured against.
struct ScanMaster {
  const TriMesh& mesh;
  const EdgePairs& pairs;
  const RayScene& rays;
};

/// Each size whose line ends on the master's skin (within 0.5 mm).
/// A bore, a boss and a radius whose ends lie on a cylinder of the master are fitted again: rays from its axis meet the
/// scan's wall on rings over its depth; radius, place and tilt by least squares, what lies over three sigmas off left
/// out once. How the scan was laid does not matter to them; u is the diameter's by the scatter, four neighbours
/// counting as one.
/// Any other: its length on the master, and how far the scan's skin lies off along the line at both ends, by rays
/// beside it within `reach_mm`; the middle half of them counts. u: the scatter over both ends, and half the fit's.
/// Sizes that the scan does not show are left out. `scan`: as it lies on the master.
std::vector<ScannedSize> sizes_from_scan(std::span<const MeasuredSize> sizes, const ScanMaster& master,
                                         const RayScene& scan, double fit_rms_mm, double reach_mm);

}  // namespace palinform
