#include "overview/overview.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/text.hpp"

namespace palinform {

std::vector<OpenFinding> findings_of(const Job& job, const Planner& plan) {
  std::vector<OpenFinding> out;
  double part_mm = 0;
  if (const auto master = plan.newest(results::master)) part_mm = length(master->measure.box_mm.size());
  const auto take = [&](Stage stage, const std::vector<Finding>& findings) {
    for (const Finding& f : findings) {
      OpenFinding o{stage, f, std::nullopt};
      for (const Answer& a : job.answers)
        if (answers(a, f, part_mm)) o.answer = a;
      out.push_back(std::move(o));
    }
  };
  if (const auto r = plan.fresh(results::questions)) take(Stage::original, r->findings);
  if (const auto r = plan.fresh(results::meetings)) take(Stage::original, r->findings);
  if (const auto r = plan.fresh(results::size)) take(Stage::size, r->findings);
  if (const auto r = plan.fresh(results::draws); r && !r->check.agrees() && r->check.size < job.original.sizes.size()) {
    Finding f{"first-order",
              Severity::note,
              {},
              "The simple sum of spreads is " + fixed(100 * r->check.worst_ratio, 1) + " % off",
              "",
              {}};
    f.where.size = job.original.sizes[r->check.size].id;
    f.why = "100,000 random draws of " + job.original.sizes[r->check.size].name + " give " +
            fixed(r->drawn[r->check.size].u_mm, 4) + " mm of standard uncertainty. Trust the draws.";
    take(Stage::size, {f});
  }
  if (const auto r = plan.fresh(results::split)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::undercut_advice)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::opening_advice)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::pins)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::insert_advice)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::assembly)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::thin)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::witness)) take(Stage::split, r->findings);
  if (const auto r = plan.fresh(results::other_parts)) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh(results::mould)) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh(results::forms)) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh(results::keys)) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh(results::draws_past)) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh(results::vessels)) {
    take(Stage::mould, r->mould);
    take(Stage::flow, r->flow);
  }
  if (const auto r = plan.fresh(results::air_advice)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::flow)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::filling)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::closing)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::other_closings)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::channels)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::other_air)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::rubber_air)) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh(results::mix)) take(Stage::mix, r->findings);
  if (const auto r = plan.fresh(results::stock)) take(Stage::mix, r->findings);
  if (const auto r = plan.fresh(results::procedure)) take(Stage::days, r->findings);
  if (const auto r = plan.fresh(results::days)) take(Stage::days, r->findings);
  if (const auto r = plan.fresh(results::check)) take(Stage::check, r->findings);
  if (const auto r = plan.fresh(results::whys)) take(Stage::check, r->findings);
  for (const auto& scan : results::scans)
    if (const auto r = plan.fresh(scan)) take(Stage::check, r->findings);
  std::stable_sort(out.begin(), out.end(), [](const OpenFinding& a, const OpenFinding& b) {
    if (a.answer.has_value() != b.answer.has_value()) return !a.answer;
    return a.finding.severity > b.finding.severity;
  });
  return out;
}

std::shared_ptr<const ScanResult> scan_of(const Planner& plan, int casting) {
  for (const auto& slot : results::scans)
    if (auto r = plan.fresh(slot); r && r->number == casting) return r;
  return nullptr;
}

std::array<StageState, stage_count> stage_states(const Job& job, const Planner& plan) {
  std::array<StageState, stage_count> out;
  // A stage stands once the result it is named for does.
  const std::map<std::string_view, Stage> named_for{
      {results::original.name, Stage::original}, {results::size.name, Stage::size},
      {results::split.name, Stage::split},       {results::mould.name, Stage::mould},
      {results::flow.name, Stage::flow},         {results::mix.name, Stage::mix},
      {results::days.name, Stage::days},         {results::check.name, Stage::check}};
  const auto findings = findings_of(job, plan);
  const std::vector<SlotState> slots_now = plan.states();
  for (int i = 0; i < stage_count; ++i) {
    StageState& s = out[static_cast<size_t>(i)];
    s.figure = "–";
    for (const SlotState& v : slots_now) {
      // Nothing measured yet is no fault of Size: the view of what castings taught says it.
      if (v.group != i || v.name == results::learn.name) continue;
      if (v.state == Freshness::running) {
        s.knot = Knot::moving;
        s.progress = v.progress;
        s.node = v.name;
      } else if (v.state == Freshness::failed && s.knot != Knot::moving) {
        s.knot = Knot::stopped;
        s.node = v.name;
        s.error = v.error.text();
      } else if (v.state == Freshness::fresh && s.knot == Knot::untouched && named_for.contains(v.name)) {
        s.knot = Knot::settled;
      }
    }
    if (s.knot == Knot::settled)
      for (const OpenFinding& f : findings) {
        if (static_cast<int>(f.stage) != i || f.answer) continue;
        if (f.finding.severity == Severity::stop) s.knot = Knot::stopped;
        if (f.finding.severity == Severity::caution && s.knot == Knot::settled) s.knot = Knot::needs_answer;
      }
  }
  // A job may begin with its sizes, or with bare measures; Original counts as touched then too.
  if (out[0].knot == Knot::untouched && (!job.original.sizes.empty() || job.original.has_shape())) {
    out[0].knot = Knot::settled;
    for (const OpenFinding& f : findings)
      if (f.stage == Stage::original && !f.answer && f.finding.severity != Severity::note)
        out[0].knot = f.finding.severity == Severity::stop ? Knot::stopped
                      : out[0].knot == Knot::settled       ? Knot::needs_answer
                                                           : out[0].knot;
  }
  const auto figure = [&](Stage s) -> std::string& { return out[static_cast<size_t>(s)].figure; };
  if (job.original.has_shape() || !job.original.sizes.empty()) {
    const auto guesses = std::count_if(job.original.sizes.begin(), job.original.sizes.end(),
                                       [](const auto& s) { return s.limits_guessed; });
    figure(Stage::original) = counted(static_cast<long long>(job.original.sizes.size()), "size", "sizes") +
                              (guesses ? " · " + counted(guesses, "guess", "guesses") : "");
  }
  if (const auto r = plan.fresh(results::size); r && r->tightest)
    figure(Stage::size) = "tightest " + fixed(100 * r->predictions[*r->tightest].p_in_limits, 0) + " %";
  if (const auto r = plan.fresh(results::split)) {
    const auto u = plan.fresh(results::undercuts);
    const auto locked = u ? static_cast<long long>(u->undercuts.size()) : 0;
    const std::string pull = axis_name(r->split.pull);
    const bool axis = pull.find(',') == std::string::npos;
    figure(Stage::split) = (axis ? pull : "free pull") + (!u       ? ""
                                                          : locked ? " · " + counted(locked, "undercut", "undercuts")
                                                          : axis   ? " · no undercuts"
                                                                   : " · free");
  }
  if (const auto r = plan.fresh(results::mould)) {
    const auto forms = plan.fresh(results::forms);
    figure(Stage::mould) =
        forms && (forms->form != Form::two_part || forms->brushed)
            ? (forms->brushed ? forms->brushed->side + " brushed" : std::string(name_of(forms->form))) + " · " +
                  grouped(forms->plan().rubber_mm3 * 1e-3) + " ml"
            : "two-part · " + grouped(r->block().rubber_mm3 * 1e-3) + " ml";
    if (r->u_part_mm3 > 0.01 * r->block().rubber_mm3)
      figure(Stage::mould) += " ± " + significant(r->u_part_mm3 * 1e-3, 1);
  }
  if (const auto r = plan.fresh(results::flow))
    figure(Stage::flow) = r->pockets.empty() ? "no air stays"
                          : r->left_mm3 > 0.2 * r->cavity_mm3 && r->way == FillWay::sprue
                              ? "no way out yet"
                              : significant(r->left_mm3, 2) + " mm³ of air";
  if (const auto r = plan.fresh(results::mix)) {
    const auto with_u = [](double g, double u) {
      return grouped(g) + (u > 0.01 * g ? " ± " + significant(u, 1) : "") + " g";
    };
    figure(Stage::mix) = with_u(r->rubber_g, r->u_rubber_g) + " + " + with_u(r->resin_g, r->u_resin_g);
  }
  if (const auto r = plan.fresh(results::days)) figure(Stage::days) = "ready " + short_text(r->schedule.finish);
  if (const auto r = plan.fresh(results::check)) {
    const CheckedCasting& c = r->castings.back();
    figure(Stage::check) =
        "no. " + std::to_string(c.number) + " " + std::string(c.measured == 0 ? "not measured" : name_of(c.overall));
    if (c.measured == 0 && out[static_cast<size_t>(Stage::check)].knot == Knot::settled)
      out[static_cast<size_t>(Stage::check)].knot = Knot::needs_answer;
  } else if (!job.check.castings.empty()) {
    const Casting& c = job.check.castings.back();
    figure(Stage::check) = "no. " + std::to_string(c.number) + " " +
                           std::string(c.worth != Worth::unsaid ? words_of(c.worth)
                                       : c.looked_at            ? "looked at"
                                                                : "not looked at");
  }
  for (StageState& s : out)
    if (s.knot == Knot::moving) s.figure = "working, " + fixed(100 * s.progress, 0) + " %";
  return out;
}

Tally tally_of(const Job& job, const Planner& plan) {
  Tally t;
  if (const auto r = plan.fresh(results::mix)) {
    t.rubber_g = r->rubber_g;
    t.resin_g = r->resin_g;
    t.cost = r->rubber_cost + r->jacket_cost + r->resin_cost;
  }
  if (const auto r = plan.fresh(results::days)) {
    t.hands_min = r->schedule.hands_min;
    t.ready = short_text(r->schedule.finish);
    if (const auto mix = plan.fresh(results::mix)) {
      t.rubber_g = mix->rubber_g * job.days.moulds;
      t.cost = (mix->rubber_cost + mix->jacket_cost) * job.days.moulds + mix->resin_cost + r->hand_cost;
    }
  }
  if (const auto r = plan.fresh(results::size); r && r->tightest)
    t.tightest = job.original.sizes[*r->tightest].name + ", " +
                 fixed(100 * r->predictions[*r->tightest].p_in_limits, 0) + " % likely";
  return t;
}

Result<Job> accept_finding(const Job& job, const Finding& finding, const std::string& reason) {
  if (!finding.answerable) return Error{"this cannot be accepted", finding.what, "Use one of its remedies."};
  std::string words = trim(reason);
  if (finding.needs_written && words.size() < 10)
    return Error{"a written reason is needed, at least ten letters", finding.what,
                 "Say who decided it and why the part is safe."};
  Job next = job;
  std::erase_if(next.answers, [&](const Answer& a) {
    return a.finding_key == finding.key() && (!finding.where.point_mm || answers(a, finding, 0));
  });
  next.answers.push_back(
      {finding.key(), words.empty() ? "accepted" : words, now_text(), finding.where.point_mm, finding.magnitude});
  return next;
}

bool answers(const Answer& a, const Finding& f, double part_mm) {
  if (a.finding_key != f.key()) return false;
  if (f.where.point_mm.has_value() != a.point_mm.has_value()) return false;
  if (f.where.point_mm && length(*f.where.point_mm - *a.point_mm) > std::max(2.0, 0.05 * part_mm)) return false;
  return f.magnitude <= 1.25 * a.magnitude + 1e-9;
}

bool ready(const std::vector<OpenFinding>& findings) {
  return std::none_of(findings.begin(), findings.end(),
                      [](const OpenFinding& f) { return f.finding.severity == Severity::stop && !f.answer; });
}

}  // namespace palinform
