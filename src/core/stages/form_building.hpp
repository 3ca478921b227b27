#pragma once
/// What the forms of a mould are counted on, each a result of its own: a brushed half, a strip's way up.
#include "stages/results.hpp"

namespace palinform {

/// One half as coats and what then fills the box over them, over the keys as they stand in the bed. Reads coats and
/// keys of the job, whose half `half` is brushed.
/// `in_hand`: something is dragged, and a look at a third of the fineness will do; on the part's distances `near`,
/// where they are known.
Result<BrushedResult> brushed_result(const TriMesh& mesh, bool in_hand, const PartDistances* near, const Mould& block,
                                     const Job& job, Brushed half, const MouldRules& rules, const Progress& progress);
/// As coarse as that look, whatever the wall, as far as skin of so much and its keys reach.
Result<PartDistances> distances_in_hand(const TriMesh& mesh, const Transform& frame, double skin_mm,
                                        const JacketRules& rules, const Progress& progress);

/// Which way up the parts of a strip hang, and where struts meet them. `flat_side`: outward, of a hidden flat face that
/// the nubs stand on; none: it is searched.
Result<HangingResult> hanging_result(const OriginalResult& master, const Vec3& pull,
                                     const std::optional<Vec3>& flat_side, const OtherPartsResult* others,
                                     const StripRules& rules, const Progress& progress);

}  // namespace palinform
