#pragma once
/// The order in which a falling level uncovers the cells of a cavity: one pass of counting, no comparisons. Heights are
/// cut into up to 2^17 equal levels over the cavity's own extent (about 1/500 of a voxel for a grid of 250 cells), a
/// whole number of them to a cell, so that every comparison is between whole numbers and the same on every machine.
#include <cstdint>
#include <vector>

#include "flow/cavity.hpp"

namespace palinform {

struct Descent {
  std::vector<uint32_t> order;  ///< cells, highest first; of equals the lower number first
  std::vector<uint32_t> level;  ///< of each cell
  std::vector<uint32_t> ends;   ///< of the cells of each level in `order`, highest level first
  double step_mm = 1;           ///< of one level
  double base_mm = 0;           ///< top of a cell of level 0, along up, from the lattice's origin
  double reach_mm = 0;          ///< how far a cell reaches along up, corner to corner

  /// Calls visit(cell, level) in order, until it says false. Cells of one level lie side by side in the order, so no
  /// table is asked for the level; `ahead(cell)` is called a dozen cells before, to have its memory fetched.
  template <class Visit, class Ahead>
  bool each(Visit&& visit, Ahead&& ahead) const {
    size_t bucket = 0;
    for (size_t k = 0; k < order.size(); ++k) {
      if (k + 13 < order.size()) ahead(order[k + 13]);
      while (k >= ends[bucket]) ++bucket;
      if (!visit(order[k], static_cast<int64_t>(ends.size()) - 2 - static_cast<int64_t>(bucket))) return false;
    }
    return true;
  }
  /// Height of the highest corner of cells on a level, mm from the lattice's origin along up.
  double top_mm(int64_t at_level) const { return base_mm + static_cast<double>(at_level) * step_mm; }
  /// Share of a cell over another level's top: linear between its lowest and highest corner.
  double share_above(uint32_t cell, int64_t at_level) const {
    const double over = (static_cast<double>(level[cell]) - static_cast<double>(at_level)) * step_mm;
    return over <= 0 ? 0 : over >= reach_mm ? 1 : over / reach_mm;
  }
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
