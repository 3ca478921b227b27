#pragma once
/// What follows from the job's rubber and its part alone: hardness, wall, and how the mould is laid out with them.
#include "job/job.hpp"
#include "mould/box.hpp"
#include "rules/rules.hpp"

namespace palinform {

/// Shore A of the job's rubber; `otherwise` where none is chosen.
double shore_of(const Job& job, const Shop& shop, double otherwise = 30);

struct WallChoice {
  double wall_mm = 0, rule_mm = 0;
  bool by_rule = true;
  auto fields(auto&& f) const { return f(wall_mm, rule_mm, by_rule); }
};
/// The job's wall, or the one the rule gives for a part of that size.
WallChoice wall_of(const Job& job, const Shop& shop, const Vec3& own_size_mm);

/// The mould's options with that wall: rubber's density, sheet, weighed master.
MouldOptions mould_options(const Job& job, const Shop& shop, double wall_mm);

}  // namespace palinform
