// Making a mould: two halves over a bed, further pieces, putty.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

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
  for (const PourFacts& p : f.rubber) {
    if (p.name.starts_with("piece")) continue;
    if (p.stage != 2) ++half;
    const std::string slug = std::string(half == 1 ? "a" : "b") + (p.stage == 2 ? "-2" : "");
    if (soft) {
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
  ProcedureStep& open =
      open_mould(w, soft ? "Take the impressions off" : "Open, take the master out",
                 soft ? "Peel them off from one end; take the master out."
                      : "Open the halves slowly, from one end" +
                            (f.form != Form::pieces ? std::string()
                             : f.comes_off.empty()  ? std::string(", the further pieces in their order")
                                                    : ", in this order: " + in_a_row(f.comes_off)) +
                            "; take the master out.");
  if (soft && f.one_sided)
    w.take(open, f.way == Way::splitter_board || f.way == Way::printed_board ? Thing::board : Thing::clay);
  dress(w, soft ? "Trim the rim flat, cut what stands over." : "");
}

}  // namespace palinform::blocks
