#pragma once
/// Rubber that stands thin and long in a gap of the part: fins in slots, pegs in holes (M4). It wobbles, traps air at
/// its foot and tears first.
#include <vector>

#include "base/fields.hpp"
#include "base/finding.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "split/bores.hpp"
#include "split/parting.hpp"

namespace palinform {

struct ThinRubber {
  bool peg = false;         ///< round, in a bore; else a fin between two walls
  double thickness_mm = 0;  ///< a peg's diameter, a fin's usual thickness
  double length_mm = 0;     ///< from its root to its free end
  double area_mm2 = 0;      ///< of the walls it stands between
  Vec3 at_mm;
  std::vector<uint32_t> triangles;
  double slenderness() const { return thickness_mm > 0 ? length_mm / thickness_mm : 0; }
  bool at_risk = false;
};

/// Rules of thumb.
struct ThinRules {
  double slender_peg = 2.5, slender_fin = 4;  ///< length/thickness at which it wobbles or tears
  double thin_mm_at_40a = 0.8;                ///< thinner is at risk whatever its length; times 40/shore for softer
  double look_mm = 0;                         ///< gaps wider than this are no fins; 0: 6 % of the largest extent
  static void fields(auto& s, auto&& f) {
    f("slender_peg", s.slender_peg, Within{0.5, 50});
    f("slender_fin", s.slender_fin, Within{0.5, 50});
    f("thin_mm_at_40a", s.thin_mm_at_40a, Within{0.01, 50});
    f("look_mm", s.look_mm, Within{0, 1000});
  }
};

/// Pegs from `bores` (those that `wishes` ignore have a pin), fins from rays off every face onto the facing wall. The
/// length is the greatest way along the wall from where the gap opens. Largest slenderness first.
Result<std::vector<ThinRubber>> find_thin_rubber(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                                                 const std::vector<Bore>& bores, const FaceWishes& wishes,
                                                 double shore_a, const ThinRules& rules = {},
                                                 const Progress& progress = Progress::none());

}  // namespace palinform
