#include "overview/bench_screens.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {
namespace {

/// "mix-coat-2-1" is coat 2 of mould 1: the longest pour whose name the id begins with.
const PourMix* mix_of(const std::string& step_id, const MixResult& mix) {
  const bool casting = step_id.starts_with("cast-");
  const std::string rest = step_id.substr(step_id.find('-') + 1);
  const PourMix* best = nullptr;
  for (const PourMix& p : mix.pours) {
    if (casting && p.step == "casting") return &p;
    if (casting || p.is_resin) continue;
    const std::string slug = pour_slug(p.pour_name());
    if (rest != slug && !rest.starts_with(slug + "-")) continue;
    if (!best || p.step.size() > best->step.size()) best = &p;
  }
  return best;
}

const char* words_for(const std::string& id, const std::string& name) {
  if (id == "prepare") return "Clean it, fill what is broken, measure it once more. Nitrile gloves.";
  if (id == "seal") return "Two thin coats of sealer; let each dry. No rubber before it is hard.";
  if (id.starts_with("print"))
    return "Print cup and core, take the supports off, cure and seal them. Release all faces before the rubber goes "
           "in.";
  if (id.starts_with("jacket"))
    return "Lay the jacket over the cured skin in two shells with a flange between; holes for bolts, gaps to pry at.";
  if (id.starts_with("box") && name.starts_with("Fix"))
    return "Fix it to the base so that no rubber creeps under it and it cannot float; seal its edge, build the box. "
           "Release the original.";
  if (id.starts_with("box"))
    return "Bed it in sulphur-free clay up to the line, press the key dimples, build the box and seal its edges. "
           "Release the original.";
  if (id.starts_with("turn")) return "Turn it over, take all the clay out, clean the face with a soft brush.";
  if (id.starts_with("release")) return "Brush release over the whole first half, or both become one lump. Let it dry.";
  if (id.starts_with("open"))
    return "Take the box away, open the halves slowly, take the original out. Cut gate and vents with a sharp blade, "
           "away from you.";
  if (id.starts_with("demould")) return "Look at the witness cup first: hard? Open slowly, ease the casting out.";
  if (id == "check-1")
    return "Trim the test casting and measure it as the original was measured. Type the readings in Check.";
  if (id == "trim") return "Cut gates and flash off, sand the line. Mask against the dust.";
  if (id == "check") return "Measure each casting; type the readings in Check.";
  return "";
}

}  // namespace

std::vector<BenchScreen> bench_screens(const Job& job, const DaysResult& days, const MixResult& mix) {
  std::vector<BenchScreen> out;
  std::vector<Placed> order = days.schedule.placed;
  std::stable_sort(order.begin(), order.end(), [](const Placed& a, const Placed& b) { return a.start < b.start; });
  const int digits = job.mix.scale_division_g < 0.05 ? 2 : job.mix.scale_division_g < 0.5 ? 1 : 0;
  for (const Placed& placed : order) {
    const Step& step = days.steps[placed.step];
    const bool mixing = step.id.find("mix-") != std::string::npos,
               degassing = step.id.find("degas-") != std::string::npos;
    const bool pouring = step.id.find("pour-") != std::string::npos;
    const PourMix* m = mixing || degassing || pouring ? mix_of(step.id, mix) : nullptr;
    const auto add = [&](std::string title, std::string instruction) -> BenchScreen& {
      BenchScreen s;
      s.step_id = step.id;
      s.title = std::move(title);
      s.instruction = std::move(instruction);
      if (m) {
        s.pot_life_min = m->batches.pot_life_min;
        s.pot_life_pieces = {{"stir", m->mix_min}, {"vacuum", m->degas_min}, {"pour", m->pour_min}};
        if (!m->cautions.empty()) s.caution = m->cautions.front();
      }
      s.last_of_step = false;
      out.push_back(std::move(s));
      return out.back();
    };
    if (mixing && m && m->no_figures) {
      add(step.name,
          "Stop. This scale cannot measure the peroxide safely: take a finer scale or a larger batch. Mix shows "
          "the ways out.")
          .caution = "Too much peroxide burns; too little never cures. No figure is shown for it.";
    } else if (mixing && m) {
      for (int b = 1; b <= m->batches.count; ++b) {
        const std::string of =
            m->batches.count > 1 ? " · batch " + std::to_string(b) + " of " + std::to_string(m->batches.count) : "";
        BenchScreen& cup = add(step.name + of, "Stir both bottles. Put the empty cup on the scale; it reads");
        cup.target_g = m->weighing.readings_g[0];
        cup.band_g = std::max(5.0, 0.2 * m->weighing.readings_g[0]);
        cup.from_g = 0;
        const std::string first = m->part(false), second = m->part(true);
        double before = m->weighing.readings_g[0];
        for (const TintDose& d : m->tints) {
          const double g = d.master_batch ? d.stock_use_g : d.g;
          BenchScreen& t = add(step.name + of, "Weigh " + std::string(d.master_batch ? "master batch of " : "") +
                                                   d.name + " into the cup until the scale reads");
          t.from_g = before;
          t.target_g = before + g;
          t.part_g = g;
          t.band_g = std::max(job.mix.scale_division_g, 0.05 * g);
          before += g;
        }
        BenchScreen& a =
            add(step.name + of, m->tints.empty() ? "Weigh part " + first + " into the cup until the scale reads"
                                                 : "Weigh part " + first + " onto the colour until the scale reads");
        a.target_g = m->weighing.readings_g[1];
        a.from_g = before;
        a.band_g = ratio_band_g(m->part_g(false), m->ratio_tolerance_pct, job.mix.scale_division_g);
        a.part_g = m->weighing.readings_g[1] - before;
        a.part = first;
        a.starts_pot_life = true;
        BenchScreen& bb = add(step.name + of, "Weigh part " + second + " into the cup until the scale reads");
        bb.target_g = m->weighing.readings_g[2];
        bb.from_g = m->weighing.readings_g[1];
        bb.part = second;
        bb.part_g = m->part_g(true);
        bb.ratio_to_last = m->part_g(true) / m->poured_first_g();
        if (m->drops) {
          bb.instruction =
              "Count " + counted(*m->drops, "drop", "drops") + " of part B into the cup; the scale then reads";
        }
        bb.band_g = ratio_band_g(m->part_g(true), m->ratio_tolerance_pct, job.mix.scale_division_g);
        if (m->cautions.size() > 1) bb.caution = m->cautions[1];
        add(step.name + of,
            "Stir " + fixed(m->mix_min, 0) + " min, scrape sides and bottom, into a second clean cup, stir again.");
      }
    } else if (degassing) {
      add(step.name, "Vacuum until the foam has risen and fallen, then 2 min more. Foam rises to " +
                         fixed(m ? m->foam_ratio : 4, 0) + " × the height.")
          .caution = "Vacuum chamber: goggles on, no cracked lid, let the air back slowly.";
    } else if (pouring && m) {
      const std::string wedge = m->is_resin && job.flow.tilt_deg >= 0.5
                                    ? "Stand the mould on its wedge, " + fixed(job.flow.tilt_deg, 0) + "°" +
                                          (job.flow.turned_over ? ", side b up. " : ". ")
                                    : "";
      BenchScreen& s =
          add(step.name, m->is_resin ? wedge + "Pour into the gate in a thin stream until it stands in every vent."
                                     : "Pour into the lowest corner, high and thin, and let it rise.");
      s.ends_pot_life = true;
      s.material_id = m->is_resin ? job.mix.resin_id : job.mix.silicone_id;
      s.poured_g = m->weighing.total_g * m->batches.count;
      s.is_casting = m->is_resin;
      if (step.needs == "pot")
        s.caution =
            "Pressure pot: never over the pressure on its plate; lid clamps shut before air goes in; let it down "
            "before opening.";
    } else {
      BenchScreen& s = add(step.name, words_for(step.id, step.name));
      s.demoulds = step.id.starts_with("demould");
      if (step.id.starts_with("open") || step.id == "trim")
        s.caution = "Knives slip in rubber: cut away from hands. Dust of resin needs a mask.";
      if (step.id.starts_with("release")) s.caution = "Release sprays are solvents: fresh air, no flame.";
    }
    out.back().last_of_step = true;
    out.back().wait_min = step.wait_min;
    out.back().clock_label = step.id == "seal"                ? "The sealer dries"
                             : step.id.starts_with("release") ? "The release dries"
                                                              : step.name + (pouring ? " cures" : " rests");
    for (BenchScreen& s : out)
      if (s.target_g && digits < 3)
        s.target_g = std::round(*s.target_g / job.mix.scale_division_g) * job.mix.scale_division_g;
  }
  return out;
}

}  // namespace palinform
