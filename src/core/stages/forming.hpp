#pragma once
/// The mould over a Job: the block, the forms compared, what is built at the fineness of a picture.
#include "stages/building.hpp"
#include "stages/results.hpp"
#include "stages/wall.hpp"

namespace palinform {

/// The two-part block round the part, its halves as shapes, and what is to be said of its wall.
/// `masters`: in one box, each with its own cavity; more than one, and `others` beside them, only of a mould in halves.
Result<MouldResult> mould_result(const OriginalResult& master, const Split& split, const MouldOptions& how,
                                 const WallChoice& wall, int masters, const std::vector<OtherPart>& others,
                                 const Progress& progress);

/// What the books keep of a block, to learn walls from; no wall where the form has none.
BlockBuilt block_of(const Job& job, const Shop& shop, const MouldResult& mould, const OriginalResult& master);

/// What the forms are judged by, beside the job's materials and setup.
struct FormGround {
  const OriginalResult& master;
  const Split& split;
  const MouldResult& mould;
  const std::vector<Bore>& bores;
  const UndercutsResult& undercuts;
  const WayFacts& part;
  const std::vector<WayPlan>& beds;  ///< ways_to_split()
};
/// Whole ways, and which of the beds, or what else, the job goes. `asked`: the job's own, by name.
WaysResult judged_ways(const FormGround& ground, const FormsResult& forms, std::string_view asked,
                       const FormRates& rates);

/// The flat face that a mould of that form is open at, or hangs from.
std::optional<Vec3> flat_side(Form form, const WayFacts& part);

/// What the forms are counted on, as its nodes built it.
struct FormsBuilt {
  FormBuilds amounts;
  std::shared_ptr<const HangingResult> hanging;  ///< of a strip
  std::shared_ptr<const BrushedResult> brushed;  ///< where a half is
};
/// All forms of mould for the part, the box of the job's own, and the findings. Reads copies, rubber, resin, degas,
/// build, box, form, head and pressure of the job.
Result<FormsResult> forms_result(const FormGround& ground, const FormsBuilt& built, const Job& job, const Shop& shop,
                                 const Progress& progress);

/// Rubber in one piece, skin and jacket, strip, or cup and core, in the part's frame.
Result<BoardResult> built_whole(const Shop& shop, const OriginalResult& master, const Split& split, const Mould& mould,
                                const FormsResult& forms, const std::vector<Bore>& bores, const Progress& progress);
/// The parting board of a mould in halves, its tiles together, in the part's frame.
Result<BoardResult> built_board(const TriMesh& mesh, const RayScene& rays, const Split& split, const KeyPlan& keys,
                                const BoardOptions& board, const MouldOptions& how, const Progress& progress);

}  // namespace palinform
