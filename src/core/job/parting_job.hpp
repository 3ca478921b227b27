#pragma once
/// Split over a Job: marks and treated bores as wishes on the master's faces, undercuts as findings with remedies.
#include "job/analyses.hpp"

namespace palinform {

/// The person's marks on the master; show and keep-clear faces of the original carried through the mirror; treated
/// bores left out of what locks. Refused where marks contradict.
Result<FaceWishes> split_wishes(const OriginalResult& original, const OriginalResult& master, const SplitMarks& marks,
                                const std::vector<FaceMark>& faces, const std::vector<BoreTreatment>& bores,
                                const std::vector<MasterStep>& steps);

std::vector<Finding> undercut_findings(const UndercutsResult& r, const SplitResult& split,
                                       const std::vector<Bore>& bores, const PullSearch* search,
                                       const Catalogue& catalogue);

/// The bore a tunnel or pocket belongs to; null where none does.
const Bore* bore_of(const Undercut& u, const std::vector<Bore>& bores);

}  // namespace palinform
