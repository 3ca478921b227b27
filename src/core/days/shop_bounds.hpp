#pragma once
/// What no plan of the shop can be better than (M28): by each job's longest path, by castings that share a mould, and
/// by all that must go through the same hands or the same machine between the soonest it can begin and the least that
/// follows it.
#include "days/whole_shop.hpp"

namespace palinform {

struct ShopBounds {
  WallMinute finish = 0;              ///< not all is done before that
  double late_min = 0;                ///< one promise is missed by so much at least; 0: all may be held
  std::vector<WallMinute> no_sooner;  ///< each job by itself, in the shop's order; 0 where it cannot be laid out
};

/// O(thresholds² · steps) with 48 thresholds. A done step bounds nothing.
ShopBounds bounds_of(const WholeShop& shop);

/// Per step: minutes from the end of its hands to the end of the job at least, by the clock alone. What is done
/// (`done`: of each step) follows nothing any more.
std::vector<int64_t> tails_of(const std::vector<Step>& steps, const std::vector<bool>& done);

/// A list of steps is not over before that, whatever else the shop does. By the longest path over what each step
/// follows and the bench's hours, and by what must share one mould.
Result<WallMinute> soonest_end(const std::vector<Step>& steps, const BenchHours& bench, WallMinute start,
                               const std::set<int64_t>& holidays = {}, const Begun& begun = {});

}  // namespace palinform
