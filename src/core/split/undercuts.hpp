#pragma once
/// Undercuts as spaces (M4): where rubber would be held, how far it must flex to come out, through which mouth.
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "split/parting.hpp"

namespace palinform {

struct FlexPoint {
  double shore_a = 30, ratio = 1;
  static void fields(auto& s, auto&& f) {
    f("shore_a", s.shore_a, Within{0, 90});
    f("ratio", s.ratio, Within{0, 20});
  }
};
/// reach/mouth up to which rubber of a Shore A hardness flexes out (rule of thumb): rising hardness, falling ratio.
struct FlexRule {
  std::vector<FlexPoint> ratio_at_shore{{15, 1.5}, {30, 1.0}, {40, 0.7}, {50, 0.4}};
  /// Linear between the points, held beyond them.
  double ratio(double shore_a) const;
  /// Hardest rubber that still lets go at this ratio; none where even the softest does not.
  std::optional<double> hardest_for(double ratio) const;
  static void fields(auto& s, auto&& f) { f("ratio_at_shore", s.ratio_at_shore, AtMost{20}); }
};

struct Mouth {
  Vec3 centre_mm;
  double area_mm2 = 0, width_mm = 0;  ///< width: of the largest circle inside its rim
};

struct Undercut {
  double area_mm2 = 0;    ///< of locked faces in it
  double volume_mm3 = 0;  ///< of the locked space
  double reach_mm = 0;    ///< greatest way from the mouth through the space
  double mouth_mm = 0;    ///< the widest mouth
  Vec3 centroid_mm;
  std::vector<Mouth> mouths;  ///< two or more: a tunnel; none: sealed in
  double length_mm = 0;       ///< of a tunnel, from mouth to mouth
  Vec3 axis;                  ///< of a tunnel: from one mouth toward the other, unit
  double shore_a = 30;  ///< of the rubber that fills it: its faces' side
  bool flexes = false;
  std::optional<double> let_go_by_shore_a;  ///< hardest rubber that would let it go
  std::vector<uint32_t> triangles;          ///< locked faces that bound it
  double ratio() const { return mouth_mm > 0 ? reach_mm / mouth_mm : 1e9; }
  bool tunnel() const { return mouths.size() > 1; }
  bool sealed() const { return mouths.empty(); }
};

struct UndercutOptions {
  double pitch_mm = 0;  ///< of the cells; 0: the largest extent / 220
  double shore_a = 30;
  FlexRule rule;
  std::optional<double> shore_b = {};  ///< of side b, where it is another rubber
};

/// Cells along the pull; an outside cell is locked where the part stands above and below it. Connected locked cells are
/// one undercut. Largest volume first; specks under three cells wide that hold no face are left out.
Result<std::vector<Undercut>> find_undercuts(const TriMesh& mesh, const Split& split, const UndercutOptions& options,
                                             const Progress& progress = Progress::none());

}  // namespace palinform
