#include "days/schedule.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"

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
  h.add(static_cast<int64_t>(machines.size()));
  for (const auto& [name, list] : machines) {
    h.add(name);
    spans(list);
  }
}

bool held_through_wait(std::string_view machine) { return machine == "pot" || machine == "oven"; }

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

namespace {

/// What hands do, as how many are at work from each change on; everybody who is there can do one thing at a time.
struct Busy {
  int people = 1;
  std::map<WallMinute, int> from;  ///< at work from then on
  /// When somebody is free again, if everybody is at work at some time in a … b.
  std::optional<WallMinute> until(WallMinute a, WallMinute b) const {
    auto it = from.upper_bound(a);
    if (it != from.begin()) --it;
    for (; it != from.end() && it->first < b; ++it) {
      if (it->second < people || (std::next(it) != from.end() && std::next(it)->first <= a)) continue;
      while (it != from.end() && it->second >= people) ++it;
      return it->first;
    }
    return std::nullopt;
  }
  /// The first time in a … b at which everybody is at work.
  std::optional<WallMinute> begins(WallMinute a, WallMinute b) const {
    for (auto it = from.upper_bound(a); it != from.end() && it->first < b; ++it)
      if (it->second >= people) return it->first;
    return std::nullopt;
  }
  void add(WallMinute a, WallMinute b) {
    if (b <= a) return;
    const auto cut = [&](WallMinute t) {
      const auto it = from.lower_bound(t);
      if (it != from.end() && it->first == t) return it;
      return from.emplace_hint(it, t, it == from.begin() ? 0 : std::prev(it)->second);
    };
    const auto first = cut(a), end = cut(b);
    for (auto it = first; it != end; ++it) ++it->second;
  }
};

/// When a machine is free again, if others hold it at some time in a … b.
std::optional<WallMinute> machine_until(const std::vector<WallSpan>& held, WallMinute a, WallMinute b) {
  std::optional<WallMinute> out;
  for (const auto& [from, to] : held)
    if (from < b && to > a) out = std::max(out.value_or(to), to);
  return out;
}

/// Free bench time from `from` on, in the pieces that closing time and other work leave, until `minutes` are together.
Result<std::vector<std::pair<WallMinute, WallMinute>>> pieces_from(const std::vector<BenchHours>& bench,
                                                                   const std::set<int64_t>& holidays, const Busy& busy,
                                                                   WallMinute from, int64_t minutes) {
  std::vector<std::pair<WallMinute, WallMinute>> out;
  WallMinute at = from;
  for (int guard = 0; minutes > 0 && guard < 100'000; ++guard) {
    const auto open = next_bench_time(bench, at, 1, holidays);
    if (!open) return open.error();
    at = *open;
    if (const auto later = busy.until(at, at + 1)) {
      at = *later;
      continue;
    }
    // To closing time, or to the next thing the person has to do.
    const int64_t day = day_number(at);
    WallMinute shut = at;
    for (const BenchHours& b : bench)
      if (b.days[static_cast<size_t>(weekday_of(at))] && day * day_min + b.from_min <= at)
        shut = std::max(shut, day * day_min + b.to_min);
    WallMinute end = std::min(shut, at + minutes);
    if (const auto other = busy.begins(at, end)) end = *other;
    out.emplace_back(at, end);
    minutes -= end - at;
    at = end;
  }
  return out;
}

}  // namespace

Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const Progress& progress) {
  return lay_out(steps, bench, start, ShopTime{}, Begun{}, progress);
}

void take(ShopTime& shop, const std::vector<Step>& steps, const Schedule& s, WallMinute now) {
  for (const Placed& p : s.placed) {
    for (const WallSpan& span : p.hands)
      if (span.second > now) shop.hands.push_back(span);
    const std::string& machine = steps[p.step].needs;
    const WallMinute until = held_through_wait(machine) ? p.end : p.hands_end;
    if (!machine.empty() && until > p.start && until > now) shop.machines[machine].emplace_back(p.start, until);
  }
}

Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const ShopTime& others, const Begun& begun, const Progress& progress) {
  if (begun.now > 0) start = std::max(start, begun.now);
  Schedule out;
  out.start = start;
  out.finish = start;
  std::map<std::string, size_t> place;
  std::map<std::string, bool> made;  // what some step makes by holding it: not there before
  for (size_t i = 0; i < steps.size(); ++i) {
    if (!place.emplace(steps[i].id, i).second) return Error{"two steps are called \"" + steps[i].id + "\"", "days", ""};
    if (!steps[i].holds.empty()) made[steps[i].holds] = true;
  }
  out.placed.resize(steps.size());
  std::vector<const DoneStep*> done(steps.size(), nullptr);
  for (const DoneStep& d : begun.done)
    if (const auto it = place.find(d.id); it != place.end()) {
      done[it->second] = &d;
      // What is only known to be done has no hour of its own.
      if (d.hands_end > d.start) out.start = std::min(out.start, d.start);
    }
  struct Now {                               // how things stand before a run is placed
    std::map<std::string, WallMinute> held;  // until when a mould or machine is taken
    Busy busy;
    double hands_min = 0;
    WallMinute finish = 0;
  } now_at;
  now_at.finish = start;
  now_at.busy.people = std::max(1, others.people);
  for (const auto& [from, to] : others.hands) now_at.busy.add(from, to);
  auto& held = now_at.held;
  auto& busy = now_at.busy;
  // What a window is counted from may have to be put off: from there everything is placed anew.
  std::vector<WallMinute> not_before(steps.size(), start);
  std::map<size_t, Now> before_run;
  std::map<size_t, int> put_off;
  std::map<size_t, WallMinute> first_start;
  std::vector<bool> anchors(steps.size(), false);
  std::vector<size_t> run_of(steps.size());
  for (size_t k = 0; k < steps.size(); ++k) {
    run_of[k] = k > 0 && steps[k].at_once && !done[k] && !done[k - 1] ? run_of[k - 1] : k;
    if (!steps[k].window) continue;
    const auto it = place.find(steps[k].window->after);
    if (it == place.end() || it->second >= k)
      return Error{
          "step \"" + steps[k].id + "\" waits for \"" + steps[k].window->after + "\", which does not come before it",
          "days", ""};
    anchors[run_of[it->second]] = true;
  }
  const auto ceil_min = [](double v) { return static_cast<int64_t>(std::ceil(v - 1e-9)); };
  int64_t longest = 0;
  for (const BenchHours& b : bench)
    if (std::find(b.days.begin(), b.days.end(), true) != b.days.end())
      longest = std::max<int64_t>(longest, b.to_min - b.from_min);

  for (size_t i = 0; i < steps.size();) {
    if (progress.cancelled()) return Error::stopped();
    if (done[i]) {
      Placed& p = out.placed[i];
      p = {i, done[i]->start, done[i]->hands_end, done[i]->hands_end + ceil_min(steps[i].wait_min), {}, "", true};
      if (p.hands_end > p.start) p.hands.emplace_back(p.start, p.hands_end);
      // Which of several moulds it went into nobody wrote down: the first that is free.
      for (const std::string& one : steps[i].any_of)
        if (p.held.empty() || held[one] < held[p.held]) p.held = one;
      if (!steps[i].same_as.empty()) p.held = out.placed[place[steps[i].same_as]].held;
      now_at.hands_min += steps[i].hands_min;
      now_at.finish = std::max(now_at.finish, p.end);
      for (const std::string& what : {steps[i].holds, p.held})
        if (!what.empty()) held[what] = std::max(held[what], p.end);
      if (!steps[i].needs.empty())
        held[steps[i].needs] = std::max(held[steps[i].needs], held_through_wait(steps[i].needs) ? p.end : p.hands_end);
      ++i;
      continue;
    }
    size_t end = i + 1;
    while (end < steps.size() && steps[end].at_once && !done[end]) ++end;
    if (anchors[i]) before_run[i] = now_at;
    // The run's length from its first minute to the last hands-on minute, waits between included.
    int64_t length = 0;
    for (size_t k = i; k < end; ++k)
      length += ceil_min(steps[k].hands_min) + (k + 1 < end ? ceil_min(steps[k].wait_min) : 0);
    WallMinute earliest = not_before[i];
    std::optional<WallMinute> latest;  // for the run's first minute
    size_t counted_from = 0;
    int64_t ahead = 0;  // of the run, before step k
    const std::vector<std::string>* choice = nullptr;
    for (size_t k = i; k < end; ++k) {
      if (steps[k].window) {
        const Window& w = *steps[k].window;
        const size_t from = place[w.after];
        if (from < i) {
          const WallMinute counted = out.placed[from].hands_end - ahead;
          earliest = std::max(earliest, counted + ceil_min(w.earliest_min));
          if (w.latest_min && !done[from]) {
            const WallMinute last = counted + std::max(ceil_min(w.earliest_min), static_cast<int64_t>(*w.latest_min));
            if (!latest || last < *latest) latest = last, counted_from = from;
          }
        }
      }
      ahead += ceil_min(steps[k].hands_min) + ceil_min(steps[k].wait_min);
      if (steps[k].pinned) earliest = std::max(earliest, *steps[k].pinned);
      if (!steps[k].any_of.empty()) choice = &steps[k].any_of;
      if (!steps[k].holds.empty()) earliest = std::max(earliest, held[steps[k].holds]);
      if (!steps[k].needs.empty()) earliest = std::max(earliest, held[steps[k].needs]);
      if (!steps[k].same_as.empty()) {
        const auto it = place.find(steps[k].same_as);
        if (it == place.end() || it->second >= k)
          return Error{
              "step \"" + steps[k].id + "\" goes on with \"" + steps[k].same_as + "\", which does not come before it",
              "days", ""};
        // Nobody else was given it since: a step inside its cure need not wait for the cure.
      }
      for (const std::string& id : steps[k].after) {
        const auto it = place.find(id);
        if (it == place.end() || it->second >= k)
          return Error{"step \"" + steps[k].id + "\" waits for \"" + id + "\", which does not come before it", "days",
                       ""};
        if (it->second < i) earliest = std::max(earliest, out.placed[it->second].end);
      }
    }
    const bool split = end == i + 1 && steps[i].may_split && length > longest && longest > 0;
    if (length > longest && longest > 0 && !split)
      return Error{"\"" + steps[i].name + "\"" + (end > i + 1 ? " and what must follow at once" : "") + " takes " +
                       std::to_string(length) + " minutes in one piece, and the bench is open for " +
                       std::to_string(longest) + " at the most",
                   "days", "Open the bench longer on that day, or make the step shorter."};
    // A machine that the run needs and others have: when the run could begin instead.
    const auto machine_taken = [&](WallMinute from) -> std::optional<WallMinute> {
      if (others.machines.empty()) return std::nullopt;
      WallMinute t = from;
      for (size_t k = i; k < end; ++k) {
        const WallMinute hands_end = t + ceil_min(steps[k].hands_min), all = hands_end + ceil_min(steps[k].wait_min);
        if (const auto it = others.machines.find(steps[k].needs); it != others.machines.end())
          if (const auto until =
                  machine_until(it->second, t, std::max(t + 1, held_through_wait(steps[k].needs) ? all : hands_end)))
            return from + std::max<int64_t>(1, *until - t);
        t = all;
      }
      return std::nullopt;
    };
    const auto first_free = [&](WallMinute from) -> Result<WallMinute> {
      for (;;) {
        WallMinute at = from;
        if (!split && length > 0) {
          const auto open = next_bench_time(bench, from, static_cast<double>(length), others.holidays);
          if (!open) return open.error();
          if (const auto later = busy.until(*open, *open + length)) {
            from = *later;
            continue;
          }
          at = *open;
        }
        const auto later = machine_taken(at);
        if (!later) return at;
        from = *later;
      }
    };
    std::string given;
    std::optional<WallMinute> at;
    if (choice) {
      for (const std::string& one : *choice) {
        const auto until = held.find(one);
        if (until == held.end() && made[one]) continue;
        const auto t = first_free(std::max(earliest, until == held.end() ? start : until->second));
        if (!t) return t.error();
        if (!at || *t < *at) at = *t, given = one;
      }
      if (!at) return Error{"step \"" + steps[i].id + "\" has nothing to be done in", "days", ""};
    } else {
      const auto t = first_free(earliest);
      if (!t) return t.error();
      at = *t;
    }
    if (latest && *at > *latest) {
      const size_t first = run_of[counted_from];
      const WallMinute later = out.placed[first].start + std::max<int64_t>(1, *at - *latest);
      if (++put_off[i] > 400 ||
          later - first_start.emplace(first, out.placed[first].start).first->second > 60 * day_min)
        return Error{
            "\"" + steps[i].name + "\" must begin within " +
                std::to_string(static_cast<int64_t>(steps[i].window ? steps[i].window->latest_min.value_or(0) : 0)) +
                " minutes of \"" + steps[counted_from].name +
                "\", and no time was found at which the bench is open for both",
            "days", "Open the bench longer, or begin at another hour."};
      not_before[first] = std::max(not_before[first], later);
      now_at = before_run.at(first);
      i = first;
      continue;
    }
    std::vector<std::pair<WallMinute, WallMinute>> pieces;
    if (split) {
      auto p = pieces_from(bench, others.holidays, busy, *at, length);
      if (!p) return p.error();
      pieces = *std::move(p);
      at = pieces.front().first;
    }
    if (length > 0) {
      if (pieces.empty())
        busy.add(*at, *at + length);
      else
        for (const auto& [a, b] : pieces) busy.add(a, b);
    }
    WallMinute now = *at;
    for (size_t k = i; k < end; ++k) {
      Placed& p = out.placed[k];
      p.step = k;
      p.hands.clear();  // of a placing that was put off
      p.start = now;
      p.hands_end = pieces.empty() ? now + ceil_min(steps[k].hands_min) : pieces.back().second;
      p.end = p.hands_end + ceil_min(steps[k].wait_min);
      if (!pieces.empty())
        p.hands = pieces;
      else if (p.hands_end > p.start)
        p.hands.emplace_back(p.start, p.hands_end);
      p.held = !steps[k].any_of.empty()    ? given
               : !steps[k].same_as.empty() ? out.placed[place[steps[k].same_as]].held
                                           : "";
      now = p.end;
      now_at.hands_min += steps[k].hands_min;
      now_at.finish = std::max(now_at.finish, p.end);
      for (const std::string& what : {steps[k].holds, p.held})
        if (!what.empty()) held[what] = std::max(held[what], p.end);
      if (!steps[k].needs.empty())
        held[steps[k].needs] = std::max(held[steps[k].needs], held_through_wait(steps[k].needs) ? p.end : p.hands_end);
    }
    i = end;
  }
  out.hands_min = now_at.hands_min;
  out.finish = now_at.finish;
  return out;
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
