#include "findings/flow.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "findings/tell.hpp"
#include "flow/crossings.hpp"
#include "stages/closing.hpp"

namespace palinform {

std::vector<Finding> flow_findings(const FlowResult& r, const FlowGround& in, const FlowRules& rules) {
  const FlowSetup& setup = in.setup;
  std::vector<Finding> found;
  if (by_pot(setup.aid) && !in.degassed) {
    Finding& f = tell(
        found, "flow-undegassed", Severity::stop, "Undegassed rubber must not go into the pot",
        "Its own bubbles collapse under " + fixed(setup.pressure_kpa, 0) + " kPa and raise pimples on the casting.");
    f.remedies = {{"Degas the rubber", edits::ClearAir{false, "vacuum"}},
                  {"Pour by gravity", edits::HelpFill{"gravity"}}};
  }
  if (!setup.gate && in.way == FillWay::sprue) {
    Finding& f = tell(found, "flow-no-gate", Severity::caution, "The resin has no way in",
                      "Feed the lowest place, at a thick section, away from show faces.");
    f.remedies = {{"Gate at the lowest place", edits::SetGate{r.lowest_mm}}};
  }
  if (in.way == FillWay::well && !by_chamber(setup.aid)) {
    Finding& f =
        tell(found, "flow-strip", Severity::caution, "A strip fills under vacuum only",
             "Air and resin have to pass each other at the nubs. Draw the air out under the well of resin, then "
             "let it back: it pushes the resin in.");
    f.remedies = {{"Fill under vacuum", edits::HelpFill{"vacuum"}}};
  }
  int told = 0;
  for (const PocketSeen& p : r.pockets) {
    if (!p.visible) continue;
    if (++told > 3) break;
    Finding& f = tell(found, "flow-air", Severity::caution, "", "");
    f.where.point_mm = p.pocket.apex_mm;
    f.where.step = "pocket " + std::to_string(told);
    f.magnitude = p.after_mm3;
    if (!p.pocket.saddle_mm) {
      f.what = "The air has no way out";
      f.why = "There is no vent: all of the mould, " + grouped(p.pocket.volume_mm3 * 1e-3, 1) + " ml, keeps its air.";
    } else {
      f.what = told == 1 ? "Air stays here: " + significant(p.pocket.volume_mm3, 2) + " mm³"
                         : "And here: " + significant(p.pocket.volume_mm3, 2) + " mm³";
      f.why = std::string(p.show_face ? "On a face that shows. " : "") +
              (in.way == FillWay::squeeze ? "The closing halves shut it in"
               : p.under_insert ? "What is cast in roofs it over, and no vent reaches it: tilt it, or turn the insert"
                                : "It is a high place with no way out") +
              ": a void of Ø" + fixed(ball_diameter_mm(p.after_mm3), 1) + " mm" +
              (setup.aid == FillAid::gravity
                   ? "."
                   : ", " + significant(p.after_mm3, 2) + " mm³ after the " + std::string(words_of(setup.aid)) + ".");
    }
    if (in.way == FillWay::squeeze) {
      f.remedies = {{told == 1 ? "Heap it here" : "Heap it there", edits::HeapHere{p.vent_mm}}};
      if (!setup.squeeze.brushed) f.remedies.push_back({"Brush the details", edits::BrushDetails{true}});
    } else if (in.way == FillWay::sprue && !p.under_insert)
      f.remedies = {{told == 1 ? "Vent here" : "Vent there", edits::AddVent{p.vent_mm}}};
    if (p.pocket.saddle_mm && setup.aid == FillAid::gravity && in.degassed)
      f.remedies.push_back(
          {"Pot: " + significant(under_pressure_mm3(p.pocket.volume_mm3, setup.pressure_kpa, setup.altitude_m), 2) +
               " mm³ left",
           edits::HelpFill{"pressure"}});
    if (by_pot(setup.aid)) {
      const double need = pressure_for_kpa(
          by_chamber(setup.aid) ? after_vacuum_mm3(p.pocket.volume_mm3, setup.vacuum_kpa, setup.altitude_m)
                                : p.pocket.volume_mm3,
          r.visible_mm3, setup.altitude_m);
      f.why += " It takes " + fixed(need, 0) + " kPa to make it too small to see; never over the pot's plate.";
    }
  }
  for (const BasinSeen& b : r.basins) {
    if (b.passage_mm >= rules.passage_mm) continue;
    Finding& f = tell(found, "flow-basin", Severity::caution, "Resin must run over into a hollow",
                      significant(b.volume_mm3, 2) + " mm³ fill from above through a passage " +
                          fixed(b.passage_mm, 1) + " mm wide; under " + fixed(rules.passage_mm, 0) +
                          " mm (rule of thumb) air and resin do not pass each other. Gate it from below, "
                          "or tilt the other way.");
    f.where.point_mm = b.spill_mm;
    f.where.step = "basin";
    f.magnitude = b.volume_mm3;
    f.remedies = {{"Gate in this hollow", edits::SetGate{b.gate_mm}}};
    break;
  }
  if (by_chamber(setup.aid)) {
    const double air = air_pressure_kpa(setup.altitude_m);
    if (r.left_mm3 > r.visible_mm3)
      tell(found, "flow-vacuum", Severity::note, "Vacuum does not empty these roofs",
           "A pocket keeps " + fixed(100 * setup.vacuum_kpa / air, 1) + " % of its air. The gauge will read " +
               fixed(vacuum_gauge_kpa(setup.vacuum_kpa, setup.altitude_m), 1) + " kPa at " +
               fixed(setup.altitude_m, 0) + " m.");
    tell(found, "flow-well", Severity::note, "The resin rises before it goes in",
         "Foam may stand " + fixed(std::min(rules.foam_ratio, air / setup.vacuum_kpa), 1) +
             " times as high as the resin (rule of thumb, at most " + fixed(rules.foam_ratio, 0) + "): a well of " +
             fixed(std::min(rules.foam_ratio, air / setup.vacuum_kpa) * r.cavity_mm3 * 1e-3, 0) +
             " ml over the mould. Chambers can implode: no scratched lids, glasses on.");
  }
  return found;
}

namespace {

/// The job's gate and vents with that channel's foot elsewhere.
edits::StandSo moved_foot(const FlowSetup& f, const Channel& c, const Vec3& to) {
  edits::StandSo e{f.turned_over, f.tilt_deg, f.azimuth_deg, f.gate, f.vents};
  if (c.gate) {
    e.gate_mm = to;
    return e;
  }
  size_t nearest = 0;
  for (size_t k = 1; k < e.vents_mm.size(); ++k)
    if (length(e.vents_mm[k] - c.path_mm.front()) < length(e.vents_mm[nearest] - c.path_mm.front())) nearest = k;
  if (nearest < e.vents_mm.size()) e.vents_mm[nearest] = to;
  return e;
}

}  // namespace

std::vector<Finding> channel_findings(const ChannelsResult& r, const ChannelGround& g, const FlowRules& rules) {
  std::vector<Finding> out;
  const double top = top_along(g.mould.inner_mm, g.mould.frame, r.up);
  for (const Channel& c : r.channels) {
    if (!c.clear) {
      Finding& bad = tell(out, "flow-unclear", Severity::caution, "No straight way to the " + c.name,
                          "The part stands over it on every side. Move it, or cut it by hand along the parting line.");
      bad.where.point_mm = c.path_mm.front();
      bad.where.step = c.name;
    }
    const std::vector<Crossing> crossed = crossings_of(c, g.mould, g.keys, g.pins, rules.key_clear_mm);
    // A vent stands where the air is: it may move a little only. One way out for all that it runs into.
    std::optional<Vec3> to;
    if (!crossed.empty())
      to = clear_foot(c, *g.master.rays, *g.master.mesh, r.up, channel_end_mm(g.setup, top, c.gate), g.mould, g.keys,
                      g.pins, rules.key_clear_mm, c.gate ? 25 : 6, channel_rules(g.setup));
    for (const Crossing& x : crossed) {
      const bool pin = x.with == Crossing::With::pin, key = x.with == Crossing::With::key;
      Finding& bad =
          pin   ? tell(out, "flow-pin", Severity::caution, "The " + c.name + " runs into " + g.pins[x.index].name,
                       "Resin would run along the pin, and the pin would close the " + c.name + ".")
          : key ? tell(out, "flow-key", Severity::caution,
                       "The " + c.name + " runs into key " + std::to_string(x.index + 1),
                       "Move one of them: a key that is cut through locates nothing.")
                : tell(out, "flow-line", Severity::caution, "The " + c.name + " crosses the parting surface",
                       "It is cut into both halves and has to meet itself there; what does not leaves a step and "
                       "flash inside the " +
                           c.name + ".");
      bad.where.point_mm = x.at_mm;
      bad.where.step = c.name;
      if (to)
        bad.remedies = {{"Move it " + fixed(length(*to - c.path_mm.front()), 0) + " mm", moved_foot(g.setup, c, *to)}};
    }
    if (!c.gate && c.length_mm() > rules.vent_slender * c.diameter_mm) {
      Finding& thin = tell(out, "flow-long-vent", Severity::note, "A long thin " + c.name,
                           fixed(c.length_mm(), 0) + " mm of Ø" + fixed(c.diameter_mm, 1) +
                               ": cast it round a greased wire and pull that out.");
      thin.where.step = c.name;
    }
  }
  return out;
}

std::vector<Finding> closing_findings(const ClosingResult& r, const SqueezeSetup& asked, const FlowRules& rules) {
  std::vector<Finding> out;
  const double poured_ml = r.how.resin_mm3 * 1e-3;
  const std::string end = set_down_words(r.how.hinge_deg);
  Finding& f =
      tell(out, "flow-squeeze", Severity::note,
           (end.empty() ? "Close it level" : "Set " + end + " down first") + ", with " + fixed(r.weight_kg, 1) +
               " kg " + (r.beside_others ? "for its own hollows" : "on it"),
           std::string(r.hollows > 1 ? "Into each of its " + std::to_string(r.hollows) + " hollows heap " : "Heap ") +
               fixed(poured_ml, 1) + " ml, " + fixed(r.over_pct, 0) + " % more than it holds, " +
               fixed(r.heap_from_wall_mm.x, 0) + " mm from the left and " + fixed(r.heap_from_wall_mm.y, 0) +
               " mm from the front wall; it stands " + fixed(r.how.heap_high_mm, 0) +
               " mm high there (rule of thumb). The weight presses the film over the land to " +
               fixed(r.how.flash_mm, 2) + " mm in " + fixed(r.how.close_s / 60, 0) + " min. " +
               fixed(r.closing.ran_over_mm3 * 1e-3, 1) + " ml run out: catch it.");
  if (!r.brushed.empty()) {
    double sum = 0;
    for (const ClosingPocket& p : r.brushed) sum += p.volume_mm3;
    f.why += " Brush " + counted(static_cast<long long>(r.brushed.size()), "narrow place", "narrow places") +
             " of the upper half first, " + significant(sum, 2) + " mm³ in all.";
  }
  const double stands_mm = heap_height_mm(r.how.viscosity_pa_s);
  if (asked.heap_mm && *asked.heap_mm > 1.5 * stands_mm)
    tell(out, "flow-heap", Severity::caution, "This resin does not stand so high",
         "Of " + significant(r.how.viscosity_pa_s, 2) + " Pa·s it stands about " + fixed(stands_mm, 0) +
             " mm high (rule of thumb), not " + fixed(*asked.heap_mm, 0) + " mm, before it has run level.");
  const double lacks = r.closing.short_mm3;
  if (lacks > std::max(5.0, 0.002 * r.grid.part_mm3())) {
    Finding& less =
        tell(out, "flow-short", Severity::caution, "The resin does not fill it",
             significant(lacks, 2) + " mm³ lack when it is shut: " + fixed(r.closing.ran_over_mm3 * 1e-3, 1) +
                 " ml ran out before.");
    less.magnitude = lacks;
    const double pct = std::min(200.0, std::ceil(r.over_pct + 110 * lacks / r.grid.part_mm3() + 2));
    less.remedies = {{"Pour " + fixed(pct, 0) + " % over", edits::PourOver{pct}}};
  }
  const double here = r.closing.trapped_mm3, gain = here - r.other_way_mm3;
  if (gain > std::max(visible_mm3(2 * rules.visible_void_mm), 0.2 * here)) {
    Finding& over = tell(out, "flow-squeeze-over", Severity::caution,
                         std::string("Side ") + (r.turned_over ? "b" : "a") + " should hold the resin",
                         significant(here, 2) + " mm³ of air stay as it is, " + significant(r.other_way_mm3, 2) +
                             " mm³ with the deeper half below.");
    over.magnitude = here;
    over.remedies = {{"Turn it over", edits::TurnOver{!r.turned_over}}};
  }
  return out;
}

std::vector<Finding> other_closing_findings(const OtherClosingsResult& others, const FlowRules& rules) {
  std::vector<Finding> out;
  if (!others.parts.empty()) {
    double ml = 0;
    std::string heaps;
    for (const OtherClosingsResult::Of& o : others.parts) {
      ml += 1e-3 * o.closing.hollows * o.closing.how.resin_mm3;
      heaps += (heaps.empty() ? "" : "; ") + o.name + ": " + fixed(o.closing.heap_from_wall_mm.x, 0) +
               " mm from the left, " + fixed(o.closing.heap_from_wall_mm.y, 0) + " mm from the front wall";
    }
    tell(out, "flow-squeeze-others", Severity::note,
         "The other parts need " + fixed(others.weight_kg(), 1) + " kg more on it",
         "Heap " + fixed(ml, 1) + " ml in all into them. " + heaps + ".");
  }
  for (size_t k = 0; k < others.parts.size(); ++k) {
    const OtherClosingsResult::Of& o = others.parts[k];
    const Closing& c = o.closing.closing;
    double seen = 0;
    int places = 0;
    for (const ClosingPocket& p : c.pockets)
      if (ball_diameter_mm(p.volume_mm3) > rules.visible_void_mm) seen += p.volume_mm3, ++places;
    if (places > 0) {
      Finding& f = tell(out, "part-air", Severity::caution, o.name + ": air stays as the mould closes",
                        counted(places, "place keeps", "places keep") + " " + significant(seen, 2) +
                            " mm³. One half comes down on all of them by one end: heap that part elsewhere, or brush "
                            "its details first.");
      f.where.step = o.name;
      f.magnitude = seen;
      f.remedies = {{"Take it in hand", edits::TakePart{k}}};
    }
    if (c.short_mm3 > std::max(5.0, 0.002 * o.closing.grid.part_mm3())) {
      Finding& f = tell(out, "part-short", Severity::caution, o.name + ": the resin does not fill it",
                        significant(c.short_mm3, 2) + " mm³ lack when it is shut: " + fixed(c.ran_over_mm3 * 1e-3, 1) +
                            " ml ran out of it before.");
      f.where.step = o.name;
      f.magnitude = c.short_mm3;
      const double pct =
          std::min(200.0, std::ceil(o.closing.over_pct + 110 * c.short_mm3 / o.closing.grid.part_mm3() + 2));
      f.remedies = {{"Pour " + fixed(pct, 0) + " % over", edits::PourOver{pct}},
                    {"Take it in hand", edits::TakePart{k}}};
    }
  }
  return out;
}

std::vector<Finding> plan_findings(const FlowPlanResult& r, const FlowResult& flow, const FlowSetup& setup) {
  std::vector<Finding> out;
  const FlowPlan& p = r.plan;
  double now = 0;
  for (const PocketSeen& s : flow.pockets)
    if (s.visible) now += s.pocket.volume_mm3;
  if (r.taken || (setup.gate && now <= p.left_mm3 * 1.02 + 1e-9)) return out;
  std::string what = p.tilt_deg > 0 ? "Tilted " + fixed(p.tilt_deg, 0) + "° with " : "Level, with ";
  what += counted(static_cast<long long>(p.vents.size()), "vent", "vents");
  what += p.left_mm3 > 0 ? ", " + significant(p.left_mm3, 2) + " mm³ stay" : ", no air stays";
  std::string why;
  for (const std::string& s : p.reasons) why += (why.empty() ? "" : "; ") + s;
  Finding& f = tell(out, "flow-plan", Severity::caution, std::move(what), why + ".");
  f.remedies = {{"Stand and vent it so", stand_so(p)}};
  return out;
}

std::vector<Finding> filling_findings(const FillingResult& r, const Job& job, const Resin& res, const Rules& rules) {
  std::vector<Finding> out;
  if (r.thickest_mm > res.thick_mm)
    tell(out, "flow-heat", Severity::caution, "A thick section heats up",
         fixed(r.thickest_mm, 0) + " mm of " + res.name + ", meant for up to " + fixed(res.thick_mm, 0) +
             " mm. Without loss it would warm by " + fixed(r.heat_rise_k, 0) +
             " K (an upper bound). Pour in layers, fill it out, or take a slower resin; read the data sheet.");
  if (r.thin_mm < rules.flow.thin_cure_share * res.reference_thickness_mm && r.thin_mm > 0)
    tell(out, "flow-thin-cure", Severity::note, "Thin sections cure slower",
         "At " + fixed(r.thin_mm, 1) + " mm the demould time is about " +
             fixed(std::sqrt(res.reference_thickness_mm / r.thin_mm), 1) + " times that of " +
             fixed(res.reference_thickness_mm, 0) + " mm (rule of thumb).");
  if (r.stages.empty()) return out;
  const double now = r.time.full_min.value_or(1e9);
  const std::string best = r.levers.empty() ? ""
                                            : " Most would help: " + r.levers.front().what + ", full in " +
                                                  significant(*r.levers.front().full_min, 2) + " min.";
  const auto help = [&](Finding& f) {
    const double wider_mm = std::ceil(rules.flow.sprue_wider * r.conditions.sprue_mm);
    f.remedies.push_back({"Sprue of Ø" + fixed(wider_mm, 0) + " mm", edits::SetSprue{wider_mm}});
    f.remedies.push_back({fixed(rules.flow.head_more_mm, 0) + " mm more head",
                          edits::SetHead{std::round(job.flow.head_mm + rules.flow.head_more_mm)}});
  };
  if (!r.time.full_min)
    help(tell(out, "flow-gels", Severity::stop, "It would gel before it is full",
              fixed(100 * r.time.filled_share, 0) + " % fill before " + res.name + " no longer flows." + best));
  else if (now > r.left_min)
    help(tell(out, "flow-slow", r.left_min > 0 ? Severity::caution : Severity::stop,
              "Filling takes longer than the pot life",
              "Full in " + significant(now, 2) + " min; " + fixed(std::max(0.0, r.left_min), 1) +
                  " min are left after mixing" +
                  (cup_minutes(res, true, job.mix.resin_air, rules.mix).chamber_min > 0 ? " and degassing" : "") +
                  " at " + fixed(job.size.room_c, 0) + " °C." + best));
  else if (job.flow.aid != FillAid::gravity) {
    // What comes after the pour has to be done before it gels as well.
    const StepMinutes& t = rules.days.steps;
    const double after = (by_chamber(job.flow.aid) ? t.chamber_min : 0) + (by_pot(job.flow.aid) ? t.pot_min : 0);
    if (now + after > r.left_min) {
      Finding& f = tell(
          out, "flow-aid-late", Severity::caution,
          std::string("It thickens before it is ") + (by_pot(job.flow.aid) ? "under pressure" : "out of the chamber"),
          significant(now, 2) + " min to fill and " + fixed(after, 0) + " min" +
              (job.flow.aid == FillAid::vacuum_then_pressure ? " in the chamber and into the pot"
               : by_pot(job.flow.aid)                        ? " into the pot"
                                                             : " in the chamber") +
              " against " + fixed(std::max(0.0, r.left_min), 1) + " min that are left of the pot life at " +
              fixed(job.size.room_c, 0) + " °C.");
      if (job.flow.aid == FillAid::vacuum_then_pressure)
        f.remedies.push_back({"The pot alone", edits::HelpFill{"pressure"}});
    }
  }
  return out;
}

std::vector<Finding> rubber_air_findings(const RubberAirResult& r, bool degassed) {
  std::vector<Finding> out;
  for (const auto& p : r.pours) {
    if (p.pockets.empty()) continue;
    Finding& f = tell(
        out, "rubber-air", Severity::caution,
        "Air stays under the master in pour " + p.name + ": " + significant(p.trapped_mm3, 2) + " mm³",
        "It would leave " + counted(static_cast<long long>(p.pockets.size()), "lump", "lumps") +
            " on every casting. Brush a first coat into it, pour high and thin from one side" +
            (degassed ? ", and let the chamber draw it out" : ", and degas the rubber") +
            (r.better_over == true ? ". Stood the other way up it would keep " + significant(r.other_mm3, 2) + " mm³."
                                   : "."));
    f.where.point_mm = p.pockets.front().apex_mm;
    f.where.step = "pour " + p.name;
    if (!degassed) f.remedies.push_back({"Degas the rubber", edits::ClearAir{false, "vacuum"}});
  }
  return out;
}

}  // namespace palinform
