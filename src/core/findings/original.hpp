#pragma once
/// What is asked and told about the original.
#include "stages/results.hpp"

namespace palinform {

/// Questions and stops about the original itself: soundness, duties, guessed limits, doubtful readings, finish, mirror.
std::vector<Finding> original_findings(const Job& job, const Shop& shop, const Soundness* soundness);

}  // namespace palinform
