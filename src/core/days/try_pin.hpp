#pragma once
/// A step put by hand to a day and an hour: does it hold there, or what breaks?
#include "days/schedule.hpp"

namespace palinform {

struct PinTry {
  Schedule schedule;      ///< with the step not before that
  WallMinute placed = 0;  ///< where it really begins
  bool holds = false;     ///< there, to the minute
  std::string why;        ///< what keeps it from there, or what it moves; empty: nothing does
  int64_t later_min = 0;  ///< that the whole is done later for it; below nought: sooner
};

/// `before`: the schedule as it stands. Refused where nothing can be laid out with it, in words.
Result<PinTry> try_pin(std::vector<Step> steps, const std::vector<BenchHours>& bench, WallMinute start,
                       const ShopTime& others, const Begun& begun, const Schedule& before, const std::string& step_id,
                       WallMinute wanted);

}  // namespace palinform
