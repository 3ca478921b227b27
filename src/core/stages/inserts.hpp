#pragma once
/// What a job casts in, laid into its master; threads and what they ask for (M24).
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

/// Every insert in turn is taken out of what the ones before it left. One that cannot lie so is refused in words, and
/// the cavity is reckoned without it.
Result<InsertsResult> inserts_of(const OriginalResult& master, const std::vector<Insert>& inserts,
                                 const InsertRules& rules, const MeshSource& meshes,
                                 const Progress& progress = Progress::none());

/// Of what stands out of the part into the rubber, on side a and on side b, mm³: so much less rubber.
std::array<double, 2> seats_mm3(const InsertsResult& inserts, const OriginalResult& master, const Split& split);

/// "Brass bush M4, on its pin" for the bench; in the order of the job's, those only that can lie so.
std::vector<std::string> inserts_in_words(const std::vector<Insert>& inserts, const InsertsResult& placed,
                                          const Shown& shown);
/// Pins in threaded bores: a hard screw has the thread's own size, the pin of a bush goes through its crests.
void shape_by_threads(PinsResult& pins, const std::vector<Bore>& bores, const std::vector<ThreadChoice>& threads);
/// What is unscrewed before the mould opens.
std::vector<std::string> unscrewed_of(const std::vector<ThreadChoice>& threads);
/// What is drilled, tapped and cut on the casting.
std::vector<std::string> cut_threads_of(const std::vector<ThreadChoice>& threads, const Shown& shown);

}  // namespace palinform
