#pragma once
/// Flow over a Job: each node's sum, apart from what the Planner needs to know of it.
#include "graph/node.hpp"
#include "mould/halves.hpp"
#include "rules/rules.hpp"
#include "stages/results.hpp"
#include "stages/study.hpp"

namespace palinform {

/// What the air's way out follows from.
struct FlowGround {
  Implied<OriginalResult> master;  // all three by the cavity or the mould beside which this stands; of a cavity by
                                   // itself only this
  Implied<SplitResult> split;
  Implied<FaceWishes> wishes;
  Implied<InsertsResult> inserts;  // none where nothing is cast in; by the cavity too
  Vec3 base, level;                ///< up when it stands level: as the job has it; not turned over
  FillWay way = FillWay::sprue;
  std::optional<Vec3> flat_normal;
  FlowSetup setup;
  bool degassed = true;
  double visible_mm = 1, visible_show_mm = 0.5, least_pocket_share = 0.01;
  std::vector<AirHole> open;  ///< discs, beside the vents
  auto fields(auto&& f) const {
    return f(master, split, wishes, inserts, base, level, way, flat_normal, setup, degassed, visible_mm,
             visible_show_mm, least_pocket_share, open);
  }
};
static_assert(lists_every_member<FlowGround>);

/// What the resin fills: the master, less what is cast in.
inline const OriginalResult& resin_body(const OriginalResult& master, const InsertsResult* inserts) {
  return inserts && inserts->resin ? *inserts->resin : master;
}

/// How the resin comes in, by the form's name.
FillWay fill_way(const std::string& form);
/// The setup without what only the plan of stand, gate and vents reads; and only that.
FlowSetup without_plan(FlowSetup setup);
FlowSetup only_plan(const FlowSetup& setup);

/// Pockets and hollows for one stand.
Result<FlowResult> flow_result(const FlowGround& in, const Cavity& cavity, const Progress& progress);

/// The same of a squeeze mould: what its closing shuts in.
FlowResult squeezed_flow(const FlowGround& in, const Cavity& cavity, const ClosingResult& closing);

/// Gate and vents as the job has them, standing with `base` up before the tilt; the wedge.
ChannelsResult channels_result(const OriginalResult& master, const Mould& mould, const Vec3& base,
                               const FlowSetup& setup);

/// What the job's own channels are made by.
ChannelRules channel_rules(const FlowSetup& setup);
/// How high along `up` a gate, or a vent, goes out of a box that reaches to `top_mm`.
double channel_end_mm(const FlowSetup& setup, double top_mm, bool gate);
/// What is left of a pocket after what helps the mould fill.
double left_after_mm3(double pocket_mm3, const FlowSetup& setup);

/// Gate and vents of one part straight up and out, as far as `top_mm` along `up`, the gate by the head farther.
std::vector<Channel> channels_to(const OriginalResult& master, const Vec3& up, double top_mm, const FlowSetup& setup);

/// The same for a cavity by itself: a sprue straight up from the gate, `head_mm` over the part; vents well past it.
ChannelsResult channels_of_cavity(const OriginalResult& master, const Vec3& base, const FlowSetup& setup);

FlowPlanOptions plan_options(const FlowSetup& asked, const FlowGround& ground, const Cavity& cavity,
                             const Study& study);

/// The plan as an edit of the job.
edits::StandSo stand_so(const FlowPlan& plan);

/// Does the job stand as planned? The same places, in any order.
bool stands_so(const FlowSetup& setup, const FlowPlan& plan);

/// Filling against the pot life, heat, thin sections. Without a gate only the sections. Reads `flow`, `room_c`,
/// `degas`.
Result<FillingResult> filling_result(const Job& job, const Resin& resin, const Rules& rules,
                                     const OriginalResult& master, const FillNetwork& network,
                                     const ChannelsResult& channels, const Progress& progress);

/// Air caught under the master while the rubber of the form is poured; looked for in about that many cells.
/// `flat_normal`: of an open face; `brushed`: the half that is not poured, "" for none.
Result<RubberAirResult> rubber_air(const OriginalResult& master, const Mould& mould, Form form,
                                   const std::optional<Vec3>& flat_normal, std::string_view brushed, double visible_mm,
                                   double cells, const Progress& progress);

/// The further pieces that are made: all of them, or those the job gives.
std::vector<ExtraPiece> wanted_pieces(const PiecesResult* pieces, bool all);
/// The mould's solids at the fineness of a picture, which is this.
double solids_voxel_mm(const Mould& mould);
Result<SolidsResult> mould_solids(const TriMesh& mesh, const Mould& mould, const KeyPlan& keys,
                                  const HalvesParts& parts, const Progress& progress);

}  // namespace palinform
