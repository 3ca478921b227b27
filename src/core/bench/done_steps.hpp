#pragma once
/// What of a procedure a bench run has done, by the wall clock, for laying out the rest.
#include "bench/run.hpp"
#include "days/schedule.hpp"

namespace palinform {

/// A run of the whole work, or from one of its blocks on. Steps whose last screen was left are done; where the run
/// began at a block, those before it were done by its beginning. `zone_s`: seconds that the wall clock is ahead of
/// 1970's. Nothing of a run that makes one more casting or a batch for several jobs: its steps are others.
std::vector<DoneStep> done_steps(const BenchRun& run, const std::vector<Step>& steps, int64_t zone_s);

/// The wall clock's minute at that second.
WallMinute wall_minute(WallSecond s, int64_t zone_s);

}  // namespace palinform
