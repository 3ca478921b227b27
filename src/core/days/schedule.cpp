#include "days/schedule.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "days/laying.hpp"

namespace palinform {

Result<std::array<bool, 7>> parse_days(std::string_view text) {
  std::array<bool, 7> out{};
  const Error bad{"\"" + std::string(text) + "\" names no days", "bench", "Write mon-fri, or mon,wed,sat."};
  const auto day = [&](std::string_view w) {
    const std::string low = lower_ascii(trim(w));
    for (int i = 0; i < 7; ++i)
      if (low == day_names[static_cast<size_t>(i)]) return i;
    return -1;
  };
  size_t at = 0;
  while (at <= text.size()) {
    const size_t end = std::min(text.find(',', at), text.size());
    const std::string_view part = text.substr(at, end - at);
    const size_t dash = part.find('-');
    const int a = day(part.substr(0, dash)), b = dash == std::string_view::npos ? a : day(part.substr(dash + 1));
    if (a < 0 || b < 0) return bad;
    for (int i = a;; i = (i + 1) % 7) {
      out[static_cast<size_t>(i)] = true;
      if (i == b) break;
    }
    at = end + 1;
  }
  return out;
}

void ShopTime::hash_into(Hasher& h) const {
  h.add(people).add(std::vector<int64_t>(holidays.begin(), holidays.end()));
  const auto spans = [&](const std::vector<WallSpan>& list) {
    h.add(static_cast<int64_t>(list.size()));
    for (const auto& [from, to] : list) h.add(from).add(to);
  };
  spans(hands);
  h.add(static_cast<int64_t>(places.size()));
  for (const auto& [name, many] : places) h.add(name).add(many);
  h.add(static_cast<int64_t>(machines.size()));
  for (const auto& [name, list] : machines) {
    h.add(name);
    spans(list);
  }
}

bool held_through_wait(std::string_view machine) { return machine != "chamber"; }

std::optional<int> places_of(const Places& places, const std::string& name) {
  if (name == "chamber" || name == "pot" || name == "oven") return 1;
  const auto it = places.find(name);
  return it == places.end() || it->second < 1 ? std::nullopt : std::optional(it->second);
}

Result<WallMinute> next_bench_time(const std::vector<BenchHours>& bench, WallMinute from, double minutes,
                                   const std::set<int64_t>& holidays) {
  const int64_t need = static_cast<int64_t>(std::ceil(minutes - 1e-9));
  if (need <= 0) return from;  // nothing to do by hand: any time will do
  int64_t longest = 0;
  for (const BenchHours& b : bench)
    if (std::find(b.days.begin(), b.days.end(), true) != b.days.end())
      longest = std::max<int64_t>(longest, b.to_min - b.from_min);
  if (longest <= 0) return Error{"there are no bench hours", "days", "Say when somebody is at the bench."};
  if (need > longest)
    return Error{std::to_string(need) + " minutes in one piece are longer than a bench day of " +
                     std::to_string(longest) + " minutes",
                 "days", "Open the bench longer, or split the work."};
  for (int64_t day = day_number(from), last = day + 15 + static_cast<int64_t>(holidays.size()); day <= last; ++day) {
    if (holidays.contains(day)) continue;
    WallMinute best = INT64_MAX;
    for (const BenchHours& b : bench) {
      if (!b.days[static_cast<size_t>(weekday_of(day * day_min))] || b.to_min <= b.from_min) continue;
      const WallMinute open = day * day_min + b.from_min, shut = day * day_min + b.to_min;
      const WallMinute start = std::max(open, from);
      if (start + need > shut) continue;
      best = std::min(best, start);
    }
    if (best != INT64_MAX) return best;
  }
  return Error{"no bench hours were found within two weeks", "days", "Say when somebody is at the bench."};
}

Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const Progress& progress) {
  return lay_out(steps, bench, start, ShopTime{}, Begun{}, progress);
}

void take(ShopTime& shop, const std::vector<Step>& steps, const Schedule& s, WallMinute now) {
  for (const Placed& p : s.placed) {
    for (const WallSpan& span : p.hands)
      if (span.second > now) shop.hands.push_back(span);
    const auto hold = [&](const std::string& machine, const WallSpan& span) {
      if (span.second > span.first && span.second > now) shop.machines[machine].push_back(span);
    };
    const Step& step = steps[p.step];
    if (!step.needs.empty()) hold(step.needs, {p.start, held_until(p, step.needs)});
    if (step.besides.empty()) continue;
    std::optional<size_t> same_as;
    for (size_t k = p.step; k-- > 0 && !step.same_as.empty() && !same_as;)
      if (steps[k].id == step.same_as) same_as = k;
    for (const std::string& what : step.besides) hold(what, held_besides(steps, s.placed, p.step, same_as, what));
  }
}

Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const ShopTime& others, const Begun& begun, const Progress& progress) {
  const auto job = ready_to_lay(steps, bench, start, begun);
  if (!job) return job.error();
  ShopNow shop;
  shop.holidays = &others.holidays;
  shop.places = &others.places;
  for (const auto& [name, spans] : others.machines)
    for (const WallSpan& span : spans) hold(shop, name, span);
  shop.busy.people = std::max(1, others.people);
  for (const WallSpan& span : others.hands) shop.busy.add(span);
  LaidSoFar so_far = nothing_laid(*job);
  while (!all_laid(*job, so_far)) {
    if (progress.cancelled()) return Error::stopped();
    if (const Status laid = lay_next(*job, so_far, shop); !laid) return laid.error();
  }
  return schedule_of(*job, std::move(so_far));
}

std::vector<Step> timed_steps(const Procedure& procedure) {
  std::vector<Step> out;
  std::map<std::string, bool> left_out;
  for (const ProcedureStep& p : procedure.steps) {
    if (!p.skipped.empty()) {
      left_out[p.id] = true;
      continue;
    }
    Step s;
    s.id = p.id, s.name = p.name;
    s.hands_min = p.hands_min, s.wait_min = p.wait_min;
    s.after = p.after;
    s.at_once = p.at_once && !out.empty();
    s.needs = p.needs, s.holds = p.holds;
    s.besides = p.besides;
    s.pinned = p.pinned;
    s.changed = p.changed, s.may_split = p.may_split;
    s.any_of = p.any_of, s.same_as = p.same_as;
    // Inside its own cup a step follows at once: its window says what that is worth, not when it is done.
    if (!s.at_once && p.window && !left_out.contains(p.window->after)) s.window = p.window;
    std::erase_if(s.after, [&](const std::string& id) { return left_out.contains(id); });
    out.push_back(std::move(s));
  }
  return out;
}

}  // namespace palinform
