#pragma once
/// The parts of a job that are not in hand, as far as the mould they share needs them: their masters and how each is
/// split.
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What of one part its split follows from, as a job that has nothing else.
Job part_alone(const JobPart& part);

/// Master and split of each, by its own pull or the one that is found; what stops there is told with a way to take that
/// part in hand. `alone`: of each part_alone(), `names` with them.
Result<OtherPartsResult> other_parts(const std::vector<Job>& alone, const std::vector<std::string>& names,
                                     const Shop& shop, const MeshSource& meshes, const Progress& progress);

}  // namespace palinform
