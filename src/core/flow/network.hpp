#pragma once
/// The cavity as a network of resistances (M8): how easily resin passes from cell to cell.
#include <vector>

#include "flow/cavity.hpp"
#include "mesh/rays.hpp"

namespace palinform {

/// Cells with the section they lie in, and what passes between neighbours.
struct FillNetwork {
  Cavity cavity;
  std::vector<float> thick_mm;          ///< from wall to wall through the middle of the largest ball that reaches it
  std::vector<float> permeability_mm2;  ///< mean over the section: slab t²/12, square t²/28.4, round t²/32
  std::vector<uint32_t> start;          ///< neighbours of cell c are to[start[c]] … to[start[c + 1] − 1]
  std::vector<uint32_t> to;
  std::vector<float> conduct_mm3;  ///< of each: area · permeability ÷ distance; flow = conduct · Δp ÷ viscosity
};

/// Mean permeability of a section `thick` by `wide` mm (the larger), mm²: t²/12·(1 − 0.6·t/w). Exact for a slab, within
/// 3 % for rectangles of 1:2 and 1:5, 5 % under a square's and 7 % over a round tube's, which have the same t/w.
double section_permeability_mm2(double thick_mm, double wide_mm);

/// About `cells` cells; finer, up to eight times as many, where they would not hang together.
Result<FillNetwork> fill_network(const TriMesh& mesh, const RayScene& rays, double cells = 25'000,
                                 const Progress& progress = Progress::none());

/// Resistance between two sets of cells that are each held at one pressure, per viscosity: Δp/(Q·μ), mm⁻³. Only cells
/// with `open` set take part (empty: all). Infinite where nothing joins them; an error where the sums do not settle.
Result<double> network_resistance(const FillNetwork& network, const std::vector<uint32_t>& from,
                                  const std::vector<uint32_t>& to, const std::vector<uint8_t>& open = {});

}  // namespace palinform
