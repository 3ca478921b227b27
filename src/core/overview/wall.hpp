#pragma once
/// The whole shop at one look: how each open job stands, what needs hands in order of the clock, what cures, what is
/// short, what is promised. A plain value, read off the jobs' cards and the shop's plan.
#include "bench/run.hpp"
#include "days/whole_shop.hpp"
#include "job/parts.hpp"
#include "mix/shopping.hpp"
#include "overview/job_card.hpp"

namespace palinform {

/// An open job as the shop's plan and the wall read it.
struct OpenJobNow {
  std::string id, name, client;
  std::string mesh;              ///< its hash, or one of how it is drawn; empty: neither
  std::optional<Drawn> drawn;    ///< where it has no mesh
  int copies = 1, made = 0;      ///< castings of the part in hand that are good for something
  std::vector<PartCount> parts;  ///< of all, where there are several
  bool all_made() const {
    if (parts.empty()) return made >= copies;
    for (const PartCount& p : parts)
      if (p.made < p.wanted) return false;
    return true;
  }
  JobCard card;
  bool card_there = false;  ///< it has been worked out
  std::string refused;      ///< why it could not be
  std::optional<size_t>
      in_plan;  ///< among the plan's jobs; nothing where nothing of it is left to do, or no day is set
  std::optional<WallMinute> due;
  std::optional<BenchRun> run;
};

struct WallHands {
  size_t job = 0;
  std::string step;
  WallMinute from = 0, to = 0;
  bool in_hand = false;  ///< the bench is at it
  int more = 0;          ///< steps that follow it without a pause, to `to`
};
struct WallCure {
  size_t job = 0;
  std::string what;
  WallMinute ends = 0;
};
enum class PromiseState { kept, late, unplanned, done };
struct WallPromise {
  size_t job = 0;
  WallMinute due = 0;                ///< the end of that day
  std::optional<WallMinute> finish;  ///< as planned
  PromiseState state = PromiseState::unplanned;
  std::string why;  ///< of one that is late: who has the hands, what would hold it
};
struct ShopWall {
  std::vector<WallHands> hands;       ///< by the clock
  std::vector<WallCure> cures;        ///< running now, the first to end first
  std::vector<ShoppingLine> lacking;  ///< on the shelf
  std::vector<WallPromise> promises;  ///< by day
};

/// `now`: by the wall clock; `zone_s` as in done_steps(). At most `most_hands` pieces of work, those to come.
ShopWall wall_of(const std::vector<OpenJobNow>& jobs, const WholeShop& shop, const WholePlan& plan,
                 std::vector<ShoppingLine> lacking, WallMinute now, int64_t zone_s, size_t most_hands = 12);

}  // namespace palinform
