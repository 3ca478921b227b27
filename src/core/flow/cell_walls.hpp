#pragma once
/// Cubes of a lattice that the mesh passes through: what of each of them, and of its sides, lies inside.
#include <array>
#include <cstdint>
#include <vector>

#include "flow/cell_pieces.hpp"

namespace palinform {

/// A cube with facets of the mesh in it.
struct Wall {
  uint64_t cell = 0;
  uint32_t first = 0, last = 0;  ///< facets
  Vec3 area;                     ///< of its facets, outward
  double moment = 0;             ///< ∫(x − x0)·dA_x over them
  Vec3 second;                   ///< ∫(x − x0)²/2·dA_x, and so along each axis
  std::array<double, 6> side{};  ///< share of each side that lies inside: +x −x +y −y +z −z
  double volume = 0;
  uint8_t corners = 0;                 ///< bits of the corners inside
  std::array<uint8_t, 8> of_corner{};  ///< pieces
  uint8_t pieces = 0;
  uint32_t first_volume = 0;  ///< of a cube in several pieces, in a list of its own
};

struct CellWalls {
  std::vector<Wall> wall;
  std::array<std::vector<uint32_t>, 3> along;  ///< the walls, in lines along each axis
  std::vector<uint8_t> piece_of_facet;
  std::vector<double> volume_of_piece;  ///< of cubes in several pieces
};

/// Place of a cube in its lattice, by its number.
std::array<int, 3> place(uint64_t cell, const CellLattice& l);
bool same_line(const Wall& a, const Wall& b, int axis, const CellLattice& l);
/// Corner c of the four on the side of an axis, as a corner of the cube.
uint8_t corner_on_side(int axis, bool high, int c);
bool cut_on_side(const CutMesh& cut, const Wall& wall, uint8_t side);

/// All cubes with facets, measured, and those in several pieces taken apart. `flipped`: inside is what lies outside the
/// mesh.
Result<CellWalls> measure_walls(const TriMesh& mesh, const CutMesh& cut, const CellLattice& l, bool flipped,
                                const Progress& progress);

}  // namespace palinform
