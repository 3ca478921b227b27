// Making a mould, by its form.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/blocks.hpp"

namespace palinform::blocks {
namespace {

constexpr const char* knives = "Knives slip in rubber: cut away from hands.";
constexpr const char* solvents = "Release sprays are solvents: fresh air, no flame.";

std::string rods_words(const ProcedureFacts& f) {
  return "Ø" + f.shown.length_figure(f.gate_mm, 1) +
         (f.vents > 0 ? " and " + counted(f.vents, "rod", "rods") + " Ø" + f.shown.length_figure(f.vent_mm, 1)
                      : std::string());
}

bool rods(const ProcedureFacts& f) { return f.cast_in && has_gate(f) && has_box(f.form); }

/// The master down to its line, on clay or a board, with what lies in the bed beside it.
void make_bed(Writing& w, bool flange) {
  const ProcedureFacts& f = w.f;
  const bool clay = f.way != Way::splitter_board && f.way != Way::printed_board;
  const bool printed = f.way == Way::printed_board;
  if (f.way == Way::splitter_board && w.mould <= 1) {
    ProcedureStep& s =
        w.add(Act::cut_board, Block::bed, "board", "Cut the board",
              "Cut the part's outline out of flat sheet, from the drawing at true scale; try it on the part.",
              w.t.board_cut_min);
    s.picture = StepPicture::board;
    s.may_split = true;
  }
  if (printed && w.mould <= 1) {
    ProcedureStep& s =
        w.add(Act::print, Block::bed, "board", "Print the board",
              "Print it" + (f.print_h > 0 ? ", about " + significant(f.print_h, 2) + " h" : std::string()) +
                  "; take the supports off, seal it, dust it with powder.",
              w.t.print_min, 60 * f.print_h);
    s.picture = StepPicture::board;
    s.look_for = "the part sits in it without rocking";
  }
  const bool keys = has_keys(f) || (flange && f.key_count > 0);
  std::string what = clay ? "Bed it in sulphur-free clay up to the line, side a up; edge clean and square to the part."
                     : printed ? "Set the part on its seat, side a up; seal the gap all round."
                               : "Lay the part into the board, side a up; seal the gap all round.";
  if (flange) what += clay ? " A flat flange of clay, two fingers wide, all round." : " The board is the flange.";
  if (f.barrier) what += " Brush barrier over it where it is damp.";
  if (keys && clay)
    what += f.keys == KeyKind::bars  ? " Lay " + counted(f.key_count, "half-round bar", "half-round bars") + " as keys."
            : f.keys == KeyKind::bed ? " Bevel the edge all round: it is the key."
                                     : " Press " + counted(f.key_count, "key", "keys") + " into it.";
  else if (keys && printed)
    what += " Its " + counted(f.key_count, "key stands", "keys stand") + " on it.";
  else if (keys)
    what += " Glue " + counted(f.key_count, "key", "keys") + " onto it.";
  const double minutes = clay      ? (f.bed_min > 0 ? f.bed_min : w.t.bed_min)
                         : printed ? w.t.board_set_min
                                   : w.t.board_set_min + 5;
  ProcedureStep& s =
      w.add(Act::bed, Block::bed, "bed", (clay ? "Bed in clay" : "Set on the board") + w.of_mould(), what, minutes);
  w.put(s, Thing::master);
  w.put(s, clay ? Thing::clay : Thing::board);
  if (keys) w.put(s, Thing::keys);
  s.may_split = clay;
  s.picture = StepPicture::bed;
  s.why = "Where the bed ends, the line will be.";
  s.look_for = clay ? "no gap along the edge, no clay on the part above the line" : "no gap along the edge";
}

/// What is stood or laid into the bed and the box before rubber comes.
void set_pins(Writing& w) {
  const ProcedureFacts& f = w.f;
  if (f.pins.empty()) return;
  ProcedureStep& s =
      w.add(Act::set_pins, Block::bed, "pins",
            "Set " + counted(static_cast<long long>(f.pins.size()), "pin", "pins") + w.of_mould(),
            "Release and set: " + pins_words(f) + ". Turn each until its flat sits; wax where it enters.",
            w.t.pin_min * static_cast<double>(f.pins.size()));
  w.put(s, Thing::pins);
  s.picture = StepPicture::pins;
  s.look_for = "each stands clear of the part and can be drawn";
}

void build_box(Writing& w) {
  const ProcedureFacts& f = w.f;
  if (!has_box(f.form)) return;
  std::string what = (f.box_words.empty() ? std::string("As drawn") : f.box_words) + ". Seal its edges.";
  if (f.dams > 0) what += " Dam off " + counted(f.dams, "empty corner", "empty corners") + ".";
  if (rods(f))
    what +=
        " Stand rods for " + channels_words(f) + ", " + rods_words(f) + ", on the part from a strip across the box.";
  for (const PourFacts& p : f.rubber)
    if (p.fill_mm > 0)
      what += " Mark the fill line" + (f.rubber.size() > 1 ? " of " + p.name : std::string()) + ", " +
              f.shown.length(p.fill_mm) + " over the floor.";
  what += " Release the master.";
  ProcedureStep& s = w.add(Act::box, Block::box, "box", "Build the box" + w.of_mould(), what, w.t.box_min);
  w.put(s, Thing::box);
  if (f.dams > 0) w.put(s, Thing::dams);
  if (rods(f)) {
    w.put(s, Thing::gate_rod);
    if (f.vents > 0) w.put(s, Thing::vent_rods);
  }
  s.may_split = true;
  if (!f.rubber.empty() && f.rubber.front().fill_mm > 0) s.figure = f.rubber.front().fill_mm, s.figure_unit = "mm";
  s.picture = StepPicture::boxed;
  s.why = "Rubber finds every gap.";
  s.look_for = f.porous ? "tight edges; keep the box away from warmth: the master breathes"
                        : "tight edges; water would stay in it";
}

/// The master on the base of a box that is poured whole.
void fix_master(Writing& w, const std::string& what, const std::string& name) {
  ProcedureStep& s = w.add(Act::fix, Block::bed, "fix", name + w.of_mould(), what, w.t.fix_min);
  w.put(s, Thing::master);
  s.picture = StepPicture::bed;
  s.why = w.f.hold_down_n > 0.05 ? "It would float: the rubber lifts it with " + significant(w.f.hold_down_n, 2) + " N."
                                 : "Rubber must not creep under it.";
  s.look_for = "wiggle it; look along its edge";
}

std::string fill_words(const ProcedureFacts& f, const PourFacts& p) {
  return p.fill_mm > 0 ? " to the fill line at " + f.shown.length(p.fill_mm) : "";
}

void pour_rubber(Writing& w, const PourFacts& p, const std::string& name, const std::string& slug) {
  Filling how;
  how.stem = slug;
  how.material = w.f.rubber.size() > 1 ? "rubber " + p.name : "the rubber";
  how.material += w.of_mould();
  how.name = name + w.of_mould();
  how.what = "Pour into the lowest corner, high and thin, and let it rise" + fill_words(w.f, p) + ".";
  how.why = "A thin stream breaks its bubbles.";
  how.wait_min = w.f.rubber_cure.demould_min;
  how.look_for = "nothing runs out; bubbles that rise are pricked";
  mix_and_fill(w, p, how);
}

void draw_rods(Writing& w) {
  if (!rods(w.f)) return;
  const std::string poured = w.last.front();
  ProcedureStep& s = w.add(Act::draw_rods, Block::cure, "rods", "Draw the rods" + w.of_mould(),
                           "While the rubber is firm but soft, turn each rod and draw it.", 5);
  s.after.clear();
  s.window = Window{poured, w.f.rubber_cure.gel_min, std::max(w.f.rubber_cure.gel_min, w.f.rubber_cure.demould_min)};
  w.take(s, Thing::gate_rod);
  if (w.f.vents > 0) w.take(s, Thing::vent_rods);
  w.last.push_back(poured);
}

void turn_over(Writing& w, bool keys) {
  const bool clay = w.f.way != Way::splitter_board && w.f.way != Way::printed_board;
  ProcedureStep& s =
      w.add(Act::turn, Block::turn, "turn", (clay ? "Turn over, clay out" : "Turn over, board off") + w.of_mould(),
            clay ? "Turn it over with the part kept in the rubber. All the clay out; clean the edge with a soft brush."
                 : "Turn it over with the part kept in the rubber. Lift the board off; cut away what crept under it.",
            w.t.turn_over_min);
  w.take(s, clay ? Thing::clay : Thing::board);
  if (keys) w.take(s, Thing::keys);
  s.picture = StepPicture::turned;
  s.look_for = clay ? "no clay left in a corner" : "the part has not moved";
}

void release_half(Writing& w, const std::string& stem, const std::string& name, const std::string& what) {
  ProcedureStep& s =
      w.add(Act::release, Block::release, stem, name + w.of_mould(), what, w.t.release_min, w.t.release_wait_min);
  s.why = "Rubber cures onto rubber: without it both become one lump.";
  s.cautions.push_back(solvents);
  s.picture = StepPicture::turned;
  s.look_for = "a thin even film, also in the key sockets' walls";
  if (!has_keys(w.f)) s.look_for = "a thin even film";
}

void unbox(Writing& w) {
  if (!has_box(w.f.form)) return;
  ProcedureStep& s = w.add(Act::unbox, Block::open, "unbox", "Take the box away" + w.of_mould(),
                           w.f.dams > 0 ? "Walls off, dams out." : "Walls off.", w.t.unbox_min);
  w.take(s, Thing::box);
  if (w.f.dams > 0) w.take(s, Thing::dams);
  s.look_for = "a nail leaves no mark in the rubber: it is cured";
}

void draw_pins(Writing& w) {
  if (w.f.pins.empty()) return;
  ProcedureStep& s = w.add(Act::draw_pins, Block::open, "draw-pins", "Draw the pins" + w.of_mould(),
                           "Turn each a little and draw it straight, in this order: " + pins_words(w.f) + ".",
                           2.0 * static_cast<double>(w.f.pins.size()));
  w.take(s, Thing::pins);
  s.picture = StepPicture::pins;
  s.why = "With a pin still in, the part cannot leave.";
}

ProcedureStep& open_mould(Writing& w, const std::string& name, const std::string& what) {
  std::string words = what;
  if (w.f.taped > 0) words += " Take the tape off the part.";
  ProcedureStep& s = w.add(Act::open, Block::open, "open", name + w.of_mould(), words, w.t.open_min);
  w.take(s, Thing::master);
  if (w.f.taped > 0 && w.mould == w.f.moulds) s.out.push_back({Thing::tape, 0});
  s.picture = StepPicture::opened;
  s.why = "Rubber tears where it is hurried.";
  s.look_for = "tears, bubbles against the part, thin places";
  return s;
}

/// Cuts what was not cast in; trims; lets it rest.
void dress(Writing& w, const std::string& trim) {
  const ProcedureFacts& f = w.f;
  if (has_gate(f) && !rods(f)) {
    ProcedureStep& s =
        w.add(Act::cut_channels, Block::dress, "channels", "Cut " + channels_words(f) + w.of_mould(),
              "Cut " + channels_words(f) + " with a sharp tube: gate Ø" + f.shown.length_figure(f.gate_mm, 1) +
                  (f.vents > 0 ? ", vents Ø" + f.shown.length_figure(f.vent_mm, 1) : std::string()) +
                  ". From the part outward, away from you.",
              w.t.channels_min + 2 * f.vents);
    s.cautions.push_back(knives);
    s.picture = StepPicture::opened;
  }
  if (!trim.empty()) {
    ProcedureStep& s = w.add(Act::trim_mould, Block::dress, "trim-mould", "Dress the mould" + w.of_mould(), trim, 8);
    s.cautions.push_back(knives);
    s.picture = StepPicture::opened;
  }
  if (f.rubber_cure.post_min > 0 && !f.rubber.empty()) {
    ProcedureStep& s = w.add(Act::post_cure, Block::dress, "post-cure", "Cure the mould warm" + w.of_mould(),
                             "Bring it slowly to " + f.shown.temperature(f.rubber_cure.post_c) + " and hold it there.",
                             5, f.rubber_cure.post_min);
    s.needs = "oven";
    s.why = "What is left of the cure's by-products leaves before the first pull.";
    s.cautions.push_back("Oven: fresh air, never over the sheet's temperature.");
  }
  if (w.t.rest_min > 0 && !f.rubber.empty() && f.form != Form::putty) {
    ProcedureStep& s = w.add(Act::rest_mould, Block::dress, "rest", "Let the mould rest" + w.of_mould(),
                             "Stand it closed and flat in its own shape. Rule of thumb.", 0, w.t.rest_min);
    s.why = "Fresh rubber still shrinks and sweats.";
    s.picture = StepPicture::closed;
  }
}

void whole_pour(Writing& w) {
  const ProcedureFacts& f = w.f;
  switch (f.form) {
    case Form::open:
      fix_master(
          w, "Flat side down on the base plate; a bead of glue or wax all round, so that no rubber creeps under it.",
          "Fix it to the base");
      break;
    case Form::strip: {
      ProcedureStep& s = w.add(Act::fix, Block::bed, "bar", "Hang the masters from the bar" + w.of_mould(),
                               counted(f.a_pull, "master", "masters") +
                                   " on one bar, each the way up that traps least; the bar is the later well.",
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
    dress(w,
          f.line_mm > 0 ? "One straight cut through the thinnest plane of each pocket, no deeper than the part." : "");
  } else {
    open_mould(w, "Take the master out", "Lift the mould, turn it over, bend one end first and ease the master out.");
    dress(w, "Trim the creep, level the mouth.");
  }
}

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
    ++half;
    const std::string slug = half == 1 ? "a" : "b";
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
      pour_rubber(w, p, "Pour half " + p.name, slug);
    if (half == 1 && !(soft && f.one_sided)) {
      turn_over(w, has_keys(f));
      release_half(w, "release", "Release the first half", "Brush release over the whole first half. Let it dry.");
    }
  }
  draw_rods(w);
  unbox(w);
  draw_pins(w);
  ProcedureStep& open = open_mould(
      w, soft ? "Take the impressions off" : "Open, take the master out",
      soft ? "Peel them off from one end; take the master out."
           : "Open the halves slowly, from one end" +
                 (f.form == Form::pieces ? std::string(", the further pieces in their order") : std::string()) +
                 "; take the master out.");
  if (soft && f.one_sided)
    w.take(open, f.way == Way::splitter_board || f.way == Way::printed_board ? Thing::board : Thing::clay);
  dress(w, soft ? "Trim the rim flat, cut what stands over." : "");
}

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
      how.what = coat == 1       ? "Thin, worked into every detail with a short brush; no bubbles, no pools."
                 : coat == coats ? "Thickened, over all of it and the flange; hollows that would hold the shell are "
                                   "filled, edges made thick."
                                 : std::string("Thickened, ") +
                                       (coat % 2 == 0 ? "tinted other than the last so that thin places show"
                                                      : "in the first colour again") +
                                       "; gauze in flat spans.";
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

void cup_and_core_mould(Writing& w) {
  const ProcedureFacts& f = w.f;
  ProcedureStep& s =
      w.add(Act::print, Block::bed, "print", "Print cup and core" + w.of_mould(),
            "Print cup and core" + (f.print_h > 0 ? ", about " + significant(f.print_h, 2) + " h" : std::string()) +
                (f.print_ml > 0 ? " and " + fixed(f.print_ml, 0) + " ml" : std::string()) +
                "; supports off, washed and cured as the printer's sheet says.",
            w.t.print_min, f.print_h > 0 ? 60 * f.print_h : w.t.print_wait_min);
  s.picture = StepPicture::board;
  s.look_for = "the core slides on its guide without force";
  ProcedureStep& seal =
      w.add(Act::seal, Block::bed, "seal-print", "Seal the print" + w.of_mould(),
            "Two thin coats on every face that rubber touches; let each dry.", w.t.seal_min, w.t.seal_wait_min);
  seal.why = "Printed resin stops many rubbers from curing, and layers hold them.";
  seal.cautions.push_back("Sealers are solvents: fresh air, no flame.");
  ProcedureStep& r = w.add(Act::release, Block::release, "release", "Release cup and core" + w.of_mould(),
                           "A thin film of release on cup and core.", w.t.release_min, w.t.release_wait_min);
  r.cautions.push_back(solvents);
  r.look_for = "a thin even film";
}

}  // namespace

void make_mould(Writing& w) {
  switch (w.f.form) {
    case Form::open:
    case Form::cut:
    case Form::strip:
      return whole_pour(w);
    case Form::skin:
      return skin(w);
    case Form::cup_core:
      return cup_and_core_mould(w);
    default:
      return halves(w);
  }
}

void look_over_mould(Writing& w) {
  ProcedureStep& s = w.add(Act::look, Block::dress, "mould", "Take the mould from the shelf" + w.of_mould(),
                           "Wash it, let it dry. Look for tears and for places that stick.", 10);
  s.picture = StepPicture::opened;
  s.why = "A tear that is seen now costs no casting.";
}

}  // namespace palinform::blocks
