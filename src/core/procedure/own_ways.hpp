#pragma once
/// The shop's own way over the procedure's: other minutes and words, steps left out with a reason, steps of its own,
/// another order where the order allows it.
#include "base/result.hpp"
#include "procedure/sound.hpp"

namespace palinform {

/// `habits` go by stem and hold for all jobs; `own` by id, or stem, over them. What names no step of this job is passed
/// over. Refused, with the first reason: what the list then could not be done with (faults_of).
Result<Procedure> with_own_ways(Procedure p, const ProcedureFacts& f, const OwnWays& habits, const OwnWays& own);

/// "own-3": the first that is free.
std::string new_own_id(const OwnWays& ways);

}  // namespace palinform
