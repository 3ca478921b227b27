#include "overview/sheet.hpp"

#include <algorithm>
#include <set>
#include <utility>

#include "base/text.hpp"
#include "stages/materials.hpp"

namespace palinform {

namespace {

std::string time_words(double minutes) {
  if (minutes < 90) return fixed(minutes, 0) + " min";
  return minutes < 48 * 60 ? significant(minutes / 60, 2) + " h" : significant(minutes / 60 / 24, 2) + " days";
}

/// What the mould is and has; only what it has.
SheetTable mould_table(const Job& job, const Planner& plan, const MouldResult& mould, const ProcedureFacts& f) {
  SheetTable t{"Mould", {"", ""}, {}, ""};
  const auto row = [&](std::string what, std::string is) { t.rows.push_back({std::move(what), std::move(is)}); };
  std::string form(words_of(f.form));
  if (has_bed(f.form)) form += ", " + lower_ascii(words_of(f.way));
  if (f.moulds > 1) form += ", " + std::to_string(f.moulds) + " of them";
  row("form", form + (f.ends == Ends::both ? "" : "; " + std::string(words_of(f.ends))));
  const bool makes = f.ends == Ends::both || f.ends == Ends::mould;
  if (makes && !f.brushed.empty()) row("half " + f.brushed, "brushed in coats, backed in the box");
  if (makes && has_box(f.form)) row("box", f.box_words + ", wall of rubber " + f.shown.length(mould.mould.wall_mm, 1));
  if (makes) {
    std::string lines;
    for (const PourFacts& p : f.rubber)
      if (p.fill_mm > 0)
        lines += (lines.empty() ? "" : ", ") + (f.rubber.size() > 1 ? p.name + " " : std::string()) +
                 f.shown.length(p.fill_mm);
    for (const PourFacts& p : f.jacket)
      if (p.fill_mm > 0) lines += (lines.empty() ? "" : ", ") + p.name + " " + f.shown.length(p.fill_mm);
    if (!lines.empty()) row("fill line over the floor", lines);
    if (f.hold_down_n > 0.05) row("hold the master down", significant(f.hold_down_n, 2) + " N");
    if (f.dams > 0) row("dams", counted(f.dams, "corner", "corners"));
    if (f.print_h > 0)
      row(f.form == Form::cup_core ? "cup and core, printed" : "board, printed",
          significant(f.print_h, 2) + " h" + (f.print_ml > 0 ? ", " + fixed(f.print_ml, 0) + " ml" : std::string()));
    if (!f.wave.empty()) row("cut", f.wave);
    for (const PourFacts& p : f.jacket) row(p.name, f.shown.mass(p.each_g * p.cups) + " of " + p.material);
  }
  if (has_keys(f)) row("keys", counted(f.key_count, "key", "keys") + ", " + std::string(words_of(f.keys)));
  if (!f.pins.empty()) {
    std::string pins;
    for (const std::string& p : f.pins) pins += (pins.empty() ? "" : ", then ") + p;
    row("pins, in the order they are drawn", pins);
  }
  if (f.ends == Ends::mould) return t;
  if (has_gate(f))
    row(f.cast_in ? "gate, cast in" : "gate, cut",
        "Ø" + f.shown.length(f.gate_mm, 1) +
            (f.vents > 0 ? "; " + counted(f.vents, "vent", "vents") + " Ø" + f.shown.length(f.vent_mm, 1)
                         : std::string()));
  const auto channels = plan.fresh(results::channels);
  // Rods to stand on the master: how thick, how long, where their foot is from the box's left and front wall.
  if (has_gate(f) && f.cast_in && channels)
    for (const Channel& c : channels->channels) {
      const Vec3 foot = mould.mould.frame.direction(c.path_mm.front());
      const Box3& box = mould.mould.inner_mm;
      row("rod for the " + c.name, "Ø" + f.shown.length(c.diameter_mm, 1) + ", " + f.shown.length(c.length_mm()) +
                                       " long; foot " + f.shown.length_figure(foot.x - box.min.x) + " from the left, " +
                                       f.shown.length(foot.y - box.min.y) + " from the front wall");
    }
  if (closes(f) && f.tilt_deg >= 0.5) {
    row("wedge", fixed(f.tilt_deg, 0) + "°" +
                     (channels ? ": " + f.shown.length(channels->wedge_rise_mm) + " high under " +
                                     f.shown.length(channels->wedge_run_mm)
                               : std::string()) +
                     (f.turned_over ? ", side b up" : ""));
  }
  if (closes(f) && f.clamp_n > 0 && f.form != Form::squeeze && f.form != Form::cup_core)
    row("held shut with", significant(f.clamp_n, 2) + " N" + (f.clamp_with.empty() ? "" : ": " + f.clamp_with));
  if (f.form == Form::squeeze) {
    if (!f.heap.empty()) row("resin", f.heap + ", " + fixed(f.over_pct, 0) + " % over");
    row("set down", f.set_down.empty() ? "level" : f.set_down + " first");
    row("weight on it", significant(f.squeeze_kg, 2) + " kg");
  }
  if (f.form == Form::open) row("open side", f.cover.empty() ? std::string("scraped level") : f.cover);
  if (by_pot(f.fill))
    row("pot", fixed(f.pressure_kpa, 0) + " kPa on the gauge, held " + time_words(f.resin_cure.demould_min));
  if (by_chamber(f.fill) || f.form == Form::strip) row("vacuum", significant(f.vacuum_kpa, 2) + " kPa in the chamber");
  row("castings", counted(job.copies, "copy", "copies") +
                      (f.a_pull > 1 ? ", " + std::to_string(f.a_pull) + " a pull" : std::string()));
  return t;
}

/// A line a step, but a cup in one: weighed, stirred, poured. Every casting and mould goes like the first.
void sheet_steps(const Procedure& procedure, Sheet& s) {
  std::string cup, last_dose;  // what was done with the cup in hand; what was weighed last, without its mass
  std::set<std::string> told;
  for (const ProcedureStep& step : procedure.steps) {
    if (!step.skipped.empty()) {
      s.steps.push_back(step.name + ": left out, " + step.skipped + ".");
      continue;
    }
    if (step.casting > 1 || step.mould > 1) continue;
    for (const std::string& c : step.cautions)
      if (std::find(s.cautions.begin(), s.cautions.end(), c) == s.cautions.end()) s.cautions.push_back(c);
    std::string what = step.what;
    if (step.mixes()) {
      // The common words of a mix stand in every cup: on paper its figures do.
      if (step.act == Act::weigh) {
        cup = what;
        // Coat after coat of one rubber: its name and ratio once.
        const size_t of = what.find(" of ");
        const std::string dose = of == std::string::npos ? what : what.substr(of);
        if (of != std::string::npos && dose == last_dose) cup = what.substr(0, of) + " of the same.";
        last_dose = dose;
      } else if (step.figure > 0)
        cup += (step.act == Act::stir    ? " Stir "
                : step.act == Act::knead ? " Knead "
                : step.act == Act::degas ? " Vacuum "
                                         : " Stand ") +
               shortest(step.figure, 1) + " min.";
      continue;
    }
    std::string line = step.name + ". ";
    if (step.fills() && !cup.empty()) line += std::exchange(cup, std::string()) + " ";
    // A coat, a half, a check that goes like one before is not told all over again.
    constexpr size_t worth = 60;  // letters; shorter ones are told again
    line += (step.fills() || what.size() > worth) && !told.insert(what).second ? std::string("As before.") : what;
    if (step.wait_min > 0) line += " Then " + time_words(step.wait_min) + ".";
    if (step.window && !step.at_once)
      line += " From " + time_words(step.window->earliest_min) +
              (step.window->latest_min ? " to " + time_words(*step.window->latest_min) : std::string(" on")) +
              " after it.";
    s.steps.push_back(std::move(line));
  }
}

}  // namespace

Sheet make_sheet(const Job& job, const Planner& plan, const Shop& shop) {
  Sheet s;
  s.title = job.name;
  s.subtitle = job.client.empty() ? counted(job.copies, "copy", "copies")
                                  : job.client + " · " + counted(job.copies, "copy", "copies");
  const auto findings = findings_of(job, plan);
  for (const OpenFinding& f : findings)  // safety first, whatever else stops the job
    if (f.finding.code == "duty")
      s.stops.push_back(f.finding.what + ". " + f.finding.why +
                        (f.answer ? " Answer: " + f.answer->reason : " NOT ANSWERED."));
  for (const OpenFinding& f : findings) {
    if (f.finding.code != "duty" && f.finding.severity == Severity::stop && !f.answer)
      s.stops.push_back("Not answered: " + f.finding.what + ". " + f.finding.why);
  }
  const auto original = plan.fresh(results::master);
  const auto split = plan.fresh(results::split);
  if (original) {
    Body b;
    b.shape = original->shape;
    if (split) {
      b.face_paint = split->face_paint;
      b.paints = {{Rgb::hex(0xD9D3C4), Rgb::hex(0x33508A), Pattern::plain},
                  {Rgb::hex(0xE3C98C), Rgb::hex(0xC58B1B), Pattern::dots},
                  {Rgb::hex(0xD9B8B4), Rgb::hex(0xA63D40), Pattern::hatch}};
    }
    s.scene.bodies.push_back(std::move(b));
    s.scene.ground = Rgb{1, 1, 1};
  }
  const auto sizes = plan.fresh(results::size);
  const Shown& u = shop.shown;
  SheetTable t{std::string("Sizes, ") + u.length_name(),
               {"size", "limits", "formed by", "original", "predicted", "in limits", "casting"},
               {},
               ""};
  for (size_t i = 0; i < job.original.sizes.size(); ++i) {
    const MeasuredSize& m = job.original.sizes[i];
    const bool known = sizes && i < sizes->predictions.size();
    t.rows.push_back(
        {m.name, u.inch ? u.length_figure(m.lower_mm, 3) + " … " + u.length_figure(m.upper_mm, 3) : limits_text(m),
         m.formed == FormedBy::pin && m.pin_mm ? "pin " + u.length_figure(*m.pin_mm, 3)
         : m.finish != Finishing::none         ? std::string(name_of(m.formed)) + ", " + std::string(name_of(m.finish))
                                               : std::string(name_of(m.formed)),
         u.length_figure(master_value_mm(m), 3),
         known ? u.length_figure(sizes->predictions[i].predicted_mm, 3) + " ±" +
                     u.length_figure(2 * sizes->predictions[i].u_mm, 3)
               : "–",
         known ? fixed(100 * sizes->predictions[i].p_in_limits, 0) + " %" : "–", ""});
  }
  if (job.size.master == MasterKind::scaled) t.note = "Master printed × " + fixed(job.size.scale, 4) + ". ";
  if (job.size.master == MasterKind::scaled_per_axis)
    t.note = "Master printed × " + fixed(job.size.axis_scale.x, 4) + ", " + fixed(job.size.axis_scale.y, 4) + ", " +
             fixed(job.size.axis_scale.z, 4) + " along x, y, z. ";
  if (job.size.generations > 1) t.note += "The mould is taken from a casting (second generation). ";
  for (const MasterStep& m : job.original.master_steps) t.note += "Master: " + words_of(m) + ". ";
  if (job.size.learned) t.note += "Shrinkage as learnt from " + job.size.learned->from + ". ";
  for (const MeasuredSize& m : job.original.sizes)
    if (m.finish != Finishing::none) t.note += m.name + ": " + std::string(name_of(m.finish)) + " after casting. ";
  if (!t.rows.empty()) s.record.push_back(std::move(t));

  const auto sil = planned_rubber(job.mix, shop);
  const auto res = planned_resin(job.mix, shop);
  SheetTable mat{
      "Materials",
      {"", "material", "ratio", "pot life", "demould", "at"},
      {},
      "Room " + u.temperature(job.size.room_c) + ". Figures of the shelf; the data sheet on the bottle decides."};
  const auto row = [&](const char* what, const Mixable& m) {
    mat.rows.push_back({what, m.name, m.ratio_text(), fixed(m.pot_life_min, m.pot_life_min < 10 ? 1 : 0) + " min",
                        significant(m.demould_h, 2) + " h", u.temperature(m.reference_c)});
  };
  if (sil) row("rubber", *sil);
  if (res) row("resin", *res);
  if (!mat.rows.empty()) s.record.push_back(std::move(mat));

  const auto mould = plan.fresh(results::mould);
  const auto work = plan.fresh(results::procedure);
  const auto forms = plan.fresh(results::forms);
  if (mould && work) s.tables.push_back(mould_table(job, plan, *mould, work->facts));
  const bool boxed = work && has_box(work->facts.form) && work->facts.ends != Ends::castings;
  if (mould && boxed) {
    const Mould& m = mould->block();
    SheetTable box{std::string("Box, ") + u.length_name(), {"panel", "width", "height", "thickness"}, {}, ""};
    if (forms)
      for (const CutPanel& p : forms->box.panels)
        box.rows.push_back({p.name, u.length_figure(p.width_mm, 1), u.length_figure(p.height_mm, 1),
                            u.length_figure(p.thickness_mm, 1)});
    else
      for (const Panel& p : m.panels)
        box.rows.push_back({p.name, u.length_figure(p.width_mm, 1), u.length_figure(p.height_mm, 1),
                            u.length_figure(p.thickness_mm, 1)});
    if (forms) box.note = forms->box.told;
    if (!box.rows.empty()) s.record.push_back(std::move(box));
  }
  const auto mix = plan.fresh(results::mix);
  if (mix) {
    SheetTable w{std::string("Weighing, ") + u.mass_name(),
                 {"pour", "material", "batches", "part A", "part B", "scale reads", "", "", "pot life"},
                 {},
                 ""};
    for (const PourMix& p : mix->pours) {
      const int d = job.mix.scale_division_g < 0.05 ? 2 : job.mix.scale_division_g < 0.5 ? 1 : 0;
      const auto figure = [&](double g) { return p.no_figures ? std::string("no figure") : u.mass_figure(g, d); };
      double reads = p.weighing.readings_g[0];
      std::string cup = "cup " + u.mass_figure(reads, d);
      for (const TintDose& tint : p.tints) {
        reads += tint.weighed_g();
        cup += ", colour " + u.mass_figure(reads, 2);
      }
      std::string first = p.part(false) + (" " + figure(p.weighing.readings_g[1]));
      double onto = p.weighing.readings_g[1];
      for (const AdditionDose& a : p.adds) first += ", " + a.name + " " + figure(onto += a.g);
      w.rows.push_back({p.step, p.material, std::to_string(p.batches.count), figure(p.weighing.a_g),
                        p.drops && !p.no_figures ? counted(*p.drops, "drop", "drops") : figure(p.weighing.b_g), cup,
                        first, p.part(true) + (" " + figure(p.weighing.readings_g[2])),
                        fixed(p.batches.pot_life_min, 1) + " min"});
      for (const std::string& c : p.cautions)
        if (std::find(s.cautions.begin(), s.cautions.end(), c) == s.cautions.end()) s.cautions.push_back(c);
    }
    const auto channels = plan.fresh(results::channels);
    const bool poured = work && has_gate(work->facts);
    w.note = std::none_of(mix->pours.begin(), mix->pours.end(), [](const PourMix& p) { return p.is_resin; }) ? ""
             : !poured ? "The casting's figures are for one pull."
             : channels && job.flow.gate
                 ? "The casting's figures are for one casting, " + fixed(channels->volume_mm3 * 1e-3, 1) +
                       " ml for gate and vents with it."
                 : "The casting's figures are for one casting, with " + fixed(shop.rules.mix.channel_allowance_pct, 0) +
                       " % for gate and vents (a guess).";
    s.tables.push_back(std::move(w));
  }
  if (std::any_of(findings.begin(), findings.end(),
                  [](const auto& f) { return f.answer || f.finding.severity != Severity::note; })) {
    SheetTable f{"Judgement calls", {"stage", "finding", "answer"}, {}, ""};
    for (const OpenFinding& o : findings)
      if (o.answer || o.finding.severity != Severity::note)
        f.rows.push_back({std::string(name_of(o.stage)), o.finding.what + ". " + o.finding.why,
                          o.answer ? o.answer->reason : "open"});
    s.record.push_back(std::move(f));
  }
  if (work) sheet_steps(work->procedure, s);
  if (work && work->facts.moulds > 1)
    s.steps.push_back("The same for the other " + counted(work->facts.moulds - 1, "mould", "moulds") +
                      (copies_its_casting(work->facts) ? ", from casting 1 as the master." : "."));
  if (const int pulls = work ? (work->facts.copies + work->facts.a_pull - 1) / work->facts.a_pull : 0;
      pulls > 1 && work->facts.ends != Ends::mould && work->facts.ends != Ends::master)
    s.steps.push_back("The other " + counted(pulls - 1, "pull", "pulls") + " as the first.");
  s.boxes = {"Lot of rubber, opened on", "Lot of resin, opened on", "Room °C, humidity",
             "Scale and calipers used",  "What happened",           "Signed, date"};
  return s;
}

}  // namespace palinform
