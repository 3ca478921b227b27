#pragma once
/// The cavity to be filled, as cubic cells; those at its wall are cut by it, so that they hold just what lies inside.
#include <array>
#include <cstdint>
#include <functional>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "base/wide_vector.hpp"
#include "flow/cut_mesh.hpp"
#include "mesh/tri_mesh.hpp"

namespace palinform {

/// Cells in rows along x, rows by y, then z. A cell is whole, or a part of a cube: what of it lies inside. Where a wall
/// thinner than a cube runs through one, each side is a cell of its own, so that nothing passes through the wall.
struct Cavity {
  static constexpr uint32_t outside = 0xFFFFFFFFu;

  double voxel_mm = 1;
  Vec3 origin_mm;  ///< lowest corner of cube (0, 0, 0)
  int nx = 0, ny = 0, nz = 0;
  WideVector<std::array<uint16_t, 3>> lattice;  ///< of each cell: i, j, k of its cube
  /// What a sweep asks of every cell, in half a line of the cache.
  struct alignas(32) Cell {
    std::array<uint32_t, 6> beside;  ///< through sides that are open whole: +x −x +y −y +z −z; `outside`: none
    uint32_t part;                   ///< its place in `parts`, or `outside` where it is whole
    float volume_mm3;
  };
  WideVector<Cell> cell;

  /// A cell cut by the wall.
  struct Part {
    uint32_t first_point = 0, points = 0;      ///< of `point_mm`: the corners of what lies inside
    uint32_t first_passage = 0, passages = 0;  ///< of `passage`: sides open in part
    std::array<float, 3> centroid_mm{};        ///< of what lies inside, from `origin_mm`
  };
  /// A side that is open in part. Held by both cells, with the same corners.
  struct Passage {
    uint32_t to = 0;  ///< cell
    float area_mm2 = 0;
    uint32_t first_point = 0, points = 0;  ///< corners of the opening, of `point_mm`
    uint8_t axis = 0;
  };
  WideVector<Part> parts;
  WideVector<std::array<float, 3>> point_mm;  ///< from `origin_mm`
  WideVector<Passage> passage;
  std::vector<uint32_t> row;  ///< of row j + ny·k: its first cell; one more at the end

  size_t size() const { return lattice.size(); }
  bool whole(uint32_t c) const { return cell[c].part == outside; }
  const Part& part(uint32_t c) const { return parts[cell[c].part]; }
  /// Middle of the cell's cube.
  Vec3 cube_centre(uint32_t c) const {
    const auto& at = lattice[c];
    return origin_mm + Vec3{at[0] + 0.5, at[1] + 0.5, at[2] + 0.5} * voxel_mm;
  }
  /// Centroid of what lies inside.
  Vec3 centre(uint32_t c) const;
  /// Its highest place along `up`.
  Vec3 top_point(uint32_t c, const Vec3& up) const;
  double total_mm3() const;
  /// The cell that holds `p` or comes nearest to it; `outside` when the cavity is empty.
  uint32_t nearest_cell(const Vec3& p_mm) const;

  /// use(other cell, area of the opening in mm², axis 0…2) for every cell next to one.
  template <class Use>
  void each_neighbour(uint32_t c, Use&& use) const {
    const auto face = static_cast<float>(voxel_mm * voxel_mm);
    for (int k = 0; k < 6; ++k)
      if (cell[c].beside[static_cast<size_t>(k)] != outside) use(cell[c].beside[static_cast<size_t>(k)], face, k / 2);
    if (whole(c)) return;
    const Part& p = part(c);
    for (uint32_t n = p.first_passage; n < p.first_passage + p.passages; ++n)
      use(passage[n].to, passage[n].area_mm2, static_cast<int>(passage[n].axis));
  }
};

/// Fills the inside of a closed mesh with cells: their volumes add up to the mesh's. Only cells that are filled take
/// memory, so a thin shell in a large box is no harder than a block. Refuses more than 30 million cells.
Result<Cavity> fill_with_cells(const TriMesh& mesh, double voxel_mm, const Progress& progress = Progress::none());

/// The space rubber is poured into: the cells over the parting surface that the part does not fill, or with `upper`
/// false those under it. In the mould's frame, whose meshes must be given in it too. `whole`: all round the part, no
/// surface. `inner_mm`: the box. Cut exactly by the part; along box and surface a cell counts when its middle does.
Result<Cavity> rubber_space(const TriMesh& part_in_frame, const Box3& inner_mm,
                            const std::function<double(double u, double v)>& surface, bool upper, bool whole,
                            double voxel_mm, const Progress& progress = Progress::none());

/// Voxel size that gives about `cells` cells inside: cube root of volume over number.
double voxel_for(double volume_mm3, double cells);

/// A cavity of whole cells, straight from a grid (tests, other shapes); cube (0, 0, 0) begins at the origin.
Cavity cavity_of(int nx, int ny, int nz, double voxel_mm, const std::vector<uint8_t>& inside);

}  // namespace palinform
