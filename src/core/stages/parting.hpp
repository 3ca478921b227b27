#pragma once
/// Split over a Job: marks and treated bores as wishes on the master's faces, what decides ways and forms.
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// The person's marks on the master; show and keep-clear faces of the original carried through the mirror; treated
/// bores left out of what locks. Refused where marks contradict.
Result<FaceWishes> split_wishes(const OriginalResult& original, const OriginalResult& master, const SplitMarks& marks,
                                const std::vector<FaceMark>& faces, const std::vector<BoreTreatment>& bores,
                                const std::vector<MasterStep>& steps);

/// Per undercut the given piece whose faces are most of its skin; −1 where none is.
std::vector<int> piece_of_undercuts(const std::vector<Undercut>& undercuts, const PiecesResult& pieces,
                                    const TriMesh& mesh, const SplitRules& rules);

/// The bore a treatment was put on, by the place on its wall; null where it is gone.
const Bore* treated_bore(const std::vector<Bore>& bores, const BoreTreatment& b);

/// Its pin, sized by the size it forms where there is one.
/// On an undercut, the middle of the largest face that the piece forms; none where it forms none of it.
std::optional<Vec3> face_of_piece(const Undercut& u, const ExtraPiece& piece, const TriMesh& mesh);

PinPlan pin_for(const RayScene& rays, const Bore& bore, const BoreTreatment& b,
                const std::vector<MeasuredSize>& pin_sizes, double wall_mm, const PinRules& rules,
                const std::string& name);

/// The pins that the job gives to bores, each with its bore, sized by the sizes that a pin forms.
PinsResult pins_of(const RayScene& rays, const std::vector<Bore>& bores, const std::vector<BoreTreatment>& treatments,
                   const std::vector<MeasuredSize>& sizes, double wall_mm, const PinRules& rules);

/// `f` with what the analyses say about the part; materials and wall come in it. Reads `marks` and `master_steps`.
WayFacts way_facts(WayFacts f, const OriginalResult& original, const OriginalResult& master, const SplitResult& split,
                   const WitnessResult& witness, const PiecesResult& pieces, const UndercutsResult& undercuts,
                   const std::vector<Bore>& bores, const Job& job, const SplitRules& rules, const Progress& progress);

/// The split with its sides as paint, and what is to be said of it.
SplitResult painted(Split split);

/// The bore a tunnel or pocket belongs to; null where none does.
const Bore* bore_of(const Undercut& u, const std::vector<Bore>& bores);

}  // namespace palinform
