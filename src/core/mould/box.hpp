#pragma once
/// The slice's mould: a rectangular box around the part, the parting surface through the line, the rubber of each pour
/// by columns along the pull (M5).
#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/finding.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mould/smallest_box.hpp"
#include "mould/wall_learnt.hpp"
#include "mould/walls.hpp"
#include "solid/columns.hpp"
#include "split/parting.hpp"

namespace palinform {

struct WallRule {
  double min_mm = 10, share = 0.12, most_mm = 25, extra_soft_mm = 3, soft_below_shore_a = 20;
  double floor_share = 1, top_share = 1;  ///< of the sides' wall: under the part, and over it
  WallLearning learnt;
  static void fields(auto& s, auto&& f) {
    f("min_mm", s.min_mm, Within{0.5, 500});
    f("share", s.share, Within{0, 2});
    f("most_mm", s.most_mm, Within{1, 500});
    f("floor_share", s.floor_share, Within{0.2, 3});
    f("top_share", s.top_share, Within{0.2, 3});
    f("extra_soft_mm", s.extra_soft_mm, Within{0, 1000});
    f("soft_below_shore_a", s.soft_below_shore_a, Within{0, 90});
    f("learnt", s.learnt);
  }
};
/// max(min, share × largest size), no more than `most`, and more for soft rubber (rule of thumb): the sides.
double wall_by_rule_mm(const Vec3& extent_mm, double shore_a, const WallRule& rule);

struct MouldOptions {
  double wall_mm = 10;                   ///< at the sides
  double floor_mm = 0, top_mm = 0;       ///< 0: as the sides
  std::optional<Point2> inside_mm = {};  ///< of a box that is given
  Walls walls() const { return {wall_mm, floor_mm > 0 ? floor_mm : wall_mm, top_mm > 0 ? top_mm : wall_mm, inside_mm}; }
  double pitch_mm = 0;  ///< 0: mould_pitch_mm()
  double rubber_density_g_cm3 = 1.1;
  std::optional<double> master_g;         ///< for the hold-down force
  double panel_mm = 6;                    ///< thickness of the box's sheet
  bool dams = false;                      ///< blocks in empty corners
  bool stage_a = false, stage_b = false;  ///< poured in two stages
  auto fields(auto&& f) const {
    return f(dams, stage_a, stage_b, wall_mm, floor_mm, top_mm, inside_mm ? inside_mm->x : 0.0,
             inside_mm ? inside_mm->y : 0.0, pitch_mm, rubber_density_g_cm3, master_g, panel_mm);
  }
};

struct HeightVolume {
  double height_mm = 0, volume_mm3 = 0;
};

struct RubberPour {
  std::string name;  ///< "a", "b": the side it forms
  double volume_mm3 = 0;
  double fill_height_mm = 0;        ///< of the rubber over the lowest place of its space, the pour's own up
  std::vector<HeightVolume> curve;  ///< rising; volume under that height
  std::string side = {};            ///< "a", "b": of coats, whose name says more
  /// Of a pour in two stages: what goes in all over, how high it then stands, and the frame inside which the rest goes
  /// on top while it still bonds. 0: in one.
  double stage_mm3 = 0, stage_fill_mm = 0, frame_u_mm = 0, frame_v_mm = 0;
};

/// A block of the box that no rubber goes into, in the mould's frame: a dam in a corner, or what a second stage's frame
/// keeps free.
struct KeptOut {
  Box3 box_mm;
  bool dam = true;
};

struct Panel {
  std::string name;
  double width_mm = 0, height_mm = 0, thickness_mm = 0;
};

struct Mould {
  Transform frame;  ///< rows u, v, pull
  Box3 inner_mm;    ///< of the box, in the frame
  double wall_mm = 0, pitch_mm = 0;
  Walls walls;                       ///< as asked
  double part_mm3 = 0, box_mm3 = 0;  ///< box: without what is kept out of it
  std::vector<KeptOut> kept_out;
  int dams() const {
    return static_cast<int>(std::count_if(kept_out.begin(), kept_out.end(), [](const KeptOut& k) { return k.dam; }));
  }
  std::vector<RubberPour> pours;  ///< a, b
  double rubber_mm3 = 0;
  double volume_error_mm3 = 0;  ///< standard figure from the two halves of the column grid
  /// Of the part, on the side of the surface where more of it stands: what a half pour wets. The rest lies in the bed
  /// or in the first half, where nothing lifts it.
  double sunk_mm3 = 0;
  /// Newtons that keep the master down while a half is poured; `whole`: while all of it is poured round. Nothing where
  /// its mass is not known; nought where it sinks.
  std::optional<double> hold_down_n, hold_down_whole_n;
  std::vector<Panel> panels;
  double steepest_deg = 0;  ///< of the parting surface
  int nu = 0, nv = 0;       ///< the surface's grid
  double u0_mm = 0, v0_mm = 0;
  std::vector<float>
      parting_mm;               ///< height of the parting surface at each column, in the frame; inside the part, in it
  std::vector<uint8_t> shadow;  ///< 1 where the part stands in the column
  std::vector<float> part_low_mm, part_high_mm;  ///< the part's lowest and highest there (0 where it does not stand)

  /// Lowest place of the parting surface along the box's walls.
  double rim_mm() const;
  /// Height of the parting surface at a place: linear between the columns' middles; beside and in the part's shadow the
  /// nearest column's, never halfway between two levels. Beyond the grid, as at its edge.
  double parting_at(double u_mm, double v_mm) const;
  size_t column(int i, int j) const {
    return static_cast<size_t>(j) * static_cast<size_t>(nu) + static_cast<size_t>(i);
  }

  /// Height of the rubber in pour `p` once `volume_mm3` is poured, linear between the curve's points.
  static double height_for(const RubberPour& p, double volume_mm3);
  /// And the volume under a height.
  static double volume_under(const RubberPour& p, double height_mm);
};

/// A 240th of the part seen along the pull, 0.2 mm at least (less for parts under 8 mm), 480 columns across the box at
/// most.
double mould_pitch_mm(const Box3& part_mm, const Box3& box_mm);

/// While a wall is dragged: as coarse again, for a part of that size.
double pitch_in_hand_mm(const Vec3& part_mm);

/// Two-part block. The surface is harmonic outside the part (flat where the line is flat), fixed to the line's height
/// at the part's outline and at shut-offs. Rubber above the surface or lying on a face of side a belongs to pour a.
Result<Mould> two_part_mould(const TriMesh& mesh, const Split& split, const MouldOptions& options,
                             const Progress& progress = Progress::none());

/// The same mould with its surface in steps of `pitch_mm` (coarser on parts over 150 mm: a 500th), for what is printed.
Result<Mould> fine_mould(const TriMesh& mesh, const Split& split, MouldOptions options, double pitch_mm,
                         const Progress& progress = Progress::none());

/// The rubber of one side (upper: a) as a mesh in the part's own frame: that side's faces turned inside out, the
/// parting surface drawn up to the line, the box around. For pictures: the seam along the line is closed to within the
/// pitch only. The printable halves of a later issue are sound solids.
TriMesh rubber_half(const Mould& mould, const TriMesh& mesh, const Split& split, bool upper);

}  // namespace palinform
