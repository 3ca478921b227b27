#pragma once
/// What is told about air, gate and vents, filling, and the air under the master.
#include "stages/flowing.hpp"

namespace palinform {

/// Pockets and hollows with the way out of each, and what pot, vacuum or a missing gate ask for.
std::vector<Finding> flow_findings(const FlowResult& flow, const FlowGround& ground, const FlowRules& rules);
/// What gate and vents may run into, and where they might go instead.
struct ChannelGround {
  const Mould& mould;
  const std::vector<Key>& keys;
  const std::vector<PinPlan>& pins;
  const OriginalResult& master;
  const FlowSetup& setup;  ///< as it stands, with gate and vents
};
/// A channel with no way, one that runs into a key, a vent too thin for its length.
std::vector<Finding> channel_findings(const ChannelsResult& channels, const ChannelGround& ground,
                                      const FlowRules& rules);
/// How a squeeze is to be closed, where it will not fill, which half should hold the resin.
std::vector<Finding> closing_findings(const ClosingResult& closing, const SqueezeSetup& asked, const FlowRules& rules);
/// What the other cavities of a squeeze keep of air or lack.
std::vector<Finding> other_closing_findings(const OtherClosingsResult& others, const FlowRules& rules);
/// The plan where it would be better than how the job stands.
std::vector<Finding> plan_findings(const FlowPlanResult& best, const FlowResult& flow, const FlowSetup& setup);
/// Heat, thin sections, gelling before it is full, slower than the pot life. Reads `flow`, `room_c`, `degas`.
std::vector<Finding> filling_findings(const FillingResult& filling, const Job& job, const Resin& resin,
                                      const Rules& rules);
std::vector<Finding> rubber_air_findings(const RubberAirResult& air, bool degassed);

}  // namespace palinform
