#include "days/order_search.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <chrono>
#include <numeric>
#include <set>

namespace palinform {
namespace {

using Clock = std::chrono::steady_clock;

/// One job elsewhere in the order.
std::vector<size_t> moved(std::vector<size_t> order, size_t from, size_t to) {
  const size_t j = order[from];
  order.erase(order.begin() + static_cast<std::ptrdiff_t>(from));
  order.insert(order.begin() + static_cast<std::ptrdiff_t>(to), j);
  return order;
}

/// Each job's rank is its place.
Turns in_order(const std::vector<size_t>& order) {
  Turns t{std::vector<double>(order.size()), 0, false};
  for (size_t k = 0; k < order.size(); ++k) t.rank[order[k]] = static_cast<double>(k);
  return t;
}

class OrderSearch {
 public:
  OrderSearch(const WholeShop& shop, const ReadyShop& ready, const ShopBounds& bounds, const Progress& progress)
      : shop_(shop), ready_(ready), bounds_(bounds), progress_(progress), all_(shop.jobs.size()) {
    std::iota(all_.begin(), all_.end(), size_t{0});
  }

  OrdersFound run() {
    start_by_rules();
    fill_but_what_is_late();
    move_whole_jobs();
    throw_about();
    return {best_.value_or(Tried{}), tried_};
  }

 private:
  /// The best so far of whole jobs one after the other, of runs by turns, and of filled days: each is gone on from.
  struct Kind {
    std::optional<Tried> best;
    Turns turns;
    int fruitless = 0;
  };

  static constexpr size_t side_by_side = 4;  // however many cores there are: the plan is the same

  bool good_enough() const { return best_ && reaches(*best_, bounds_); }
  bool time_left(double share = 1) const {
    return tried_ < share * shop_.tries &&
           Clock::now() - begun_at_ < std::chrono::duration<double>(share * shop_.seconds) && !progress_.cancelled();
  }

  /// Laid out side by side, and kept where one is the best so far; by place in `many`, nothing for turns that were
  /// tried before or that there is no time for.
  std::vector<std::optional<Tried>> laid_all(const std::vector<Turns>& many) {
    std::vector<std::optional<Tried>> got(many.size());
    std::vector<size_t> fresh;
    for (size_t k = 0; k < many.size(); ++k)
      if (!(best_ && !time_left()) && tried_ + static_cast<int>(fresh.size()) < std::max(1, shop_.tries) &&
          seen_.insert(many[k]).second)
        fresh.push_back(k);
    tbb::parallel_for(size_t{0}, fresh.size(),
                      [&](size_t f) { got[fresh[f]] = lay_in_turns(shop_, ready_, many[fresh[f]], progress_); });
    if (progress_.cancelled()) return std::vector<std::optional<Tried>>(many.size());
    for (const size_t k : fresh) {
      const Tried& t = *got[k];
      ++tried_;
      Kind& kind = many[k].filled ? filled_ : many[k].by_rest > 0 ? mixed_ : whole_;
      ++kind.fruitless;
      if (!kind.best || t.better_than(*kind.best)) kind.best = t, kind.turns = many[k], kind.fruitless = 0;
      if (!best_ || t.better_than(*best_)) best_ = t;
    }
    progress_.report(std::min(1.0, static_cast<double>(tried_) / shop_.tries));
    return got;
  }
  std::optional<Tried> laid(const Turns& turns) { return laid_all({turns})[0]; }

  /// The same turns for what is promised, and the days filled with the rest of the jobs.
  Turns rest_filled(Turns turns) const {
    turns.filled = true;
    if (turns.by_rest == 0) turns.by_rest = 1;
    for (const size_t j : all_)
      turns.rank[j] = shop_.jobs[j].due ? before_all + turns.rank[j] : static_cast<double>(bounds_.finish);
    return turns;
  }
  std::vector<size_t> order_of(const Turns& t) const {
    std::vector<size_t> order = all_;
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return t.rank[a] < t.rank[b]; });
    return order;
  }

  template <class Key>
  Turns by(Key key) const {
    std::vector<size_t> order = all_;
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) { return key(a) < key(b); });
    return in_order(order);
  }

  /// Whole jobs by what is due, by their starts and lengths; runs by the longest path, counted back from the promised
  /// day or from the end of all.
  void start_by_rules() {
    const auto left = [&](size_t j) { return bounds_.no_sooner[j] - shop_.jobs[j].start; };
    laid(by([&](size_t j) { return shop_.jobs[j].due.value_or(INT64_MAX); }));
    laid(by([&](size_t j) { return shop_.jobs[j].start; }));
    laid(by([&](size_t j) { return -left(j); }));
    laid(by([&](size_t j) { return left(j); }));
    laid(by([&](size_t j) { return shop_.jobs[j].due ? *shop_.jobs[j].due - left(j) : INT64_MAX; }));
    // By turns: the longest path first, counted back from the promised day or from the end of all.
    std::vector<Turns> many;
    for (const double sooner : {0.0, 2.0 * day_min, 10.0 * day_min})
      for (const bool fill : {true, false})
        for (const auto& [by_rest, by_due] : {std::pair{1.0, true}, {1.0, false}, {0.5, true}, {2.0, true}}) {
          many.push_back(
              {std::vector<double>(all_.size(), static_cast<double>(bounds_.finish)), by_rest, fill, sooner});
          for (const size_t j : all_)
            if (by_due && shop_.jobs[j].due)
              many.back().rank[j] = std::min(many.back().rank[j], static_cast<double>(*shop_.jobs[j].due));
        }
    for (size_t k = 0; k < many.size() && !good_enough() && time_left(); k += side_by_side) {
      const auto at = [&](size_t i) { return many.begin() + static_cast<std::ptrdiff_t>(std::min(i, many.size())); };
      laid_all({at(k), at(k + side_by_side)});
    }
  }

  /// Days filled with everything, but for the promised jobs that would then end later than the latest does in the best
  /// plan so far: their turn comes sooner by as much, and where that does not do they are laid out before. The fewer
  /// those are, the better the days are filled.
  void fill_but_what_is_late() {
    if (!best_ || std::none_of(all_.begin(), all_.end(), [&](size_t j) { return shop_.jobs[j].due.has_value(); }))
      return;
    if (filled_for_ && days_late(best_->late) >= *filled_for_) return;
    filled_for_ = days_late(best_->late);
    for (const int sooner_rounds : {0, 6}) fill_round(sooner_rounds);
  }
  void fill_round(int sooner_rounds) {
    constexpr int rounds = 12;
    Turns t{std::vector<double>(all_.size(), static_cast<double>(bounds_.finish)), filled_.turns.by_rest, true,
            filled_.turns.machines_first};
    for (const size_t j : all_)
      if (shop_.jobs[j].due) t.rank[j] = static_cast<double>(*shop_.jobs[j].due);
    for (int round = 0; round < sooner_rounds + rounds && !good_enough() && time_left(); ++round) {
      const auto most = static_cast<double>(days_late(best_->late) * day_min);
      const auto tried = laid(t);
      if (!tried) break;
      bool late = false;
      for (const size_t j : all_) {
        if (!shop_.jobs[j].due || !tried->schedules[j] || t.rank[j] < before_all / 2) continue;
        const double over = static_cast<double>(tried->schedules[j]->finish - *shop_.jobs[j].due) - most;
        if (over <= 0) continue;
        t.rank[j] -= round < sooner_rounds ? over : -before_all;
        late = true;
      }
      if (!late) break;
    }
  }

  /// Whole jobs, from the best: one job earlier or later, until nothing is gained.
  void move_whole_jobs() {
    for (bool gained = whole_.best.has_value(); gained && !good_enough();) {
      gained = false;
      const std::vector<size_t> from = order_of(whole_.turns);
      // What ends last, or latest over its day, is what is worth moving: it is tried first.
      std::vector<size_t> movers = all_;
      std::stable_sort(movers.begin(), movers.end(), [&](size_t a, size_t b) {
        const auto late = [&](size_t j) {
          if (!whole_.best->schedules[j]) return -1e18;
          const auto end = static_cast<double>(whole_.best->schedules[j]->finish);
          return whole_.best->late > 0 ? (shop_.jobs[j].due ? end - static_cast<double>(*shop_.jobs[j].due) : -1e15)
                                       : end;
        };
        return late(a) > late(b);
      });
      for (const size_t j : movers) {
        const auto at = static_cast<size_t>(std::find(from.begin(), from.end(), j) - from.begin());
        for (size_t to = 0; to < from.size() && !gained; ++to) {
          if (to == at || !time_left(0.3)) continue;
          const Turns next = in_order(moved(from, at, to));
          gained = laid(next) && whole_.turns == next;
        }
        if (gained) break;
      }
    }
  }

  size_t throw_dice(size_t below) {
    dice_ ^= dice_ << 13, dice_ ^= dice_ >> 7, dice_ ^= dice_ << 17;
    return static_cast<size_t>(dice_ % below);
  }
  /// The job that ends last, or with `by_due` latest over its day.
  std::optional<size_t> last_of(const Tried& t, bool by_due) const {
    std::optional<size_t> out;
    for (const size_t j : all_) {
      if (!t.schedules[j] || (by_due && !shop_.jobs[j].due)) continue;
      const WallMinute end = t.schedules[j]->finish;
      if (by_due ? static_cast<double>(end - *shop_.jobs[j].due) >= t.late : end == t.finish) out = j;
    }
    return out;
  }
  Turns thrown(const Turns& turns) {
    if (turns.by_rest == 0) {
      const std::vector<size_t> order = order_of(turns);
      const size_t from = throw_dice(order.size()), to = throw_dice(order.size());
      return in_order(moved(order, from, to));
    }
    // Hours to a few days sooner or later.
    Turns out_of = turns;
    if (turns.filled && throw_dice(6) == 0) {
      out_of.machines_first = 0.5 * day_min * static_cast<double>(throw_dice(30));
      return out_of;
    }
    const double most = 60.0 * static_cast<double>(4 << throw_dice(6));
    // Every other time one of those that fill the days: what is promised stays as it is.
    size_t j = throw_dice(all_.size());
    for (size_t k = 0; turns.filled && k < all_.size() && throw_dice(2) == 0 && turns.rank[j] < before_all / 2; ++k)
      j = throw_dice(all_.size());
    if (turns.filled && filled_.best && throw_dice(3) == 0) {
      const bool by_due = filled_.best->late > 0 && throw_dice(2) == 0;
      j = last_of(*filled_.best, by_due).value_or(j);
      out_of.rank[j] -= most * static_cast<double>(throw_dice(1001)) / 1000;
      return out_of;
    }
    double& rank = out_of.rank[j];
    if (turns.filled && throw_dice(8) == 0)
      rank += rank < before_all / 2 ? -before_all : before_all;
    else
      rank += most * (static_cast<double>(throw_dice(2001)) / 1000 - 1);
    return out_of;
  }

  /// Out of where single moves gain nothing: some jobs thrown elsewhere, then moves again, always from the best so far.
  void throw_about() {
    constexpr int fruitless_most = 200;
    while (all_.size() > 1 && !good_enough() && time_left() &&
           std::min({whole_.fruitless, mixed_.fruitless, filled_.fruitless}) < fruitless_most) {
      for (Kind* kind : {&filled_, &mixed_, &filled_, &whole_}) {
        if (kind != &filled_ && kind->best && time_left()) laid(rest_filled(kind->turns));
        fill_but_what_is_late();
        if (kind->fruitless >= fruitless_most || !kind->best) continue;
        Turns turns = thrown(thrown(thrown(kind->turns)));
        std::optional<Tried> here = laid(turns);
        if (!here) ++kind->fruitless;  // it was tried before: of few jobs there are few orders
        for (size_t k = 0; here && k < all_.size() && !good_enough() && time_left(); k += side_by_side) {
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
  }

  const WholeShop& shop_;
  const ReadyShop& ready_;
  const ShopBounds& bounds_;
  const Progress& progress_;
  std::vector<size_t> all_;
  const Clock::time_point begun_at_ = Clock::now();
  std::optional<Tried> best_;
  Kind whole_, mixed_, filled_;
  std::set<Turns> seen_;
  int tried_ = 0;
  std::optional<int64_t> filled_for_;  // days late that fill_but_what_is_late() went by last
  uint64_t dice_ = 0x9e3779b97f4a7c15u;
};

}  // namespace

bool reaches(const Tried& t, const ShopBounds& bounds) {
  return days_late(t.late) <= days_late(bounds.late_min) && t.finish <= bounds.finish;
}

OrdersFound search_orders(const WholeShop& shop, const ReadyShop& ready, const ShopBounds& bounds,
                          const Progress& progress) {
  return OrderSearch(shop, ready, bounds, progress).run();
}

}  // namespace palinform
