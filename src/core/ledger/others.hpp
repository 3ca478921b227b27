#pragma once
/// Other open jobs of the shop whose next casting could come out of the same batch.
#include "ledger/workshop.hpp"
#include "mix/shared_batch.hpp"
#include "nodes/job_needs.hpp"

namespace palinform {

/// Do both cast in the same material, with the same figures, coloured and filled alike?
bool cast_alike(const MixSetup& a, const MixSetup& b);

/// One pull of every other job that casts in the same material with the same figures, has castings to go and a mould
/// that stands. `left_out` gets the names of those that could not be reckoned.
Result<std::vector<CavityShare>> cavities_of_others(Workshop& workshop, const Shop& shop, const Job& job,
                                                    std::shared_ptr<ResultStore> store,
                                                    std::vector<std::string>& left_out,
                                                    const Progress& progress = Progress::none());

}  // namespace palinform
