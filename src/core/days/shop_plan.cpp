#include "days/shop_plan.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>

#include "base/text.hpp"
#include "days/shop_search.hpp"

namespace palinform {
namespace {

constexpr int64_t most_days = 730;

/// Bench hours as windows of minutes since the start, touching ones joined.
std::vector<std::pair<int64_t, int64_t>> windows_of(const ShopRun& run, int64_t horizon_min) {
  std::vector<std::pair<int64_t, int64_t>> out;
  const int64_t first = day_number(run.start);
  for (int64_t d = first; d * day_min < run.start + horizon_min; ++d) {
    if (run.holidays.contains(d)) continue;
    std::vector<std::pair<int64_t, int64_t>> today;
    for (const BenchHours& b : run.bench)
      if (b.days[static_cast<size_t>(weekday_of(d * day_min))] && b.to_min > b.from_min)
        today.push_back({d * day_min + b.from_min - run.start, d * day_min + b.to_min - run.start});
    std::sort(today.begin(), today.end());
    for (auto [from, to] : today) {
      from = std::max<int64_t>(from, 0);
      if (to <= from) continue;
      if (!out.empty() && from <= out.back().second)
        out.back().second = std::max(out.back().second, to);
      else
        out.push_back({from, to});
    }
  }
  return out;
}

struct Calendar {
  std::vector<std::pair<int64_t, int64_t>> open;
  /// Earliest start from `at` on that has `minutes` in one piece; −1 where there is none.
  int64_t fit(int64_t at, int64_t minutes) const {
    auto w = std::upper_bound(open.begin(), open.end(), at, [](int64_t t, const auto& x) { return t < x.second; });
    for (; w != open.end(); ++w) {
      const int64_t from = std::max(at, w->first);
      if (from + minutes <= w->second) return from;
    }
    return -1;
  }
};

/// So many at a time; what is taken stands sorted by its start.
struct Pool {
  int capacity = 1;
  std::vector<std::pair<int64_t, int64_t>> taken;
  /// Nothing if it is free all the way, else a time from which it may be.
  std::optional<int64_t> busy_until(int64_t from, int64_t to) const {
    if (from >= to) return std::nullopt;
    std::vector<std::pair<int64_t, int>> edges;
    int64_t soonest = INT64_MAX;
    for (const auto& [a, b] : taken)
      if (a < to && b > from)
        edges.push_back({std::max(a, from), 1}), edges.push_back({b, -1}), soonest = std::min(soonest, b);
    std::sort(edges.begin(), edges.end());
    int now = 0;
    for (const auto& [t, step] : edges)
      if ((now += step) >= capacity && t < to) return soonest;
    return std::nullopt;
  }
  void take(int64_t from, int64_t to) {
    if (to > from) taken.insert(std::upper_bound(taken.begin(), taken.end(), std::pair{from, to}), {from, to});
  }
};

/// In which order serial plans take what could be begun.
enum class Rule { soonest, castings_first, moulds_first, due_first };

struct Serial {
  std::vector<int64_t> start;  // by task of the problem
  int64_t finish = 0, late = 0;
};

Serial serial(const ShopProblem& p, const Calendar& calendar, Rule rule) {
  Serial out;
  out.start.assign(p.tasks.size(), -1);
  Pool people{p.people, {}}, pots{p.pots, {}}, chambers{p.chambers, {}};
  std::vector<std::vector<int64_t>> free_at(p.jobs.size());  // of each mould; −1: not made
  for (size_t j = 0; j < p.jobs.size(); ++j)
    free_at[j].assign(static_cast<size_t>(p.jobs[j].moulds), p.jobs[j].pours == 0 ? 0 : -1);
  const auto start_of = [&](size_t i) -> int64_t {
    const ShopProblem::Task& t = p.tasks[i];
    int64_t from = 0;
    if (t.after >= 0) {
      const auto before = static_cast<size_t>(t.after);
      if (out.start[before] < 0) return -1;
      from = out.start[before] + p.tasks[before].hands + p.tasks[before].cure;
    }
    if (t.casting) {
      int64_t soonest = INT64_MAX;
      for (const int64_t f : free_at[t.job])
        if (f >= 0) soonest = std::min(soonest, f);
      if (soonest == INT64_MAX) return -1;
      from = std::max(from, soonest);
    }
    for (int guard = 0; guard < 200'000; ++guard) {
      from = calendar.fit(from, t.hands);
      if (from < 0) return -2;
      if (const auto until = people.busy_until(from, from + t.hands)) {
        from = *until;
        continue;
      }
      if (const auto until = chambers.busy_until(from, from + t.chamber)) {
        from = *until;
        continue;
      }
      if (t.pot > 0)
        if (const auto until = pots.busy_until(from + t.hands, from + t.hands + t.pot)) {
          from = *until - t.hands > from ? *until - t.hands : from + 1;
          continue;
        }
      return from;
    }
    return -2;
  };
  std::vector<size_t> left(p.tasks.size());
  std::iota(left.begin(), left.end(), size_t{0});
  while (!left.empty()) {
    size_t best = left.size();
    int64_t when = INT64_MAX, rank = INT64_MAX;
    std::set<std::pair<size_t, int>> seen;  // the next of equals is enough
    for (size_t k = 0; k < left.size(); ++k) {
      const ShopProblem::Task& t = p.tasks[left[k]];
      if (!seen.insert({t.job, t.casting ? -1 : t.mould}).second) continue;
      const int64_t at = start_of(left[k]);
      if (at == -2) return {};
      if (at < 0) continue;
      int64_t r = at;
      if (rule == Rule::castings_first) r = at + (t.casting ? 0 : 24 * 60);
      if (rule == Rule::moulds_first) r = at + (t.casting ? 24 * 60 : 0);
      if (rule == Rule::due_first) r = p.jobs[t.job].due.value_or(INT32_MAX) * 4 + at;
      if (r < rank || (r == rank && at < when)) rank = r, when = at, best = k;
    }
    if (best == left.size()) return {};
    const size_t i = left[best];
    const ShopProblem::Task& t = p.tasks[i];
    out.start[i] = when;
    people.take(when, when + t.hands);
    chambers.take(when, when + t.chamber);
    if (t.pot > 0) pots.take(when + t.hands, when + t.hands + t.pot);
    const int64_t end = when + t.hands + t.cure;
    if (t.casting) {
      auto& moulds = free_at[t.job];
      // The one that has been free the shortest: the others stay for what comes sooner.
      size_t into = moulds.size();
      for (size_t m = 0; m < moulds.size(); ++m)
        if (moulds[m] >= 0 && moulds[m] <= when && (into == moulds.size() || moulds[m] > moulds[into])) into = m;
      moulds[into] = end;
    } else if (t.last_pour) {
      free_at[t.job][static_cast<size_t>(t.mould)] = end;
    }
    out.finish = std::max(out.finish, end);
    if (t.casting && p.jobs[t.job].due) out.late = std::max(out.late, end - *p.jobs[t.job].due);
    left.erase(left.begin() + static_cast<std::ptrdiff_t>(best));
  }
  return out;
}

/// Nothing is done before that: each job by itself with as many hands as it likes; all hands in the bench's hours; all
/// that stands in the pots.
int64_t bound_of(const ShopProblem& p, const Calendar& calendar) {
  int64_t bound = 0, hands = 0, pot = 0, least_tail = INT64_MAX, first_pot = INT64_MAX;
  int64_t chamber = 0;
  for (const ShopProblem::Task& t : p.tasks) chamber += t.chamber;
  for (size_t j = 0; j < p.jobs.size(); ++j) {
    const ShopProblem::Job& job = p.jobs[j];
    int64_t at = 0;
    const auto step = [&](int64_t h, int64_t cure) {
      const int64_t s = calendar.fit(at, h);
      if (s >= 0) at = s + h + cure;
    };
    for (int k = 0; k < job.pours; ++k) step(job.mould_hands, job.mould_cure);
    const int64_t ready = at;
    const int a_mould = (job.castings + job.moulds - 1) / std::max(1, job.moulds);
    for (int k = 0; k < a_mould; ++k) step(job.cast_hands, job.cast_cure);
    bound = std::max(bound, at);
    hands += job.castings * job.cast_hands + int64_t{job.moulds} * job.pours * job.mould_hands;
    if (job.castings > 0) least_tail = std::min(least_tail, job.cast_cure);
    if (job.pot > 0) {
      pot += job.castings * job.pot;
      const int64_t s = calendar.fit(ready, job.cast_hands);
      if (s >= 0) first_pot = std::min(first_pot, s + job.cast_hands);
    }
  }
  // The chamber runs only while somebody is there.
  int64_t left = std::max((hands + p.people - 1) / p.people, (chamber + p.chambers - 1) / p.chambers);
  for (const auto& [from, to] : calendar.open) {
    if (left <= to - from) {
      bound = std::max(bound, from + left + (least_tail == INT64_MAX ? 0 : least_tail));
      break;
    }
    left -= to - from;
  }
  if (pot > 0 && first_pot != INT64_MAX) bound = std::max(bound, first_pot + (pot + p.pots - 1) / p.pots);
  return bound;
}

}  // namespace

Result<ShopPlan> plan_shop(const ShopRun& run, const Progress& progress) {
  const auto refuse = [](const std::string& what) { return Error{what, "days", "Correct the figures."}; };
  if (run.jobs.empty()) return refuse("there is no job to plan");
  if (run.people < 1 || run.people > 50 || run.pots < 1 || run.pots > 50 || run.chambers < 1 || run.chambers > 50)
    return refuse("people, pots or chambers are out of reason");
  size_t count = 0;
  for (const ShopJob& j : run.jobs) {
    for (const double v : {j.mould_hands_min, j.mould_cure_min, j.cast_hands_min, j.cast_cure_min, j.pot_min,
                           j.mould_chamber_min, j.cast_chamber_min})
      if (!(v >= 0) || v > 1e6) return refuse("a time of " + j.name + " is out of reason");
    if (j.mould_chamber_min > j.mould_hands_min || j.cast_chamber_min > j.cast_hands_min)
      return refuse("a cup of " + j.name + " stands longer in the chamber than there are hands for it");
    if (j.castings < 0 || j.castings > 10'000 || j.moulds < 1 || j.moulds > 50 || j.pours < 0 || j.pours > 20)
      return refuse("castings, moulds or pours of " + j.name + " are out of reason");
    count += static_cast<size_t>(j.castings) + static_cast<size_t>(j.moulds) * static_cast<size_t>(j.pours);
  }
  if (count > 2000) return refuse("there are over 2,000 tasks");
  Calendar calendar{windows_of(run, most_days * day_min)};
  if (calendar.open.empty())
    return Error{"the calendar has no bench hours", "days", "Give hours for at least one day."};

  ShopProblem p;
  p.people = run.people, p.pots = run.pots, p.chambers = run.chambers;
  const auto minutes = [](double v) { return static_cast<int64_t>(std::ceil(v - 1e-9)); };
  int64_t longest = 0;
  for (const auto& [from, to] : calendar.open) longest = std::max(longest, to - from);
  const bool several = run.jobs.size() > 1;
  std::vector<std::string> names;
  for (size_t j = 0; j < run.jobs.size(); ++j) {
    const ShopJob& in = run.jobs[j];
    ShopProblem::Job job{in.castings,
                         in.moulds,
                         in.pours,
                         minutes(in.mould_hands_min),
                         minutes(in.mould_cure_min),
                         minutes(in.cast_hands_min),
                         minutes(in.cast_cure_min),
                         minutes(in.pot_min),
                         {}};
    if (in.due) job.due = *in.due - run.start;
    for (const auto& [h, what] : {std::pair{in.pours > 0 ? job.mould_hands : 0, "a pour of the mould"},
                                  std::pair{in.castings > 0 ? job.cast_hands : 0, "a casting"}})
      if (h > longest)
        return Error{std::string(what) + (several ? " of " + in.name : "") + " takes " + std::to_string(h) +
                         " min at the bench, longer than the longest bench day",
                     "days", "Give longer hours, or split the work."};
    p.jobs.push_back(job);
    const std::string before = several ? (in.name.empty() ? "job " + std::to_string(j + 1) : in.name) + ": " : "";
    for (int m = 0; m < in.moulds; ++m)
      for (int k = 0; k < in.pours; ++k) {
        p.tasks.push_back({j, false, m, k + 1 == in.pours, k > 0 ? static_cast<int>(p.tasks.size()) - 1 : -1,
                           job.mould_hands, job.mould_cure, 0, minutes(in.mould_chamber_min)});
        names.push_back(before + "mould " + std::to_string(m + 1) + ", pour " + std::to_string(k + 1));
      }
    for (int c = 0; c < in.castings; ++c) {
      p.tasks.push_back({j, true, -1, false, -1, job.cast_hands, job.cast_cure, job.pot, minutes(in.cast_chamber_min)});
      names.push_back(before + "casting " + std::to_string(c + 1));
    }
  }
  Serial best;
  for (const Rule rule : {Rule::soonest, Rule::castings_first, Rule::moulds_first, Rule::due_first}) {
    Serial s = serial(p, calendar, rule);
    if (s.start.empty()) continue;
    if (best.start.empty() || s.late < best.late || (s.late == best.late && s.finish < best.finish))
      best = std::move(s);
    if (progress.cancelled()) return Error::stopped();
  }
  if (best.start.empty()) return refuse("nothing is done within two years");
  const int64_t bound = bound_of(p, calendar);
  ShopPlan out;
  out.proven = best.late <= 0 && best.finish <= bound;
  if (!out.proven && p.tasks.size() <= 60) {
    p.open = calendar.open;
    const ShopFound found = search_plan(p, std::max<int64_t>(0, best.late), best.finish, run.seconds, progress);
    if (progress.cancelled()) return Error::stopped();
    if (!found.start.empty()) best.start = found.start, best.finish = found.finish, best.late = found.late;
    out.proven = found.proven || (best.late <= 0 && best.finish <= bound);
  }

  out.finish = run.start + best.finish;
  out.no_sooner = run.start + std::min(bound, best.finish);
  out.late_h = static_cast<double>(std::max<int64_t>(0, best.late)) / 60;
  out.gap_h = out.proven ? 0 : static_cast<double>(best.finish - std::min(bound, best.finish)) / 60;
  out.done_at.assign(run.jobs.size(), run.start);
  // Castings into moulds, by their starts: whichever is free.
  std::vector<size_t> order(p.tasks.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return best.start[a] < best.start[b]; });
  std::vector<std::vector<int64_t>> free_at(p.jobs.size());
  for (size_t j = 0; j < p.jobs.size(); ++j) free_at[j].assign(static_cast<size_t>(p.jobs[j].moulds), 0);
  for (size_t i = 0; i < p.tasks.size(); ++i)
    if (p.tasks[i].last_pour)
      free_at[p.tasks[i].job][static_cast<size_t>(p.tasks[i].mould)] =
          best.start[i] + p.tasks[i].hands + p.tasks[i].cure;
  for (const size_t i : order) {
    const ShopProblem::Task& t = p.tasks[i];
    ShopTask x;
    x.name = names[i];
    x.job = t.job, x.casting = t.casting;
    x.start = run.start + best.start[i], x.hands_end = x.start + t.hands, x.end = x.hands_end + t.cure;
    x.hands_min = static_cast<double>(t.hands);
    x.resource = std::string("person") + (t.chamber > 0 ? ", chamber" : "") + (t.pot > 0 ? ", pot" : "");
    int mould = t.mould;
    if (t.casting) {
      auto& moulds = free_at[t.job];
      size_t into = 0;
      bool found = false;
      for (size_t m = 0; m < moulds.size(); ++m)
        if (moulds[m] <= best.start[i] && (!found || moulds[m] > moulds[into])) into = m, found = true;
      moulds[into] = best.start[i] + t.hands + t.cure;
      mould = static_cast<int>(into);
    }
    x.mould = "mould " + std::to_string(mould + 1);
    out.done_at[t.job] = std::max(out.done_at[t.job], x.end);
    out.tasks.push_back(std::move(x));
  }
  progress.report(1);
  return out;
}

}  // namespace palinform
