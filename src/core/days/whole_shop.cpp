#include "days/whole_shop.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>

namespace palinform {
namespace {

int64_t up(double minutes) { return static_cast<int64_t>(std::ceil(minutes - 1e-9)); }

/// Minutes of bench time from `from` to `to`.
int64_t open_minutes(const BenchHours& b, const std::set<int64_t>& holidays, WallMinute from, WallMinute to) {
  int64_t sum = 0;
  for (int64_t d = day_number(from); d * day_min < to; ++d) {
    if (holidays.contains(d) || !b.days[static_cast<size_t>(weekday_of(d * day_min))]) continue;
    sum += std::max<int64_t>(0, std::min(to, d * day_min + b.to_min) - std::max(from, d * day_min + b.from_min));
  }
  return sum;
}

/// The soonest end of so many minutes of bench time from `from` on.
WallMinute worked_off(const BenchHours& b, const std::set<int64_t>& holidays, WallMinute from, int64_t minutes) {
  for (int64_t d = day_number(from), last = d + 3650; d <= last; ++d) {
    const WallMinute to = (d + 1) * day_min;
    const int64_t today = open_minutes(b, holidays, std::max(from, d * day_min), to);
    if (today >= minutes) {
      const WallMinute begin = std::max(from, d * day_min + b.from_min);
      return minutes <= 0 ? from : begin + minutes;
    }
    minutes -= today;
  }
  return from;
}

struct Tried {
  std::vector<std::optional<Schedule>> schedules;
  std::vector<std::string> refused;
  double late = 0;
  WallMinute finish = 0;
  int evenings = 0;
  double each = 0;  // all ends together
  bool better_than(const Tried& o) const {
    if (std::abs(late - o.late) > 1e-9) return late < o.late;
    if (finish != o.finish) return finish < o.finish;
    if (evenings != o.evenings) return evenings < o.evenings;
    return each < o.each - 1e-9;
  }
};

/// Days on which somebody is wanted late.
int broken_evenings(const std::vector<std::optional<Schedule>>& schedules) {
  std::set<int64_t> days;
  for (const auto& s : schedules)
    if (s)
      for (const Placed& p : s->placed)
        if (!p.done)
          for (const auto& [from, to] : p.hands)
            if (to - day_number(to) * day_min > evening_from_min) days.insert(day_number(to));
  return static_cast<int>(days.size());
}

Tried lay_in_order(const WholeShop& shop, const std::vector<size_t>& order, const Progress& progress) {
  Tried out;
  out.schedules.resize(shop.jobs.size());
  out.refused.resize(shop.jobs.size());
  ShopTime taken;
  taken.people = shop.people;
  taken.holidays = shop.holidays;
  for (const size_t j : order) {
    const OpenJob& job = shop.jobs[j];
    auto s = lay_out(job.steps, {job.bench}, job.start, taken, job.begun, progress);
    if (!s) {
      out.refused[j] = s.error().text();
      continue;
    }
    take(taken, job.steps, *s, job.begun.now > 0 ? job.begun.now : INT64_MIN);
    if (job.due) out.late = std::max(out.late, static_cast<double>(s->finish - *job.due));
    out.finish = std::max(out.finish, s->finish);
    out.each += static_cast<double>(s->finish - job.start);
    out.schedules[j] = *std::move(s);
  }
  out.evenings = broken_evenings(out.schedules);
  return out;
}

}  // namespace

namespace {

/// Runs of steps that follow each other at once, each with what it follows outside itself.
struct Run {
  size_t from = 0, to = 0;    // steps
  int64_t length = 0;         // to its last hands-on minute
  std::vector<size_t> after;  // steps before it
  WallMinute pinned = INT64_MIN;
  bool splits = false;
  const DoneStep* done = nullptr;
};

std::vector<Run> runs_of(const std::vector<Step>& steps, const Begun& begun) {
  std::map<std::string, const DoneStep*> done;
  for (const DoneStep& d : begun.done) done[d.id] = &d;
  std::vector<Run> out;
  std::map<std::string, size_t> place;
  for (size_t i = 0; i < steps.size();) {
    Run r;
    const auto is_done = done.find(steps[i].id);
    r.done = is_done == done.end() ? nullptr : is_done->second;
    size_t end = i + 1;
    while (!r.done && end < steps.size() && steps[end].at_once && !done.contains(steps[end].id)) ++end;
    r.from = i, r.to = end;
    for (size_t k = i; k < end; ++k) {
      r.length += up(steps[k].hands_min) + (k + 1 < end ? up(steps[k].wait_min) : 0);
      if (steps[k].pinned) r.pinned = std::max(r.pinned, *steps[k].pinned);
      for (const std::string& id : steps[k].after)
        if (const auto it = place.find(id); it != place.end()) r.after.push_back(it->second);
    }
    for (size_t k = i; k < end; ++k) place[steps[k].id] = k;
    r.splits = steps[i].may_split && end == i + 1;
    out.push_back(std::move(r));
    i = end;
  }
  return out;
}

/// Puts the ends of a run's steps, waits with them, that could begin at `at`; gives the last of them.
Result<WallMinute> put_ends(const Run& r, const std::vector<Step>& steps, const BenchHours& bench,
                            const std::set<int64_t>& holidays, WallMinute at, std::map<size_t, WallMinute>& ends) {
  at = std::max(at, r.pinned);
  if (r.done) at = r.done->hands_end - up(steps[r.from].hands_min);
  if (r.splits && !r.done) {
    at = worked_off(bench, holidays, at, r.length) - r.length;
  } else if (!r.done) {
    const auto open = next_bench_time({bench}, at, static_cast<double>(r.length), holidays);
    if (!open) return open.error();
    at = *open;
  }
  WallMinute last = at;
  for (size_t k = r.from; k < r.to; ++k) {
    at += up(steps[k].hands_min) + up(steps[k].wait_min);
    ends[k] = at;
    last = std::max(last, at);
  }
  return last;
}

/// A casting by what keeps its mould: the run that takes one, what follows from it, and of that what is in it.
struct CastingRuns {
  size_t head = 0;
  WallMinute ready = 0;  // by what comes before it
  std::vector<size_t> follows;
  std::vector<bool> in_mould;
};

}  // namespace

Result<WallMinute> soonest_end(const std::vector<Step>& steps, const BenchHours& bench, WallMinute start,
                               const std::set<int64_t>& holidays, const Begun& begun) {
  if (begun.now > 0) start = std::max(start, begun.now);
  const std::vector<Run> runs = runs_of(steps, begun);
  std::map<size_t, WallMinute> ends;
  WallMinute finish = start;
  std::vector<CastingRuns> castings;
  size_t moulds = 0;
  std::map<std::string, WallMinute> made;  // moulds, by what makes them: there from then on
  for (size_t i = 0; i < runs.size(); ++i) {
    const Run& r = runs[i];
    WallMinute at = start;
    for (const size_t a : r.after) at = std::max(at, ends.at(a));
    for (size_t k = r.from; k < r.to; ++k) {
      if (steps[k].any_of.empty()) continue;
      WallMinute soonest = INT64_MAX;
      for (const std::string& one : steps[k].any_of) {
        const auto it = made.find(one);
        soonest = std::min(soonest, it == made.end() ? start : it->second);
      }
      at = std::max(at, soonest);
    }
    std::set<std::string> heads;
    for (size_t k = r.from; k < r.to && !r.done; ++k)
      if (!steps[k].any_of.empty()) heads.insert(steps[k].id), moulds = std::max(moulds, steps[k].any_of.size());
    if (!heads.empty()) {
      CastingRuns one;
      one.head = i, one.ready = at;
      std::set<size_t> after_it;  // steps
      for (size_t k = r.from; k < r.to; ++k) after_it.insert(k);
      for (size_t j = i + 1; j < runs.size(); ++j) {
        if (runs[j].done ||
            std::none_of(runs[j].after.begin(), runs[j].after.end(), [&](size_t a) { return after_it.contains(a); }))
          continue;
        bool same = false;
        for (size_t k = runs[j].from; k < runs[j].to; ++k) {
          after_it.insert(k);
          same = same || heads.contains(steps[k].same_as);
        }
        one.follows.push_back(j);
        one.in_mould.push_back(same);
      }
      castings.push_back(std::move(one));
    }
    const auto last = put_ends(r, steps, bench, holidays, at, ends);
    if (!last) return last;
    finish = std::max(finish, *last);
    for (size_t k = r.from; k < r.to; ++k)
      if (!steps[k].holds.empty()) made[steps[k].holds] = std::max(made[steps[k].holds], ends.at(k));
  }
  if (castings.empty() || moulds == 0) return finish;
  // Castings go through so few moulds one after the other, each by the longest path of its own. The quickest of them
  // stands in for all, cycle after cycle. From a head's start: when its mould is free, or when all of it is done.
  const auto walk = [&](const CastingRuns& one, WallMinute at, bool all) -> Result<WallMinute> {
    std::map<size_t, WallMinute> own;
    auto out = put_ends(runs[one.head], steps, bench, holidays, at, own);
    for (size_t k = 0; out && k < one.follows.size(); ++k) {
      const Run& r = runs[one.follows[k]];
      WallMinute from = at;
      for (const size_t a : r.after)
        if (const auto it = own.find(a); it != own.end()) from = std::max(from, it->second);
      const auto end = put_ends(r, steps, bench, holidays, from, own);
      if (!end) return end;
      if (all || one.in_mould[k]) out = std::max(*out, *end);
    }
    return out;
  };
  WallMinute free_at = INT64_MAX;
  for (const CastingRuns& one : castings) free_at = std::min(free_at, one.ready);
  const size_t cycles = (castings.size() + moulds - 1) / moulds;
  for (size_t k = 0; k < cycles; ++k) {
    WallMinute soonest = INT64_MAX;
    for (const CastingRuns& one : castings) {
      const auto end = walk(one, free_at, k + 1 == cycles);
      if (!end) return end;
      soonest = std::min(soonest, *end);
    }
    free_at = soonest;
  }
  return std::max(finish, free_at);
}

Result<WholePlan> plan_whole_shop(const WholeShop& shop, const Progress& progress) {
  size_t steps = 0;
  for (const OpenJob& j : shop.jobs) steps += j.steps.size();
  if (shop.jobs.size() > 200 || steps > 20'000)
    return Error{"there are too many open jobs to plan together", "days", "Close those that are done."};
  if (shop.people < 1 || shop.people > 50) return Error{"the shop has no people", "days", "Say how many work in it."};
  WholePlan out;
  out.jobs.resize(shop.jobs.size());
  if (shop.jobs.empty()) {
    out.proven = true;
    return out;
  }
  std::vector<size_t> all(shop.jobs.size());
  std::iota(all.begin(), all.end(), size_t{0});
  double bound_late = 0;
  WallMinute bound = 0;
  int64_t hands = 0;
  std::map<std::string, int64_t> occupied;  // each machine: by the clock …
  std::map<std::string, int64_t> worked;    // … and while somebody is at it
  std::optional<BenchHours> widest;
  WallMinute first = INT64_MAX;
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    const OpenJob& job = shop.jobs[j];
    const auto soonest = soonest_end(job.steps, job.bench, job.start, shop.holidays, job.begun);
    if (!soonest) continue;  // told when it is laid out
    out.jobs[j].no_sooner = *soonest;
    bound = std::max(bound, *soonest);
    if (job.due) bound_late = std::max(bound_late, static_cast<double>(*soonest - *job.due));
    for (const Step& s : job.steps)
      if (std::none_of(job.begun.done.begin(), job.begun.done.end(), [&](const DoneStep& d) { return d.id == s.id; })) {
        hands += up(s.hands_min);
        if (s.needs.empty()) continue;
        worked[s.needs] += up(s.hands_min);
        occupied[s.needs] += up(s.hands_min) + (held_through_wait(s.needs) ? up(s.wait_min) : 0);
      }
    first = std::min(first, std::max(job.start, job.begun.now));
    if (!widest)
      widest = job.bench;
    else if (!(*widest == job.bench)) {  // hours that hold for no job alone bound nothing more tightly
      for (size_t d = 0; d < 7; ++d) widest->days[d] = widest->days[d] || job.bench.days[d];
      widest->from_min = std::min(widest->from_min, job.bench.from_min);
      widest->to_min = std::max(widest->to_min, job.bench.to_min);
    }
  }
  if (widest && first != INT64_MAX) {
    bound = std::max(bound, worked_off(*widest, shop.holidays, first, (hands + shop.people - 1) / shop.people));
    // One machine of each: what it holds, one after the other.
    for (const auto& [name, minutes] : occupied)
      bound = std::max({bound, first + minutes, worked_off(*widest, shop.holidays, first, worked[name])});
  }

  using Clock = std::chrono::steady_clock;
  const auto until =
      Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(shop.seconds));
  std::optional<Tried> best;
  std::vector<size_t> best_order;
  std::set<std::vector<size_t>> seen;
  const auto good_enough = [&] { return best && best->late <= bound_late + 1e-9 && best->finish <= bound; };
  const auto attempt = [&](const std::vector<size_t>& order) {
    if (progress.cancelled() || !seen.insert(order).second) return false;
    Tried t = lay_in_order(shop, order, progress);
    ++out.tried;
    if (best && !t.better_than(*best)) return false;
    best = std::move(t), best_order = order;
    return true;
  };
  const auto by = [&](auto key) {
    std::vector<size_t> order = all;
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return key(a) < key(b); });
    return order;
  };
  const auto left = [&](size_t j) { return out.jobs[j].no_sooner - shop.jobs[j].start; };
  attempt(by([&](size_t j) { return shop.jobs[j].due.value_or(INT64_MAX); }));
  attempt(by([&](size_t j) { return shop.jobs[j].start; }));
  attempt(by([&](size_t j) { return -left(j); }));
  attempt(by([&](size_t j) { return left(j); }));
  attempt(by([&](size_t j) { return shop.jobs[j].due ? *shop.jobs[j].due - left(j) : INT64_MAX; }));
  // From the best: one job earlier or later, until nothing is gained.
  for (bool gained = true; gained && !good_enough();) {
    gained = false;
    const std::vector<size_t> from = best_order;
    // What ends last, or latest over its day, is what is worth moving: it is tried first.
    std::vector<size_t> movers = all;
    std::stable_sort(movers.begin(), movers.end(), [&](size_t a, size_t b) {
      const auto late = [&](size_t j) {
        if (!best->schedules[j]) return -1e18;
        const auto end = static_cast<double>(best->schedules[j]->finish);
        return best->late > 0 ? (shop.jobs[j].due ? end - static_cast<double>(*shop.jobs[j].due) : -1e15) : end;
      };
      return late(a) > late(b);
    });
    for (const size_t j : movers) {
      const auto at = static_cast<size_t>(std::find(from.begin(), from.end(), j) - from.begin());
      for (size_t to = 0; to < from.size() && !gained; ++to) {
        if (to == at || out.tried >= shop.tries || Clock::now() >= until) continue;
        std::vector<size_t> order = from;
        order.erase(order.begin() + static_cast<std::ptrdiff_t>(at));
        order.insert(order.begin() + static_cast<std::ptrdiff_t>(to), j);
        gained = attempt(order);
        progress.report(std::min(1.0, static_cast<double>(out.tried) / shop.tries));
      }
      if (gained) break;
    }
    if (progress.cancelled()) return Error::stopped();
  }
  if (progress.cancelled()) return Error::stopped();

  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    PlacedJob& placed = out.jobs[j];
    const OpenJob& job = shop.jobs[j];
    placed.refused = best->refused[j];
    if (best->schedules[j]) placed.schedule = *best->schedules[j];
    if (!best->schedules[j]) continue;
    if (job.due) placed.late_h = std::max(0.0, static_cast<double>(placed.schedule.finish - *job.due) / 60);
    ShopTime empty;
    empty.people = shop.people, empty.holidays = shop.holidays;
    const auto alone = lay_out(job.steps, {job.bench}, job.start, empty, job.begun, progress);
    placed.alone = alone ? alone->finish : placed.schedule.finish;
  }
  // Who holds whom up: hands and machines of others between when a step could have begun alone and when it does.
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    if (!best->schedules[j] || out.jobs[j].alone >= out.jobs[j].schedule.finish) continue;
    std::vector<std::pair<int64_t, size_t>> held;
    const Schedule& mine = out.jobs[j].schedule;
    for (size_t k = 0; k < shop.jobs.size(); ++k) {
      if (k == j || !best->schedules[k]) continue;
      int64_t minutes = 0;
      for (const Placed& p : out.jobs[k].schedule.placed)
        for (const auto& [a, b] : p.hands)
          minutes += std::max<int64_t>(0, std::min(b, mine.finish) - std::max(a, mine.start));
      if (minutes > 0) held.push_back({minutes, k});
    }
    std::sort(held.begin(), held.end(), [](const auto& a, const auto& b) {
      return a.first != b.first ? a.first > b.first : a.second < b.second;
    });
    for (const auto& [minutes, k] : held) out.jobs[j].waits_for.push_back(k);
  }
  out.finish = best->finish;
  out.no_sooner = std::min(bound, best->finish);
  out.late_h = std::max(0.0, best->late) / 60;
  out.evenings = best->evenings;
  out.proven = good_enough();
  out.gap_h = out.proven ? 0 : static_cast<double>(out.finish - out.no_sooner) / 60;
  return out;
}

ShopTime taken_by_others(const WholeShop& shop, const WholePlan& plan, size_t but) {
  ShopTime out;
  out.people = shop.people;
  out.holidays = shop.holidays;
  for (size_t j = 0; j < shop.jobs.size(); ++j)
    if (j != but && plan.jobs[j].refused.empty())
      take(out, shop.jobs[j].steps, plan.jobs[j].schedule,
           shop.jobs[j].begun.now > 0 ? shop.jobs[j].begun.now : INT64_MIN);
  return out;
}

}  // namespace palinform
