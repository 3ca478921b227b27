#pragma once
/// What is told about the last casting.
#include "stages/results.hpp"

namespace palinform {

std::vector<Finding> check_findings(const CheckResult& check, const std::vector<MeasuredSize>& sizes);

}  // namespace palinform
