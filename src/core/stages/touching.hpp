#pragma once
/// What touches what in a job, from what it says of its materials and the bench.
#include "meeting/meeting.hpp"
#include "mix/stock.hpp"
#include "stages/results.hpp"

namespace palinform {

/// Rubber, casting, master, clay, gloves, stick, the first half … with their traits. What nobody has said is left out.
std::vector<Party> parties_of(const Job& job, const Shop& shop);

/// What stands between, the newest patch test of the rubber on the master's surface included.
Between between_of(const Job& job, const std::vector<Lot>& lots, const std::vector<Trial>& trials);

MeetingsResult meetings_of(const Job& job, const Shop& shop, const std::vector<Lot>& lots,
                           const std::vector<Trial>& trials);

/// Hours of cure at the room's temperature after which the job's casting may serve as a master; the sheet's full cure,
/// or ten times its demould time where it gives none (rule of thumb).
double full_cure_h(const Job& job, const Resin& resin);

}  // namespace palinform
