#pragma once
/// Days over a Job: its steps laid against the bench hours, and what more moulds would bring.
#include "stages/proceeding.hpp"

namespace palinform {

/// Reads copies and days of the job. `others`: what other jobs take of the shop; `begun`: what of this one is done.
Result<DaysResult> days_result(const MixResult& mix, const ProcedureResult& work, const Job& job, const Shop& shop,
                               const ShopTime& others, const Begun& begun, const Progress& progress);

}  // namespace palinform
