#include "overview/bench_screens.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "stages/proceeding.hpp"
#include "stages/weighing.hpp"

namespace palinform {
namespace {

const PourMix* mix_of(const ProcedureStep& s, const MixResult& mix) {
  for (const PourMix& p : mix.pours)
    if (p.pour_name() == s.pour) return &p;
  return nullptr;
}

/// What is weighed into one cup: the cup, its colours, the first part, the other.
void weighing_screens(const ProcedureStep& step, const PourMix& m, double division_g,
                      const std::function<BenchScreen&(std::string)>& add) {
  const std::string vessel = m.lumps ? "clean paper" : "the empty cup";
  BenchScreen& cup =
      add(std::string(m.lumps ? "" : "Stir both bottles. ") + "Put " + vessel + " on the scale; it reads");
  cup.target_g = m.weighing.readings_g[0];
  cup.band_g = std::max(5.0, 0.2 * m.weighing.readings_g[0]);
  cup.from_g = 0;
  cup.each_g = m.weighing.total_g;
  const std::string first = m.part(false), second = m.part(true), into = m.lumps ? " onto the paper" : " into the cup";
  double before = m.weighing.readings_g[0];
  for (const TintDose& d : m.tints) {
    const double g = d.weighed_g();
    BenchScreen& t = add("Weigh " + std::string(d.master_batch ? "master batch of " : "") + d.name +
                         " into the cup until the scale reads");
    t.from_g = before;
    t.target_g = before + g;
    t.part_g = g;
    t.band_g = std::max(division_g, 0.05 * g);
    t.adds_id = d.material_id, t.adds_name = d.name;
    t.adds_share = g > 0 ? d.g / g : 1;
    before += g;
  }
  BenchScreen& a =
      add("Weigh part " + first + (m.tints.empty() ? into : " onto the colour") + " until the scale reads");
  a.target_g = m.weighing.readings_g[1];
  a.from_g = before;
  a.band_g = ratio_band_g(m.part_g(false), m.ratio_tolerance_pct, division_g);
  a.part_g = m.weighing.readings_g[1] - before;
  a.part = first;
  a.starts_pot_life = m.adds.empty();
  before = m.weighing.readings_g[1];
  for (const AdditionDose& d : m.adds) {
    BenchScreen& t =
        add("Weigh " + d.name + " onto part " + first + " until the scale reads; stir it in without lumps");
    t.from_g = before;
    t.target_g = before + d.g;
    t.part_g = d.g;
    t.band_g = std::max(division_g, 0.05 * d.g);
    t.adds_id = d.material_id, t.adds_name = d.name;
    t.starts_pot_life = &d == &m.adds.back();
    before += d.g;
  }
  BenchScreen& b = add("Weigh part " + second + (m.lumps ? " beside it" : into) + " until the scale reads");
  b.target_g = m.weighing.readings_g[2];
  b.from_g = before;
  b.part = second;
  b.part_g = m.part_g(true);
  b.ratio_to_last = m.part_g(true) / m.poured_first_g();
  if (m.drops) b.drops = *m.drops, b.drop_g = m.part_g(true) / static_cast<double>(std::max(1L, *m.drops));
  if (m.drops)
    b.instruction = "Count " + counted(*m.drops, "drop", "drops") + " of part B into the cup; the scale then reads";
  b.band_g = ratio_band_g(m.part_g(true), m.ratio_tolerance_pct, division_g);
  if (step.cautions.size() > 1) b.caution = step.cautions[1];
}

std::string clock_words(const ProcedureStep& s) {
  switch (s.act) {
    case Act::seal:
      return "The sealer dries";
    case Act::release:
      return "The release dries";
    case Act::print:
      return s.name + ": it prints";
    case Act::rest_mould:
      return "The mould rests";
    case Act::stand:
      return s.name;
    case Act::into_pot:
      return "Under pressure: " + s.part;
    default:
      return s.name + (s.fills() || s.block == Block::cast ? ": it cures" : ": it rests");
  }
}

}  // namespace

std::vector<BenchScreen> bench_screens(const Procedure& procedure, const std::vector<size_t>& order,
                                       const MixResult& mix, double division_g) {
  std::vector<BenchScreen> out;
  for (const size_t at : order) {
    const ProcedureStep& step = procedure.steps[at];
    const PourMix* m = step.pour.empty() ? nullptr : mix_of(step, mix);
    const auto add = [&](std::string instruction) -> BenchScreen& {
      BenchScreen s;
      s.step_id = step.id;
      s.title = step.name;
      s.instruction = std::move(instruction);
      s.act = step.act, s.picture = step.picture;
      s.why = step.why, s.look_for = step.look_for;
      s.figure = step.figure, s.figure_unit = step.figure_unit;
      s.mould = step.mould, s.casting = step.casting, s.cup = step.cup;
      if (m) {
        s.pot_life_min = m->batches.pot_life_min;
        s.pot_life_pieces = {{m->lumps ? "knead" : "stir", m->mix_min},
                             {m->wait_min > 0 && m->degas_min <= 0 ? "stand" : "vacuum", m->degas_min + m->wait_min},
                             {m->lumps ? "press" : "pour", m->pour_min}};
      }
      if (!step.cautions.empty()) s.caution = step.cautions.front();
      s.last_of_step = false;
      out.push_back(std::move(s));
      return out.back();
    };
    if (step.act == Act::weigh && m && m->no_figures)
      add("Stop. This scale cannot measure the peroxide safely: take a finer scale or a larger batch. Mix shows the "
          "ways out.")
          .caution = "Too much peroxide burns; too little never cures. No figure is shown for it.";
    else if (step.act == Act::weigh && m)
      weighing_screens(step, *m, division_g, add);
    else
      add(step.what);
    BenchScreen& last = out.back();
    last.last_of_step = true;
    last.wait_min = step.wait_min;
    last.clock_label = clock_words(step);
    if (step.fills() && m) {
      last.ends_pot_life = true;
      if (!m->lumps && m->wetted_mm2 > 0) {
        last.wets_mm2 = m->wetted_mm2, last.density_g_cm3 = m->density_g_cm3;
        last.instruction += " Then the emptied cup back on the scale: what stays in it is learnt.";
      }
      last.material_id = m->material_id;
      last.poured_g = m->weighing.total_g;
      last.is_casting = m->is_resin && step.cup == m->batches.count;
    }
    last.test = step.test;
    last.demoulds = step.act == Act::demould;
    last.makes_mould = !step.holds.empty() && step.act != Act::look;
    // Windows that are counted from here ring when they open and before they close.
    for (const ProcedureStep& later : procedure.steps) {
      if (!later.window || later.at_once || later.window->after != step.id || !later.skipped.empty()) continue;
      const double from = later.window->earliest_min;
      if (from > 0) last.rings.push_back({later.name + ": from now on", later.id, from});
      if (const auto to = later.window->latest_min)
        last.rings.push_back(
            {later.name + ": the last minutes", later.id, std::max(from + 0.5 * (*to - from), *to - 10)});
    }
    for (BenchScreen& s : out)
      if (s.target_g && division_g >= 0.001) s.target_g = std::round(*s.target_g / division_g) * division_g;
  }
  return out;
}

std::vector<size_t> bench_order(const Procedure& procedure, const DaysResult* days, const std::string& from) {
  std::vector<size_t> out;
  for (size_t i = 0; i < procedure.steps.size(); ++i)
    if (procedure.steps[i].skipped.empty()) out.push_back(i);
  if (days) {
    std::map<std::string, WallMinute> begins;
    for (const Placed& p : days->schedule.placed) begins[days->steps[p.step].id] = p.start;
    std::stable_sort(out.begin(), out.end(),
                     [&](size_t a, size_t b) { return begins[procedure.steps[a].id] < begins[procedure.steps[b].id]; });
  }
  if (from.empty()) return out;
  const auto at = std::find_if(out.begin(), out.end(), [&](size_t i) { return procedure.steps[i].id == from; });
  out.erase(out.begin(), at);
  return out;
}

namespace {

/// One batch, poured into the moulds of several jobs one after the other, and each casting out of its own.
Result<BenchRun> begin_shared(const Job& job, const ProcedureResult& work, const std::vector<CavityShare>& shares,
                              const Shop& shop, WallSecond now) {
  double all_g = 0;
  for (const CavityShare& s : shares) all_g += s.pour_g;
  if (shares.size() < 2) return Error{"one batch for several jobs needs several", "bench", "Choose them in Mix."};
  const auto pour = small_batch(all_g, true, job, shop);
  if (!pour) return pour.error();
  if (pour->batches.count > 1)
    return Error{"so much does not come out of one cup in time", "bench", "Take fewer of them."};
  Procedure p;
  const auto step = [&](Act act, std::string id, std::string name, std::string what) -> ProcedureStep& {
    ProcedureStep s;
    s.act = act, s.block = Block::cast, s.id = s.stem = std::move(id), s.name = std::move(name),
    s.what = std::move(what);
    s.cup = 1, s.picture = StepPicture::cup, s.cautions = pour->cautions, s.at_once = !p.steps.empty();
    p.steps.push_back(std::move(s));
    return p.steps.back();
  };
  step(Act::weigh, "weigh-shared", "Weigh one batch for all", "").pour = pour->pour_name();
  const auto timed = [&](Act act, const char* id, const char* name, std::string what, double minutes) {
    if (minutes <= 0) return;
    ProcedureStep& s = step(act, id, name, what + ", " + shortest(minutes, 1) + " min.");
    s.figure = minutes, s.figure_unit = "min", s.pour = pour->pour_name();
  };
  timed(Act::stir, "stir-shared", "Stir it", "Stir, scrape sides and bottom; over into a second, clean cup",
        pour->mix_min);
  timed(Act::degas, "degas-shared", "Degas it", "Vacuum until the foam has risen and fallen", pour->degas_min);
  timed(Act::stand, "stand-shared", "Let it stand", "Let the air rise", pour->wait_min);
  for (const CavityShare& s : shares) {
    ProcedureStep& fill = step(Act::pour, "pour-shared-" + s.job_id, "Pour " + s.job_name,
                               "Pour " + shop.shown.mass(s.pour_g) + " into its mould, slowly, at the lowest point.");
    fill.picture = StepPicture::closed, fill.pour = pour->pour_name();
    fill.wait_min = work.facts.resin_cure.demould_min;
  }
  for (const CavityShare& s : shares)
    step(Act::demould, "demould-shared-" + s.job_id, "Demould " + s.job_name, "Open its mould; the casting out.")
        .picture = StepPicture::casting;
  MixResult only;
  only.pours.push_back(*pour);
  std::vector<size_t> order(p.steps.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  BenchRun run = begin_run(job.id, bench_screens(p, order, only, job.mix.scale_division_g), now);
  for (BenchScreen& s : run.screens) {
    const auto whose = std::find_if(shares.begin(), shares.end(),
                                    [&](const CavityShare& c) { return s.step_id.ends_with("-shared-" + c.job_id); });
    if (whose == shares.end()) continue;
    s.for_job = whose->job_id == job.id ? std::string() : whose->job_id;
    s.casting = static_cast<int>(whose - shares.begin()) + 1;
    if (s.act != Act::pour) continue;
    s.is_casting = true;
    // What stays in the cup is shared like the rest: every gram is in somebody's books.
    s.share = whose->pour_g / all_g;
    s.poured_g *= s.share;
    s.ends_pot_life = whose->job_id == shares.back().job_id;
    s.clock_label = whose->job_name + ": it cures";
  }
  run.title = "One batch for " + counted(static_cast<long long>(shares.size()), "job", "jobs");
  return run;
}

}  // namespace

Result<BenchRun> begin_bench_run(const Job& job, const ProcedureResult& work, const MixResult& mix,
                                 const DaysResult* days, const Shop& shop, const BenchBeginning& how, WallSecond now) {
  const double division = job.mix.scale_division_g;
  const Error nothing{"there is nothing to do at the bench", "bench", "See what is missing in Days."};
  if (how.at == BeginAt::whole || how.at == BeginAt::block) {
    const auto order = bench_order(work.procedure, days, how.at == BeginAt::block ? how.step : std::string());
    if (order.empty()) return nothing;
    BenchRun run = begin_run(job.id, bench_screens(work.procedure, order, mix, division), now);
    if (how.at == BeginAt::block) run.title = "From: " + work.procedure.steps[order.front()].name;
    run.mould_id = how.mould_id;
    return run;
  }
  if (how.at == BeginAt::one_more) {
    // One pull from a mould that stands on the shelf: the same steps, without a mould to make.
    ProcedureFacts one = work.facts;
    one.ends = Ends::castings;
    one.copies = one.a_pull;
    one.moulds = 1;
    one.tests.clear();
    if (one.casting.name.empty())
      return Error{"this job ends with its mould: nothing is cast", "bench", "Let it end with castings, in Days."};
    const Procedure p = procedure(one, shop.rules.days.steps);
    BenchRun run = begin_run(job.id, bench_screens(p, bench_order(p, nullptr), mix, division), now);
    run.title = "One more casting";
    run.mould_id = how.mould_id;
    return run;
  }
  if (how.at == BeginAt::shared) return begin_shared(job, work, how.shares, shop, now);
  // A small batch of the same material, at the ratio of its sheet.
  if (!(how.g > 0)) return Error{"0 g are nothing to weigh", "top-up", "Say how many grams are wanted."};
  const auto pour = small_batch(how.g, how.resin, job, shop);
  if (!pour) return pour.error();
  MixResult only;
  only.pours.push_back(*pour);
  Procedure p;
  ProcedureStep weigh, stir, fill;
  weigh.act = Act::weigh, weigh.id = "weigh-top-up", weigh.name = "Weigh the top-up", weigh.block = Block::mix;
  stir.act = Act::stir, stir.id = "stir-top-up", stir.name = "Stir the top-up", stir.block = Block::mix;
  stir.what = "Stir " + shortest(pour->mix_min, 1) + " min, scrape sides and bottom.";
  fill.act = Act::pour, fill.id = "pour-top-up", fill.name = "Pour the top-up", fill.block = Block::mix;
  fill.what = "Fill up what has sunk.";
  fill.wait_min = how.resin ? work.facts.resin_cure.demould_min : work.facts.rubber_cure.demould_min;
  for (ProcedureStep* s : {&weigh, &stir, &fill}) {
    s->stem = s->id, s->cup = 1, s->pour = pour->pour_name();
    s->picture = s == &fill ? StepPicture::closed : StepPicture::cup;
    s->cautions = pour->cautions;
    s->at_once = s != &weigh;
  }
  p.steps = {weigh, stir, fill};
  BenchRun run = begin_run(job.id, bench_screens(p, {0, 1, 2}, only, division), now);
  for (BenchScreen& s : run.screens) s.is_casting = false;  // it adds to one that is counted
  run.title = "Top-up, " + significant(how.g, 3) + " g";
  run.mould_id = how.mould_id;
  return run;
}

}  // namespace palinform
