// The master: printed, clean, whole, sealed, its openings closed.
#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {

void prepare_master(Writing& w) {
  const ProcedureFacts& f = w.f;
  const StepMinutes& t = w.t;
  if (f.master == MasterIs::printed && f.master_print_h > 0) {
    ProcedureStep& s = w.add(Act::print, Block::prepare, "print-master", "Print the master",
                             "Print it; take the supports off; wash and cure it as the printer's sheet says.",
                             t.print_min, 60 * f.master_print_h);
    s.picture = StepPicture::part;
    s.look_for = "layer steps on faces that show: the rubber copies every one";
  }
  const char* who = f.master == MasterIs::casting   ? "casting that serves as master"
                    : f.master == MasterIs::printed ? "printed master"
                                                    : "original";
  ProcedureStep& clean = w.add(
      Act::clean, Block::prepare, "prepare", std::string("Prepare the ") + who,
      "Wash it, fill what is broken, build up what is missing. Measure it once more. Nitrile gloves.", t.prepare_min);
  clean.may_split = true;
  clean.why = "The rubber copies every scratch, and cures over every grease spot or not at all.";
  clean.picture = StepPicture::part;
  clean.look_for = "dust, fingerprints, loose paint";
  if (f.plugs > 0) {
    ProcedureStep& s =
        w.add(Act::plug, Block::prepare, "plug", "Plug " + counted(f.plugs, "bore", "bores"),
              "Fill flush with wax or filler, and press a dimple in the middle for the drill.", 5.0 * f.plugs);
    s.picture = StepPicture::part;
    s.why = "The bore is drilled later, where the dimple is.";
  }
  if (f.master == MasterIs::casting && f.master_cure_min > 0) {
    ProcedureStep& s =
        w.add(Act::wait, Block::prepare, "full-cure", "Wait till it is cured through",
              "Let the casting stand until its material is through. A warm place shortens it.", 0, f.master_cure_min);
    s.why = "A casting that still gives off vapour stops the rubber from curing.";
  }
  if (!f.seal.empty()) {
    ProcedureStep& s = w.add(Act::seal, Block::prepare, "seal", "Seal it and wait", f.seal + ". Let each coat dry.",
                             f.seal_min, f.seal_wait_min);
    s.why = f.porous ? "It is porous: unsealed it breathes bubbles into the rubber and sticks to it."
                     : "Its surface would hold the rubber, or stop it from curing.";
    s.picture = StepPicture::part;
    s.look_for = "no dull patch, no tackiness";
    s.cautions.push_back("Sealers are solvents: fresh air, no flame.");
  }
  if (f.taped > 0 && f.ends != Ends::master) {
    ProcedureStep& s =
        w.add(Act::tape_over, Block::prepare, "tape", "Tape over " + counted(f.taped, "opening", "openings"),
              "Thin tape, tight, edges rubbed down, on the side that is poured first.", 4.0 * f.taped);
    s.in.push_back({Thing::tape, 0});
    s.picture = StepPicture::part;
    s.look_for = "no edge stands up: rubber creeps under it";
  }
}

}  // namespace palinform::blocks
