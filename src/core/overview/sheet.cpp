#include "overview/sheet.hpp"

#include <algorithm>

#include "base/text.hpp"
#include "stages/materials.hpp"

namespace palinform {

namespace {

/// "2.40 g Pigment paste into the cup first, then A, " where the casting is coloured.
std::string colour_first(const PourMix& p) {
  std::string s;
  for (const TintDose& d : p.tints)
    s += (s.empty() ? "" : " and ") +
         (d.master_batch ? significant(d.stock_use_g, 3) + " g master batch of " : significant(d.g, 3) + " g ") +
         d.name;
  return s.empty() ? s : s + " into the cup first, then " + p.part(false) + ", stir, then " + p.part(true) + ": ";
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
  SheetTable t{"Sizes, mm", {"size", "limits", "formed by", "original", "predicted", "in limits", "casting"}, {}, ""};
  for (size_t i = 0; i < job.original.sizes.size(); ++i) {
    const MeasuredSize& m = job.original.sizes[i];
    const bool known = sizes && i < sizes->predictions.size();
    t.rows.push_back(
        {m.name, limits_text(m),
         m.formed == FormedBy::pin && m.pin_mm ? "pin " + fixed(*m.pin_mm, 3)
         : m.finish != Finishing::none         ? std::string(name_of(m.formed)) + ", " + std::string(name_of(m.finish))
                                               : std::string(name_of(m.formed)),
         fixed(master_value_mm(m), 3),
         known ? fixed(sizes->predictions[i].predicted_mm, 3) + " ±" + fixed(2 * sizes->predictions[i].u_mm, 3) : "–",
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
  if (!t.rows.empty()) s.tables.push_back(std::move(t));

  const auto sil = planned_rubber(job.mix, shop);
  const auto res = planned_resin(job.mix, shop);
  SheetTable mat{
      "Materials",
      {"", "material", "ratio", "pot life", "demould", "at"},
      {},
      "Room " + fixed(job.size.room_c, 0) + " °C. Figures of the shelf; the data sheet on the bottle decides."};
  const auto row = [&](const char* what, const Mixable& m) {
    mat.rows.push_back({what, m.name, m.ratio_text(), fixed(m.pot_life_min, m.pot_life_min < 10 ? 1 : 0) + " min",
                        significant(m.demould_h, 2) + " h", fixed(m.reference_c, 0) + " °C"});
  };
  if (sil) row("rubber", *sil);
  if (res) row("resin", *res);
  if (!mat.rows.empty()) s.tables.push_back(std::move(mat));

  const auto mould = plan.fresh(results::mould);
  if (mould) {
    const Mould& m = mould->mould;
    const Vec3 in = m.inner_mm.size();
    SheetTable box{"Box, mm", {"panel", "width", "height", "thickness"}, {}, ""};
    for (const Panel& p : m.panels)
      box.rows.push_back({p.name, fixed(p.width_mm, 1), fixed(p.height_mm, 1), fixed(p.thickness_mm, 1)});
    box.note = "Inside " + fixed(in.x, 1) + " × " + fixed(in.y, 1) + " × " + fixed(in.z, 1) + ", wall of rubber " +
               fixed(m.wall_mm, 1) + (split ? ", pull " + axis_name(split->split.pull) : ", reckoned without a shape") +
               ".";
    if (m.hold_down_n && *m.hold_down_n > 0.05)
      box.note += " Hold the master down with " + significant(*m.hold_down_n, 2) + " N.";
    s.tables.push_back(std::move(box));
  }
  const auto mix = plan.fresh(results::mix);
  if (mix) {
    SheetTable w{
        "Weighing, g", {"pour", "material", "batches", "part A", "part B", "scale reads", "", "", "pot life"}, {}, ""};
    for (const PourMix& p : mix->pours) {
      const int d = job.mix.scale_division_g < 0.05 ? 2 : job.mix.scale_division_g < 0.5 ? 1 : 0;
      const auto figure = [&](double g) { return p.no_figures ? std::string("no figure") : fixed(g, d); };
      double reads = p.weighing.readings_g[0];
      std::string cup = "cup " + fixed(reads, d);
      for (const TintDose& tint : p.tints) {
        reads += tint.master_batch ? tint.stock_use_g : tint.g;
        cup += ", colour " + fixed(reads, 2);
      }
      w.rows.push_back({p.step, p.material, std::to_string(p.batches.count), figure(p.weighing.a_g),
                        p.drops && !p.no_figures ? counted(*p.drops, "drop", "drops") : figure(p.weighing.b_g), cup,
                        p.part(false) + (" " + figure(p.weighing.readings_g[1])),
                        p.part(true) + (" " + figure(p.weighing.readings_g[2])),
                        fixed(p.batches.pot_life_min, 1) + " min"});
      for (const std::string& c : p.cautions)
        if (std::find(s.cautions.begin(), s.cautions.end(), c) == s.cautions.end()) s.cautions.push_back(c);
    }
    const auto channels = plan.fresh(results::channels);
    w.note = channels && job.flow.gate
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
    s.tables.push_back(std::move(f));
  }
  if (mould && sil && res) {
    const auto minutes = [](double v) { return fixed(v, 0) + " min"; };
    const auto pour = [&](const char* which) -> const PourMix* {
      if (mix)
        for (const PourMix& p : mix->pours)
          if (p.step == which) return &p;
      return nullptr;
    };
    if (const MasterMaterial* w = shop.shelf.master(job.original.finish.master_material))
      s.steps.push_back("Clean the master. " + w->seal + "; wait " +
                        (w->wait_h >= 48 ? fixed(w->wait_h / 24, 0) + " days" : significant(w->wait_h, 2) + " h") +
                        ". Measure it once more.");
    else
      s.steps.push_back("Clean and seal the original; release it. Measure it once more.");
    const auto forms = plan.fresh(results::forms);
    if (forms && !forms->halved()) {
      if (forms->plan().pours.empty())
        s.steps.push_back("Print cup and core; clean, seal and release them.");
      else
        s.steps.push_back(forms->form == Form::skin
                              ? "Bed it in clay up to the line; brush on " +
                                    counted(static_cast<long long>(forms->plan().pours.size()), "coat", "coats") +
                                    ", each once the last has gelled; then the jacket in two shells."
                              : "Fix it to the base, seal its edge, build the box. See that it cannot float.");
      for (const RubberPour& r : forms->plan().pours)
        if (const PourMix* p = pour(("pour " + r.name).c_str()))
          s.steps.push_back("Rubber, " + r.name + ": weigh and stir " + fixed(p->need_g, 0) + " g" +
                            (p->degas_min > 0 ? ", vacuum " + minutes(p->degas_min) : "") +
                            (forms->form == Form::skin ? "." : "; pour to " + fixed(r.fill_height_mm, 0) + " mm."));
    } else {
      s.steps.push_back(
          "Bed it in sulphur-free clay up to the line, side a up. Press key dimples. Build the box; seal its edges.");
      if (const PourMix* p = pour("pour a"))
        s.steps.push_back("Weigh and stir rubber a (" + fixed(p->need_g, 0) + " g), scrape, second cup" +
                          (p->degas_min > 0 ? ", vacuum " + minutes(p->degas_min) : "") +
                          "; pour in a thin stream to " + fixed(mould->mould.pours[0].fill_height_mm, 0) + " mm.");
      s.steps.push_back("Leave it " +
                        significant(time_at_temperature(sil->demould_h, sil->reference_c, job.size.room_c), 2) +
                        " h at " + fixed(job.size.room_c, 0) + " °C.");
      s.steps.push_back("Turn over, take the clay out, clean. Release the first half, or both become one lump.");
      if (const PourMix* p = pour("pour b"))
        s.steps.push_back("Weigh and stir rubber b (" + fixed(p->need_g, 0) + " g); pour to " +
                          fixed(mould->mould.pours[1].fill_height_mm, 0) + " mm. Leave it as long again.");
    }
    if (const auto channels = plan.fresh(results::channels); channels && job.flow.tilt_deg >= 0.5)
      s.steps.push_back("For castings the mould stands on a wedge of " + fixed(job.flow.tilt_deg, 0) +
                        "°: " + fixed(channels->wedge_rise_mm, 0) + " mm high under the box's " +
                        fixed(channels->wedge_run_mm, 0) + " mm" + (job.flow.turned_over ? ", side b up." : "."));
    s.steps.push_back(
        "Open, take the original out, cut gate and vents. Rest the mould 24 h before production (rule of thumb).");
    if (const PourMix* p = pour("casting"); p && p->no_figures)
      s.steps.push_back(
          "Test casting: STOP. The peroxide cannot be measured safely on this scale; Mix shows the ways out.");
    else if (p)
      s.steps.push_back("Test casting: " + colour_first(*p) + "weigh (" + fixed(p->weighing.total_g, 1) + " g" +
                        (p->drops ? ", B in " + counted(*p->drops, "drop", "drops") : "") + "), stir " +
                        minutes(p->mix_min) + ", pour within " + fixed(p->batches.pot_life_min, 1) +
                        " min. Demould after " +
                        significant(time_at_temperature(res->demould_h, res->reference_c, job.size.room_c), 2) + " h.");
    s.steps.push_back("Measure the casting in the sizes above. Change one thing at a time.");
    if (job.copies > 1) s.steps.push_back("Cast the other " + std::to_string(job.copies - 1) + ".");
  }
  s.boxes = {"Lot of rubber, opened on", "Lot of resin, opened on", "Room °C, humidity",
             "Scale and calipers used",  "What happened",           "Signed, date"};
  return s;
}

}  // namespace palinform
