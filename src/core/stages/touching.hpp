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

/// Patch tests that would settle what is open between the rubber and the master's surface; their lot is not said.
std::vector<TestFacts> tests_wanted(const MeetingsResult& met, const Job& job, const Shop& shop);
/// Cup tests of materials of which the books have none but old lots, or ones opened too long ago, and nobody has tried
/// those. `today`: ISO; empty: none.
std::vector<TestFacts> cups_wanted(const Job& job, const Shop& shop, const std::vector<Lot>& lots,
                                   const std::vector<Trial>& trials, const std::string& today);
/// The lot that is drawn from next; 0: there is none.
int64_t lot_in_use(const std::vector<Lot>& lots, const std::string& material_id, const std::string& today);

/// Hours of cure at the room's temperature after which the job's casting may serve as a master; the sheet's full cure,
/// or ten times its demould time where it gives none (rule of thumb).
double full_cure_h(const Job& job, const Resin& resin);

}  // namespace palinform
