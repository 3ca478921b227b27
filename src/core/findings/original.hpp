#pragma once
/// What is asked and told about the original.
#include "stages/results.hpp"

namespace palinform {

/// Questions and stops about the original itself: soundness, duties, guessed limits, doubtful readings, finish, mirror.
/// `drawn`: the solid, where the part was drawn and not scanned.
std::vector<Finding> original_findings(const Job& job, const Shop& shop, const Soundness* soundness,
                                       const OriginalResult* drawn = nullptr);

}  // namespace palinform
