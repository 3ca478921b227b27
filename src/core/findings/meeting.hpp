#pragma once
/// What is told where two things meet that should not.
#include "mix/stock.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What is open of the meetings, with the ways out; what nobody has said of the bench; a cup test of the rubber's lots
/// that stayed wet.
std::vector<Finding> meeting_findings(const MeetingsResult& r, const Job& job, const Shop& shop,
                                      const std::vector<Lot>& lots, const std::vector<Trial>& trials);

}  // namespace palinform
