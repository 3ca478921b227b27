#pragma once
/// The screens of a bench run, made from the planned days and the mix.
#include <vector>

#include "bench/run.hpp"
#include "nodes/nodes.hpp"

namespace palinform {

/// One or more screens for each step, in the order they are planned to begin. Weighing is three screens a batch.
std::vector<BenchScreen> bench_screens(const Job& job, const DaysResult& days, const MixResult& mix);

}  // namespace palinform
