#pragma once
/// What the days ask of a person: a promise that is not kept, and what would keep it.
#include "stages/results.hpp"

namespace palinform {

std::vector<Finding> days_findings(const DaysResult& r);

}  // namespace palinform
