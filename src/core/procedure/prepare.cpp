// The master: printed, clean, whole, sealed, its openings closed.
#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {

namespace {

/// The test is made, cures, and is looked at: what it shows is kept with its lot.
void try_out(Writing& w, const TestFacts& test, int number) {
  const bool patch = test.wanted.kind == TrialKind::patch;
  const std::string stem = std::string(patch ? "patch" : "cup-test") + (number > 1 ? "-" + std::to_string(number) : "");
  ProcedureStep& make =
      w.add(Act::try_out, Block::prepare, stem, patch ? "Patch test" : "Cup test of " + test.on,
            patch ? "Mix a thimbleful of " + test.material + " and put a patch of it on a hidden spot of " + test.on +
                        ", prepared as all of it is."
                  : "Mix a small cup of " + test.material + " from " + test.on + " by its ratio and let it stand.",
            w.t.test_min, test.cure_min);
  make.why = patch ? "Some surfaces stop rubber from curing, or hold it for good; a patch tells before a kilo does."
                   : "Old or opened material may not cure; a cup of it tells before a mould does.";
  make.picture = patch ? StepPicture::part : StepPicture::cup;
  ProcedureStep& read =
      w.add(Act::look, Block::prepare, stem + "-read", patch ? "Look at the patch" : "Look at the cup of " + test.on,
            std::string("Cured right through and ") + (patch ? "off the surface without a trace" : "firm") +
                "? Then it is done. Sticky, soft or grown on: mark it as gone wrong, and nothing is poured.",
            w.t.test_read_min);
  read.test = test.wanted;
  read.picture = patch ? StepPicture::part : StepPicture::cup;
  read.look_for = "stickiness where it touched; an oily or soft surface";
}

}  // namespace

std::vector<std::string> test_cups(Writing& w) {
  std::vector<std::string> read;
  if (w.f.ends == Ends::master) return read;
  for (const TestFacts& test : w.f.tests) {
    if (test.wanted.kind != TrialKind::cup) continue;
    try_out(w, test, static_cast<int>(read.size()) + 1);
    read.push_back(w.last.front());
    w.last.clear();
  }
  return read;
}

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
    s.cautions.push_back("Sealers and release sprays are solvents: fresh air, no flame.");
  }
  int number = 0;
  for (const TestFacts& test : f.tests)
    if (test.wanted.kind == TrialKind::patch && f.ends != Ends::master) try_out(w, test, ++number);
  if (f.taped > 0 && f.ends != Ends::master) {
    ProcedureStep& s = w.add(
        Act::tape_over, Block::prepare, "tape", "Tape over " + counted(f.taped, "opening", "openings"),
        "Thin tape, tight, edges rubbed down" + (f.filled.empty() ? std::string(", on the side that is poured first.")
                                                                  : "; every mouth of " + in_a_row(f.filled) +
                                                                        ": no rubber may get in, resin will fill it."),
        4.0 * f.taped);
    s.in.push_back({Thing::tape, 0});
    s.picture = StepPicture::part;
    s.look_for = "no edge stands up: rubber creeps under it";
  }
}

void casting_as_master(Writing& w) {
  if (w.f.casting_through_min > 0) {
    ProcedureStep& s =
        w.add(Act::wait, Block::prepare, "casting-through", "Wait till casting 1 is cured through",
              "Let it stand until its material is through. A warm place shortens it.", 0, w.f.casting_through_min);
    s.why = "A casting that still gives off vapour stops the rubber from curing.";
  }
  ProcedureStep& s = w.add(Act::clean, Block::prepare, "casting-master", "Make casting 1 ready as a master",
                           "Wash every trace of release off it. Take off what is left of the sprues and the flash; "
                           "fill what a bubble left. It is one of the copies again when the last mould has let it go.",
                           w.t.prepare_min);
  s.why = "From here on everything it has that the original has not is copied too, and it has shrunk once already.";
  s.picture = StepPicture::casting;
  s.look_for = "release left in corners; scars on faces that show";
  s.cautions.push_back(
      "A patch of the rubber on a hidden spot first: a casting may stop it from curing, or hold it for good.");
}

}  // namespace palinform::blocks
