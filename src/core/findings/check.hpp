#pragma once
/// What is told about the last casting.
#include "rules/equipment.hpp"
#include "stages/results.hpp"

namespace palinform {

std::vector<Finding> check_findings(const CheckResult& check, const std::vector<MeasuredSize>& sizes);

/// That the newest mould wears: a size drifts out of its limits, or the same wear is seen on casting after casting.
std::vector<Finding> wear_findings(const std::vector<MeasuredSize>& sizes, const std::vector<Casting>& castings);

/// Gauges whose check is overdue on that ISO date.
std::vector<Finding> gauge_findings(const std::vector<OwnGauge>& gauges, const std::string& today);

}  // namespace palinform
