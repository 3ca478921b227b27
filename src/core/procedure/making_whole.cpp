// Making a mould: poured whole, open or cut, or hung from a bar.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

void whole_pour(Writing& w) {
  const ProcedureFacts& f = w.f;
  switch (f.form) {
    case Form::open:
      fix_master(
          w, "Flat side down on the base plate; a bead of glue or wax all round, so that no rubber creeps under it.",
          "Fix it to the base");
      break;
    case Form::strip: {
      ProcedureStep& s =
          w.add(Act::fix, Block::bed, "bar", "Hang the masters from the bar" + w.of_mould(),
                counted(f.a_pull, "master", "masters") + " on one bar, each the way up that traps least" +
                    (f.struts > 0 ? ", " + counted(f.struts, "strut", "struts") + " to their limbs" : std::string()) +
                    "; the bar is the later well.",
                w.t.strip_bar_min + w.t.strip_part_min * f.a_pull);
      w.put(s, Thing::master);
      w.put(s, Thing::bar);
      s.picture = StepPicture::bed;
      s.why = "Resin in the well fills them all at once.";
      s.look_for = "the same gap of rubber between all";
      break;
    }
    default:
      fix_master(w,
                 "Lay a fin of tape along the line as a guide for the knife; hang or stand the master so that rubber "
                 "comes all round it.",
                 "Hang it up");
  }
  set_pins(w);
  build_box(w);
  for (const PourFacts& p : f.rubber)
    pour_rubber(w, p, f.form == Form::open || f.form == Form::strip ? "Pour the mould" : "Pour the block", "whole");
  draw_rods(w);
  unbox(w);
  draw_pins(w);
  if (f.form == Form::cut) {
    ProcedureStep& s =
        w.add(Act::cut_open, Block::open, "cut", "Cut it open" + w.of_mould(),
              "Along the line, in passes of the blade's depth" +
                  (f.wave.empty() ? std::string(", waving so that the cut finds its place again") : ": " + f.wave) +
                  ". Spread it as you go.",
              w.t.cut_min);
    s.cautions.push_back(knives);
    s.picture = StepPicture::opened;
    s.why = "The wave is what makes the halves go together one way only.";
    open_mould(w, "Take the master out", "Spread the cut, bend one end free first, ease the master out.");
    dress(w, "");
  } else if (f.form == Form::strip) {
    ProcedureStep& s =
        open_mould(w, "Draw the bar out", "Lift the bar with its masters straight out, a little at a time.");
    w.take(s, Thing::bar);
    dress(w, !f.strip_cut.empty() ? "One straight cut along the whole strip, " + f.strip_cut + "."
             : f.line_mm > 0      ? "One straight cut along the whole strip, no deeper than the parts are widest."
                                  : "");
  } else {
    open_mould(w, "Take the master out", "Lift the mould, turn it over, bend one end first and ease the master out.");
    dress(w, "Trim the creep, level the mouth.");
  }
}

}  // namespace palinform::blocks
