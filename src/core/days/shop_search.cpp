// Branch and bound over start times (Gecode).
#include <gecode/int.hh>
#include <gecode/minimodel.hh>
#include <gecode/search.hh>

#include <algorithm>
#include <array>
#include <chrono>
#include <memory>
#include <numeric>

#include "days/shop_search.hpp"

namespace palinform {
namespace {

using Clock = std::chrono::steady_clock;

/// All times are whole multiples of this many minutes.
int64_t unit_of(const ShopProblem& p) {
  int64_t u = 0;
  const auto take = [&](int64_t v) { u = std::gcd(u, v); };
  for (const auto& t : p.tasks) take(t.hands), take(t.cure), take(t.pot), take(t.chamber);
  for (const auto& [from, to] : p.open) take(from), take(to);
  for (const auto& j : p.jobs)
    if (j.due) take(*j.due);
  return std::max<int64_t>(1, u);
}

struct Goal {
  bool lateness = false;  ///< else the finish
  int most_late = 0;      ///< held while the finish is sought
  int before = 0;         ///< a better one than this is wanted
};

class PlanSpace : public Gecode::Space {
 public:
  Gecode::IntVarArray start;
  Gecode::IntVar cost;

  PlanSpace(const ShopProblem& p, int64_t unit, int horizon, const Goal& goal) {
    using namespace Gecode;
    const auto in_units = [&](int64_t v) { return static_cast<int>(v / unit); };
    const int n = static_cast<int>(p.tasks.size());
    start = IntVarArray(*this, n, 0, horizon);
    for (int i = 0; i < n; ++i) {
      const int hands = in_units(p.tasks[static_cast<size_t>(i)].hands);
      std::vector<std::array<int, 2>> allowed;
      for (const auto& [from, to] : p.open) {
        const int a = in_units(from), b = in_units(to) - hands;
        if (a > horizon) break;
        if (b >= a) allowed.push_back({a, std::min(b, horizon)});
      }
      const IntSet set(reinterpret_cast<const int(*)[2]>(allowed.data()), static_cast<int>(allowed.size()));
      dom(*this, start[i], set);
    }
    const auto task = [&](int i) -> const ShopProblem::Task& { return p.tasks[static_cast<size_t>(i)]; };
    const auto whole = [&](int i) { return in_units(task(i).hands + task(i).cure); };
    for (int i = 0; i < n; ++i)
      if (task(i).after >= 0) rel(*this, start[i] >= start[task(i).after] + whole(task(i).after));
    const auto so_many_at_once = [&](int capacity, const IntVarArgs& from, const IntArgs& lengths) {
      if (from.size() == 0) return;
      if (capacity == 1)
        unary(*this, from, lengths);
      else
        cumulative(*this, capacity, from, lengths, IntArgs::create(from.size(), 1, 0));
    };
    // Hands.
    {
      IntArgs hands;
      IntVarArgs s;
      for (int i = 0; i < n; ++i)
        if (task(i).hands > 0) s << start[i], hands << in_units(task(i).hands);
      so_many_at_once(p.people, s, hands);
    }
    // Pots, from the end of the hands.
    {
      IntArgs stay;
      IntVarArgs s;
      for (int i = 0; i < n; ++i) {
        if (task(i).pot <= 0) continue;
        const int hands = in_units(task(i).hands);
        s << expr(*this, start[i] + hands), stay << in_units(task(i).pot);
      }
      so_many_at_once(p.pots, s, stay);
    }
    // Chambers, while the hands are at it.
    {
      IntArgs stay;
      IntVarArgs s;
      for (int i = 0; i < n; ++i)
        if (task(i).chamber > 0) s << start[i], stay << in_units(task(i).chamber);
      so_many_at_once(p.chambers, s, stay);
    }
    IntVarArgs ends;
    IntVarArgs lates;
    for (size_t j = 0; j < p.jobs.size(); ++j) {
      const auto& job = p.jobs[j];
      std::vector<int> castings, first(static_cast<size_t>(job.moulds), -1), last(static_cast<size_t>(job.moulds), -1);
      for (int i = 0; i < n; ++i) {
        if (task(i).job != j) continue;
        if (task(i).casting)
          castings.push_back(i);
        else {
          auto& f = first[static_cast<size_t>(task(i).mould)];
          if (f < 0) f = i;
          last[static_cast<size_t>(task(i).mould)] = i;
        }
      }
      // Equal moulds and equal castings: in their order.
      for (size_t m = 1; m < first.size(); ++m)
        if (first[m] >= 0) {
          rel(*this, start[first[m - 1]] <= start[first[m]]);
          rel(*this, start[last[m - 1]] <= start[last[m]]);
        }
      for (size_t c = 1; c < castings.size(); ++c) rel(*this, start[castings[c - 1]] <= start[castings[c]]);
      // Moulds: a mould that is not made yet is taken up from the beginning until it is.
      IntVarArgs s, length, end;
      IntArgs ones;
      for (const int i : castings) {
        const int w = whole(i);
        const IntVar l(*this, w, w);
        s << start[i], length << l, end << expr(*this, start[i] + w), ones << 1;
      }
      for (const int i : last) {
        if (i < 0) continue;
        const IntVar zero(*this, 0, 0);
        const IntVar until = expr(*this, start[i] + whole(i));
        s << zero, length << until, end << until, ones << 1;
      }
      if (!castings.empty()) cumulative(*this, job.moulds, s, length, end, ones);
      for (const int i : castings) ends << expr(*this, start[i] + whole(i));
      for (const int i : last)
        if (i >= 0) ends << expr(*this, start[i] + whole(i));
      if (job.due && !castings.empty())
        lates << expr(*this, start[castings.back()] + (whole(castings.back()) - in_units(*job.due)));
    }
    const IntVar finish(*this, 0, 2 * horizon + 1'000'000);
    max(*this, ends, finish);
    IntVar late(*this, 0, 2 * horizon + 1'000'000);
    if (lates.size() > 0) {
      const IntVar most(*this, -10'000'000, 2 * horizon + 1'000'000);
      max(*this, lates, most);
      rel(*this, late >= most);
      rel(*this, late >= 0);
    } else {
      rel(*this, late == 0);
    }
    cost = goal.lateness ? late : finish;
    if (!goal.lateness) rel(*this, late <= goal.most_late);
    rel(*this, cost < goal.before);
    // Earliest first; each as soon as it can be.
    branch(*this, start, tiebreak(INT_VAR_MIN_MIN(), INT_VAR_SIZE_MIN()), INT_VAL_MIN());
    branch(*this, cost, INT_VAL_MIN());
  }
  PlanSpace(PlanSpace& s) : Space(s) {
    start.update(*this, s.start);
    cost.update(*this, s.cost);
  }
  Space* copy() override { return new PlanSpace(*this); }
  void constrain(const Space& b) override { Gecode::rel(*this, cost < static_cast<const PlanSpace&>(b).cost.val()); }
};

class OverTime : public Gecode::Search::Stop {
 public:
  OverTime(Clock::time_point end, const Progress& progress) : end_(end), progress_(progress) {}
  bool stop(const Gecode::Search::Statistics&, const Gecode::Search::Options&) override {
    return progress_.cancelled() || Clock::now() >= end_;
  }

 private:
  Clock::time_point end_;
  const Progress& progress_;
};

}  // namespace

ShopFound search_plan(const ShopProblem& p, int64_t known_late, int64_t known_finish, double seconds,
                      const Progress& progress) {
  ShopFound out;
  const int64_t unit = unit_of(p);
  const auto begin = Clock::now();
  const auto by = [&](double share) {
    return begin + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds * share));
  };
  int64_t late = known_late;
  std::vector<int64_t> best;
  bool all = true;
  // Nothing better ends later than what is known, but for trading a later end against less lateness.
  const auto horizon = static_cast<int>((known_finish + (known_late > 0 ? 14 * 24 * 60 : 0)) / unit);
  const auto run = [&](const Goal& goal, Clock::time_point end) {
    OverTime stop(end, progress);
    Gecode::Search::Options o;
    o.stop = &stop;
    o.threads = 1;  // the same plan every time
    auto root = std::make_unique<PlanSpace>(p, unit, horizon, goal);
    Gecode::BAB<PlanSpace> search(root.get(), o);
    std::optional<int> found;
    while (const std::unique_ptr<PlanSpace> s{search.next()}) {
      best.assign(p.tasks.size(), 0);
      for (size_t i = 0; i < p.tasks.size(); ++i) best[i] = s->start[static_cast<int>(i)].val() * unit;
      found = s->cost.val();
    }
    if (search.stopped()) all = false;
    return found;
  };
  if (known_late > 0)
    if (const auto l = run({true, 0, static_cast<int>(known_late / unit)}, by(0.5))) late = *l * unit;
  const auto finish_of = [&](const std::vector<int64_t>& s) {
    int64_t f = 0;
    for (size_t i = 0; i < s.size(); ++i) f = std::max(f, s[i] + p.tasks[i].hands + p.tasks[i].cure);
    return f;
  };
  const int64_t to_beat = best.empty() ? known_finish : finish_of(best);
  run({false, static_cast<int>(late / unit), static_cast<int>(to_beat / unit)}, by(1));
  out.proven = all;
  if (!best.empty()) {
    out.start = best;
    out.finish = finish_of(best);
    out.late = 0;
    for (size_t i = 0; i < best.size(); ++i)
      if (p.tasks[i].casting && p.jobs[p.tasks[i].job].due)
        out.late = std::max(out.late, best[i] + p.tasks[i].hands + p.tasks[i].cure - *p.jobs[p.tasks[i].job].due);
  }
  return out;
}

}  // namespace palinform
