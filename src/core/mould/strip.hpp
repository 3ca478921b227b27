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
  double strut_mm = 1.2, strut_least_mm = 3;  ///< across; to limbs that hang lower by so much than what is round them
  double foam_ratio = 4;  ///< times as high as it lies that resin rises under vacuum: the well has to hold it
  double well_deep_mm = 20, well_most_mm = 80;  ///< most that it is deep and wide
  static void fields(auto& s, auto&& f) {
    f("gap_mm", s.gap_mm, Within{0, 1000});
    f("wall_mm", s.wall_mm, Within{0, 1000});
    f("bar_mm", s.bar_mm, Within{0.5, 100});
    f("nub_mm", s.nub_mm, Within{0.2, 50});
    f("nub_long_mm", s.nub_long_mm, Within{0.2, 100});
    f("well_mm", s.well_mm, Within{0, 1000});
    f("strut_mm", s.strut_mm, Within{0, 50});
    f("strut_least_mm", s.strut_least_mm, Within{0.2, 1000});
    f("foam_ratio", s.foam_ratio, Within{1, 20});
    f("well_deep_mm", s.well_deep_mm, Within{1, 1000});
    f("well_most_mm", s.well_most_mm, Within{1, 1000});
  }
};

/// What hangs from the bar so many times. `up`: the part's direction that points up in the rubber pour, away from the
/// bar.
struct StripPart {
  const TriMesh* mesh = nullptr;
  Vec3 up{0, 0, 1};
  int many = 1;
};

struct StripPlace {
  size_t part = 0;  ///< of the parts given
  Transform place;  ///< from its own frame into the strip's
};

/// The one straight cut that opens every pocket, as deep as the parts are widest: down from the face away from the
/// bar, or in from the long side away from the well, whichever is shallower.
struct StripCut {
  bool from_face = true;
  double at_mm = 0;  ///< from the long side away from the well; from the side: under the face away from the bar
  double deep_mm = 0, long_mm = 0;
};

/// In a frame of its own: u along the bar, w up while the rubber is poured (the bar then lies at the bottom, its well
/// face open; turned over for the resin).
struct StripPlan {
  std::vector<StripPlace> places;
  Box3 bar_mm, well_mm, inner_mm;  ///< inner: of the box
  std::vector<Vec3> tips_mm;       ///< where each nub meets its part
  std::vector<Vec3> struts_mm;     ///< where each strut meets a limb that hangs lower than what is round it
  double nub_mm = 0, strut_mm = 0, parts_mm3 = 0;
  StripCut cut;
  /// Of bar, well, nubs and struts: what resin stays in. The nubs by their frusta over the bar.
  double well_mm3() const;  ///< of the well beside and over the bar
  double bar_mm3() const;
  double rubber_mm3() const;
};

/// Each nub meets its part at its lowest place along `up`, each strut a lower place of its own. At least one part. The
/// well is made as wide as the foam of all of them asks for; refused where that is more than the rules allow.
Result<StripPlan> plan_strip(const std::vector<StripPart>& parts, const StripRules& rules = {},
                             const Progress& progress = Progress::none());

/// Places where a body hangs lower than all round it by `least_mm`, its skin facing down there; the lowest of all is
/// not among them. Lowest first. `mesh` with w up.
std::vector<Vec3> low_tips(const TriMesh& mesh, double least_mm);

/// Where struts meet the part, in its own frame.
std::vector<Vec3> strut_places(const StripPart& part, const StripRules& rules);

/// Bar with its nubs, struts and the well's block, to print and glue the masters to; in the strip's frame.
Result<TriMesh> strip_bar(const StripPlan& plan, const Progress& progress = Progress::none());
/// The rubber as one solid, in the strip's frame. `sockets`: of each part given, bodies in its own frame that stand out
/// of it into the rubber; may be fewer than there are parts.
Result<TriMesh> strip_rubber(const std::vector<StripPart>& parts, const StripPlan& plan, const TriMesh& bar,
                             double voxel_mm, const std::vector<std::vector<const TriMesh*>>& sockets = {},
                             const Progress& progress = Progress::none());

}  // namespace palinform
