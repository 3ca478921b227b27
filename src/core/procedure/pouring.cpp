// A pour, cup by cup: weigh, stir, degas or let stand, into the mould; once per cup, each inside its pot life.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {

ProcedureStep& mix_and_fill(Writing& w, const PourFacts& p, const Filling& how) {
  const bool lumps = how.act == Act::press, paste = how.act == Act::lay_jacket;
  for (int cup = 1; cup <= p.cups; ++cup) {
    const std::string again = cup > 1 ? "-cup" + std::to_string(cup) : "",
                      of = p.cups > 1
                               ? (lumps ? ", lump " : ", cup ") + std::to_string(cup) + " of " + std::to_string(p.cups)
                               : "";
    const auto stem = [&](const char* act) { return act + ("-" + how.stem) + again; };
    std::string dose = "Weigh " + w.f.shown.mass(p.each_g) + " of " + p.material +
                       (p.ratio.empty() ? "" : ", " + p.ratio) + (lumps && !p.lumps.empty() ? ": " + p.lumps : "") +
                       ".";
    if (!p.colour.empty()) dose = "Colour first: " + p.colour + ". " + dose;
    if (!p.stirred_in.empty()) dose += " Onto the first part: " + p.stirred_in + ", stirred in without lumps.";
    if (p.no_figures) dose = "STOP. The peroxide cannot be measured safely on this scale; Mix shows the ways out.";
    ProcedureStep& weigh =
        cup == 1 ? w.add(Act::weigh, Block::mix, stem("weigh"), "Weigh " + how.material + of, dose, p.weigh_min)
                 : w.at_once(Act::weigh, Block::mix, stem("weigh"), "Weigh " + how.material + of, dose, p.weigh_min);
    if (!p.no_figures)
      weigh.amounts.push_back({p.material_id, p.material, p.each_g, p.ml / std::max(1, p.cups), p.ratio});
    weigh.cautions = p.cautions;
    weigh.picture = StepPicture::cup;
    weigh.why = "Its ratio decides whether it cures.";
    const std::string weighed = weigh.id;
    // What may pass between the scale and the mould.
    double before = 0;
    const auto mixing = [&](ProcedureStep& s) {
      s.picture = StepPicture::cup;
      s.can_go_back = false;
    };
    if (lumps) {
      ProcedureStep& s = w.at_once(
          Act::knead, Block::mix, stem("knead"), "Knead " + how.material + of,
          "Knead both lumps into one colour, no streak left, in " + shortest(p.stir_min, 1) + " min.", p.stir_min);
      mixing(s);
      s.figure = p.stir_min, s.figure_unit = "min";
      s.look_for = "one colour, no marbling";
    } else {
      ProcedureStep& s =
          w.at_once(Act::stir, Block::mix, stem("stir"), "Stir " + how.material + of,
                    paste && !w.f.brushed.empty()
                        ? "Stir without lumps, thin enough to run into corners, " + shortest(p.stir_min, 1) + " min."
                    : paste ? "Stir to a stiff paste without lumps, " + shortest(p.stir_min, 1) + " min."
                            : "Stir " + shortest(p.stir_min, 1) +
                                  " min, scrape sides and bottom; over into a second, clean cup, and stir again.",
                    p.stir_min);
      mixing(s);
      s.figure = p.stir_min, s.figure_unit = "min";
      s.look_for = "no streaks on the wall of the cup";
    }
    before += p.stir_min;
    if (p.degas_min > 0) {
      ProcedureStep& s = w.at_once(
          Act::degas, Block::mix, stem("degas"), "Degas " + how.material + of,
          "Vacuum until the foam has risen and fallen, then 2 min more; " + shortest(p.degas_min, 1) + " min in all.",
          p.degas_min);
      s.needs = "chamber";
      s.cautions.push_back("Vacuum chamber: goggles on, no cracked lid, let the air back slowly.");
      mixing(s);
      s.figure = p.degas_min, s.figure_unit = "min";
      before += p.degas_min;
    }
    if (p.stand_min > 0) {
      ProcedureStep& s =
          w.at_once(Act::stand, Block::mix, stem("stand"), "Let " + how.material + of + " stand",
                    "Let the cup stand " + shortest(p.stand_min, 1) + " min; prick what rises.", 0, p.stand_min);
      mixing(s);
      s.figure = p.stand_min, s.figure_unit = "min";
      before += p.stand_min;
    }
    ProcedureStep& fill = w.at_once(how.act, how.block,
                                    stem(how.act == Act::brush ? "brush"
                                         : lumps               ? "press"
                                         : paste               ? "lay"
                                                               : "pour"),
                                    how.name + of, how.what, p.pour_min, cup == p.cups ? how.wait_min : 0);
    fill.why = how.why;
    fill.picture = how.picture;
    fill.look_for = how.look_for;
    fill.can_go_back = false;
    if (p.fill_mm > 0) fill.figure = p.fill_mm, fill.figure_unit = "mm";
    fill.window = Window{weighed, before, std::max(before, p.pot_life_min - p.pour_min)};
    if (lumps && cup > 1)
      fill.what += " Its edge onto the last lump's, pressed into one, within " + shortest(p.bond_min, 1) +
                   " min of the first: older putty does not bond.";
    for (ProcedureStep* s = &fill; s->id != weighed; --s) s->cup = cup, s->pour = p.name;
    for (ProcedureStep& s : w.steps)
      if (s.id == weighed) s.cup = cup, s.pour = p.name;
    if (w.casting == 0)
      for (ProcedureStep& s : w.steps)
        if (s.pour == p.name && s.mould == w.mould && s.part.empty()) s.part = "pour " + p.name;
  }
  return w.steps.back();
}

}  // namespace palinform::blocks
