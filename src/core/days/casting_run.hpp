#pragma once
/// A run of equal castings from a number of equal moulds (M13), for `palin days`: no materials, only times.
#include "base/progress.hpp"
#include "days/schedule.hpp"

namespace palinform {

struct CastingRun {
  WallMinute start = 0;
  std::vector<BenchHours> bench;
  int castings = 1;
  double mould_hands_min = 0, mould_cure_min = 0;  ///< of each pour of a mould
  int pours = 2;                                   ///< 0: the moulds are there
  double cast_hands_min = 0, cast_cure_min = 0;
};

struct CastingRunPlan {
  std::vector<Step> steps;
  Schedule schedule;
};

/// The soonest of a few serial schedules: all moulds' pours in turn, one mould after the other, or a further one after
/// each 1 … 6 castings. Each casting goes into the mould that is free first. Not proven the best.
Result<CastingRunPlan> plan_casting_run(const CastingRun& run, int moulds, const Progress& progress = Progress::none());

}  // namespace palinform
