#pragma once
/// Closing a squeeze mould (M25): side b holds the resin, some of it heaped; side a comes down on it, level or hinged
/// at one end. The resin's volume is kept at every step: what the roof presses away goes where it takes the least
/// pressure, up against the head and on against the narrow gap. Air leaves between the halves until resin shuts it in;
/// what is then over the resin is a pocket. What runs out over the line is lost; what it lacks in the end, is short.
#include <optional>
#include <vector>

#include "mould/box.hpp"

namespace palinform {

/// The closed mould's hollow and the land round it as columns along the pull, in the mould's frame. Outside the part
/// floor and roof are both the parting surface.
struct ClosingGrid {
  Transform frame;
  double pitch_mm = 1, u0_mm = 0, v0_mm = 0;
  int nu = 0, nv = 0;
  std::vector<float> floor_mm, roof_mm;  ///< floor: the roof less all the part's thickness in the column
  std::vector<uint8_t> part;             ///< 1: the part stands in the column
  size_t count() const { return static_cast<size_t>(nu) * static_cast<size_t>(nv); }
  Point2 middle(size_t c) const {
    const auto n = static_cast<size_t>(nu);
    return {u0_mm + (static_cast<double>(c % n) + 0.5) * pitch_mm,
            v0_mm + (static_cast<double>(c / n) + 0.5) * pitch_mm};
  }
  double part_mm3() const;
};

/// About `across` columns over the longer side of the box. `turned_over`: side a holds the resin and b comes down.
Result<ClosingGrid> closing_grid(const TriMesh& mesh, const Mould& mould, bool turned_over, int across,
                                 const Progress& progress = Progress::none());

struct ClosingHow {
  double resin_mm3 = 0;
  Point2 heap_mm;                   ///< middle of the heap, u and v
  double heap_high_mm = 4;          ///< over the level resin or the land
  std::optional<double> hinge_deg;  ///< direction from the middle to the end that is set down first; none: level
  double density_g_cm3 = 1.1, viscosity_pa_s = 0.5;
  double close_s = 60;     ///< from the first touch till shut
  double flash_mm = 0.08;  ///< gap that stays
};

struct ClosingPocket {
  Vec3 apex_mm;  ///< its highest place, part's frame
  double volume_mm3 = 0;
  double wide_mm = 0;  ///< diameter of the disc of its area
  double shut_mm = 0;  ///< the gap at which resin shut it in
};

struct Closing {
  std::vector<ClosingPocket> pockets;  ///< largest first
  double trapped_mm3 = 0, ran_over_mm3 = 0, short_mm3 = 0;
  double first_touch_mm = 0;      ///< gap at which side a first meets resin
  std::vector<float> reached_mm;  ///< per column: the gap at which resin stood at the roof; infinite: never
};

/// O(steps · columns · log columns). Deterministic.
Closing close_squeeze(const ClosingGrid& grid, const ClosingHow& how);

/// Height to which a heap of a resin stands while the mould is brought down: a puddle's 3 mm, and more the thicker it
/// is (rule of thumb).
double heap_height_mm(double viscosity_pa_s);

/// Where to heap it and which end to set down first: the thickest place, each hollow of the roof, the middle, each with
/// all ends, tried on `grid`; least air, then least that is short or lost, then the thickest place and level.
/// What `how` states is kept where `keep_heap`, `keep_hinge` say so.
ClosingHow plan_closing(const ClosingGrid& grid, ClosingHow how, bool keep_heap, bool keep_hinge,
                        const Progress& progress = Progress::none());

/// Newtons that press the film on the land down to `flash_mm` in `seconds`: lubrication in a strip as long as the line
/// and as wide as what ran over needs, t = μ·L·w³/(2·F·h²). `wide_mm` at most the wall.
double land_force_n(double viscosity_pa_s, double line_mm, double wide_mm, double flash_mm, double seconds);

}  // namespace palinform
