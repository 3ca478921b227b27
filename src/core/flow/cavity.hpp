#pragma once
/// The cavity to be filled, as cubic cells.
#include <array>
#include <cstdint>
#include <functional>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Cells of edge `voxel_mm` on a grid along the mesh's axes; cell (i, j, k) is centred on
/// origin + (i + ½, j + ½, k + ½)·voxel. A cell is inside when its centre is.
struct Cavity {
  double voxel_mm = 1;
  Vec3 origin_mm;
  int nx = 0, ny = 0, nz = 0;
  std::vector<uint32_t> cells;                   ///< grid indices of the inside cells, rising
  std::vector<uint32_t> number;                  ///< grid index → place in `cells`, or `outside`
  std::vector<std::array<uint32_t, 6>> beside;   ///< of each cell: +x, −x, +y, −y, +z, −z, as places in `cells`
  std::vector<std::array<uint16_t, 3>> lattice;  ///< of each cell: i, j, k
  static constexpr uint32_t outside = 0xFFFFFFFFu;

  size_t grid_size() const { return static_cast<size_t>(nx) * static_cast<size_t>(ny) * static_cast<size_t>(nz); }
  Vec3 centre(uint32_t grid_index) const {
    const uint32_t i = grid_index % static_cast<uint32_t>(nx), r = grid_index / static_cast<uint32_t>(nx);
    return origin_mm +
           Vec3{i + 0.5, r % static_cast<uint32_t>(ny) + 0.5, r / static_cast<uint32_t>(ny) + 0.5} * voxel_mm;
  }
  double volume_mm3() const { return static_cast<double>(cells.size()) * voxel_mm * voxel_mm * voxel_mm; }
  /// The inside cell whose centre is nearest to `p`; `outside` when the cavity is empty.
  uint32_t nearest_cell(const Vec3& p_mm) const;
};

/// Fills the inside of a closed mesh with cells, by columns along z. Refuses more than 60 million grid cells.
Result<Cavity> fill_with_cells(const TriMesh& mesh, double voxel_mm, Progress& progress = Progress::none());

/// The space rubber is poured into: the cells over the parting surface that the part does not fill, or with `upper`
/// false those under it. In the mould's frame, whose meshes must be given in it too. `whole`: all round the part, no
/// surface. `inner_mm`: the box.
Result<Cavity> rubber_space(const TriMesh& part_in_frame, const Box3& inner_mm,
                            const std::function<double(double u, double v)>& surface, bool upper, bool whole,
                            double voxel_mm, Progress& progress = Progress::none());

/// Voxel size that gives about `cells` cells inside: cube root of volume over number.
double voxel_for(double volume_mm3, double cells);

/// A cavity straight from a list of grid cells (tests, other shapes).
Cavity cavity_of(int nx, int ny, int nz, double voxel_mm, const std::vector<uint8_t>& inside);

}  // namespace palinform
