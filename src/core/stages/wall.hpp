#pragma once
/// What follows from the job's rubber and its part alone: hardness, wall, and how the mould is laid out with them.
#include "job/job.hpp"
#include "mould/box.hpp"
#include "rules/rules.hpp"

namespace palinform {

/// Shore A of the job's rubber; `otherwise` where none is chosen.
double shore_of(const Job& job, const Shop& shop, double otherwise = 30);

struct WallChoice {
  double wall_mm = 0, rule_mm = 0;  ///< at the sides
  double floor_mm = 0, top_mm = 0;  ///< under the part and over it
  bool by_rule = true;
  bool thin = false;    ///< less than the rule, of rubber that stands in a box: other forms have no wall to be thin
  int learnt_from = 0;  ///< of the shop's own moulds that lived at less than the rule of thumb; 0: the rule alone
  auto fields(auto&& f) const { return f(wall_mm, rule_mm, floor_mm, top_mm, by_rule, thin, learnt_from); }
};
/// The job's walls, or those the rule gives for a part of that size: the rule of thumb, or thinner as the shop's own
/// moulds that lived allow.
WallChoice wall_of(const Job& job, const Shop& shop, const Vec3& own_size_mm);

/// The mould's options with that wall: rubber's density, sheet, weighed master.
MouldOptions mould_options(const Job& job, const Shop& shop, const WallChoice& wall);

/// The inside of the job's own box that the rubber fills: dammed where it is longer or wider than the part needs.
/// Nothing where the box is made to measure.
std::optional<Point2> filled_inside(const BoxChoice& box);

}  // namespace palinform
