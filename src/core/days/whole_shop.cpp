#include "days/whole_shop.hpp"

#include <algorithm>
#include <bitset>
#include <chrono>
#include <cmath>
#include <numeric>
#include <set>

#include <tbb/parallel_for.h>

#include "days/laying.hpp"
#include "days/shop_bounds.hpp"

namespace palinform {
namespace {

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

bool same_hours(const Schedule& a, const Schedule& b) {
  return std::equal(a.placed.begin(), a.placed.end(), b.placed.begin(), b.placed.end(),
                    [](const Placed& p, const Placed& q) { return p.hands == q.hands && p.end == q.end; });
}

/// How good the schedules are.
void judge(const WholeShop& shop, Tried& t) {
  t.late = 0, t.finish = 0, t.each = 0;
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    if (!t.schedules[j]) continue;
    const WallMinute end = t.schedules[j]->finish;
    if (shop.jobs[j].due) t.late = std::max(t.late, static_cast<double>(end - *shop.jobs[j].due));
    t.finish = std::max(t.finish, end);
    t.each += static_cast<double>(end - shop.jobs[j].start);
  }
  t.evenings = broken_evenings(t.schedules);
}

/// The shop with nothing in it.
ShopTime empty_shop(const WholeShop& shop) {
  ShopTime out;
  out.people = shop.people;
  out.holidays = shop.holidays;
  out.places = shop.places;
  return out;
}

/// Adds what a job's schedule takes of what is still to come.
void take_job(ShopTime& taken, const OpenJob& job, const Schedule& schedule) {
  take(taken, job.steps, schedule, job.begun.now > 0 ? job.begun.now : INT64_MIN);
}

/// The jobs made ready once for all tries.
struct ReadyShop {
  std::vector<std::vector<BenchHours>> bench;
  std::vector<std::optional<ReadyJob>> jobs;  // nothing where it is refused as it stands
  std::vector<std::string> refused;
  std::vector<std::vector<double>> rest;  // of each run: minutes from its begin to its job's end at least
};

ReadyShop ready_shop(const WholeShop& shop) {
  ReadyShop out;
  const size_t n = shop.jobs.size();
  out.bench.resize(n), out.jobs.resize(n), out.refused.resize(n), out.rest.resize(n);
  for (size_t j = 0; j < n; ++j) {
    const OpenJob& job = shop.jobs[j];
    out.bench[j] = {job.bench};
    auto ready = ready_to_lay(job.steps, out.bench[j], job.start, job.begun);
    if (!ready) {
      out.refused[j] = ready.error().text();
      continue;
    }
    std::vector<bool> done(job.steps.size());
    for (const ReadyJob::Run& r : ready->runs) done[r.from] = r.done != nullptr;
    const std::vector<int64_t> tails = tails_of(job.steps, done);
    for (const ReadyJob::Run& r : ready->runs) {
      double most = 0, ahead = 0;
      for (size_t k = r.from; k < r.to; ++k) {
        const auto hands = static_cast<double>(ready->pieces[k].hands);
        most = std::max(most, ahead + hands + static_cast<double>(tails[k]));
        ahead += hands + static_cast<double>(ready->pieces[k].wait);
      }
      out.rest[j].push_back(most);
    }
    out.jobs[j] = *std::move(ready);
  }
  return out;
}

/// Whose turn it is: the job with the least rank lays out its next run, its rank lowered by what is left to it.
struct Turns {
  std::vector<double> rank;  // of each job
  double by_rest = 0;        // per minute of the longest path that is left; 0: one whole job after the other
  bool filled = false;       // days are filled from their begin on, by runs that leave no rest that nothing fits in
  auto operator<=>(const Turns&) const = default;
};

/// Ranks about that: jobs that are laid out by turns before days are filled with the others.
constexpr double before_all = -1e9;

/// Of runs that could all begin now, each job's next: the one whose turn it is, if the others can fill what it leaves
/// of `room` minutes; else one that leaves less. By place in `lengths`, which are in the order of turns.
size_t that_fills(const std::vector<int64_t>& lengths, int64_t room) {
  constexpr size_t most = 720;
  constexpr int64_t near_enough = 2;
  size_t best = 0;
  int64_t least = INT64_MAX;
  for (size_t i = 0; i < lengths.size(); ++i) {
    const int64_t rest = std::clamp<int64_t>(room - lengths[i], 0, most - 1);
    std::bitset<most> sums;
    sums.set(0);
    for (size_t k = 0; k < lengths.size(); ++k)
      if (k != i && lengths[k] > 0 && lengths[k] <= rest) sums |= sums << static_cast<size_t>(lengths[k]);
    int64_t filled = rest;
    while (filled > 0 && !sums.test(static_cast<size_t>(filled))) --filled;
    if (rest - filled <= near_enough) return i;
    if (rest - filled < least) least = rest - filled, best = i;
  }
  return best;
}

Tried lay_in_turns(const WholeShop& shop, const ReadyShop& ready, const Turns& turns, const Progress& progress) {
  Tried out;
  const size_t n = shop.jobs.size();
  out.schedules.resize(n);
  out.refused = ready.refused;
  ShopNow now;
  now.busy.people = shop.people;
  now.holidays = &shop.holidays;
  now.places = &shop.places;
  now.shared = true;
  std::vector<LaidSoFar> laid(n);
  std::vector<size_t> waiting;
  for (size_t j = 0; j < n; ++j)
    if (ready.jobs[j]) laid[j] = nothing_laid(*ready.jobs[j]), waiting.push_back(j);
  const auto key = [&](size_t j) {
    const bool fills = turns.filled && turns.rank[j] > before_all / 2;
    return turns.rank[j] - (fills ? 1 : turns.by_rest) * ready.rest[j][laid[j].next];
  };
  std::erase_if(waiting, [&](size_t j) { return all_laid(*ready.jobs[j], laid[j]); });
  const auto in_turn = [&](size_t a, size_t b) { return key(a) < key(b); };
  std::vector<std::optional<WallMinute>> begins(n);  // of the next runs, as long as nothing was put there
  while (!waiting.empty() && !progress.cancelled()) {
    auto it = std::min_element(waiting.begin(), waiting.end(), in_turn);
    if (turns.filled && turns.rank[*it] > before_all / 2) {
      WallMinute first = INT64_MAX;
      for (const size_t j : waiting) {
        if (!begins[j]) {
          const auto at = next_begin(*ready.jobs[j], laid[j], now);
          begins[j] = at ? *at : INT64_MIN;  // refused: when it is laid
        }
        first = std::min(first, *begins[j]);
      }
      std::vector<size_t> now_or_never;
      for (const size_t j : waiting)
        if (*begins[j] == first) now_or_never.push_back(j);
      std::sort(now_or_never.begin(), now_or_never.end(), in_turn);
      size_t chosen = 0;
      if (first != INT64_MIN && now_or_never.size() > 1) {
        std::vector<int64_t> lengths;
        for (const size_t j : now_or_never) lengths.push_back(ready.jobs[j]->runs[laid[j].next].length);
        const BenchHours& bench = shop.jobs[now_or_never[0]].bench;
        WallMinute shut = day_number(first) * day_min + bench.to_min;
        if (const auto taken = now.busy.begins(first, shut)) shut = *taken;
        chosen = that_fills(lengths, shut - first);
      }
      it = std::find(waiting.begin(), waiting.end(), now_or_never[chosen]);
    }
    const size_t j = *it;
    const size_t before = laid[j].next;
    const Status status = lay_next(*ready.jobs[j], laid[j], now);
    if (!status) {
      out.refused[j] = status.error().text();
      take_back(*ready.jobs[j], laid[j], 0, now);
      waiting.erase(it);
    } else if (all_laid(*ready.jobs[j], laid[j])) {
      waiting.erase(it);
    }
    if (!turns.filled) continue;
    begins[j].reset();
    if (!status || laid[j].next <= before) {
      std::fill(begins.begin(), begins.end(), std::nullopt);
      continue;
    }
    // What was placed may stand where others would have begun.
    const ReadyJob::Run& run = ready.jobs[j]->runs[before];
    const WallMinute from = laid[j].placed[run.from].start, to = laid[j].placed[run.to - 1].end;
    for (const size_t k : waiting) {
      const WallMinute begin = begins[k].value_or(to);
      if (begin < to && from <= begin + ready.jobs[k]->runs[laid[k].next].length) begins[k].reset();
    }
  }
  for (size_t j = 0; j < n; ++j)
    if (ready.jobs[j] && out.refused[j].empty()) out.schedules[j] = schedule_of(*ready.jobs[j], std::move(laid[j]));
  judge(shop, out);
  return out;
}

}  // namespace

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
  const ShopBounds bounds = bounds_of(shop);
  const double bound_late = bounds.late_min;
  const WallMinute bound = bounds.finish;
  for (size_t j = 0; j < shop.jobs.size(); ++j) out.jobs[j].no_sooner = bounds.no_sooner[j];

  using Clock = std::chrono::steady_clock;
  const auto begun_at = Clock::now();
  const ReadyShop ready = ready_shop(shop);
  for (const size_t j : all) {
    const OpenJob& job = shop.jobs[j];
    if (const auto s = lay_out(job.steps, ready.bench[j], job.start, empty_shop(shop), job.begun, progress))
      out.jobs[j].alone = s->finish;
  }
  std::optional<Tried> best;
  // The best so far of whole jobs one after the other, and of runs by turns: each is gone on from.
  struct Kind {
    std::optional<Tried> best;
    Turns turns;
    int fruitless = 0;
  };
  Kind whole, mixed, filled;
  std::set<Turns> seen;
  const auto good_enough = [&] { return best && best->late <= bound_late + 1e-9 && best->finish <= bound; };
  const auto time_left = [&](double share = 1) {
    return out.tried < share * shop.tries &&
           Clock::now() - begun_at < std::chrono::duration<double>(share * shop.seconds) && !progress.cancelled();
  };
  // Laid out side by side, and kept where one is the best so far; by place in `many`, nothing for turns that were tried
  // before or that there is no time for.
  const auto laid_all = [&](const std::vector<Turns>& many) {
    std::vector<std::optional<Tried>> got(many.size());
    std::vector<size_t> fresh;
    for (size_t k = 0; k < many.size(); ++k)
      if (!(best && !time_left()) && out.tried + static_cast<int>(fresh.size()) < std::max(1, shop.tries) &&
          seen.insert(many[k]).second)
        fresh.push_back(k);
    tbb::parallel_for(size_t{0}, fresh.size(),
                      [&](size_t f) { got[fresh[f]] = lay_in_turns(shop, ready, many[fresh[f]], progress); });
    if (progress.cancelled()) return std::vector<std::optional<Tried>>(many.size());
    for (const size_t k : fresh) {
      const Tried& t = *got[k];
      ++out.tried;
      Kind& kind = many[k].filled ? filled : many[k].by_rest > 0 ? mixed : whole;
      ++kind.fruitless;
      if (!kind.best || t.better_than(*kind.best)) kind.best = t, kind.turns = many[k], kind.fruitless = 0;
      if (!best || t.better_than(*best)) best = t;
    }
    progress.report(std::min(1.0, static_cast<double>(out.tried) / shop.tries));
    return got;
  };
  const auto laid = [&](const Turns& turns) { return laid_all({turns})[0]; };
  // The same turns for what is promised, and the days filled with the rest of the jobs.
  const auto rest_filled = [&](Turns turns) {
    turns.filled = true;
    for (const size_t j : all)
      turns.rank[j] = shop.jobs[j].due ? before_all + turns.rank[j] : static_cast<double>(bound);
    return turns;
  };
  const auto in_order = [&](const std::vector<size_t>& order) {
    Turns t{std::vector<double>(order.size()), 0, false};
    for (size_t k = 0; k < order.size(); ++k) t.rank[order[k]] = static_cast<double>(k);
    return t;
  };
  const auto order_of = [&](const Turns& t) {
    std::vector<size_t> order = all;
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return t.rank[a] < t.rank[b]; });
    return order;
  };
  const auto moved = [](std::vector<size_t> order, size_t from, size_t to) {
    const size_t j = order[from];
    order.erase(order.begin() + static_cast<std::ptrdiff_t>(from));
    order.insert(order.begin() + static_cast<std::ptrdiff_t>(to), j);
    return order;
  };
  const auto by = [&](auto key) {
    std::vector<size_t> order = all;
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return key(a) < key(b); });
    return in_order(order);
  };
  const auto left = [&](size_t j) { return out.jobs[j].no_sooner - shop.jobs[j].start; };
  laid(by([&](size_t j) { return shop.jobs[j].due.value_or(INT64_MAX); }));
  laid(by([&](size_t j) { return shop.jobs[j].start; }));
  laid(by([&](size_t j) { return -left(j); }));
  laid(by([&](size_t j) { return left(j); }));
  laid(by([&](size_t j) { return shop.jobs[j].due ? *shop.jobs[j].due - left(j) : INT64_MAX; }));
  // By turns: the longest path first, counted back from the promised day or from the end of all.
  for (const bool fill : {true, false})
    for (const auto& [by_rest, by_due] : {std::pair{1.0, true}, {1.0, false}, {0.5, true}, {2.0, true}}) {
      Turns t{std::vector<double>(all.size(), static_cast<double>(bound)), by_rest, fill};
      for (const size_t j : all)
        if (by_due && shop.jobs[j].due) t.rank[j] = std::min(t.rank[j], static_cast<double>(*shop.jobs[j].due));
      if (!good_enough() && time_left()) laid(t);
    }
  // Whole jobs, from the best: one job earlier or later, until nothing is gained.
  for (bool gained = true; gained && !good_enough();) {
    gained = false;
    const std::vector<size_t> from = order_of(whole.turns);
    // What ends last, or latest over its day, is what is worth moving: it is tried first.
    std::vector<size_t> movers = all;
    std::stable_sort(movers.begin(), movers.end(), [&](size_t a, size_t b) {
      const auto late = [&](size_t j) {
        if (!whole.best->schedules[j]) return -1e18;
        const auto end = static_cast<double>(whole.best->schedules[j]->finish);
        return whole.best->late > 0 ? (shop.jobs[j].due ? end - static_cast<double>(*shop.jobs[j].due) : -1e15) : end;
      };
      return late(a) > late(b);
    });
    for (const size_t j : movers) {
      const auto at = static_cast<size_t>(std::find(from.begin(), from.end(), j) - from.begin());
      for (size_t to = 0; to < from.size() && !gained; ++to) {
        if (to == at || !time_left(0.3)) continue;
        const Turns next = in_order(moved(from, at, to));
        gained = laid(next) && whole.turns == next;
      }
      if (gained) break;
    }
  }
  // Out of where single moves gain nothing: some jobs thrown elsewhere, then moves again, always from the best so far.
  constexpr int fruitless_most = 200;
  constexpr size_t side_by_side = 4;  // however many cores there are: the plan is the same
  uint64_t dice = 0x9e3779b97f4a7c15u;
  const auto throw_dice = [&](size_t below) {
    dice ^= dice << 13, dice ^= dice >> 7, dice ^= dice << 17;
    return static_cast<size_t>(dice % below);
  };
  const auto thrown = [&](const Turns& turns) {
    if (turns.by_rest == 0) {
      const std::vector<size_t> order = order_of(turns);
      const size_t from = throw_dice(order.size()), to = throw_dice(order.size());
      return in_order(moved(order, from, to));
    }
    // Hours to a few days sooner or later.
    Turns out_of = turns;
    const double most = 60.0 * static_cast<double>(4 << throw_dice(6));
    // Every other time one of those that fill the days: what is promised stays as it is.
    size_t j = throw_dice(all.size());
    for (size_t k = 0; turns.filled && k < all.size() && throw_dice(2) == 0 && turns.rank[j] < before_all / 2; ++k)
      j = throw_dice(all.size());
    double& rank = out_of.rank[j];
    if (turns.filled && throw_dice(8) == 0)
      rank += rank < before_all / 2 ? -before_all : before_all;
    else
      rank += most * (static_cast<double>(throw_dice(2001)) / 1000 - 1);
    return out_of;
  };
  while (all.size() > 1 && !good_enough() && time_left() &&
         std::min({whole.fruitless, mixed.fruitless, filled.fruitless}) < fruitless_most) {
    for (Kind* kind : {&filled, &mixed, &filled, &whole}) {
      if (kind != &filled && kind->best && time_left()) laid(rest_filled(kind->turns));
      if (kind->fruitless >= fruitless_most || !kind->best) continue;
      Turns turns = thrown(thrown(thrown(kind->turns)));
      std::optional<Tried> here = laid(turns);
      if (!here) ++kind->fruitless;  // it was tried before: of few jobs there are few orders
      for (size_t k = 0; here && k < all.size() && !good_enough() && time_left(); k += side_by_side) {
        std::vector<Turns> next;
        for (size_t i = 0; i < side_by_side; ++i) next.push_back(thrown(turns));
        std::vector<std::optional<Tried>> there = laid_all(next);
        for (size_t i = 0; i < side_by_side; ++i)
          if (!there[i])
            ++kind->fruitless;
          else if (there[i]->better_than(*here))
            here = std::move(there[i]), turns = next[i];
      }
    }
  }
  if (progress.cancelled()) return Error::stopped();
  // Each job once more round all the others: as soon as they let it, as its own page lays it out.
  for (int round = 0; round < 4; ++round) {
    bool sooner = false;
    for (const size_t j : all) {
      if (!best->schedules[j]) continue;
      const OpenJob& job = shop.jobs[j];
      ShopTime others = empty_shop(shop);
      for (const size_t k : all)
        if (k != j && best->schedules[k]) take_job(others, shop.jobs[k], *best->schedules[k]);
      auto s = lay_out(job.steps, ready.bench[j], job.start, others, job.begun, progress);
      if (!s || same_hours(*s, *best->schedules[j])) continue;
      Tried t = *best;
      t.schedules[j] = *std::move(s);
      judge(shop, t);
      if (t.schedules[j]->finish > best->schedules[j]->finish || best->better_than(t)) continue;
      best = std::move(t), sooner = true;
    }
    if (!sooner || progress.cancelled()) break;
  }
  if (progress.cancelled()) return Error::stopped();

  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    PlacedJob& placed = out.jobs[j];
    const OpenJob& job = shop.jobs[j];
    placed.refused = best->refused[j];
    if (best->schedules[j]) placed.schedule = *best->schedules[j];
    if (!best->schedules[j]) continue;
    if (job.due) placed.late_h = std::max(0.0, static_cast<double>(placed.schedule.finish - *job.due) / 60);
    if (out.jobs[j].alone == 0) out.jobs[j].alone = placed.schedule.finish;
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
  ShopTime out = empty_shop(shop);
  for (size_t j = 0; j < shop.jobs.size(); ++j)
    if (j != but && plan.jobs[j].refused.empty()) take_job(out, shop.jobs[j], plan.jobs[j].schedule);
  return out;
}

}  // namespace palinform
