#pragma once
/// A cavity from a lattice of cubes and the mesh that cuts them.
#include <functional>

#include "flow/cavity.hpp"
#include "flow/cell_pieces.hpp"

namespace palinform {

constexpr double most_cells = 3e7;

/// Inside the mesh, or with `flipped` outside it. `wanted(i, j, k)`: cubes that count; empty: all.
Result<Cavity> cut_cells(const TriMesh& mesh, const CellLattice& l, bool flipped,
                         const std::function<bool(int, int, int)>& wanted, const Progress& progress);

}  // namespace palinform
