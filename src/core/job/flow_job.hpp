#pragma once
/// Flow over a Job: each node's sum and its findings, apart from what the Planner needs to know of it.
#include "job/analyses.hpp"

namespace palinform {

/// What the air's way out follows from.
struct FlowInput {
  std::shared_ptr<const OriginalResult> master;
  std::shared_ptr<const SplitResult> split;
  std::shared_ptr<const FaceWishes> wishes;
  Vec3 base, level;  ///< up when it stands level: as the job has it; not turned over
  FillWay way = FillWay::sprue;
  std::optional<Vec3> flat_normal;
  FlowSetup setup;
  bool degassed = true;
  double visible_mm = 1, visible_show_mm = 0.5;
};

/// Pockets, hollows and their findings, for one stand.
Result<AnyValue> flow_result(const FlowInput& in, const Cavity& cavity, Progress& progress);

/// Gate and vents as the job has them, standing with `base` up before the tilt; the wedge. Keys are kept clear of.
ChannelsResult channels_result(const OriginalResult& master, const Mould& mould, const Vec3& base,
                               const FlowSetup& setup, const std::vector<Key>& keys);

/// What a squeeze asks for: how much runs over, what weight closes it in a minute.
Finding squeeze_note(const Mould& mould, const Resin& resin, const Rules& rules);

FlowPlanOptions plan_options(const FlowSetup& setup, const Vec3& level, const FaceWishes& wishes, double visible_mm);

/// `best` with whether the job stands so, and the finding that offers it where it would be better.
FlowPlanResult plan_advice(const FlowPlanResult& best, const FlowResult& flow, const FlowSetup& setup);

/// Filling against the pot life, heat, thin sections. Reads `flow`, `room_c`, `degas`.
Result<AnyValue> filling_result(const Job& job, const Resin& resin, const Rules& rules, const OriginalResult& master,
                                const FillNetwork& network, const ChannelsResult& channels, Progress& progress);

/// Air caught under the master while the rubber of the chosen form is poured.
Result<AnyValue> rubber_air(const OriginalResult& master, const Mould& mould, const FormsResult& forms,
                            double visible_mm, bool degassed, Progress& progress);

}  // namespace palinform
