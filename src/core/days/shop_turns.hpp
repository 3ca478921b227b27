#pragma once
// For this room: jobs laid out in one shop by turns, and how good what comes of it is.
#include <optional>
#include <string>
#include <vector>

#include "days/laying.hpp"
#include "days/whole_shop.hpp"

namespace palinform {

/// One try: every job's schedule, and what the plan is judged by, most important first.
struct Tried {
  std::vector<std::optional<Schedule>> schedules;
  std::vector<std::string> refused;
  double late = 0;
  WallMinute finish = 0;
  int evenings = 0;
  double each = 0;  // all ends together
  bool better_than(const Tried& o) const;
};

/// What is promised for a day is kept or broken by whole days.
int64_t days_late(double late_min);

/// Fills in how good the schedules are.
void judge(const WholeShop& shop, Tried& tried);

/// The jobs made ready once for all tries.
struct ReadyShop {
  std::vector<std::vector<BenchHours>> bench;
  std::vector<std::optional<ReadyJob>> jobs;  // nothing where it is refused as it stands
  std::vector<std::string> refused;
  std::vector<std::vector<bool>> in_machine;  // of each step that begins a run: is one held through a wait?
  std::vector<std::vector<double>> rest;      // of each step that begins a run: minutes to its job's end at least
};
/// Keeps pointers into the shop, which must outlive it.
ReadyShop ready_shop(const WholeShop& shop);

/// Whose turn it is: the job with the least rank lays out its next run, its rank lowered by what is left to it.
struct Turns {
  std::vector<double> rank;   // of each job
  double by_rest = 0;         // per minute of the longest path that is left; 0: one whole job after the other
  bool filled = false;        // days are filled from their begin on, by runs that leave no rest that nothing fits in
  double machines_first = 0;  // so many minutes sooner for what a machine is held by through its wait
  auto operator<=>(const Turns&) const = default;
};

/// Ranks about that: jobs that are laid out by turns before days are filled with the others.
constexpr double before_all = -1e9;

/// Every job in the shop, each run as soon as may be when its turn comes.
Tried lay_in_turns(const WholeShop& shop, const ReadyShop& ready, const Turns& turns, const Progress& progress);

}  // namespace palinform
