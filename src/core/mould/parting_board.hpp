#pragma once
/// The printable parting board: takes the clay bed's place. Its top is the parting surface with the keys on it and the
/// master's imprint sunk in; the rubber of side a is poured on it (M5).
#include <string>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "mould/keys.hpp"

namespace palinform {

struct BoardOptions {
  double clearance_mm = 0.25;  ///< between master and imprint, in every direction
  double floor_mm = 3;         ///< least thickness under the deepest place
  double panel_mm = 6;         ///< thickness of the box's sheet: its groove. 0: no groove
  double groove_deep_mm = 3, groove_slack_mm = 0.2, rim_mm = 4;  ///< rim: outside the groove
  double bed_u_mm = 220, bed_v_mm = 220;                         ///< of the printer; a larger board is split
  double print_mm3_per_min = 180;                                ///< for the time, a guess
};

struct BoardTile {
  TriMesh mesh;  ///< in the mould's frame: flat face down along the pull, as it is printed
  Vec3 extent_mm;
  double volume_mm3 = 0;
};

struct PartingBoard {
  std::vector<BoardTile> tiles;  ///< one, or as many as the printer's bed asks for; butted and glued on a flat
  double base_mm = 0;            ///< level of the flat underside, along the pull, in the frame
  double volume_mm3 = 0, print_h = 0;
  double clearance_mm = 0;  ///< as measured: least distance from the board's top to the master, see below
  double steepest_deg = 0;  ///< of the bare board beside the part
};

/// A field of heights, so nothing overhangs: it prints flat side down without support, and lets the master go upward.
/// Under the master the board lies `clearance_mm` below its lowest skin in every direction; where the master reaches
/// into the board's land sideways, the land gives way. `fine`: the mould at the pitch the board is to have
/// (fine_mould). Upright walls of the imprint lean by one pitch. `clearance_mm` of the result is measured from a sample
/// of the board's points.
Result<PartingBoard> parting_board(const TriMesh& mesh, const RayScene& rays, const Mould& fine, const KeyPlan& keys,
                                   const BoardOptions& options = {}, const Progress& progress = Progress::none());

/// The box around it as one printed frame, in the mould's frame: stands in the board's groove, `height_mm` over the
/// board's land, inside as the box.
TriMesh printed_frame(const Box3& inner_mm, double foot_mm, double top_mm, double wall_mm);

}  // namespace palinform
