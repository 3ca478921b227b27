#pragma once
/// What is told about the predicted sizes.
#include "stages/sizing.hpp"

namespace palinform {

/// Sizes that miss or may miss their limits with the ways out, sizes that want different scales, what the workshop's
/// castings have taught. `job`: as the prediction was made from.
std::vector<Finding> size_findings(const SizeResult& sizes, const Job& job, const Shop& shop,
                                   const std::vector<LearnedRecord>& records);

}  // namespace palinform
