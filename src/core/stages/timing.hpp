#pragma once
/// Days over a Job: its steps laid against the bench hours, and what more moulds would bring.
#include "stages/results.hpp"

namespace palinform {

/// Reads copies, days, aid, rubber, resin, room and the master's surface of the job.
Result<DaysResult> days_result(const MixResult& mix, const Job& job, const Shop& shop, const Progress& progress);

}  // namespace palinform
