// A casting: the mould made ready, filled by its form's own way, cured, opened, and what comes after.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {
namespace {

bool tilted(const ProcedureFacts& f) { return closes(f) && f.tilt_deg >= 0.5; }
/// Of a squeeze: the half that holds the resin, and the one that comes down on it.
std::string under(const ProcedureFacts& f) { return f.turned_over ? "a" : "b"; }
std::string upper(const ProcedureFacts& f) { return f.turned_over ? "b" : "a"; }
bool clamped(const ProcedureFacts& f) {
  return closes(f) && f.form != Form::squeeze && f.form != Form::cup_core && f.clamp_n > 0;
}

std::string number_of(const Writing& w) {
  const int pulls = (w.f.copies + w.f.a_pull - 1) / std::max(1, w.f.a_pull);
  return w.casting == 1 ? "the test casting"
                        : "casting " + std::to_string(w.casting) + (pulls > 1 ? " of " + std::to_string(pulls) : "");
}

void make_ready(Writing& w) {
  const ProcedureFacts& f = w.f;
  std::string what = f.ends == Ends::castings || w.casting > 1 ? "Clean it with tape or soft brush. " : "";
  if (!f.inserts.empty())
    what += "Inserts in, degreased, dry and roughened: " + in_a_row(f.inserts) + "; none may move. ";
  double minutes = w.t.close_min;
  const std::string pins = f.pins.empty() ? "" : "Set " + pins_words(f) + ", released. ";
  if (f.form == Form::open || f.form == Form::strip || (f.form == Form::putty && f.one_sided))
    what += pins + "Stand it level" +
            (f.form == Form::open
                 ? "; dust corners that trap air with powder" +
                       (f.powder_g > 0 ? ", about " + significant(f.powder_g, 1) + " g." : std::string("."))
                 : std::string("."));
  else if (f.form == Form::squeeze)
    what += pins + "Lay side " + under(f) + " level, side " + upper(f) + " beside it, the way it will come down.";
  else if (f.form == Form::cup_core)
    what += "Join the cup's halves and screw them; a thin film of release in the cup and on the core.";
  else {
    what += pins;
    what += f.form == Form::skin ? "Lay the skins back in the jacket, smooth, until they sit; bolt it."
            : !f.brushed.empty()
                ? "Lay the skin of side " + f.brushed + " back in its backing until it sits; put the halves together" +
                      (has_keys(f) ? " until the keys sit." : ", edge on edge.")
            : has_keys(f)         ? "Put the halves together until the keys sit."
            : f.form == Form::cut ? "Close the cut until its wave sits."
                                  : "Put the halves together, edge on edge.";
    what += f.edge_gap_mm > 0
                ? " A strip of " + f.shown.length(f.edge_gap_mm, 2) +
                      " round the part's edge keeps the line open for air; tape the outside but a finger's "
                      "width at the top."
                : std::string(" Tape the line.");
  }
  minutes += 2.0 * static_cast<double>(f.inserts.size());
  if (clamped(f)) {
    what += " Hold it shut with " + significant(f.clamp_n, 2) + " N" +
            (f.clamp_with.empty() ? "" : ": " + f.clamp_with) + "; flat plates spread it.";
    minutes += w.t.clamp_min;
  }
  if (tilted(f))
    what += " On the wedge of " + fixed(f.tilt_deg, 0) + "°" +
            (f.wedge_rise_mm > 0 ? ", " + f.shown.length(f.wedge_rise_mm) + " high" : std::string()) +
            (f.turned_over ? ", side b up." : ".");
  else if (closes(f) && f.turned_over && f.form != Form::squeeze && f.form != Form::cup_core)
    what += " Side b up.";
  minutes += w.t.pin_min / 3 * static_cast<double>(f.pins.size());
  ProcedureStep& s =
      w.add(Act::close, Block::cast, "ready",
            std::string(closes(f) && f.form != Form::squeeze ? "Close the mould" : "Make the mould ready") + ", " +
                number_of(w),
            what, minutes);
  // The casting that the other moulds are taken from comes out of the first.
  const int there = copies_its_casting(f) && w.casting == 1 ? 1 : f.moulds;
  for (int m = 1; m <= there; ++m) s.any_of.push_back("mould " + std::to_string(m));
  if (!f.pins.empty() && f.form != Form::cup_core) w.put(s, Thing::pins);
  if (f.form == Form::cup_core) w.put(s, Thing::cup);
  if (f.form == Form::skin || f.brushed == "a") w.put(s, Thing::jacket_a);
  if (f.form == Form::skin || f.brushed == "b") w.put(s, Thing::jacket_b);
  if (clamped(f)) w.put(s, Thing::clamps), s.besides.push_back("clamps");  // from the closing on
  if (tilted(f)) w.put(s, Thing::wedge);
  s.picture = tilted(f) ? StepPicture::tilted : StepPicture::closed;
  if (tilted(f)) s.figure = f.tilt_deg, s.figure_unit = "°";
  s.why = closes(f) && f.form != Form::squeeze ? "Whatever can leak will." : "What stands level fills level.";
  s.look_for = f.form == Form::skin ? "no air between skin and jacket"
               : !f.brushed.empty() ? "no air between skin and backing"
                                    : "dust, old flash, a wet place";
}

std::string pour_words(const ProcedureFacts& f) {
  switch (f.form) {
    case Form::open:
      return (f.grooves > 0 ? "By syringe first, from the bottom up: " + significant(f.grooves_ml, 2) + " ml into " +
                                  counted(f.grooves, "narrow place", "narrow places") + ", the deepest first. "
                            : std::string()) +
             "A thin first coat into every detail, then fill level in a thin stream, from one place.";
    case Form::squeeze:
      return std::string(f.brush_details ? "Brush the details of both halves first. " : "") +
             (f.heap.empty() ? std::string("Heap it a little over where the part is thickest") : f.heap) + ", " +
             fixed(f.over_pct, 0) + " % more than it holds.";
    case Form::cup_core:
      return "Pour into the cup" + (f.casting.ml > 0 ? ", " + fixed(f.casting.ml, 0) + " ml" : std::string()) +
             ", in a thin stream along its wall" +
             (f.casting.fill_mm > 0 ? ": it stands " + f.shown.length(f.casting.fill_mm, 0) + " over the cup's floor."
                                    : std::string("."));
    case Form::strip:
      return "Pour into the well, over all pockets.";
    case Form::putty:
      if (f.one_sided) return "Fill level in a thin stream, from one place.";
      [[fallthrough]];
    default:
      return std::string(f.brush_details ? "Brush the details first. " : "") + "Pour " +
             (has_gate(f) ? f.gates > 1 ? "into one gate after the other in a thin stream, each"
                                        : "into the gate in a thin stream"
                          : "in a thin stream into one place") +
             (has_gate(f) && f.vents > 0 ? " until it stands in every vent" : " until it stands full") +
             "; top up as it sinks.";
  }
}

}  // namespace

void make_casting(Writing& w) {
  const ProcedureFacts& f = w.f;
  const StepMinutes& t = w.t;
  const std::string of = number_of(w);
  make_ready(w);
  const std::string ready = w.steps.back().id;
  const size_t first = w.steps.size();
  const double cure = f.resin_cure.demould_min;
  const bool pot = by_pot(f.fill), chamber = by_chamber(f.fill) || f.form == Form::strip;
  Filling how;
  how.block = Block::cast;
  how.stem = "cast";
  how.material = of;
  how.name = (f.form == Form::squeeze ? "Heap the resin, " : "Pour ") + of;
  how.what = pour_words(f);
  how.why =
      f.form == Form::squeeze ? "From a heap the front drives the air before it." : "A thin stream carries no air in.";
  how.picture = tilted(f) ? StepPicture::tilted : StepPicture::closed;
  how.look_for = has_gate(f) && f.vents > 0 ? "resin in every vent" : "no bubbles that stay";
  mix_and_fill(w, f.casting, how);
  const auto then = [&](Act act, const char* stem, const std::string& name, const std::string& what,
                        double minutes) -> ProcedureStep& {
    ProcedureStep& s = w.at_once(act, Block::cast, stem, name, what, minutes);
    s.picture = how.picture;
    s.can_go_back = false;
    return s;
  };
  const bool level = f.form == Form::open || (f.form == Form::putty && f.one_sided);
  if (f.form == Form::squeeze) {
    ProcedureStep& s = then(Act::lower, "lower", "Lower side " + upper(f) + ", " + of,
                            (f.set_down.empty() ? std::string("Level and slowly, so that the front drives the air out "
                                                              "all round")
                                                : "Set " + f.set_down +
                                                      " down first, then slowly the rest, so that "
                                                      "the front drives the air to the other") +
                                "; then the weight" +
                                (f.squeeze_kg > 0 ? ", " + significant(f.squeeze_kg, 2) + " kg." : std::string(".")),
                            t.clamp_min);
    w.put(s, Thing::weight);
    if (f.squeeze_kg > 0) s.figure = f.squeeze_kg, s.figure_unit = "kg";
    s.look_for = "it runs out all round the line";
    s.why = "Air that is not driven out stays in the upper half.";
  }
  if (f.form == Form::cup_core) {
    ProcedureStep& s = then(Act::press_core, "core", "Press the core down, " + of,
                            "Slowly on its guide until it sits; wipe what runs out.", t.core_min);
    w.put(s, Thing::core);
    s.why = "Slow enough, the rubber rises round it without a bubble.";
    s.look_for = "rubber all round the core's mouth";
  }
  if (level) {
    then(Act::watch, "watch", "Watch it a minute, " + of,
         "Tap it, watch for bubbles, prick them." + std::string(f.cover_plate ? "" : " Scrape it level."), t.watch_min)
        .look_for = "no bubble under its surface";
    if (f.cover_plate) {
      ProcedureStep& s = then(Act::cover, "cover", "Lay the plate, " + of,
                              (f.cover.empty() ? std::string("The waxed plate") : f.cover) +
                                  ", from one edge, so that no air stays under it; weigh it down.",
                              t.cover_min);
      w.put(s, Thing::cover);
      s.why = "The open face comes out as flat as the plate.";
    }
  }
  if (chamber) {
    ProcedureStep& s =
        then(Act::into_chamber, "chamber", "Vacuum, " + of,
             f.form == Form::strip ? "Mould and all into the chamber, to " + significant(f.vacuum_kpa, 2) +
                                         " kPa: until the front stops bubbling, not until it foams. Let the air in "
                                         "slowly: it presses the resin home."
                                   : "Mould and all into the chamber, to " + significant(f.vacuum_kpa, 2) +
                                         " kPa, until bubbles stop rising; let the air in slowly.",
             t.chamber_min);
    s.needs = "chamber";
    s.figure = f.vacuum_kpa, s.figure_unit = "kPa";
    s.cautions.push_back("Vacuum chamber: goggles on, no cracked lid, let the air back slowly.");
    then(Act::top_up, "top-up", "Top up, " + of,
         f.form == Form::strip ? "Fill the well again." : "Fill up what has sunk.", 2);
  }
  if (pot) {
    ProcedureStep& s =
        then(Act::into_pot, "pot", "Into the pot, " + of,
             "Mould and all into the pot before it gels; let it rise slowly to " + fixed(f.pressure_kpa, 0) +
                 " kPa on the gauge, and hold it until it is as hard as for demoulding.",
             t.pot_min);
    s.needs = "pot";
    s.figure = f.pressure_kpa, s.figure_unit = "kPa";
    w.put(s, Thing::pressure);
    s.why = "Bubbles that stay are pressed too small to see, if they are still so when it gels.";
    s.cautions.push_back(
        "Pressure pot: never over the pressure on its plate; its lid bolted down before air goes in; let it down "
        "before you open it.");
    if (f.rubber_cure.demould_min > 0 && f.form != Form::cup_core)
      s.look_for = "the gauge stands; a mould with bubbles in its own rubber gives pimples";
  }
  w.steps.back().wait_min = cure;  // whatever came last over the pour carries its cure
  if (f.resin_fumes) w.steps.back().besides.push_back("fume place");
  if (clamped(f)) w.steps.back().besides.push_back("clamps");
  const std::string filled = w.steps.back().id;
  if (level && !f.cover_plate && !pot && !chamber) {
    // Within its cure, while it still takes more.
    ProcedureStep& s = w.add(Act::top_up, Block::cure, "top-up", "Top up, " + of,
                             "Fill what has shrunk away from the rim" +
                                 (f.top_up_ml >= 0.05 ? ", about " + fixed(f.top_up_ml, 1) + " ml" : std::string()) +
                                 ", while it still takes.",
                             3);
    s.after.clear();
    const double gel = std::min(f.resin_cure.gel_min, cure);
    s.window = Window{filled, 0.4 * gel, std::max(gel, 0.4 * gel)};
    w.last.push_back(filled);
  }
  for (size_t i = first; i < w.steps.size(); ++i) w.steps[i].same_as = ready;

  std::string out;
  if (pot) out += "Let the pot down first. ";
  out += "Feel the rest in the cup: hard? ";
  if (clamped(f)) out += "Clamp off. ";
  if (f.form == Form::squeeze) out += "Weight off. ";
  if (level && f.cover_plate) out += "Slide the plate off. ";
  if (!f.unscrewed.empty()) out += "Unscrew " + in_a_row(f.unscrewed) + " first. ";
  if (!f.pins.empty() && f.form != Form::cup_core) out += "Draw the pins in this order: " + pins_words(f) + ". ";
  out += f.form == Form::cup_core ? "Jack the core out with its screw" +
                                        (f.jack_n >= 1 ? ", about " + significant(f.jack_n, 2) + " N" : std::string()) +
                                        ", peel the part, trim its mouth."
         : f.form == Form::skin ? "Unbolt the jacket, peel the skins from one end, ease the casting out."
         : f.form == Form::strip
             ? std::string(f.strip_cut.empty() ? "Press each one out" : "Bend the mould open at its cut") +
                   ", and lift the strip by its well."
         : level ? "Bend one end first and press it out."
                 : (f.brushed.empty() ? std::string() : "The backing of side " + f.brushed + " off first. ") +
                       "Open from one end, no metal tools on the rubber" +
                       (f.comes_off.empty() ? std::string() : ", in this order: " + in_a_row(f.comes_off)) +
                       "; ease the casting out.";
  w.last.push_back(filled);
  std::sort(w.last.begin(), w.last.end());
  w.last.erase(std::unique(w.last.begin(), w.last.end()), w.last.end());
  ProcedureStep& s = w.add(Act::demould, Block::demould, "demould", "Demould " + of, out, t.demould_min);
  s.same_as = ready;
  if (pot) w.take(s, Thing::pressure);
  if (clamped(f)) w.take(s, Thing::clamps);
  if (tilted(f)) w.take(s, Thing::wedge);
  if (f.form == Form::squeeze) w.take(s, Thing::weight);
  if (level && f.cover_plate) w.take(s, Thing::cover);
  if (!f.pins.empty() && f.form != Form::cup_core) w.take(s, Thing::pins);
  if (f.form == Form::cup_core) w.take(s, Thing::core), w.take(s, Thing::cup);
  if (f.form == Form::skin || f.brushed == "a") w.take(s, Thing::jacket_a);
  if (f.form == Form::skin || f.brushed == "b") w.take(s, Thing::jacket_b);
  s.picture = StepPicture::casting;
  s.why = "Too early it bends; it keeps the shape it was bent to.";
  s.look_for = "a soft inside, tacky places, a tear in the mould";
  const double post = std::max(f.resin_cure.post_min, t.post_cure_min);
  if (post > 0) {
    ProcedureStep& p = w.add(
        Act::post_cure, Block::demould, "post-cure-cast", "Post-cure, " + of,
        f.resin_cure.post_c > 0
            ? "Lay it flat; bring it slowly to " + f.shown.temperature(f.resin_cure.post_c) + " and hold it there."
            : "Lay it flat and leave it.",
        3, post);
    if (f.resin_cure.post_c > 0)
      p.needs = "oven", p.cautions.push_back("Oven: fresh air, never over the sheet's temperature.");
    p.picture = StepPicture::casting;
  }
}

}  // namespace palinform::blocks
