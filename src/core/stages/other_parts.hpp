#pragma once
/// The parts of a job that are not in hand, as far as the mould they share needs them: their masters and how each is
/// split.
#include "mould/halves.hpp"
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What of one part its split, pins and channels follow from, as a job that has nothing else.
Job part_alone(const JobPart& part, const Job& job);

/// Master and split of each, by its own pull or the one that is found; what stops there is told with a way to take that
/// part in hand. `alone`: of each part_alone(), `names` with them.
Result<OtherPartsResult> other_parts(const std::vector<Job>& alone, const std::vector<std::string>& names,
                                     const Shop& shop, const MeshSource& meshes, const Progress& progress);

/// Pins, gate and vents of each other part in its own frame, its channels out of the block that all stand in: `up` in
/// the frame of the part in hand, sizes of channels as the job has them. Empty where there are none.
std::vector<HalvesParts> parts_of_others(const OtherPartsResult& others, const MouldResult& mould, const Vec3& up,
                                         const FlowSetup& setup);

/// Resin that stays in gates and vents of all their cavities; nothing where one of them has no gate yet.
std::optional<double> channels_of_others(const OtherPartsResult& others, const MouldResult& mould, const Vec3& up,
                                         const FlowSetup& setup);

/// Pins, channels and pieces of all that stands in the box: `own` of the part in hand at each of its masters, what
/// parts_of_others() gives at each of theirs. `own` itself where one master stands alone; `others` may be null.
HalvesParts all_in_box(const HalvesParts& own, const OtherPartsResult* others, const MouldResult& mould, const Vec3& up,
                       const FlowSetup& setup);

/// Air that stays in the other parts as the mould stands, after what helps it fill; told where it would be seen.
/// `alone`: names with the job's places. O(cells) a part.
Result<std::vector<Finding>> other_air(const OtherPartsResult& others, const MouldResult& mould,
                                       const std::vector<std::string>& names, const Vec3& up, const FlowSetup& setup,
                                       double visible_mm, const Progress& progress);

}  // namespace palinform
