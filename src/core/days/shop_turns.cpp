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

/// When a run that may be next could begin: at the soonest, and just then as long as nothing was put there since.
struct Begin {
  WallMinute at = INT64_MIN;
  bool may_be_next = false, still_so = false;
};
/// Of each job, by the first step of the run.
using Begins = std::vector<std::vector<Begin>>;

struct Candidate {
  double key = 0;  // the least has its turn
  size_t job = 0, run = 0;
  auto operator<=>(const Candidate&) const = default;
};

constexpr size_t looked_ahead = 40;  // runs of a job

/// Of all runs that may be next and could begin first, the one that the day is best filled with.
template <class Key>
Candidate that_fills_the_day(const WholeShop& shop, const std::vector<std::optional<ReadyJob>>& jobs,
                             const std::vector<LaidSoFar>& laid, const std::vector<size_t>& waiting, Begins& begins,
                             const Key& key, ShopNow& now) {
  const auto seek = [&](const Candidate& c, Begin& b) {
    const auto at = begin_of(*jobs[c.job], laid[c.job], c.run, now, b.at);
    b.at = at ? *at : INT64_MIN, b.still_so = true;  // what is refused is told when it is laid
  };
  std::vector<std::pair<Candidate, Begin*>> all;
  for (const size_t j : waiting) {
    const ReadyJob& job = *jobs[j];
    for (size_t r = laid[j].next; r < std::min(job.runs.size(), laid[j].next + looked_ahead); ++r) {
      Begin& b = begins[j][job.runs[r].from];
      if (!b.may_be_next) {
        if (!may_be_next(job, laid[j], r)) continue;
        b.may_be_next = true;
        seek({0, j, r}, b);
      }
      all.push_back({{0, j, r}, &b});
    }
  }
  // Nothing begins sooner for what was placed since: only what would be first is sought again.
  std::vector<Candidate> at_first;
  WallMinute first = INT64_MAX;
  for (bool sure = false; !sure;) {
    first = INT64_MAX, sure = true;
    for (const auto& [c, b] : all) first = std::min(first, b->at);
    at_first.clear();
    for (const auto& [c, b] : all) {
      if (b->at != first) continue;
      if (!b->still_so) seek(c, *b), sure = sure && b->at == first;
      at_first.push_back(c);
    }
  }
  for (Candidate& c : at_first) c.key = key(c.job, c.run);
  std::sort(at_first.begin(), at_first.end());
  if (first == INT64_MIN || at_first.size() == 1) return at_first[0];
  std::vector<int64_t> lengths;
  for (const Candidate& c : at_first) lengths.push_back(jobs[c.job]->runs[c.run].length);
  const BenchHours& bench = shop.jobs[at_first[0].job].bench;
  WallMinute shut = day_number(first) * day_min + bench.to_min;
  if (const auto taken = now.busy.begins(first, shut)) shut = *taken;
  return at_first[that_fills(lengths, shut - first)];
}

/// What was placed, runs from `first` on, may stand where others would have begun.
void doubt_what_met(Begins& begins, const ReadyJob& job, const LaidSoFar& laid, size_t first) {
  WallMinute to = INT64_MIN;
  for (size_t r = first; r < laid.next; ++r) to = std::max(to, laid.placed[job.runs[r].to - 1].end);
  for (auto& of_job : begins)
    for (Begin& b : of_job) b.still_so = b.still_so && b.at >= to;
}

}  // namespace

bool Tried::better_than(const Tried& o) const {
  if (const int64_t mine = days_late(late), theirs = days_late(o.late); mine != theirs) return mine < theirs;
  if (finish != o.finish) return finish < o.finish;
  if (evenings != o.evenings) return evenings < o.evenings;
  return each < o.each - 1e-9;
}

int64_t days_late(double late_min) { return static_cast<int64_t>(std::ceil(std::max(0.0, late_min) / day_min)); }

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
  out.bench.resize(n), out.jobs.resize(n), out.refused.resize(n), out.rest.resize(n), out.in_machine.resize(n);
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
    out.rest[j].assign(job.steps.size(), 0);
    out.in_machine[j].assign(job.steps.size(), false);
    for (const ReadyJob::Run& r : ready->runs) {
      double most = 0, ahead = 0;
      for (size_t k = r.from; k < r.to; ++k) {
        const auto hands = static_cast<double>(ready->pieces[k].hands);
        const auto& needs = ready->pieces[k].needs;
        if (needs && held_through_wait(ready->names[*needs]) && ready->pieces[k].wait > 0)
          out.in_machine[j][r.from] = true;
        most = std::max(most, ahead + hands + static_cast<double>(tails[k]));
        ahead += hands + static_cast<double>(ready->pieces[k].wait);
      }
      out.rest[j][r.from] = most;
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
  std::vector<std::optional<ReadyJob>> jobs = ready.jobs;  // their runs change places while days are filled
  std::vector<LaidSoFar> laid(n);
  std::vector<size_t> waiting;
  for (size_t j = 0; j < n; ++j)
    if (jobs[j]) laid[j] = nothing_laid(*jobs[j]), waiting.push_back(j);
  std::erase_if(waiting, [&](size_t j) { return all_laid(*jobs[j], laid[j]); });
  const auto fills = [&](size_t j) { return turns.filled && turns.rank[j] > before_all / 2; };
  const auto key = [&](size_t j, size_t run) {
    const size_t step = jobs[j]->runs[run].from;
    return turns.rank[j] - turns.by_rest * ready.rest[j][step] - (ready.in_machine[j][step] ? turns.machines_first : 0);
  };
  Begins begins(n);
  for (size_t j = 0; j < n; ++j) begins[j].resize(shop.jobs[j].steps.size());
  while (!waiting.empty() && !progress.cancelled()) {
    size_t j = *std::min_element(waiting.begin(), waiting.end(),
                                 [&](size_t a, size_t b) { return key(a, laid[a].next) < key(b, laid[b].next); });
    if (fills(j)) {
      const Candidate chosen = that_fills_the_day(shop, jobs, laid, waiting, begins, key, now);
      j = chosen.job;
      bring_forward(*jobs[j], laid[j], chosen.run);
    }
    const size_t before = laid[j].next;
    const WallMinute no_sooner = fills(j) ? begins[j][jobs[j]->runs[before].from].at : INT64_MIN;
    const std::optional<size_t> kept_to = jobs[j]->runs[before].kept_to;
    Status status = lay_next(*jobs[j], laid[j], now, no_sooner);
    while (status && kept_to && jobs[j]->run_of[*kept_to] >= laid[j].next) status = lay_next(*jobs[j], laid[j], now);
    if (!status) {
      out.refused[j] = status.error().text();
      take_back(*jobs[j], laid[j], 0, now);
    }
    if (!status || all_laid(*jobs[j], laid[j])) std::erase(waiting, j);
    if (!turns.filled) continue;
    if (!status || laid[j].next <= before)
      for (auto& of_job : begins) std::fill(of_job.begin(), of_job.end(), Begin{});
    else
      doubt_what_met(begins, *jobs[j], laid[j], before);
  }
  for (size_t j = 0; j < n; ++j)
    if (ready.jobs[j] && out.refused[j].empty()) out.schedules[j] = schedule_of(*ready.jobs[j], std::move(laid[j]));
  judge(shop, out);
  return out;
}

}  // namespace palinform
