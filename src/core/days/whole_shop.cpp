#include "days/whole_shop.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>

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
  const auto until =
      Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(shop.seconds));
  std::optional<Tried> best;
  std::vector<size_t> best_order;
  std::set<std::vector<size_t>> seen;
  const auto good_enough = [&] { return best && best->late <= bound_late + 1e-9 && best->finish <= bound; };
  const auto time_left = [&] { return out.tried < shop.tries && Clock::now() < until; };
  // Laid out, and kept where it is the best so far; nothing for an order that was tried before.
  const auto laid = [&](const std::vector<size_t>& order) -> std::optional<Tried> {
    if (progress.cancelled() || !seen.insert(order).second) return std::nullopt;
    Tried t = lay_in_order(shop, order, progress);
    ++out.tried;
    if (!best || t.better_than(*best)) best = t, best_order = order;
    return t;
  };
  const auto attempt = [&](const std::vector<size_t>& order) { return laid(order) && best_order == order; };
  const auto moved = [](std::vector<size_t> order, size_t from, size_t to) {
    const size_t j = order[from];
    order.erase(order.begin() + static_cast<std::ptrdiff_t>(from));
    order.insert(order.begin() + static_cast<std::ptrdiff_t>(to), j);
    return order;
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
        if (to == at || !time_left()) continue;
        gained = attempt(moved(from, at, to));
        progress.report(std::min(1.0, static_cast<double>(out.tried) / shop.tries));
      }
      if (gained) break;
    }
    if (progress.cancelled()) return Error::stopped();
  }
  // Out of where single moves gain nothing: some jobs thrown elsewhere, then moves again, always from the best so far.
  constexpr int fruitless_most = 120;
  uint64_t dice = 0x9e3779b97f4a7c15u;
  const auto throw_dice = [&](size_t below) {
    dice ^= dice << 13, dice ^= dice >> 7, dice ^= dice << 17;
    return static_cast<size_t>(dice % below);
  };
  const auto thrown = [&](const std::vector<size_t>& order) {
    const size_t from = throw_dice(order.size()), to = throw_dice(order.size());
    return moved(order, from, to);
  };
  for (int fruitless = 0; all.size() > 2 && fruitless < fruitless_most && !good_enough() && time_left();) {
    std::vector<size_t> order = thrown(thrown(thrown(best_order)));
    std::optional<Tried> here = laid(order);
    ++fruitless;
    for (size_t k = 0; here && k < all.size() && !good_enough() && time_left(); ++k) {
      if (best_order == order) fruitless = 0;
      std::vector<size_t> next = thrown(order);
      std::optional<Tried> there = laid(next);
      ++fruitless;
      if (there && there->better_than(*here)) here = std::move(there), order = std::move(next);
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
