#pragma once
/// What of one cube lies inside a closed mesh: one piece, or several where a wall runs through.
#include <array>
#include <vector>

#include "flow/cut_mesh.hpp"
#include "mesh/topology.hpp"

namespace palinform {

/// Corner c of a cube lies high along axis a when bit a of c is set.
struct CellPieces {
  static constexpr uint8_t none = 255;
  int count = 0;
  std::vector<uint8_t> of_facet;       ///< piece each facet bounds
  std::array<uint8_t, 8> of_corner{};  ///< piece each corner lies in; none: outside
  std::vector<double> volume;          ///< share of the cube, of each piece
};

/// Facets `first` … `last` − 1 of `cut` are those of the cube whose lowest corner is `low` (voxels). `inside`: bits of
/// the corners that lie inside. `volume`: share of the cube that lies inside. `flipped`: inside is outside the mesh.
/// Facets that hang together bound one piece; so do corners and facets that follow each other along a cube's edge with
/// no wall between; what touches no edge belongs to what it sees.
void split_cell(const CutMesh& cut, size_t first, size_t last, const EdgePairs& pairs, const Vec3& low, uint8_t inside,
                double volume, bool flipped, CellPieces& into);

}  // namespace palinform
