#pragma once
/// What a job's procedure follows from, gathered from its results.
#include "stages/results.hpp"

namespace palinform {

/// The results that say what the mould has. Pointers may be null where the job has no such thing, or none of it yet.
struct ProceedingGround {
  const MixResult& mix;
  const MouldResult& mould;
  const FormsResult* forms = nullptr;
  const WayFacts* facts = nullptr;
  std::optional<Way> way;
  const PinsResult* pins = nullptr;
  const KeysResult* keys = nullptr;
  const BoardResult* board = nullptr;
  const ChannelsResult* channels = nullptr;
  const PrintResult* print = nullptr;
  const ClosingResult* closing = nullptr;
  const OtherPartsResult* others = nullptr;       ///< parts that are not in hand, in the same box
  const OpeningsResult* openings = nullptr;       ///< where the job says something of them
  const InsertsResult* inserts = nullptr;         ///< where it casts something in
  const AssemblyResult* assembly = nullptr;       ///< of more than two halves
  const OtherClosingsResult* closings = nullptr;  ///< of the other parts of a squeeze
};

/// Reads original, size, split, mould, flow, mix, days, copies of the job.
ProcedureFacts procedure_facts(const ProceedingGround& ground, const Job& job, const Shop& shop);

/// Hands of making one mould of that form, as its procedure has them; the mix by a plain reckoning. Reads the same.
double form_hands_min(const FormPlan& plan, Way bed, const WayFacts& part, const Job& job, const Shop& shop);

/// The list of steps with the shop's habits and the job's own ways; what cannot be done so is told in a finding, and
/// the list is then the procedure's own.
ProcedureResult procedure_result(ProcedureFacts facts, const OwnWays& own, const Shop& shop);

/// Hours that a print of so much takes, by volume.
double print_hours(double mm3, const WayRates& rates);

}  // namespace palinform
