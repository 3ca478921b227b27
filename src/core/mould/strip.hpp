#pragma once
/// Many tiny parts hung from one bar over a well of resin: where each stands, the bar to print, the rubber round it.
#include <vector>

#include "base/fields.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "mesh/rays.hpp"

namespace palinform {

/// Rules of thumb.
struct StripRules {
  double gap_mm = 5, wall_mm = 6, bar_mm = 5, nub_mm = 1.6, nub_long_mm = 2.5, well_mm = 12;
  double foam_ratio = 4;  ///< times as high as it lies that resin rises under vacuum: the well has to hold it
  double well_deep_mm = 20, well_most_mm = 80;  ///< most that it is deep and wide
  static void fields(auto& s, auto&& f) {
    f("gap_mm", s.gap_mm, Within{0, 1000});
    f("wall_mm", s.wall_mm, Within{0, 1000});
    f("bar_mm", s.bar_mm, Within{0.5, 100});
    f("nub_mm", s.nub_mm, Within{0.2, 50});
    f("nub_long_mm", s.nub_long_mm, Within{0.2, 100});
    f("well_mm", s.well_mm, Within{0, 1000});
    f("foam_ratio", s.foam_ratio, Within{1, 20});
    f("well_deep_mm", s.well_deep_mm, Within{1, 1000});
    f("well_most_mm", s.well_most_mm, Within{1, 1000});
  }
};

/// In a frame of its own: u along the bar, w up while the rubber is poured (the bar then lies at the bottom, its well
/// face open; turned over for the resin).
struct StripPlan {
  Transform frame;                 ///< turns the part as it hangs
  std::vector<Vec3> places_mm;     ///< shift of each copy after `frame`
  Box3 bar_mm, well_mm, inner_mm;  ///< inner: of the box
  std::vector<Vec3> tips_mm;       ///< where each nub meets its part
  double nub_mm = 0, part_mm3 = 0;
  /// Of bar, well and nubs: what resin stays in. The nubs by their frusta over the bar.
  double well_mm3() const;  ///< of the well beside and over the bar
  double bar_mm3() const;
  double rubber_mm3() const;
};

/// `up`: the part's direction that points up in the rubber pour (away from the bar). Each nub meets the part at its
/// lowest place along `up`. `many` at least 1. The well is made as wide as the
/// foam of all of them asks for; refused where that is more than the rules allow.
Result<StripPlan> plan_strip(const TriMesh& mesh, const Vec3& up, int many, const StripRules& rules = {},
                             const Progress& progress = Progress::none());

/// Bar with its nubs and the well's block, to print and glue the masters to; in the strip's frame.
Result<TriMesh> strip_bar(const StripPlan& plan, const Progress& progress = Progress::none());
/// The rubber as one solid, in the strip's frame.
Result<TriMesh> strip_rubber(const TriMesh& mesh, const StripPlan& plan, const TriMesh& bar, double voxel_mm,
                             const Progress& progress = Progress::none());

}  // namespace palinform
