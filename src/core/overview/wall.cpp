#include "overview/wall.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "bench/done_steps.hpp"

namespace palinform {
namespace {

std::string hours_words(double hours) {
  return hours < 48 ? counted(std::llround(std::ceil(hours)), "hour", "hours")
                    : counted(std::llround(hours / 24), "day", "days");
}

}  // namespace

ShopWall wall_of(const std::vector<OpenJobNow>& jobs, const WholeShop& shop, const WholePlan& plan,
                 std::vector<ShoppingLine> lacking, WallMinute now, int64_t zone_s, size_t most_hands) {
  ShopWall out;
  out.lacking = std::move(lacking);
  for (size_t j = 0; j < jobs.size(); ++j) {
    const OpenJobNow& job = jobs[j];
    if (job.run && !finished(*job.run)) {
      const BenchScreen& at = job.run->screens[static_cast<size_t>(job.run->at)];
      WallMinute since = now;
      for (const ScreenRecord& r : job.run->records)
        if (r.screen == job.run->at) since = wall_minute(r.started, zone_s);
      out.hands.push_back({j, at.title, std::min(since, now), now, true});
    }
    if (job.run)
      for (const BenchClock& c : job.run->clocks)
        if (const WallMinute ends = wall_minute(c.ends, zone_s); ends > now) out.cures.push_back({j, c.label, ends});
    if (job.in_plan) {
      const OpenJob& in = shop.jobs[*job.in_plan];
      const PlacedJob& placed = plan.jobs[*job.in_plan];
      for (const Placed& p : placed.schedule.placed)
        for (const auto& [from, to] : p.hands)
          if (to > now && !(job.run && from < now)) out.hands.push_back({j, in.steps[p.step].name, from, to, false});
    }
    if (!job.due) continue;
    WallPromise promise{j, *job.due, std::nullopt, PromiseState::unplanned, ""};
    if (job.all_made()) {
      promise.state = PromiseState::done;
    } else if (job.in_plan && plan.jobs[*job.in_plan].refused.empty()) {
      const PlacedJob& placed = plan.jobs[*job.in_plan];
      promise.finish = placed.schedule.finish;
      promise.state = placed.late_h > 0 ? PromiseState::late : PromiseState::kept;
      if (placed.late_h > 0) {
        promise.why = hours_words(placed.late_h) + " late";
        if (placed.alone <= *job.due && !placed.waits_for.empty()) {
          std::vector<std::string> names;
          for (size_t k = 0; k < placed.waits_for.size() && k < 2; ++k)
            names.push_back(shop.jobs[placed.waits_for[k]].name);
          promise.why += ": " + in_a_row(names) + " have the hands";
          if (names.size() == 1) promise.why = hours_words(placed.late_h) + " late: " + names[0] + " has the hands";
        } else if (placed.no_sooner > *job.due) {
          promise.why += ": its cures alone take until " + short_text(placed.no_sooner);
        } else {
          promise.why += " even were the shop its own";
        }
      }
    } else if (job.in_plan) {
      promise.why = plan.jobs[*job.in_plan].refused;
    } else {
      promise.why = job.card_there ? "not planned yet" : "being worked out";
    }
    out.promises.push_back(std::move(promise));
  }
  std::stable_sort(out.hands.begin(), out.hands.end(), [](const WallHands& a, const WallHands& b) {
    if (a.in_hand != b.in_hand) return a.in_hand;
    return a.from < b.from;
  });
  // What follows without a pause is one piece of work.
  std::vector<WallHands> pieces;
  for (WallHands& h : out.hands) {
    if (!pieces.empty() && !h.in_hand && !pieces.back().in_hand && pieces.back().job == h.job &&
        pieces.back().to == h.from) {
      pieces.back().to = h.to;
      ++pieces.back().more;
      continue;
    }
    pieces.push_back(std::move(h));
  }
  out.hands = std::move(pieces);
  if (out.hands.size() > most_hands) out.hands.resize(most_hands);
  std::stable_sort(out.cures.begin(), out.cures.end(),
                   [](const WallCure& a, const WallCure& b) { return a.ends < b.ends; });
  std::stable_sort(out.promises.begin(), out.promises.end(),
                   [](const WallPromise& a, const WallPromise& b) { return a.due < b.due; });
  return out;
}

}  // namespace palinform
