#pragma once
/// A day of the whole shop on paper: what hands do when, what cures, what is promised.
#include "base/drawing.hpp"
#include "overview/wall.hpp"

namespace palinform {

/// Letters that stand for the jobs on the wall and on paper, in its order: A … Z, AA ….
std::string job_letter(size_t job);

/// A4 pages for the day that `day` lies in, with boxes to tick.
std::vector<Drawing> day_list(const std::vector<OpenJobNow>& jobs, const WholeShop& shop, const WholePlan& plan,
                              const ShopWall& wall, WallMinute day);

}  // namespace palinform
