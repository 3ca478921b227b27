#pragma once
/// What is told about wall, keys, form and box.
#include "mould/ways_out.hpp"
#include "stages/forming.hpp"

namespace palinform {

std::vector<Finding> mould_findings(const Mould& mould, double wall_rule_mm, int learnt_from = 0);

/// Keys too near, too few, too steep, or a mould that closes the wrong way round.
/// A stepped rim that does not go in, or that alone holds the mould shut or does not.
std::vector<Finding> rim_findings(const RimFit& rim, double clamp_n);
std::vector<Finding> key_findings(const KeyPlan& plan, const KeyRules& rules);

/// `names`: of each part, empty where there is one only. A pin is told once, whichever master it stands in.
std::vector<Finding> draws_past_findings(const std::vector<NoWayOut>& stuck, const MasterSet& set,
                                         const std::vector<std::string>& names, const Shown& shown);

/// Of the chosen form: whether it works, what would be less work, what chamber, pot and hands can take, what saves
/// rubber.
std::vector<Finding> form_findings(const FormsResult& forms, const MouldResult& mould, const Job& job,
                                   const Rules& rules);

}  // namespace palinform
