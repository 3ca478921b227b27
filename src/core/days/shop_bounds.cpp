#include "days/shop_bounds.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

#include "days/laying.hpp"

namespace palinform {
namespace {

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
      r.length += whole_minutes(steps[k].hands_min) + (k + 1 < end ? whole_minutes(steps[k].wait_min) : 0);
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
  if (r.done) at = r.done->hands_end - whole_minutes(steps[r.from].hands_min);
  if (r.splits && !r.done) {
    at = worked_off(bench, holidays, at, r.length) - r.length;
  } else if (!r.done) {
    const auto open = next_bench_time({bench}, at, static_cast<double>(r.length), holidays);
    if (!open) return open.error();
    at = *open;
  }
  WallMinute last = at;
  for (size_t k = r.from; k < r.to; ++k) {
    at += whole_minutes(steps[k].hands_min) + whole_minutes(steps[k].wait_min);
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

namespace {

/// The soonest end of all steps; `ends`: of each by itself.
Result<WallMinute> soonest_ends(const std::vector<Step>& steps, const BenchHours& bench, WallMinute start,
                                const std::set<int64_t>& holidays, const Begun& begun,
                                std::map<size_t, WallMinute>& ends) {
  if (begun.now > 0) start = std::max(start, begun.now);
  const std::vector<Run> runs = runs_of(steps, begun);
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

/// What a step of a job takes of the shop at least: not before `head`, `minutes` of it, and `tail` more until its job
/// is done.
struct Load {
  WallMinute head = 0;
  int64_t minutes = 0, tail = 0;
  int64_t alone = 0;  // of the minutes: at their end, with no hands; more than there are where hands may be laid down
  bool stands_by = false;  // hands that wait inside a run: lost, but for what is short enough to be done meanwhile
};

}  // namespace

std::vector<int64_t> tails_of(const std::vector<Step>& steps, const std::vector<bool>& done) {
  std::map<std::string, size_t> place;
  for (size_t i = 0; i < steps.size(); ++i) place[steps[i].id] = i;
  std::vector<int64_t> from_start(steps.size(), 0), tail(steps.size(), 0);
  std::vector<std::vector<size_t>> next(steps.size());
  std::vector<size_t> heads;
  size_t moulds = 0;
  for (size_t i = 0; i < steps.size(); ++i) {
    for (const std::string& id : steps[i].after)
      if (const auto it = place.find(id); it != place.end() && it->second < i) next[it->second].push_back(i);
    if (steps[i].at_once && i > 0) next[i - 1].push_back(i);
    if (!done[i] && !steps[i].any_of.empty()) heads.push_back(i), moulds = std::max(moulds, steps[i].any_of.size());
  }
  for (size_t i = steps.size(); i-- > 0;) {
    int64_t longest = 0;
    for (const size_t k : next[i])
      if (!done[k]) longest = std::max(longest, from_start[k]);
    tail[i] = whole_minutes(steps[i].wait_min) + longest;
    from_start[i] = whole_minutes(steps[i].hands_min) + tail[i];
  }
  if (heads.size() <= moulds) return tail;
  // Before all castings: they go through so few moulds one after the other, each for as long as it keeps its mould.
  int64_t cycle = INT64_MAX, last = INT64_MAX;
  for (const size_t h : heads) {
    std::vector<int64_t> at(steps.size(), -1);
    at[h] = 0;
    int64_t kept = 0;
    for (size_t i = h; i < steps.size(); ++i) {
      if (at[i] < 0) continue;
      const int64_t end = at[i] + whole_minutes(steps[i].hands_min) + whole_minutes(steps[i].wait_min);
      if (i == h || steps[i].same_as == steps[h].id) kept = std::max(kept, end);
      for (const size_t k : next[i]) at[k] = std::max(at[k], end);
    }
    cycle = std::min(cycle, kept), last = std::min(last, from_start[h]);
  }
  const auto cycles = static_cast<int64_t>((heads.size() + moulds - 1) / moulds);
  std::vector<size_t> leads(steps.size(), 0);  // to how many castings
  for (const size_t h : heads) {
    std::vector<bool> before(steps.size(), false);
    before[h] = true;
    for (size_t i = h; i-- > 0;)
      for (const size_t k : next[i])
        if (k <= h && before[k]) before[i] = true;
    before[h] = false;
    for (size_t i = 0; i < h; ++i) leads[i] += before[i];
  }
  for (size_t i = 0; i < steps.size(); ++i)
    if (leads[i] == heads.size())
      tail[i] = std::max(tail[i], whole_minutes(steps[i].wait_min) + (cycles - 1) * cycle + last);
  return tail;
}

namespace {

/// Whatever takes part in `loads` by one machine, or by so many hands: for each pair of a head and a tail, all that
/// begins later and ends earlier is worked off between them (Carlier's bound for one machine, 1982). `worked` gives
/// when the loads it is handed are over from a head on.
template <class Worked>
double latest_end(const std::vector<Load>& loads, size_t thresholds, Worked&& worked) {
  const auto spread = [&](auto key) {
    std::vector<int64_t> all;
    for (const Load& l : loads) all.push_back(key(l));
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    if (all.size() <= thresholds) return all;
    std::vector<int64_t> some;
    for (size_t k = 0; k < thresholds; ++k) some.push_back(all[k * (all.size() - 1) / (thresholds - 1)]);
    return some;
  };
  double most = -1e300;
  std::vector<const Load*> taken;
  for (const int64_t tail : spread([](const Load& l) { return l.tail; }))
    for (const int64_t head : spread([](const Load& l) { return l.head; })) {
      taken.clear();
      for (const Load& l : loads)
        if (l.head >= head && l.tail >= tail) taken.push_back(&l);
      if (!taken.empty()) most = std::max(most, static_cast<double>(worked(head, taken) + tail));
    }
  return most;
}

/// When one machine that is held through the wait can have been through all of `taken`, each put in by hands in bench
/// hours: while the bench is shut it holds at most one of them, so a night is used no further than one wait goes. Which
/// wait falls into which night is left to the best: the longest into the longest.
WallMinute held_through(const BenchHours& b, const std::set<int64_t>& holidays, WallMinute head,
                        const std::vector<const Load*>& taken) {
  int64_t minutes = 0;
  std::vector<int64_t> waits;
  const int64_t open_day = b.to_min - b.from_min;
  bool by_hands = open_day > 0;
  for (const Load* l : taken) {
    minutes += l->minutes;
    by_hands = by_hands && l->alone < l->minutes;
    // A long wait may go on through the next night; what the day between took of it is gone.
    for (int64_t w = l->alone; by_hands && w > 0; w -= open_day) waits.push_back(w);
  }
  if (!by_hands) return head + minutes;
  std::sort(waits.begin(), waits.end(), std::greater<>());
  std::vector<int64_t> shut;  // lengths of the nights from `head` on, the longest first
  const auto covered = [&] {
    int64_t sum = 0;
    for (size_t k = 0; k < std::min(shut.size(), waits.size()); ++k) sum += std::min(shut[k], waits[k]);
    return sum;
  };
  WallMinute at = head;
  int64_t open = 0;
  for (int guard = 0; guard < 3650; ++guard) {
    const auto begin = next_bench_time({b}, at, 1, holidays);
    if (!begin) break;
    const int64_t used = open + covered();
    if (at > head && *begin > at) {  // a night; before `head` nothing is in the machine
      shut.insert(std::upper_bound(shut.begin(), shut.end(), *begin - at, std::greater<>()), *begin - at);
      if (open + covered() >= minutes) return at + minutes - used;
    }
    const int64_t missing = minutes - open - covered();
    const WallMinute to = day_number(*begin) * day_min + b.to_min;
    if (to - *begin >= missing) return *begin + missing;
    open += to - *begin;
    at = to;
  }
  return head + minutes;
}

}  // namespace

Result<WallMinute> soonest_end(const std::vector<Step>& steps, const BenchHours& bench, WallMinute start,
                               const std::set<int64_t>& holidays, const Begun& begun) {
  std::map<size_t, WallMinute> ends;
  return soonest_ends(steps, bench, start, holidays, begun, ends);
}

ShopBounds bounds_of(const WholeShop& shop) {
  ShopBounds out;
  out.no_sooner.assign(shop.jobs.size(), 0);
  std::optional<BenchHours> widest;
  // By whom or what they are taken; "" hands. Of a machine held through the wait the wait is part of its minutes.
  std::map<std::string, std::vector<Load>> by_finish, by_due;
  std::vector<int64_t> lengths;  // of all runs
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    const OpenJob& job = shop.jobs[j];
    std::map<size_t, WallMinute> ends;
    const auto soonest = soonest_ends(job.steps, job.bench, job.start, shop.holidays, job.begun, ends);
    if (!soonest) continue;  // told when it is laid out
    out.no_sooner[j] = *soonest;
    out.finish = std::max(out.finish, *soonest);
    if (job.due) out.late_min = std::max(out.late_min, static_cast<double>(*soonest - *job.due));
    std::vector<bool> done(job.steps.size());
    for (size_t i = 0; i < done.size(); ++i)
      done[i] = std::any_of(job.begun.done.begin(), job.begun.done.end(),
                            [&](const DoneStep& d) { return d.id == job.steps[i].id; });
    const std::vector<int64_t> tails = tails_of(job.steps, done);
    for (size_t i = 0; i < job.steps.size(); ++i) {
      const Step& s = job.steps[i];
      if (done[i]) continue;
      const int64_t hands = whole_minutes(s.hands_min), wait = whole_minutes(s.wait_min);
      // May it be laid down over night, its hands begin as early as what comes before allows.
      const WallMinute head = s.may_split ? std::max(job.start, job.begun.now) : ends.at(i) - wait - hands;
      const auto put = [&](const std::string& who, Load load) {
        if (load.minutes <= 0) return;
        by_finish[who].push_back(load);
        if (!job.due) return;
        load.tail -= *job.due;
        by_due[who].push_back(load);
      };
      put("", {head, hands, tails[i], 0, false});
      // The hands of the one person who is there stand by; those of two may take turns.
      if (shop.people == 1 && !s.may_split && i + 1 < job.steps.size() && job.steps[i + 1].at_once && !done[i + 1])
        put("", {head + hands, wait, tails[i] - wait, 0, true});
      const auto held = [&](const std::string& what) {
        if (!places_of(shop.places, what)) return;
        if (held_through_wait(what))
          put(what, {head, hands + wait, tails[i] - wait, s.may_split ? hands + wait : wait, false});
        else
          put(what, {head, hands, tails[i], 0, false});
      };
      if (!s.needs.empty()) held(s.needs);
      for (const std::string& what : s.besides) held(what);
    }
    for (const Run& r : runs_of(job.steps, job.begun))
      if (!r.done) lengths.push_back(r.length);
    if (!widest)
      widest = job.bench;
    else if (!(*widest == job.bench)) {  // hours that hold for no job alone bound nothing more tightly
      for (size_t d = 0; d < 7; ++d) widest->days[d] = widest->days[d] || job.bench.days[d];
      widest->from_min = std::min(widest->from_min, job.bench.from_min);
      widest->to_min = std::max(widest->to_min, job.bench.to_min);
    }
  }
  if (!widest) return out;
  // What may be done while hands stand by: runs as short as that.
  int64_t longest_wait = 0, meanwhile = 0;
  for (const Load& l : by_finish[""])
    if (l.stands_by) longest_wait = std::max(longest_wait, l.minutes);
  for (const int64_t length : lengths)
    if (length <= longest_wait) meanwhile += length;
  const auto end_of = [&](const std::map<std::string, std::vector<Load>>& loads) {
    double most = -1e300;
    for (const auto& [who, of_it] : loads) {
      const int64_t at_a_time = who.empty() ? shop.people : *places_of(shop.places, who);
      const bool held = !who.empty() && held_through_wait(who);
      most = std::max(most, latest_end(of_it, held ? 24 : 48,
                                       [&](WallMinute head, const std::vector<const Load*>& taken) -> WallMinute {
                                         if (held && at_a_time == 1)
                                           return held_through(*widest, shop.holidays, head, taken);
                                         int64_t minutes = 0, by = 0;
                                         for (const Load* l : taken) (l->stands_by ? by : minutes) += l->minutes;
                                         minutes += std::max<int64_t>(0, by - meanwhile);
                                         const int64_t each = (minutes + at_a_time - 1) / at_a_time;
                                         return held ? head + each : worked_off(*widest, shop.holidays, head, each);
                                       }));
    }
    return most;
  };
  if (const double end = end_of(by_finish); end > -1e299)
    out.finish = std::max(out.finish, static_cast<WallMinute>(std::ceil(end)));
  out.late_min = std::max(out.late_min, end_of(by_due));
  return out;
}

}  // namespace palinform
