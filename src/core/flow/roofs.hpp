#pragma once
/// Every roof under which air would stay, from one sweep: what a vent at each would set free. With it the best places
/// for any number of vents are known at once, without sweeping again for each (M6, "greedy placement").
#include <vector>

#include "flow/descent.hpp"
#include "flow/regions.hpp"
#include "flow/sweep.hpp"

namespace palinform {

struct Roof {
  uint32_t apex = 0;        ///< cell, highest of the roof
  double volume_mm3 = 0;    ///< air that stays under it when no vent is under it
  double depth_mm = 0;      ///< from its saddle up to its apex
  bool under_vent = false;  ///< its air would run to one of the given openings
  uint32_t beyond = 0;      ///< apex of the larger roof its air would run to; its own where there is none
};

/// Memory kept between sweeps of the same cavity.
struct RoofMemory {
  Descent descent;
  Regions regions;
};

/// Where two regions meet, the one holding less air becomes a roof and the other goes on; the last one is the cavity's
/// first choice. Sorted by volume, largest first: venting the first k of them is best for k vents, since a roof's
/// volume is never more than that of the one beyond it. Roofs under `least_mm3` are left out.
std::vector<Roof> find_roofs(const Cavity& cavity, const Vec3& up, const std::vector<AirHole>& openings,
                             double least_mm3, RoofMemory& memory);

/// Air left when the first `vents` of `roofs` have a vent at their apex: the sum over roofs without one whose air would
/// have run to a vented one, or to an opening.
double left_with_vents_mm3(const std::vector<Roof>& roofs, size_t vents);

/// Cells and levels of openings, highest level first.
std::vector<VentCell> vent_cells(const Cavity& cavity, const Descent& descent, const Vec3& up,
                                 const std::vector<AirHole>& openings);

}  // namespace palinform
