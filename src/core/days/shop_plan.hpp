#pragma once
/// Jobs of moulds and castings over the whole shop: people, pots, moulds and a calendar with holidays (M28). The best
/// plan is searched for and told as proven where it is, else with how far it may be from the best.
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/progress.hpp"
#include "base/result.hpp"
#include "days/schedule.hpp"

namespace palinform {

struct ShopJob {
  std::string name;
  std::optional<WallMinute> due;
  int castings = 1, moulds = 1;
  double mould_hands_min = 0, mould_cure_min = 0;  ///< of each pour of a mould
  int pours = 2;                                   ///< 0: its moulds are there
  double cast_hands_min = 0, cast_cure_min = 0;
  double pot_min = 0;  ///< that a casting stays in the pot, from the end of its hands; 0: none
  double mould_chamber_min = 0,
         cast_chamber_min = 0;  ///< that a cup stands in the chamber, from the begin of the hands
};

struct ShopRun {
  WallMinute start = 0;
  std::vector<BenchHours> bench;
  std::set<int64_t> holidays;  ///< day_number()
  int people = 1, pots = 1, chambers = 1;
  std::vector<ShopJob> jobs;
  double seconds = 1.2;  ///< that the search may take, all steps together
};

struct ShopTask {
  std::string name;  ///< "mould 1, pour 2", "casting 3"; before it the job's, where there are several
  size_t job = 0;
  bool casting = false;
  std::string mould;                             ///< "mould 2"
  std::string resource;                          ///< "person", "person, chamber, pot"
  WallMinute start = 0, hands_end = 0, end = 0;  ///< end includes the cure
  double hands_min = 0;
};

struct ShopPlan {
  std::vector<ShopTask> tasks;  ///< by start
  WallMinute finish = 0;
  WallMinute no_sooner = 0;         ///< a bound: nothing can be done before that
  std::vector<WallMinute> done_at;  ///< of each job
  double late_h = 0;                ///< of the job that is latest against its day; 0: none is
  bool proven = false;              ///< no plan is better: less late, or sooner done
  double gap_h = 0;                 ///< how much sooner a plan could be at most; 0 where it is proven
};

/// Refused by name: a calendar without hours, work longer than the longest bench day, figures out of reason, nothing
/// done within two years. At most 2,000 tasks. Plans of up to 60 tasks are searched (Gecode: branch and bound from the
/// best of a few serial plans); longer ones are the best serial plan with its bound.
Result<ShopPlan> plan_shop(const ShopRun& run, const Progress& progress = Progress::none());

}  // namespace palinform
