#pragma once
/// Check over a Job: every casting judged against the limits, and what the last one says.
#include "stages/results.hpp"

namespace palinform {

CheckResult check_result(const std::vector<MeasuredSize>& sizes, const CheckSetup& check);

}  // namespace palinform
