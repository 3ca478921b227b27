#include "days/shop_turns.hpp"

#include <algorithm>
#include <bitset>
#include <cmath>
#include <set>

#include "days/shop_bounds.hpp"

namespace palinform {
namespace {

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

}  // namespace

bool Tried::better_than(const Tried& o) const {
  if (const double mine = std::ceil(late / 60), theirs = std::ceil(o.late / 60); mine != theirs) return mine < theirs;
  if (finish != o.finish) return finish < o.finish;
  if (evenings != o.evenings) return evenings < o.evenings;
  return each < o.each - 1e-9;
}

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

}  // namespace palinform
