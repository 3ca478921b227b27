// Making a mould: a brushed skin in its jacket.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

void skin(Writing& w) {
  const ProcedureFacts& f = w.f;
  make_bed(w, true);
  set_pins(w);
  for (const char* side : {"a", "b"}) {
    const std::string s = side;
    std::string before;  // the coat under this one
    int coat = 0, coats = 0;
    for (const PourFacts& p : f.rubber) coats += p.side == s;
    for (const PourFacts& p : f.rubber) {
      if (p.side != s) continue;
      ++coat;
      const std::string slug = s + "-coat-" + std::to_string(coat);
      Filling how;
      how.act = Act::brush;
      how.stem = slug;
      how.material = "coat " + std::to_string(coat) + " of side " + s + w.of_mould();
      how.name = "Brush coat " + std::to_string(coat) + ", side " + s + w.of_mould();
      how.what = (p.thickened ? std::string("Thickened") : std::string("Thin")) +
                 (p.coat_mm > 0 ? ", " + f.shown.length(p.coat_mm, 1) : std::string()) +
                 (coat == 1  ? ", worked into every detail with a short brush; no bubbles, no pools."
                  : p.tinted ? ", tinted unlike the last"
                             : ", in the first colour") +
                 (coat == 1       ? ""
                  : coat == coats ? "; over all and the flange, hollows that would hold the shell filled, edges thick."
                                  : "; gauze in flat spans.");
      how.why = coat == 1 ? "The first coat is the surface of every casting."
                          : "Each must grip the last: not before it gels, not after it is dry.";
      const bool last = coat == coats;
      how.wait_min = last ? f.rubber_cure.demould_min : f.rubber_cure.gel_min;
      how.picture = StepPicture::poured;
      how.look_for = "the finger leaves a print but takes nothing along: then the next coat";
      const size_t first = w.steps.size();
      if (coat > 1) w.last.clear();
      ProcedureStep& fill = mix_and_fill(w, p, how);
      if (coat > 1) {
        // Its cup is made ready while the last coat gels; the coat itself falls into the window.
        const double ahead = p.weigh_min + p.stir_min + p.degas_min + p.stand_min;
        const double latest = f.rubber_cure.recoat_latest_min.value_or(360);
        ProcedureStep& weigh = w.steps[first];
        weigh.window = Window{before, std::max(0.0, f.rubber_cure.gel_min - ahead),
                              std::max(f.rubber_cure.gel_min, latest) - ahead};
      }
      before = fill.id;
      if (last && f.form == Form::skin) {
        ProcedureStep& keys =
            w.at_once(Act::set_keys, Block::mix, "loose-" + s, "Set rubber keys, side " + s + w.of_mould(),
                      "Press small rubber keys into the wet coat, apart from one another, none over an undercut.", 5,
                      f.rubber_cure.demould_min);
        w.steps[w.steps.size() - 2].wait_min = 0;
        keys.why = "They hold the skin in its jacket.";
        keys.picture = StepPicture::poured;
        keys.can_go_back = false;
      }
    }
    ProcedureStep& fence = w.add(Act::fence, Block::bed, "fence-" + s, "Fence for the jacket, side " + s + w.of_mould(),
                                 "A wall of card along the flange, as high as the shell is thick; release skin" +
                                     std::string(s == "b" ? " and the first shell's flange." : " and flange."),
                                 w.t.fence_min);
    w.put(fence, Thing::fence);
    fence.picture = StepPicture::jacket;
    const auto shell = std::find_if(f.jacket.begin(), f.jacket.end(), [&](const PourFacts& p) { return p.side == s; });
    Filling how;
    how.act = Act::lay_jacket;
    how.stem = "jacket-" + s;
    how.material = "the jacket, side " + s + w.of_mould();
    how.name = "Lay the jacket, side " + s + w.of_mould();
    how.what = "In layers, corners first, even thickness; pry slots at the edge" +
               std::string(s == "b" ? "." : "; feet so that it stands level.");
    how.why = "Skin without a stiff jacket has no shape.";
    how.picture = StepPicture::jacket;
    how.wait_min = f.jacket_set_min > 0 ? f.jacket_set_min : w.t.jacket_wait_min;
    how.look_for = "cold again, and it rings when knocked";
    ProcedureStep& laid = [&]() -> ProcedureStep& {
      if (shell != f.jacket.end()) return mix_and_fill(w, *shell, how);
      ProcedureStep& x =
          w.add(Act::lay_jacket, Block::mix, "lay-jacket-" + s, how.name, how.what, w.t.jacket_min, how.wait_min);
      x.picture = how.picture, x.why = how.why, x.look_for = how.look_for;
      return x;
    }();
    laid.may_split = false;
    w.put(laid, s == "a" ? Thing::jacket_a : Thing::jacket_b);
    if (s == "a") {
      turn_over(w, f.key_count > 0);
      ProcedureStep& turned = w.steps.back();
      turned.what = "Turn over with skin, jacket and master in place; bed away; fence away; clean the flange.";
      w.take(turned, Thing::fence);
      release_half(w, "release", "Release the first side",
                   "Release over the rubber and the jacket's flange. Let it dry.");
    }
  }
  ProcedureStep& drill =
      w.add(Act::drill, Block::open, "bolts", "Drill and bolt the jacket" + w.of_mould(),
            "Fence away. " + (f.jacket_bolts > 0 ? counted(f.jacket_bolts, "hole", "holes") : std::string("Holes")) +
                " through both flanges; bolt it before it is parted.",
            15);
  w.take(drill, Thing::fence);
  drill.picture = StepPicture::jacket;
  drill.cautions.push_back("Goggles and a mask: the dust of the jacket.");
  draw_pins(w);
  ProcedureStep& open = open_mould(w, "Open the jacket, peel the skin",
                                   "Pry the shells apart at the slots; peel the skins slowly; take the master out.");
  w.take(open, Thing::jacket_a);
  w.take(open, Thing::jacket_b);
  dress(w, "Trim the skins' edges.");
}

}  // namespace palinform::blocks
