// Making a mould: two halves over a bed, further pieces, putty.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

namespace {

/// What fills the box over a half that was brushed.
void back_half(Writing& w, const std::string& side) {
  const ProcedureFacts& f = w.f;
  const auto p = std::find_if(f.jacket.begin(), f.jacket.end(), [&](const PourFacts& x) { return x.side == side; });
  const double set = f.jacket_set_min > 0 ? f.jacket_set_min : w.t.jacket_wait_min;
  Filling how;
  how.act = Act::lay_jacket;
  how.stem = "backing-" + side;
  how.material = "the backing of side " + side + w.of_mould();
  how.name = "Back side " + side + w.of_mould();
  how.what = "Release the skin; thin into every corner first, then fill the box" +
             (p != f.jacket.end() && p->fill_mm > 0 ? " to the fill line at " + f.shown.length(p->fill_mm)
                                                    : std::string(" to its rim")) +
             ", tapped, level.";
  how.why = "A skin without a stiff back has no shape.";
  how.picture = StepPicture::poured;
  how.wait_min = set;
  how.look_for = "cold again, and it rings when knocked";
  if (p != f.jacket.end()) {
    mix_and_fill(w, *p, how).may_split = false;
  } else {
    ProcedureStep& s = w.add(Act::lay_jacket, Block::mix, how.stem, how.name, how.what, w.t.jacket_min, how.wait_min);
    s.picture = how.picture, s.why = how.why, s.look_for = how.look_for;
  }
  if (f.jacket_fumes) w.steps.back().besides.push_back("fume place");
  w.put(w.steps.back(), side == "a" ? Thing::jacket_a : Thing::jacket_b);
}

}  // namespace

void halves(Writing& w) {
  const ProcedureFacts& f = w.f;
  for (int k = 1; k <= f.pieces && f.form == Form::pieces; ++k) {
    // A further piece that Mix has a pour for is poured before the halves and then goes with the master.
    const std::string piece = "piece " + std::to_string(k), slug = "piece-" + std::to_string(k);
    const auto p = std::find_if(f.rubber.begin(), f.rubber.end(), [&](const PourFacts& x) { return x.name == piece; });
    if (p == f.rubber.end()) continue;
    ProcedureStep& s =
        w.add(Act::fence, Block::bed, "fence-" + slug, "Fence off " + piece + w.of_mould(),
              "Wall off the place that " + piece + " forms, with draft the way it is drawn; release the part there.",
              w.t.piece_min);
    w.put(s, Thing::fence);
    s.picture = StepPicture::part;
    pour_rubber(w, *p, "Pour " + piece, slug);
    ProcedureStep& trim =
        w.add(Act::trim_mould, Block::turn, "trim-" + slug, "Trim " + piece + w.of_mould(),
              "Wall away. Cut it flat, with one notch that the halves will grip. It stays on the part.", 10);
    w.take(trim, Thing::fence);
    trim.cautions.push_back(knives);
    release_half(w, "release-" + slug, "Release " + piece,
                 "Brush release over all of it but where it touches the part. Let it dry.");
  }
  make_bed(w, false);
  set_pins(w);
  build_box(w);
  const bool soft = f.form == Form::putty;
  int half = 0;
  std::string brushed;  // the half whose coats are on
  for (const PourFacts& p : f.rubber) {
    if (p.name.starts_with("piece") || (!p.side.empty() && p.side == brushed)) continue;
    if (p.stage != 2) ++half;
    const std::string slug = std::string(half == 1 ? "a" : "b") + (p.stage == 2 ? "-2" : "");
    if (!p.side.empty()) {
      brushed = p.side;
      brush_coats(w, brushed);
      back_half(w, brushed);
    } else if (soft) {
      Filling how;
      how.act = Act::press;
      how.stem = slug;
      how.material = "putty " + slug + w.of_mould();
      how.name = "Press side " + slug + w.of_mould();
      how.what = "Press it from the centre out, no air under it, as thick as a thumb; hold it till it keeps its shape.";
      how.why = "Pressed from the edge it folds and traps air.";
      how.wait_min = f.rubber_cure.demould_min;
      how.picture = StepPicture::poured;
      mix_and_fill(w, p, how);
    } else
      pour_rubber(w, p, "Pour half " + p.name + (p.stage == 1 ? ", first stage" : ""), slug);
    if (half == 1 && p.stage != 1 && !(soft && f.one_sided)) {
      turn_over(w, has_keys(f));
      if (!brushed.empty()) w.steps.back().what += " Skin and backing stay as they are.";
      if (p.stage == 2) {
        w.steps.back().what += " The frame comes off with the box's floor.";
        w.take(w.steps.back(), Thing::fence);
      }
      release_half(w, "release", "Release the first half", "Brush release over the whole first half. Let it dry.");
    }
  }
  draw_rods(w);
  unbox(w);
  draw_pins(w);
  ProcedureStep& open = open_mould(
      w, soft ? "Take the impressions off" : "Open, take the master out",
      soft ? "Peel them off from one end; take the master out."
           : (f.brushed.empty() ? std::string()
                                : "Pry the backing of side " + f.brushed + " off, peel the skin after it. ") +
                 "Open the halves slowly, from one end" +
                 (f.form != Form::pieces ? std::string()
                  : f.comes_off.empty()  ? std::string(", the further pieces in their order")
                                         : ", in this order: " + in_a_row(f.comes_off)) +
                 "; take the master out.");
  if (!f.brushed.empty()) w.take(open, f.brushed == "a" ? Thing::jacket_a : Thing::jacket_b);
  if (soft && f.one_sided)
    w.take(open, f.way == Way::splitter_board || f.way == Way::printed_board ? Thing::board : Thing::clay);
  dress(w, soft ? "Trim the rim flat, cut what stands over." : "");
}

}  // namespace palinform::blocks
