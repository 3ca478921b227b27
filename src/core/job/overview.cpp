#include "job/overview.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

namespace palinform {

std::string_view name_of(Stage s) {
  constexpr std::array<std::string_view, stage_count> names{"Original", "Size", "Split", "Mould", "Flow",
                                                            "Mix",      "Days", "Bench", "Check", "Ledger"};
  return names[static_cast<size_t>(s)];
}

std::vector<OpenFinding> findings_of(const Job& job, const Planner& plan) {
  std::vector<OpenFinding> out;
  double part_mm = 0;
  if (const auto master = plan.value<OriginalResult>("master")) part_mm = length(master->measure.box_mm.size());
  const auto take = [&](Stage stage, const std::vector<Finding>& findings) {
    for (const Finding& f : findings) {
      OpenFinding o{stage, f, std::nullopt};
      for (const Answer& a : job.answers)
        if (answers(a, f, part_mm)) o.answer = a;
      out.push_back(std::move(o));
    }
  };
  if (const auto r = plan.fresh<QuestionsResult>("questions")) take(Stage::original, r->findings);
  if (const auto r = plan.fresh<SizeResult>("size")) take(Stage::size, r->findings);
  if (const auto r = plan.fresh<DrawsResult>("draws"); r && !r->check.agrees() && r->check.size < job.sizes.size()) {
    Finding f{"first-order",
              Severity::note,
              {},
              "The simple sum of spreads is " + fixed(100 * r->check.worst_ratio, 1) + " % off",
              "",
              {}};
    f.where.size = job.sizes[r->check.size].id;
    f.why = "100,000 random draws of " + job.sizes[r->check.size].name + " give " +
            fixed(r->drawn[r->check.size].u_mm, 4) + " mm of standard uncertainty. Trust the draws.";
    take(Stage::size, {f});
  }
  if (const auto r = plan.fresh<SplitResult>("split")) take(Stage::split, r->findings);
  if (const auto r = plan.fresh<UndercutsResult>("undercuts")) take(Stage::split, r->findings);
  if (const auto r = plan.fresh<ThinResult>("thin")) take(Stage::split, r->findings);
  if (const auto r = plan.fresh<WitnessResult>("witness")) take(Stage::split, r->findings);
  if (const auto r = plan.fresh<MouldResult>("mould")) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh<FormsResult>("forms")) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh<KeysResult>("keys")) take(Stage::mould, r->findings);
  if (const auto r = plan.fresh<FlowPlanResult>("air-advice")) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh<FlowResult>("flow")) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh<FillingResult>("filling")) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh<ChannelsResult>("channels")) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh<RubberAirResult>("rubber-air")) take(Stage::flow, r->findings);
  if (const auto r = plan.fresh<MixResult>("mix")) take(Stage::mix, r->findings);
  if (const auto r = plan.fresh<StockResult>("stock")) take(Stage::mix, r->findings);
  if (const auto r = plan.fresh<DaysResult>("days")) take(Stage::days, r->findings);
  if (const auto r = plan.fresh<CheckResult>("check")) take(Stage::check, r->findings);
  std::stable_sort(out.begin(), out.end(), [](const OpenFinding& a, const OpenFinding& b) {
    if (a.answer.has_value() != b.answer.has_value()) return !a.answer;
    return a.finding.severity > b.finding.severity;
  });
  return out;
}

std::array<StageState, stage_count> stage_states(const Job& job, const Planner& plan) {
  std::array<StageState, stage_count> out;
  const std::array<std::vector<std::string>, stage_count> nodes{
      std::vector<std::string>{"original", "soundness", "master"},
      {"size"},
      {"bores", "wishes", "search", "releases", "split", "witness", "thin", "pieces", "pins", "undercuts", "facts",
       "ways"},
      {"mould", "forms", "keys", "board"},
      {"cavity", "flow"},
      {"mix"},
      {"days"},
      {},
      {"check"},
      {}};
  const auto findings = findings_of(job, plan);
  for (int i = 0; i < stage_count; ++i) {
    StageState& s = out[static_cast<size_t>(i)];
    s.figure = "–";
    for (const std::string& node : nodes[static_cast<size_t>(i)]) {
      const SlotView v = plan.slot(node);
      if (v.state == Freshness::running) {
        s.knot = Knot::moving;
        s.progress = v.progress;
        s.node = node;
      } else if (v.state == Freshness::failed && s.knot != Knot::moving) {
        s.knot = Knot::stopped;
        s.node = node;
        s.error = v.error.text();
      } else if (v.state == Freshness::fresh && s.knot == Knot::untouched) {
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
  if (out[0].knot == Knot::untouched && (!job.sizes.empty() || job.bare.complete())) {
    out[0].knot = Knot::settled;
    for (const OpenFinding& f : findings)
      if (f.stage == Stage::original && !f.answer && f.finding.severity != Severity::note)
        out[0].knot = f.finding.severity == Severity::stop ? Knot::stopped
                      : out[0].knot == Knot::settled       ? Knot::needs_answer
                                                           : out[0].knot;
  }
  const auto figure = [&](Stage s) -> std::string& { return out[static_cast<size_t>(s)].figure; };
  if (!job.mesh.hash.empty() || !job.sizes.empty()) {
    const auto guesses =
        std::count_if(job.sizes.begin(), job.sizes.end(), [](const auto& s) { return s.limits_guessed; });
    figure(Stage::original) = counted(static_cast<long long>(job.sizes.size()), "size", "sizes") +
                              (guesses ? " · " + counted(guesses, "guess", "guesses") : "");
  }
  if (const auto r = plan.fresh<SizeResult>("size"); r && r->tightest)
    figure(Stage::size) = "tightest " + fixed(100 * r->predictions[*r->tightest].p_in_limits, 0) + " %";
  if (const auto r = plan.fresh<SplitResult>("split")) {
    const auto u = plan.fresh<UndercutsResult>("undercuts");
    const auto locked = u ? static_cast<long long>(u->undercuts.size()) : 0;
    const std::string pull = axis_name(r->split.pull);
    figure(Stage::split) = (pull.find(',') == std::string::npos ? pull : "own pull") +
                           (!u       ? ""
                            : locked ? " · " + counted(locked, "undercut", "undercuts")
                                     : " · no undercuts");
  }
  if (const auto r = plan.fresh<MouldResult>("mould")) {
    const auto forms = plan.fresh<FormsResult>("forms");
    figure(Stage::mould) =
        forms && forms->form != Form::two_part
            ? std::string(name_of(forms->form)) + " · " + grouped(forms->plan().rubber_mm3 * 1e-3) + " ml"
            : (r->stand_in ? "block · " : "two-part · ") + grouped(r->mould.rubber_mm3 * 1e-3) + " ml";
  }
  if (const auto r = plan.fresh<FlowResult>("flow"))
    figure(Stage::flow) = r->pockets.empty()                  ? "no air stays"
                          : r->left_mm3 > 0.2 * r->cavity_mm3 ? "no way out yet"
                                                              : significant(r->left_mm3, 2) + " mm³ of air";
  if (const auto r = plan.fresh<MixResult>("mix"))
    figure(Stage::mix) = grouped(r->rubber_g) + " g + " + grouped(r->resin_g) + " g";
  if (const auto r = plan.fresh<DaysResult>("days")) figure(Stage::days) = "ready " + short_text(r->schedule.finish);
  if (const auto r = plan.fresh<CheckResult>("check")) {
    const CheckedCasting& c = r->castings.back();
    figure(Stage::check) =
        "no. " + std::to_string(c.number) + " " + std::string(c.measured == 0 ? "not measured" : name_of(c.overall));
    if (c.measured == 0 && out[static_cast<size_t>(Stage::check)].knot == Knot::settled)
      out[static_cast<size_t>(Stage::check)].knot = Knot::needs_answer;
  }
  for (StageState& s : out)
    if (s.knot == Knot::moving) s.figure = "working, " + fixed(100 * s.progress, 0) + " %";
  return out;
}

Tally tally_of(const Job& job, const Planner& plan) {
  Tally t;
  if (const auto r = plan.fresh<MixResult>("mix")) {
    t.rubber_g = r->rubber_g;
    t.resin_g = r->resin_g;
    t.cost = r->rubber_cost + r->resin_cost;
  }
  if (const auto r = plan.fresh<DaysResult>("days")) {
    t.hands_min = r->schedule.hands_min;
    t.ready = short_text(r->schedule.finish);
    if (const auto mix = plan.fresh<MixResult>("mix")) {
      t.rubber_g = mix->rubber_g * job.days.moulds;
      t.cost = mix->rubber_cost * job.days.moulds + mix->resin_cost + r->hand_cost;
    }
  }
  if (const auto r = plan.fresh<SizeResult>("size"); r && r->tightest)
    t.tightest =
        job.sizes[*r->tightest].name + ", " + fixed(100 * r->predictions[*r->tightest].p_in_limits, 0) + " % likely";
  return t;
}

Result<Job> apply_remedy(const Job& job, const Remedy& remedy) {
  Job next = job;
  const auto arg = [&](const char* key) -> std::string {
    const auto it = remedy.args.find(key);
    return it == remedy.args.end() ? "" : it->second;
  };
  const auto number = [&](const char* key) { return parse_number(arg(key)); };
  const Error unknown{"this remedy cannot be applied by itself", remedy.label, ""};
  const auto size = [&]() -> MeasuredSize* {
    for (MeasuredSize& s : next.sizes)
      if (s.id == arg("size")) return &s;
    return nullptr;
  };
  if (remedy.code == "pin" && size() && number("mm")) {
    size()->formed = FormedBy::pin;
    size()->pin_mm = *number("mm");
  } else if (remedy.code == "finish" && size() && finishing(arg("by"))) {
    size()->finish = *finishing(arg("by"));
  } else if (remedy.code == "reading" && size() && number("index")) {
    auto& readings = size()->readings_mm;
    const auto i = static_cast<size_t>(std::max(0.0, *number("index")));
    if (i >= readings.size()) return unknown;
    if (number("mm"))
      readings[i] = *number("mm");
    else
      readings.erase(readings.begin() + static_cast<std::ptrdiff_t>(i));
  } else if (remedy.code == "nominal" && size() && number("mm")) {
    size()->nominal_mm = *number("mm");
  } else if (remedy.code == "master-material") {
    next.finish.master_material = arg("id");
  } else if (remedy.code == "later" && later(arg("as"))) {
    next.finish.later = *later(arg("as"));
  } else if (remedy.code == "silicone") {
    next.silicone_id = arg("id");
  } else if (remedy.code == "per-axis") {
    next.master = MasterKind::scaled_per_axis;
    next.axis_scale = MasterScale::all(job.scale);
  } else if (remedy.code == "learned" && number("delta") && number("u")) {
    next.learned = LearnedShrink{arg("silicone"), arg("resin"), *number("delta"), *number("u"), arg("from")};
  } else if (remedy.code == "confirm-limits" && size()) {
    size()->limits_guessed = false;
  } else if (remedy.code == "resin") {
    next.resin_id = arg("id");
  } else if ((remedy.code == "scale" || remedy.code == "scaled-master") && number("scale")) {
    next.master = MasterKind::scaled;
    next.scale = *number("scale");
  } else if (remedy.code == "pull" && number("x") && number("y") && number("z")) {
    next.pull = Vec3{*number("x"), *number("y"), *number("z")};
  } else if ((remedy.code == "bore-pin" || remedy.code == "bore-tape" || remedy.code == "bore-plug") && number("x") &&
             number("y") && number("z") && number("diameter")) {
    const Vec3 wall{*number("x"), *number("y"), *number("z")};
    if (remedy.code == "bore-plug") {
      MasterStep step;
      step.kind = MasterStep::Kind::plug;
      step.point_mm = wall;
      step.mm = std::round(*number("diameter") / 4 * 10) / 10;
      next.master_steps.push_back(step);
    } else {
      next.bores.push_back({remedy.code == "bore-pin" ? BoreTreatment::Kind::pin : BoreTreatment::Kind::tape, wall, 0});
      // The pin shapes the size: every bore size of that diameter whose line lies at this bore.
      if (remedy.code == "bore-pin")
        for (MeasuredSize& s : next.sizes)
          if (s.kind == SizeKind::bore && std::abs(s.nominal_mm - *number("diameter")) < 0.05 * s.nominal_mm &&
              length((s.from_mm + s.to_mm) * 0.5 - wall) < 6 * s.nominal_mm && s.formed != FormedBy::pin) {
            s.formed = FormedBy::pin;
            s.pin_mm = 0.5 * (s.lower_mm + s.upper_mm);
          }
    }
  } else if (remedy.code == "third-piece" && number("x") && number("y") && number("z")) {
    next.piece_pulls.push_back({*number("x"), *number("y"), *number("z")});
  } else if (remedy.code == "more-pieces") {
    for (int i = 0; i < 8; ++i)
      if (const auto v = parse_numbers(arg(("pull" + std::to_string(i)).c_str())); v && v->size() == 3)
        next.piece_pulls.push_back({(*v)[0], (*v)[1], (*v)[2]});
  } else if (remedy.code == "drop-piece" && number("index")) {
    const auto i = static_cast<size_t>(std::max(0.0, *number("index")));
    if (i >= next.piece_pulls.size()) return unknown;
    next.piece_pulls.erase(next.piece_pulls.begin() + static_cast<std::ptrdiff_t>(i));
  } else if (remedy.code == "tape" && number("x") && number("y") && number("z") && number("radius")) {
    next.bores.push_back({BoreTreatment::Kind::tape, {*number("x"), *number("y"), *number("z")}, *number("radius")});
  } else if (remedy.code == "keys" && key_kind(arg("kind"))) {
    next.keys = arg("kind");
    next.key_places.clear();
  } else if (remedy.code == "form" && form_named(arg("form"))) {
    next.form = arg("form");
  } else if (remedy.code == "wall" && number("mm")) {
    next.wall_mm = *number("mm");
  } else if (remedy.code == "scale-division" && number("g")) {
    next.scale_division_g = *number("g");
  } else if (remedy.code == "waste" && number("pct")) {
    next.waste_pct = *number("pct");
  } else if (remedy.code == "cup" && number("ml")) {
    next.cup_ml = *number("ml");
  } else if ((remedy.code == "vent" || remedy.code == "gate") && number("x") && number("y") && number("z")) {
    const Vec3 p{*number("x"), *number("y"), *number("z")};
    if (remedy.code == "vent")
      next.flow.vents.push_back(p);
    else
      next.flow.gate = p;
  } else if (remedy.code == "air-plan" && number("tilt") && number("azimuth")) {
    next.flow.tilt_deg = *number("tilt");
    next.flow.azimuth_deg = *number("azimuth");
    next.flow.turned_over = arg("over") == "1";
    const auto places = [&](const char* name) {
      std::vector<Vec3> out;
      const auto n = parse_numbers(arg(name));
      for (size_t k = 0; n && k + 2 < n->size(); k += 3) out.push_back({(*n)[k], (*n)[k + 1], (*n)[k + 2]});
      return out;
    };
    const auto gate = places("gate");
    if (!gate.empty()) next.flow.gate = gate.front();
    next.flow.vents = places("vents");
  } else if (remedy.code == "sprue" && number("mm")) {
    next.flow.sprue_mm = *number("mm");
  } else if (remedy.code == "head" && number("mm")) {
    next.flow.head_mm = *number("mm");
  } else if (remedy.code == "aid") {
    next.flow.aid = arg("aid") == "pressure" ? FillAid::pressure
                    : arg("aid") == "vacuum" ? FillAid::vacuum
                                             : FillAid::gravity;
  } else if (remedy.code == "degas") {
    next.degas = arg("on") == "1";
  } else {
    return unknown;
  }
  if (auto ok = check_job(next); !ok) return ok.error();
  return next;
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
