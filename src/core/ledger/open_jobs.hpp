#pragma once
/// All open jobs of a workshop, and the shop's plan over them (M28). A job's card is kept beside it: only what has
/// changed since is worked out anew.
#include "ledger/workshop.hpp"
#include "overview/wall.hpp"

namespace palinform {

struct OpenShop {
  std::vector<OpenJobNow> jobs;  ///< as they were last worked on
  WholeShop shop;
  WholePlan plan;
  ShopWall wall;
  WallMinute now = 0;
  bool planned = false;  ///< false: on the way, only the cards that are there
};

struct OpenShopAsked {
  WallMinute now = 0;
  int64_t zone_s = 0;
  std::string today;                   ///< ISO date
  std::shared_ptr<ResultStore> store;  ///< null: one of its own
  Study study;
  bool work_out = true;                         ///< false: only with the cards that are there
  std::optional<JobCard> in_hand;               ///< of a job that a window has before it: taken as it is
  std::function<void(const OpenShop&)> so_far;  ///< called as cards come, without a plan
};

/// Refused where the workshop cannot be read. A job that cannot be worked out is told in its own words.
Result<OpenShop> open_shop(Workshop& workshop, const Shop& shop, const OpenShopAsked& asked,
                           const Progress& progress = Progress::none());

/// Is something of the job left to do? Nothing where all its castings are made, or its mould stands and it ends with
/// that.
bool has_work_left(const Job& job, int moulds_standing);

}  // namespace palinform
