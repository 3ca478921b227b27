#pragma once
/// The procedures of all open jobs laid into one shop (M28): its people, its chamber, pot and oven, its holidays,
/// promised dates. Each job keeps its own bench hours and its own moulds.
#include <optional>
#include <string>
#include <vector>

#include "days/schedule.hpp"

namespace palinform {

struct OpenJob {
  std::string id, name;
  std::vector<Step> steps;  ///< in an order in which they can be done
  BenchHours bench;
  WallMinute start = 0;           ///< not before that
  std::optional<WallMinute> due;  ///< the end of the promised day
  Begun begun;                    ///< what of it is done
};

struct WholeShop {
  std::vector<OpenJob> jobs;
  std::set<int64_t> holidays;
  int people = 1;
  Places places;
  int tries = 1500;      ///< orders of the jobs that are tried at most …
  double seconds = 1.5;  ///< … and for how long
};

struct PlacedJob {
  Schedule schedule;              ///< of its steps; empty where it could not be laid out
  std::string refused;            ///< why not, in words
  WallMinute no_sooner = 0;       ///< it cannot be done before that, were the shop its own
  WallMinute alone = 0;           ///< when it would be done, were the shop its own
  double late_h = 0;              ///< over its promised day
  std::vector<size_t> waits_for;  ///< jobs that have what it would need sooner, those that hold it up longest first
};

struct WholePlan {
  std::vector<PlacedJob> jobs;  ///< in the order of the shop's
  WallMinute finish = 0;
  WallMinute no_sooner = 0;  ///< nothing does it all before that
  double late_h = 0;         ///< of the job that is latest against its promise
  bool proven = false;       ///< nothing is better: less late, or sooner done
  int evenings = 0;          ///< days on which somebody is wanted after evening_from_min
  double gap_h = 0;          ///< how much sooner all could be done at most; 0 where it is proven
  int tried = 0;             ///< orders
};

/// An evening is broken by work after six (minutes of the day).
constexpr int evening_from_min = 18 * 60;

/// Every step of every job, hands inside bench hours, one thing a person at a time. Jobs are laid out one round the
/// other, in the order found best: least late, then all done soonest, then the fewest broken evenings, then each done
/// soonest. The same jobs give the same plan as long as `seconds` suffice. A job that cannot be laid out is told in its
/// own words; the others go on. Refused: over 200 jobs or 20,000 steps.
Result<WholePlan> plan_whole_shop(const WholeShop& shop, const Progress& progress = Progress::none());

/// What all the other jobs take: for laying out job `but` round them.
ShopTime taken_by_others(const WholeShop& shop, const WholePlan& plan, size_t but);

}  // namespace palinform
