#pragma once
/// What is told about the line, undercuts, thin rubber and witness.
#include "stages/parting.hpp"

namespace palinform {

/// About the line itself; what locks is undercuts.hpp's.
std::vector<Finding> split_findings(const Split& split);

std::vector<Finding> witness_findings(const std::vector<WitnessPlace>& places);

/// Thin rubber at risk, with a pin for a peg and softer advice for a fin. Bores across the pull are undercuts' affair,
/// openings that the job has said something of (`openings`, where it has) are told with those.
std::vector<Finding> thin_findings(const std::vector<ThinRubber>& thin, const std::vector<Bore>& bores,
                                   const OpeningsResult* openings, const std::vector<OpeningChoice>& choices,
                                   const Vec3& pull, double shore_a, const ThinRules& rules);

/// Passages that are openings of the part, and all that the job has said something of, are told with those.
std::vector<Finding> undercut_findings(const UndercutsResult& r, const SplitResult& split, const PiecesResult& pieces,
                                       const std::vector<Bore>& bores, const PullSearch* search,
                                       const Openings& openings, const std::vector<OpeningChoice>& choices,
                                       const Shop& shop, const TriMesh& mesh);

}  // namespace palinform
