#pragma once
/// What is told about the openings of the part, and what each could be dealt with by.
#include "stages/results.hpp"

namespace palinform {

struct OpeningGround {
  const OriginalResult& master;
  const OpeningsResult& openings;
  const UndercutsResult& undercuts;
  const std::vector<OpeningChoice>& choices;
  const std::vector<Bore>& bores;             ///< round ones are told as such while nothing is said of them
  const std::vector<BoreTreatment>& treated;  ///< of those
  Vec3 pull;
  const std::vector<PinPlan>& slides;  ///< as planned, with the pins of bores
};

std::vector<Finding> opening_findings(const OpeningGround& g, const Shop& shop);

}  // namespace palinform
