#pragma once
/// A run's tape: what was planned beside what was done, a line a screen that was left.
#include "bench/run.hpp"

namespace palinform {

struct TapeLine {
  int screen = 0;
  std::string title;                           ///< of the step
  std::string what;                            ///< "part A", "cup", "pour", …
  WallSecond started = 0, done = 0;            ///< done 0: in hand
  std::optional<double> planned_g, weighed_g;  ///< of what went in here, not of the scale
  std::optional<double> off_pct;               ///< weighed against planned
  bool out_of_band = false;
  std::optional<double> planned_min, took_min;  ///< pot life: from B touching A till it was in the mould
  std::optional<double> room_c, gauge_low_kpa, gauge_high_kpa;
  std::string note;
  bool went_wrong = false;
  size_t photos = 0;
};
/// In the order in which they were done.
std::vector<TapeLine> tape_of(const BenchRun& run);

/// Clocks of several runs that have not rung yet, the next first: job, label, when.
struct NextRing {
  std::string job_id, job_name, label;
  WallSecond at = 0;
};
std::vector<NextRing> next_rings(const std::vector<std::pair<std::string, BenchRun>>& runs_by_name);

}  // namespace palinform
