// Making a mould: a brushed skin in its jacket.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

void brush_coats(Writing& w, const std::string& s) {
  const ProcedureFacts& f = w.f;
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
    how.what =
        (p.thickened ? std::string("Thickened") : std::string("Thin")) +
        (p.coat_mm > 0 ? ", " + f.shown.length(p.coat_mm, 1) : std::string()) +
        (coat == 1  ? ", worked into every detail with a short brush; no bubbles, no pools."
         : p.tinted ? ", tinted unlike the last"
                    : ", in the first colour") +
        (coat == 1       ? ""
         : coat == coats ? f.form == Form::skin
                               ? "; over all and the flange, hollows that would hold the shell filled, edges thick."
                               : "; over all up to the walls, hollows that would hold the backing filled."
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
      weigh.window =
          Window{before, std::max(0.0, f.rubber_cure.gel_min - ahead), std::max(f.rubber_cure.gel_min, latest) - ahead};
    }
    before = fill.id;
    if (last) {
      ProcedureStep& keys =
          w.at_once(Act::set_keys, Block::mix, "loose-" + s, "Set rubber keys, side " + s + w.of_mould(),
                    "Press small rubber keys into the wet coat, apart from one another, none over an undercut.", 5,
                    f.rubber_cure.demould_min);
      w.steps[w.steps.size() - 2].wait_min = 0;
      keys.why = f.form == Form::skin ? "They hold the skin in its jacket." : "They hold the skin in its backing.";
      keys.picture = StepPicture::poured;
      keys.can_go_back = false;
    }
  }
}

void skin(Writing& w) {
  const ProcedureFacts& f = w.f;
  make_bed(w, true);
  set_pins(w);
  for (const char* side : {"a", "b"}) {
    const std::string s = side;
    brush_coats(w, s);
    ProcedureStep& fence = w.add(
        Act::fence, Block::bed, "fence-" + s, "Fence for the jacket, side " + s + w.of_mould(),
        "A wall of card along the flange, " +
            (f.fence_mm > 0 ? f.shown.length(f.fence_mm) + " high" : std::string("as high as the shell is thick")) +
            "; release skin" + std::string(s == "b" ? " and the first shell's flange." : " and flange."),
        w.t.fence_min);
    w.put(fence, Thing::fence);
    fence.picture = StepPicture::jacket;
    std::vector<const PourFacts*> layers;
    for (const PourFacts& p : f.jacket)
      if (p.side == s) layers.push_back(&p);
    const double gel = f.jacket_gel_min > 0 ? f.jacket_gel_min : w.t.jacket_layer_min;
    const double set = f.jacket_set_min > 0 ? f.jacket_set_min : w.t.jacket_wait_min;
    const std::string ends = std::string("pry slots at the edge") + (s == "b" ? "." : "; feet, to stand level.");
    for (size_t k = 0; k < std::max<size_t>(1, layers.size()); ++k) {
      const bool last = k + 1 >= layers.size();
      const std::string layer = layers.size() > 1 ? " layer " + std::to_string(k + 1) : "";
      Filling how;
      how.act = Act::lay_jacket;
      how.stem = "jacket-" + s + (layers.size() > 1 ? "-" + std::to_string(k + 1) : "");
      how.material = "the jacket" + layer + ", side " + s + w.of_mould();
      how.name = "Lay the jacket" + layer + ", side " + s + w.of_mould();
      how.what = layers.size() < 2 ? "Corners first, even; " + ends
                 : k == 0          ? "Thin, corners and hollows first."
                 : last            ? "Even, the flange up to the fence; " + ends
                                   : "Even thickness all over, fibre or gauze in it.";
      how.why = k == 0 ? "Skin without a stiff jacket has no shape." : "On a layer that has just stiffened it bonds.";
      how.picture = StepPicture::jacket;
      how.wait_min = last ? set : gel;
      how.look_for = last ? "cold again, and it rings when knocked" : "stiff, no longer wet";
      const size_t first = w.steps.size();
      ProcedureStep& x = [&]() -> ProcedureStep& {
        if (!layers.empty()) return mix_and_fill(w, *layers[k], how);
        ProcedureStep& one =
            w.add(Act::lay_jacket, Block::mix, "lay-jacket-" + s, how.name, how.what, w.t.jacket_min, how.wait_min);
        one.picture = how.picture, one.why = how.why, one.look_for = how.look_for;
        return one;
      }();
      x.may_split = false;
      if (k > 0) w.steps[first].why = "The next layer goes on when the last is stiff, before it is dry.";
    }
    ProcedureStep& laid = w.steps.back();
    if (f.jacket_fumes) laid.besides.push_back("fume place");
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
