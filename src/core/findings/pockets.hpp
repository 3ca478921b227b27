#pragma once
/// What is told about pockets that hard slides form.
#include "stages/results.hpp"

namespace palinform {

/// Each slide with what it forms and leaves; a way that frees more where one is found.
std::vector<Finding> pocket_findings(const PinsResult& pins, const OriginalResult& master,
                                     const std::vector<PocketSlide>& pockets, const Shown& shown);

}  // namespace palinform
