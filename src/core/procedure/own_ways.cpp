#include "procedure/own_ways.hpp"

#include <algorithm>

namespace palinform {
namespace {

void apply(ProcedureStep& s, const StepChange& c) {
  if (c.hands_min) s.hands_min = *c.hands_min;
  if (c.wait_min) s.wait_min = *c.wait_min;
  if (c.pinned) s.pinned = c.pinned;
  if (!c.what.empty()) s.what = c.what;
  if (!c.skipped.empty()) s.skipped = c.skipped;
  s.changed = s.changed || !(c == StepChange{});
}

/// Steps of a shop's own, behind the one they name, or behind each of that stem.
void add_own(Procedure& p, const std::vector<OwnStep>& own) {
  for (const OwnStep& o : own) {
    bool several = false;
    for (size_t i = 0; i < p.steps.size(); ++i) {
      // What must follow at once is not parted: the own step comes after the whole run.
      if (p.steps[i].id != o.after && p.steps[i].stem != o.after) continue;
      size_t at = i;
      while (at + 1 < p.steps.size() && p.steps[at + 1].at_once) ++at;
      const ProcedureStep& before = p.steps[at];
      ProcedureStep s;
      s.id = o.id + (several || before.casting > 1 || before.mould > 1 ? "-" + before.id : std::string());
      s.stem = o.id;
      s.act = Act::own;
      s.block = before.block;
      s.part = before.part;
      s.name = o.name, s.what = o.what.empty() ? o.name + "." : o.what;
      s.hands_min = o.hands_min, s.wait_min = o.wait_min;
      s.after = {before.id};
      s.mould = before.mould, s.casting = before.casting;
      s.changed = true;
      if (!before.same_as.empty()) s.same_as = before.same_as;
      // Whoever waited for the step before waits for this one as well.
      for (size_t k = at + 1; k < p.steps.size(); ++k)
        if (std::find(p.steps[k].after.begin(), p.steps[k].after.end(), before.id) != p.steps[k].after.end())
          p.steps[k].after.push_back(s.id);
      p.steps.insert(p.steps.begin() + static_cast<std::ptrdiff_t>(at) + 1, std::move(s));
      several = true;
      i = at + 1;
    }
  }
}

/// A step and what must follow it at once, to behind another such run. Waits stay; the step waits for its new
/// forerunner, and what waited for it alone waits for what it followed.
void move(Procedure& p, const std::string& id, const std::string& behind) {
  const auto find = [&](const std::string& x) {
    return std::find_if(p.steps.begin(), p.steps.end(), [&](const ProcedureStep& s) { return s.id == x; });
  };
  auto from = find(id);
  if (from == p.steps.end() || find(behind) == p.steps.end() || id == behind || from->at_once) return;
  auto end = from + 1;
  while (end != p.steps.end() && end->at_once) ++end;
  for (auto s = from; s != end; ++s)
    if (s->id == behind) return;
  std::vector<ProcedureStep> run(from, end);
  const std::vector<std::string> followed = run.front().after;
  const std::string last = run.back().id;
  p.steps.erase(from, end);
  for (ProcedureStep& s : p.steps)
    if (const auto at = std::find(s.after.begin(), s.after.end(), last); at != s.after.end()) {
      s.after.erase(at);
      for (const std::string& f : followed)
        if (std::find(s.after.begin(), s.after.end(), f) == s.after.end()) s.after.push_back(f);
    }
  auto to = find(behind) + 1;
  while (to != p.steps.end() && to->at_once) ++to;
  const std::string forerunner = (to - 1)->id;
  run.front().after = {forerunner};
  for (ProcedureStep& s : p.steps)
    if (const auto at = std::find(s.after.begin(), s.after.end(), forerunner); at != s.after.end()) *at = last;
  p.steps.insert(to, run.begin(), run.end());
}

/// What is left out lets go of nobody: who waited for it waits for what it followed.
void pass_over(Procedure& p) {
  for (const ProcedureStep& gone : p.steps) {
    if (gone.skipped.empty()) continue;
    for (ProcedureStep& s : p.steps) {
      const auto at = std::find(s.after.begin(), s.after.end(), gone.id);
      if (at == s.after.end() || &s == &gone) continue;
      s.after.erase(at);
      for (const std::string& f : gone.after)
        if (std::find(s.after.begin(), s.after.end(), f) == s.after.end()) s.after.push_back(f);
    }
  }
}

}  // namespace

Result<Procedure> with_own_ways(Procedure p, const ProcedureFacts& f, const OwnWays& habits, const OwnWays& own) {
  if (habits == OwnWays{} && own == OwnWays{}) return p;
  add_own(p, habits.steps);
  add_own(p, own.steps);
  std::vector<std::pair<std::string, std::string>> moves;
  for (const OwnWays* ways : {&habits, &own})
    for (ProcedureStep& s : p.steps) {
      const auto by_stem = ways->changes.find(s.stem), by_id = ways->changes.find(s.id);
      for (const auto& c : {by_stem, by_id == by_stem ? ways->changes.end() : by_id})
        if (c != ways->changes.end()) {
          apply(s, c->second);
          if (!c->second.move_after.empty()) moves.emplace_back(s.id, c->second.move_after);
        }
    }
  for (const auto& [id, behind] : moves) move(p, id, behind);
  pass_over(p);
  if (const auto faults = faults_of(p, f); !faults.empty())
    return Error{faults.front(), "steps", "Take that change back, or change what needs it as well."};
  return p;
}

std::string new_own_id(const OwnWays& ways) {
  for (int n = 1;; ++n) {
    const std::string id = "own-" + std::to_string(n);
    if (std::none_of(ways.steps.begin(), ways.steps.end(), [&](const OwnStep& s) { return s.id == id; })) return id;
  }
}

}  // namespace palinform
