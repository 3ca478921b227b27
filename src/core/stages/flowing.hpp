#pragma once
/// Flow over a Job: each node's sum and its findings, apart from what the Planner needs to know of it.
#include "graph/node.hpp"
#include "mould/halves.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What the air's way out follows from.
struct FlowGround {
  Implied<OriginalResult> master;  // all three by the cavity or the mould beside which this stands
  Implied<SplitResult> split;
  Implied<FaceWishes> wishes;
  Vec3 base, level;  ///< up when it stands level: as the job has it; not turned over
  FillWay way = FillWay::sprue;
  std::optional<Vec3> flat_normal;
  FlowSetup setup;
  bool degassed = true;
  double visible_mm = 1, visible_show_mm = 0.5;
  auto fields(auto&& f) const {
    return f(master, split, wishes, base, level, way, flat_normal, setup, degassed, visible_mm, visible_show_mm);
  }
};
static_assert(lists_every_member<FlowGround>);

/// How the resin comes in, by the form's name.
FillWay fill_way(const std::string& form);
/// The setup without what only the plan of stand, gate and vents reads; and only that.
FlowSetup without_plan(FlowSetup setup);
FlowSetup only_plan(const FlowSetup& setup);

/// Pockets, hollows and their findings, for one stand.
Result<FlowResult> flow_result(const FlowGround& in, const Cavity& cavity, const Progress& progress);

/// Gate and vents as the job has them, standing with `base` up before the tilt; the wedge. Keys are kept clear of.
ChannelsResult channels_result(const OriginalResult& master, const Mould& mould, const Vec3& base,
                               const FlowSetup& setup, const std::vector<Key>& keys);

/// What a squeeze asks for: how much runs over, what weight closes it in a minute.
Finding squeeze_note(const Mould& mould, const Resin& resin, const Rules& rules);

FlowPlanOptions plan_options(const FlowSetup& setup, const Vec3& level, const FaceWishes& wishes, double visible_mm);

/// The plan as an edit of the job.
edits::StandSo stand_so(const FlowPlan& plan);

/// `best` with whether the job stands so, and the finding that offers it where it would be better.
FlowPlanResult plan_advice(const FlowPlanResult& best, const FlowResult& flow, const FlowSetup& setup);

/// Filling against the pot life, heat, thin sections. Reads `flow`, `room_c`, `degas`.
Result<FillingResult> filling_result(const Job& job, const Resin& resin, const Rules& rules,
                                     const OriginalResult& master, const FillNetwork& network,
                                     const ChannelsResult& channels, const Progress& progress);

/// Air caught under the master while the rubber of the chosen form is poured.
Result<RubberAirResult> rubber_air(const OriginalResult& master, const Mould& mould, const FormsResult& forms,
                                   double visible_mm, bool degassed, const Progress& progress);

/// The further pieces that are made: all of them, or those the job gives.
std::vector<ExtraPiece> wanted_pieces(const PiecesResult* pieces, bool all);
/// The mould's solids at the fineness of a picture.
Result<SolidsResult> mould_solids(const OriginalResult& master, const Mould& mould, const KeyPlan& keys,
                                  const HalvesParts& parts, const Progress& progress);

}  // namespace palinform
