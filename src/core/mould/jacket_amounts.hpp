#pragma once
/// How much a jacket takes, counted on its field without building surfaces: within 1 % of what plan_jacket() builds on
/// it (2 % on voxels over 1 mm), in a fraction of the time (M5).
#include "mould/form_builds.hpp"

namespace palinform {

JacketAmounts jacket_amounts(const JacketField& field, const Mould& mould, const JacketRules& rules);

}  // namespace palinform
