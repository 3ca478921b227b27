#pragma once
/// The order in which a falling level uncovers the cells of a cavity: one pass of counting, no comparisons. Heights are
/// cut into up to 2^17 equal levels over the cavity's own extent (about 1/500 of a voxel for a grid of 250 cells), a
/// whole number of them to a cell, so that every comparison is between whole numbers and the same on every machine.
/// A cell is uncovered when the level falls under its highest place; of a cut cell that is its own, not its cube's.
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

#include "base/wide_vector.hpp"
#include "flow/cavity.hpp"

namespace palinform {

struct Descent {
  WideVector<uint32_t> order;  ///< cells, highest first; of equals the lower number first
  WideVector<uint32_t> level;  ///< of each cell's highest place
  struct Cut {
    float reach = 0;  ///< levels from its highest place to its lowest
    float bend = 0;   ///< how its volume gathers from the top down; see share_above
  };
  WideVector<Cut> cut;          ///< of each of the cavity's parts
  WideVector<int32_t> opening;  ///< level of the highest place of each of the cavity's passages; may lie under 0
  std::vector<uint32_t> ends;   ///< of the cells of each level in `order`, highest level first
  Vec3 up;
  Vec3 run;            ///< levels along a cube's three edges, the longest first
  double step_mm = 1;  ///< of one level
  double base_mm = 0;  ///< height of level 0, along up, from the lattice's origin

  /// Calls visit(cell, level) in order, until it says false. Cells of one level lie side by side in the order, so no
  /// table is asked for the level. fetch(cell, stage) is called 48, 24 and 12 cells before (stage 0, 1, 2), to have its
  /// memory at hand: each stage may read what the one before asked for.
  template <class Visit, class Fetch>
  bool each(Visit&& visit, Fetch&& fetch) const {
    size_t bucket = 0;
    for (size_t k = 0; k < order.size(); ++k) {
      if (k + 48 < order.size()) {
        fetch(order[k + 48], 0);
        fetch(order[k + 24], 1);
        fetch(order[k + 12], 2);
      }
      while (k >= ends[bucket]) ++bucket;
      if (!visit(order[k], static_cast<int64_t>(ends.size()) - 2 - static_cast<int64_t>(bucket))) return false;
    }
    return true;
  }
  /// Height of a level, mm from the lattice's origin along up.
  double top_mm(int64_t at_level) const { return base_mm + static_cast<double>(at_level) * step_mm; }
  /// Levels from a cell's highest place to its lowest.
  double reach(const Cavity& cavity, uint32_t cell) const {
    return cavity.whole(cell) ? run.x + run.y + run.z : static_cast<double>(cut[cavity.cell[cell].part].reach);
  }
  /// Share of a cell over a level. Of a whole cell exactly. Of a cut one quickly: with s the share of its height, s^p
  /// or 1 − (1 − s)^p with the p that its centroid asks for, which is exact for prisms, wedges and pyramids.
  double share_above(const Cavity& cavity, uint32_t cell, int64_t at_level) const {
    const double over = static_cast<double>(level[cell]) - static_cast<double>(at_level);
    const double all = reach(cavity, cell);
    if (over <= 0 || over >= all) return over <= 0 ? 0 : 1;
    if (cavity.whole(cell)) return share_of_cube(over);
    const auto p = static_cast<double>(cut[cavity.cell[cell].part].bend);
    return p > 0 ? std::pow(over / all, p) : 1 - std::pow(1 - over / all, -p);
  }
  /// Share of a cube within so many levels of its highest corner.
  double share_of_cube(double levels_down) const;
  /// The same, of a cut cell as the convex body of its corners: exact where its wall is flat or turns outward.
  double share_above_exactly(const Cavity& cavity, uint32_t cell, int64_t at_level) const;
  /// The level at a height from the origin along up, to the nearest; may lie under 0.
  int64_t level_at(double height_mm) const;
};

/// Fills `into` for unit `up`. O(cells).
void descend(const Cavity& cavity, const Vec3& up, Descent& into);

/// Where the air gets out: a cell and the level at which the liquid shuts it.
struct VentCell {
  uint32_t cell = 0;
  int64_t level = 0;
};

}  // namespace palinform
