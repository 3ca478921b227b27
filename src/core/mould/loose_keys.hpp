#pragma once
// For this room: rubber keys pressed into the last coat of a skin, and places spread over a column grid.
#include <functional>
#include <vector>

#include "mould/jacket.hpp"
#include "solid/lattice.hpp"

namespace palinform {

/// A column of the lattice.
struct Spot {
  int i = 0, j = 0;
};

/// Places of `pool` far from one another: first the one farthest along +u, then always the one farthest from those
/// taken, while that is at least `apart` voxels.
std::vector<Spot> spread(const std::vector<Spot>& pool, double apart, size_t most);

/// Bumps on one side of a skin (`hull`: negative in it), where it lies flattest, well spread; gives their feet, in the
/// lattice's frame. `ground`: of each column the height of the parting surface, `across_mm` the part seen along the
/// pull, `may_stand`: of a column, all do where it is empty.
std::vector<Vec3> press_loose_keys(Lattice& hull, const std::vector<float>& ground, bool upper, double across_mm,
                                   const JacketRules& rules, const std::function<bool(int, int)>& may_stand = {});

}  // namespace palinform
