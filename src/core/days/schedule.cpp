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

Result<WallMinute> next_bench_time(const std::vector<BenchHours>& bench, WallMinute from, double minutes) {
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
  for (int64_t day = day_number(from), last = day + 15; day <= last; ++day) {
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

/// What the person does, sorted and without overlaps.
struct Busy {
  std::vector<std::pair<WallMinute, WallMinute>> spans;
  /// When the person is free again, if anything falls into from … to.
  std::optional<WallMinute> until(WallMinute from, WallMinute to) const {
    auto it = std::upper_bound(spans.begin(), spans.end(), from,
                               [](WallMinute t, const auto& span) { return t < span.second; });
    if (it == spans.end() || it->first >= to) return std::nullopt;
    return it->second;
  }
  void add(WallMinute from, WallMinute to) {
    auto it = std::upper_bound(spans.begin(), spans.end(), std::pair{from, to});
    if (it != spans.begin() && std::prev(it)->second == from) {
      std::prev(it)->second = to;
      if (it != spans.end() && it->first == to) std::prev(it)->second = it->second, spans.erase(it);
    } else if (it != spans.end() && it->first == to)
      it->first = from;
    else
      spans.insert(it, {from, to});
  }
};

/// Free bench time from `from` on, in the pieces that closing time and other work leave, until `minutes` are together.
Result<std::vector<std::pair<WallMinute, WallMinute>>> pieces_from(const std::vector<BenchHours>& bench,
                                                                   const Busy& busy, WallMinute from, int64_t minutes) {
  std::vector<std::pair<WallMinute, WallMinute>> out;
  WallMinute at = from;
  for (int guard = 0; minutes > 0 && guard < 100'000; ++guard) {
    const auto open = next_bench_time(bench, at, 1);
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
    for (const auto& [a, b] : busy.spans)
      if (a > at && a < end) end = a;
    out.emplace_back(at, end);
    minutes -= end - at;
    at = end;
  }
  return out;
}

}  // namespace

Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const Progress& progress) {
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
  std::map<std::string, WallMinute> held;  // until when a mould or machine is taken
  Busy busy;
  const auto ceil_min = [](double v) { return static_cast<int64_t>(std::ceil(v - 1e-9)); };
  int64_t longest = 0;
  for (const BenchHours& b : bench)
    if (std::find(b.days.begin(), b.days.end(), true) != b.days.end())
      longest = std::max<int64_t>(longest, b.to_min - b.from_min);

  for (size_t i = 0; i < steps.size();) {
    if (progress.cancelled()) return Error::stopped();
    size_t end = i + 1;
    while (end < steps.size() && steps[end].at_once) ++end;
    // The run's length from its first minute to the last hands-on minute, waits between included.
    int64_t length = 0;
    for (size_t k = i; k < end; ++k)
      length += ceil_min(steps[k].hands_min) + (k + 1 < end ? ceil_min(steps[k].wait_min) : 0);
    WallMinute earliest = start;
    const std::vector<std::string>* choice = nullptr;
    for (size_t k = i; k < end; ++k) {
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
        if (it->second < i) earliest = std::max(earliest, held[out.placed[it->second].held]);
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
    const auto first_free = [&](WallMinute from) -> Result<WallMinute> {
      if (split || length == 0) return from;
      for (;;) {
        const auto open = next_bench_time(bench, from, static_cast<double>(length));
        if (!open) return open.error();
        const auto later = busy.until(*open, *open + length);
        if (!later) return *open;
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
    std::vector<std::pair<WallMinute, WallMinute>> pieces;
    if (split) {
      auto p = pieces_from(bench, busy, *at, length);
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
      out.hands_min += steps[k].hands_min;
      out.finish = std::max(out.finish, p.end);
      for (const std::string& what : {steps[k].holds, p.held})
        if (!what.empty()) held[what] = p.end;
      if (!steps[k].needs.empty())
        held[steps[k].needs] = std::max(held[steps[k].needs], steps[k].needs == "pot" ? p.end : p.hands_end);
    }
    i = end;
  }
  return out;
}

std::string pour_slug(std::string name) {
  std::replace(name.begin(), name.end(), ' ', '-');
  return name;
}

std::vector<Step> job_steps(const StepTimes& t, int castings, int moulds,
                            const std::map<std::string, StepChange>& changes) {
  std::vector<Step> s;
  const auto add = [&](std::string id, std::string name, double hands, double wait, std::vector<std::string> after,
                       bool at_once = false, std::string needs = "", std::string holds = "") {
    Step step{std::move(id),    std::move(name),  hands,        wait, std::move(after), at_once,
              std::move(needs), std::move(holds), std::nullopt, false};
    if (const auto c = changes.find(step.id); c != changes.end()) {
      if (c->second.hands_min) step.hands_min = *c->second.hands_min;
      if (c->second.wait_min) step.wait_min = *c->second.wait_min;
      step.pinned = c->second.pinned;
      step.changed = true;
    }
    s.push_back(std::move(step));
  };
  // Nothing gels meanwhile: it may be laid down at closing time.
  const auto may_split = [&] { s.back().may_split = true; };
  add("prepare", "Prepare the original", t.prepare_min, 0, {});
  may_split();
  add("seal", "Seal it and wait", t.seal_min, t.seal_wait_min, {"prepare"});
  std::string before = "seal";
  for (int m = 1; m <= moulds; ++m) {
    // One original: the moulds are made one after the other.
    const std::string k = moulds > 1 ? "-" + std::to_string(m) : "",
                      of = moulds > 1 ? " of mould " + std::to_string(m) : "";
    std::string last = "box" + k;
    if (t.pours.empty()) {
      add("print" + k, "Print cup and core" + of, t.print_min, t.print_wait_min, {before});
      last = "print" + k;
    } else {
      const bool halves = t.pours.size() > 1 && t.pours[0].name == "a", coats = t.pours[0].name.starts_with("coat");
      add("box" + k,
          (halves  ? "Bed in clay and box"
           : coats ? "Bed in clay"
                   : "Fix the original, build the box") +
              of,
          t.box_min, 0, {before});
      may_split();
      for (size_t i = 0; i < t.pours.size(); ++i) {
        const StepTimes::Pour& pour = t.pours[i];
        const std::string half = pour_slug(pour.name) + k, what = halves                 ? "half " + pour.name
                                                                  : pour.name == "whole" ? "the block"
                                                                                         : pour.name;
        add("mix-" + half, (halves ? "Mix rubber " + pour.name : "Mix rubber for " + what) + of, pour.mix_min, 0,
            {last});
        if (pour.degas_min > 0)
          add("degas-" + half, (halves ? "Degas rubber " + pour.name : "Degas rubber for " + what) + of, pour.degas_min,
              0, {}, true, "chamber");
        const bool gel_only = coats && i + 1 < t.pours.size();
        add("pour-" + half, (coats ? "Brush on " + what : "Pour " + what) + of, pour.pour_min,
            gel_only ? t.coat_wait_min : t.rubber_cure_min, {}, true);
        last = "pour-" + half;
        if (halves && i == 0) {
          add("turn" + k, "Turn over, clay out" + of, t.turn_over_min, 0, {last});
          add("release" + k, "Release the first half" + of, t.release_min, t.release_wait_min, {"turn" + k});
          last = "release" + k;
        }
      }
      if (coats) {
        add("jacket" + k, "Make the jacket in two shells" + of, t.box_min * 1.5, t.rubber_cure_min / 4, {last});
        may_split();
        last = "jacket" + k;
      }
    }
    add("open" + k, "Open, cut gate and vents" + of, t.open_min, t.rest_min, {last}, false, "",
        "mould " + std::to_string(m));
    before = last;
  }
  for (int n = 1; n <= castings; ++n) {
    const std::string k = std::to_string(n), of = castings > 1 ? " " + k + " of " + std::to_string(castings) : "";
    // The first is the test: nothing else is cast before it was looked at. Each goes into the mould that is free first.
    std::vector<std::string> after;
    if (n > 1) after.push_back("check-1");
    add("cast-mix-" + k, (n == 1 ? "Mix the test casting" : "Mix casting" + of), t.cast_mix_min, 0, after);
    for (int m = 1; m <= moulds; ++m) s.back().any_of.push_back("mould " + std::to_string(m));
    const auto in_it = [&] { s.back().same_as = "cast-mix-" + k; };
    if (t.cast_degas_min > 0) {
      add("cast-degas-" + k, "Degas casting" + of, t.cast_degas_min, 0, {}, true, "chamber");
      in_it();
    }
    add("cast-pour-" + k, n == 1 ? "Pour the test casting" : "Pour casting" + of, t.cast_pour_min, t.cast_cure_min, {},
        true, t.pot ? "pot" : "");
    in_it();
    add("demould-" + k, "Demould" + of, t.demould_min, t.post_cure_min, {"cast-pour-" + k});
    in_it();
    if (n == 1) add("check-1", "Trim and check the test casting", t.trim_min + t.check_min, 0, {"demould-1"});
  }
  if (castings > 1) {
    std::vector<std::string> all;
    for (int n = 2; n <= castings; ++n) all.push_back("demould-" + std::to_string(n));
    add("trim", "Trim the castings", t.trim_min * (castings - 1), 0, all);
    may_split();
    add("check", "Check the castings", t.check_min * (castings - 1), 0, {"trim"});
    may_split();
  }
  return s;
}

}  // namespace palinform
