#include "split/ways.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

std::string_view words_of(Way w) {
  constexpr std::string_view names[] = {"Clay bed",        "Splitter board", "Printed parting board",
                                        "Pour whole, cut", "Open face",      "More pieces"};
  return names[static_cast<size_t>(w)];
}
WaveCut wave_cut(double wall_mm, double height_mm, double girth_mm, double pass_mm) {
  WaveCut w;
  w.depth_mm = wall_mm;
  // Teeth of a third of the wall hold the halves; flanks of 45° let the blade turn.
  w.height_mm = std::clamp(wall_mm / 3, 3.0, std::max(3.0, 0.2 * height_mm));
  w.pitch_mm = std::round(2 * w.height_mm * 2) / 2;
  // A whole number of teeth round the block.
  const int teeth = std::max(4, static_cast<int>(std::round(girth_mm / w.pitch_mm)));
  w.pitch_mm = girth_mm / teeth;
  w.passes = std::max(1, static_cast<int>(std::ceil(wall_mm / pass_mm - 1e-9)));
  w.pass_mm = wall_mm / w.passes;
  w.path_mm = teeth * 2 * std::hypot(0.5 * w.pitch_mm, w.height_mm);
  return w;
}

WaveCut wave_round(const Vec3& block, double wall_mm, double pass_mm) {
  return wave_cut(wall_mm, block.z, 2 * (block.x + block.y), pass_mm);
}

WaveCut wave_of(const WayFacts& f, const WayRates& r) {
  const double w = f.wall_mm;
  return wave_round(f.extent_mm + Vec3{2 * w, 2 * w, 2 * w}, w, r.cut_depth_per_pass_mm);
}

std::string words_of(const WaveCut& w, const Shown& shown) {
  return shown.length(w.height_mm, 1) + " teeth every " + shown.length(w.pitch_mm, 1) + ", " +
         counted(w.passes, "pass", "passes") + " of " + shown.length(w.pass_mm, 1);
}

std::vector<WayPlan> ways_to_split(const WayFacts& f, const WayRates& r) {
  const double w = f.wall_mm;
  const auto block_g = [&](const Vec3& e, double below) {
    return std::max(0.0, (e.x + 2 * w) * (e.y + 2 * w) * (e.z + w + below) - f.part_mm3) * 1e-3 *
           f.rubber_density_g_cm3;
  };
  const double whole_g = block_g(f.extent_mm, w);
  const bool line = f.line_mm > 0;
  const bool two_piece = line && f.need_help == 0;
  const std::string locks =
      f.need_help > 0 ? counted(f.need_help, "undercut needs help", "undercuts need help") + " before two pieces can do"
                      : "";
  std::vector<WayPlan> out(way_count);
  for (int i = 0; i < way_count; ++i) {
    WayPlan& p = out[static_cast<size_t>(i)];
    p.way = static_cast<Way>(i);
    p.line_mm = f.line_mm;
    p.rubber_g = whole_g;
    p.pours = 2;
    const auto say = [&](std::string s) { p.reasons.push_back(std::move(s)); };
    double wait_h = 0;
    switch (p.way) {
      case Way::clay_bed:
        p.works = two_piece;
        if (!p.works) say(line ? locks : "No line to lay a bed to");
        p.hands_min = r.bed_base_min + r.bed_min_per_mm * f.line_mm + r.bed_climb_min_per_mm * f.climb_mm;
        say("Follows any line; " + fixed(f.line_mm, 0) + " mm to lay, climbs " + fixed(f.climb_mm, 1) + " mm");
        if (f.feather_mm > 0) say("Bevel the bed at " + fixed(f.feather_mm, 0) + " mm of feather edge");
        break;
      case Way::splitter_board: {
        const bool flat = f.climb_mm <= r.board_flat_mm;
        p.works = two_piece && flat && f.shut_offs == 0;
        if (!line)
          say("No line to cut a board to");
        else if (!flat)
          say("The line climbs " + fixed(f.climb_mm, 1) + " mm; a flat board would miss it");
        else if (f.shut_offs > 0)
          say("A loose island of board would have to stand in " + counted(f.shut_offs, "opening", "openings"));
        else if (!two_piece)
          say(locks);
        else
          say("The line is flat within " + fixed(f.climb_mm, 1) + " mm: one sheet with the outline cut out");
        p.hands_min = r.board_base_min + r.board_min_per_mm * f.line_mm;
        break;
      }
      case Way::printed_board: {
        p.works = two_piece;
        if (!p.works) say(line ? locks : "No line to shape a board to");
        p.hands_min = r.print_base_min;
        // Land, groove and rim at about five millimetres; the parting board itself is worked out in Mould.
        const double board_mm3 = (f.extent_mm.x + 2 * w + 20) * (f.extent_mm.y + 2 * w + 20) * (5 + 0.5 * f.climb_mm);
        const double print_h = board_mm3 / r.print_mm3_per_min / 60;
        wait_h += print_h;
        say("Shape, keys and imprint come off the printer in about " + fixed(print_h, 1) + " h (by volume)");
        say("The edge of the board is as sharp as the printer's");
        break;
      }
      case Way::pour_and_cut: {
        p.pours = 1;
        p.wave = wave_of(f, r);
        // The knife follows any line, and soft rubber spreads round an undercut it could not be pulled from.
        p.works = line && f.see_through && f.shut_offs == 0 && (f.need_help == 0 || f.shore_a <= 30);
        if (!line)
          say("Nothing to cut along");
        else if (!f.see_through)
          say("The rubber chosen hides the part; the knife needs to see it");
        else if (f.shut_offs > 0)
          say("The knife cannot reach " + counted(f.shut_offs, "shut-off", "shut-offs") + " inside");
        else if (!p.works)
          say(locks + ", and " + fixed(f.shore_a, 0) + " A does not spread");
        else
          say("One pour, one cure; the wave registers itself");
        say(words_of(*p.wave, {}));
        p.hands_min = r.cut_base_min + r.cut_min_per_mm * (p.wave->path_mm * p.wave->passes + f.line_mm);
        break;
      }
      case Way::open_face:
        p.pours = 1;
        p.line_mm = 0;
        p.rubber_g = f.flat_normal ? block_g(f.open_extent_mm, 0) : 0;
        p.works = f.flat_normal && f.open_flexes;
        if (!f.flat_normal)
          say(f.open_offer.empty()
                  ? std::string("No flat face would let go; mark the hidden one in Original if there is one")
                  : "No hidden flat face is marked. " + f.open_offer);
        else if (!f.open_flexes)
          say(f.open_why.empty() ? std::string("It locks when drawn off the flat face") : f.open_why);
        else
          say("The flat face of " + fixed(f.hidden_flat_mm2, 0) + " mm² is the open side: no line at all" +
              (f.flat_marked ? "" : ". Nobody marked it hidden: it comes out as poured"));
        if (p.works && !f.open_why.empty()) say(f.open_why);
        if (f.flat_normal) say("That face comes out as poured: scrape it or lay a cover plate");
        p.hands_min = r.open_base_min;
        break;
      case Way::pieces:
        p.works = line && f.extra_pieces > 0 && f.left_mm2 < 1;
        p.pours = 2 + f.extra_pieces;
        if (f.extra_pieces == 0)
          say(f.need_help > 0 ? "No direction was found that frees the rest"
                              : "Two pieces do; more would only add work");
        else if (f.left_mm2 >= 1)
          say(fixed(f.left_mm2, 0) + " mm² lock even so");
        else
          say(counted(2 + f.extra_pieces, "piece", "pieces") + ", each with its own pull, and nothing locks");
        p.hands_min = r.bed_base_min + r.bed_min_per_mm * f.line_mm + r.piece_base_min * f.extra_pieces;
        break;
    }
    if (f.pins > 0 && p.way != Way::open_face) {
      p.hands_min += r.pin_min * f.pins;
      if (p.works) say("With " + counted(f.pins, "hard pin", "hard pins") + " to make and set");
    }
    p.hands_min += r.pour_min * p.pours;
    wait_h += f.cure_h * p.pours + p.hands_min / 60;
    p.days = wait_h / 24;
    p.wait_h = wait_h - p.hands_min / 60;
  }
  double leanest = 1e300;
  for (const WayPlan& p : out)
    if (p.works) leanest = std::min(leanest, p.rubber_g);
  for (WayPlan& p : out) p.extra_rubber_g = leanest < 1e300 ? std::max(0.0, p.rubber_g - leanest) : 0;
  return out;
}

}  // namespace palinform
