#pragma once
/// For tests of what follows from results, not of how finely they were worked out: each plan takes a quarter of the time.
#include "stages/study.hpp"

inline palinform::Study rough_study() {
  palinform::Study s;
  s.cavity_cells = 60'000, s.network_cells = 3'000, s.rubber_cells = 60'000, s.form_voxels = 40;
  s.finalists = 2, s.tilt_step_deg = 15, s.azimuths = 12;
  return s;
}
