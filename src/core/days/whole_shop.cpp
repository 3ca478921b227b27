#include "days/whole_shop.hpp"

#include <algorithm>

#include "days/order_search.hpp"
#include "days/shop_bounds.hpp"
#include "days/shop_turns.hpp"

namespace palinform {
namespace {

bool same_hours(const Schedule& a, const Schedule& b) {
  return std::equal(a.placed.begin(), a.placed.end(), b.placed.begin(), b.placed.end(),
                    [](const Placed& p, const Placed& q) { return p.hands == q.hands && p.end == q.end; });
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

/// Each job once more round all the others: as soon as they let it, as its own page lays it out.
void lay_round_others(Tried& best, const WholeShop& shop, const ReadyShop& ready, const Progress& progress) {
  for (int round = 0; round < 4; ++round) {
    bool sooner = false;
    for (size_t j = 0; j < shop.jobs.size(); ++j) {
      if (!best.schedules[j]) continue;
      const OpenJob& job = shop.jobs[j];
      ShopTime others = empty_shop(shop);
      for (size_t k = 0; k < shop.jobs.size(); ++k)
        if (k != j && best.schedules[k]) take_job(others, shop.jobs[k], *best.schedules[k]);
      auto s = lay_out(job.steps, ready.bench[j], job.start, others, job.begun, progress);
      if (!s || same_hours(*s, *best.schedules[j])) continue;
      Tried t = best;
      t.schedules[j] = *std::move(s);
      judge(shop, t);
      if (t.schedules[j]->finish > best.schedules[j]->finish || best.better_than(t)) continue;
      best = std::move(t), sooner = true;
    }
    if (!sooner || progress.cancelled()) break;
  }
}

/// Hands and machines of others between when a step could have begun alone and when it does.
void tell_who_holds_whom(WholePlan& plan, const Tried& best) {
  for (size_t j = 0; j < plan.jobs.size(); ++j) {
    if (!best.schedules[j] || plan.jobs[j].alone >= plan.jobs[j].schedule.finish) continue;
    std::vector<std::pair<int64_t, size_t>> held;
    const Schedule& mine = plan.jobs[j].schedule;
    for (size_t k = 0; k < plan.jobs.size(); ++k) {
      if (k == j || !best.schedules[k]) continue;
      int64_t minutes = 0;
      for (const Placed& p : plan.jobs[k].schedule.placed)
        for (const auto& [a, b] : p.hands)
          minutes += std::max<int64_t>(0, std::min(b, mine.finish) - std::max(a, mine.start));
      if (minutes > 0) held.push_back({minutes, k});
    }
    std::sort(held.begin(), held.end(), [](const auto& a, const auto& b) {
      return a.first != b.first ? a.first > b.first : a.second < b.second;
    });
    for (const auto& [minutes, k] : held) plan.jobs[j].waits_for.push_back(k);
  }
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
  const ShopBounds bounds = bounds_of(shop);
  for (size_t j = 0; j < shop.jobs.size(); ++j) out.jobs[j].no_sooner = bounds.no_sooner[j];

  const ReadyShop ready = ready_shop(shop);
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    const OpenJob& job = shop.jobs[j];
    if (const auto s = lay_out(job.steps, ready.bench[j], job.start, empty_shop(shop), job.begun, progress))
      out.jobs[j].alone = s->finish;
  }
  OrdersFound found = search_orders(shop, ready, bounds, progress);
  out.tried = found.tried;
  Tried& best = found.best;
  if (progress.cancelled()) return Error::stopped();
  lay_round_others(best, shop, ready, progress);
  if (progress.cancelled()) return Error::stopped();

  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    PlacedJob& placed = out.jobs[j];
    const OpenJob& job = shop.jobs[j];
    placed.refused = best.refused[j];
    if (best.schedules[j]) placed.schedule = *best.schedules[j];
    if (!best.schedules[j]) continue;
    if (job.due) placed.late_h = std::max(0.0, static_cast<double>(placed.schedule.finish - *job.due) / 60);
    if (out.jobs[j].alone == 0) out.jobs[j].alone = placed.schedule.finish;
  }
  tell_who_holds_whom(out, best);
  out.finish = best.finish;
  out.no_sooner = std::min(bounds.finish, best.finish);
  out.late_h = std::max(0.0, best.late) / 60;
  out.evenings = best.evenings;
  out.proven = reaches(best, bounds);
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
