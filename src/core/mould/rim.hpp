#pragma once
/// A stepped rim from stacked sheet: does it go in, and does it hold (M5).
#include "mould/keys.hpp"

namespace palinform {

struct RimFit {
  int layers = 1;        ///< of sheet
  double lip_mm = 0;     ///< high
  double play_mm = 0;    ///< that its draft gives the lip at its end, each side
  double misfit_mm = 0;  ///< by which halves that shrink apart miss each other at the ends of the longer side
  double holds_n = 0;    ///< rubber on released rubber over the lip's flanks: a rule of thumb
  bool enters() const { return play_mm >= misfit_mm + 0.1; }
};

/// `inner_mm`: long and wide inside the box; `shrink_apart_pct`: between the two rubbers.
RimFit rim_fit(const KeyPlan& plan, const Vec3& inner_mm, double sheet_mm, double shrink_apart_pct, double parting_kpa);

}  // namespace palinform
