#pragma once
/// How closely a job is looked at: a window follows every edit, a question from the command line is asked once.
#include <vector>

#include "base/fields.hpp"
#include "flow/sweep.hpp"

namespace palinform {

struct Study {
  double cavity_cells = 300'000;     ///< as many as one sweep does in about 40 ms: tilting by hand stays live
  double cell_mm = 0;                ///< size of a cell; 0: by their number
  double network_cells = 8'000;      ///< of the filling network
  double rubber_cells = 400'000;     ///< of the block that the rubber's own air is looked for in
  double form_voxels = 80;           ///< across the part's largest extent, for what the forms would need
  double least_pocket_share = 0.01;  ///< of the smallest void that is seen: smaller pockets are left out
  double undercut_pitch_mm = 0, mould_pitch_mm = 0;  ///< 0: by the part's size
  bool in_hand = false;        ///< something is being dragged: the mould on a grid as coarse again
  int finalists = 6;           ///< stands the plan works out finely
  double tilt_step_deg = 7.5;  ///< with 36 azimuths 434 stands, both ways up together
  int azimuths = 36;
  bool either_way = true;     ///< the plan may turn the mould over
  bool cavity_alone = false;  ///< the mesh is a cavity by itself: no split, no mould round it; up is SplitSetup::pull
  std::vector<AirHole> open;  ///< discs open to the air beside the vents
  static void fields(auto& s, auto&& f) {
    f("cavity_cells", s.cavity_cells);
    f("cell_mm", s.cell_mm);
    f("network_cells", s.network_cells);
    f("rubber_cells", s.rubber_cells);
    f("form_voxels", s.form_voxels);
    f("least_pocket_share", s.least_pocket_share);
    f("undercut_pitch_mm", s.undercut_pitch_mm);
    f("mould_pitch_mm", s.mould_pitch_mm);
    f("in_hand", s.in_hand);
    f("finalists", s.finalists);
    f("tilt_step_deg", s.tilt_step_deg);
    f("azimuths", s.azimuths);
    f("either_way", s.either_way);
    f("cavity_alone", s.cavity_alone);
    f("open", s.open);
  }
};

/// A rough look, in about a quarter of the time: the same questions on coarser cells and fewer stands. Volumes of what
/// is built differ by a few per cent, pockets under some cubic millimetres are not seen.
inline Study rough_study() {
  Study s;
  s.cavity_cells = 60'000, s.network_cells = 3'000, s.rubber_cells = 60'000, s.form_voxels = 40;
  s.finalists = 2, s.tilt_step_deg = 15, s.azimuths = 12;
  return s;
}

}  // namespace palinform
