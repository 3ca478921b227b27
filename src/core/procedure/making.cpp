// Making a mould: what its forms share.
#include <algorithm>

#include "base/text.hpp"
#include "procedure/making.hpp"

namespace palinform::blocks {

static std::string rods_words(const ProcedureFacts& f) {
  return (f.gates > 1 ? counted(f.gates, "rod", "rods") + " Ø" : std::string("Ø")) +
         f.shown.length_figure(f.gate_mm, 1) +
         (f.vents > 0 ? " and " + counted(f.vents, "rod", "rods") + " Ø" + f.shown.length_figure(f.vent_mm, 1)
                      : std::string());
}

static bool rods(const ProcedureFacts& f) { return f.cast_in && has_gate(f) && has_box(f.form); }

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
  if (!f.stopped_at.empty())
    what += " Stop " + in_a_row(f.stopped_at) + " with clay, smooth and square: there the rubbers will meet.";
  if (!f.plates.empty())
    what += " Lay the waxed " + std::string(f.plates.size() > 1 ? "plates" : "plate") + " over " + in_a_row(f.plates) +
            ", edges sealed.";
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
  for (const PourFacts& p : f.jacket)
    if (p.fill_mm > 0)
      what += " Mark the fill line of the " + p.name + ", " + f.shown.length(p.fill_mm) + " over the floor.";
  for (const PourFacts& p : f.rubber)
    if (p.fill_mm > 0)
      what += " Mark the fill line" +
              (f.rubber.size() > 1 ? " of " + p.name + (p.stage == 1 ? " stage 1" : "") : std::string()) + ", " +
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

static std::string fill_words(const ProcedureFacts& f, const PourFacts& p) {
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
  const CureFacts& cure = p.cure ? *p.cure : w.f.rubber_cure;
  how.wait_min = p.stage == 1 ? cure.gel_min : cure.demould_min;
  if (p.stage == 1) {
    mix_and_fill(w, p, how).look_for = "level all over; the finger leaves a print but takes nothing along";
    return;
  }
  if (p.stage == 2) {
    const std::string under = w.steps.back().id;
    const double latest = cure.recoat_latest_min.value_or(360);
    ProcedureStep& s = w.add(Act::fence, Block::box, "frame-" + slug, "Frame for the second stage" + w.of_mould(),
                             "A frame of card or sheet, " + w.f.shown.length_figure(p.frame_u_mm) + " × " +
                                 w.f.shown.length(p.frame_v_mm) +
                                 " inside, round what stands higher, pressed a little into the gelled rubber.",
                             w.t.fence_min);
    w.put(s, Thing::fence);
    s.why = "What stands low needs no more rubber over it.";
    s.look_for = "no gap under the frame";
    s.picture = StepPicture::boxed;
    s.window = Window{under, cure.gel_min, std::max(cure.gel_min, latest)};
    how.what = "Pour inside the frame, thin, and let it rise" + fill_words(w.f, p) + ".";
    how.why = "On rubber that is still fresh it bonds; on cured rubber it peels.";
  }
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
  const ProcedureFacts& f = w.f;
  const bool clay = w.f.way != Way::splitter_board && w.f.way != Way::printed_board;
  ProcedureStep& s =
      w.add(Act::turn, Block::turn, "turn", (clay ? "Turn over, clay out" : "Turn over, board off") + w.of_mould(),
            clay ? "Turn it over with the part kept in the rubber. All the clay out; clean the edge with a soft brush."
                 : "Turn it over with the part kept in the rubber. Lift the board off; cut away what crept under it.",
            w.t.turn_over_min);
  if (!f.stopped.empty()) s.what += " Take the clay out of " + in_a_row(f.stopped) + " too.";
  if (!f.plates.empty()) s.what += " The plate off " + in_a_row(f.plates) + ".";
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
  if (!w.f.rubber.empty() && w.f.rubber.back().stage == 2) w.take(s, Thing::fence);
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
  if (!w.f.slits.empty())
    words += " Cut right through the rubber in " + in_a_row(w.f.slits) +
             " as the halves part, with a fresh blade: a bridge that is left holds the part.";
  if (!w.f.unscrewed.empty()) words += " Unscrew " + in_a_row(w.f.unscrewed) + " before the part is eased out.";
  if (w.f.taped > 0 && !(copies_its_casting(w.f) && w.mould > 1)) words += " Take the tape off the part.";
  ProcedureStep& s = w.add(Act::open, Block::open, "open", name + w.of_mould(), words, w.t.open_min);
  w.take(s, Thing::master);
  if (w.f.taped > 0 && w.mould == (copies_its_casting(w.f) ? 1 : w.f.moulds)) s.out.push_back({Thing::tape, 0});
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
              "Cut " + channels_words(f) + " with a sharp tube: " + (f.gates > 1 ? "gates Ø" : "gate Ø") +
                  f.shown.length_figure(f.gate_mm, 1) +
                  (f.vents > 0 ? ", vents Ø" + f.shown.length_figure(f.vent_mm, 1) : std::string()) +
                  ". From the part outward, away from you.",
              w.t.channels_min * f.gates + 2 * f.vents);
    s.cautions.push_back(knives);
    s.picture = StepPicture::opened;
  }
  if (!trim.empty()) {
    ProcedureStep& s = w.add(Act::trim_mould, Block::dress, "trim-mould", "Dress the mould" + w.of_mould(), trim, 8);
    s.cautions.push_back(knives);
    s.picture = StepPicture::opened;
  }
  // Of two rubbers the longer one, no warmer than either bears.
  CureFacts post = f.rubber_cure;
  for (const PourFacts& p : f.rubber)
    if (p.cure && p.cure->post_min > 0) {
      post.post_c = post.post_min > 0 ? std::min(post.post_c, p.cure->post_c) : p.cure->post_c;
      post.post_min = std::max(post.post_min, p.cure->post_min);
    }
  if (post.post_min > 0 && !f.rubber.empty()) {
    ProcedureStep& s =
        w.add(Act::post_cure, Block::dress, "post-cure", "Cure the mould warm" + w.of_mould(),
              post.post_c > 0 ? "Bring it slowly to " + f.shown.temperature(post.post_c) + " and hold it there."
                              : std::string("Leave it open in a warm place."),
              5, post.post_min);
    if (post.post_c > 0) s.needs = "oven";
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
