#pragma once
/// What is told about weighing, batches and stock.
#include "mix/stock.hpp"
#include "stages/results.hpp"

namespace palinform {

/// Ratio error or resolution over the tolerance; a part under 20 divisions.
std::vector<Finding> weighing_findings(const Weighing& w, double scale_division_g, double ratio_tolerance_pct,
                                       const std::string& step);

/// Lots out of date on `today` (ISO), and needs the lots left cannot meet. Out-of-date lots do not count as stock.
/// Without any lot of a material nothing is said: not every shop keeps books.
std::vector<Finding> stock_findings(const std::vector<Need>& needs, const std::vector<Lot>& lots,
                                    const std::string& today);

/// Of every pour: what the scale cannot hold, what would gel in the cup, how many cups; materials nobody chose.
std::vector<Finding> mix_findings(const MixResult& mix, const Job& job, const Shop& shop);

/// What is stirred in and leaves no liquid: the plan goes on without it. `shop`: the shelf's own figures.
std::vector<Finding> stirring_findings(const MixSetup& mix, const Shop& shop);

/// Where the shelf (`now`: the materials it has of the job's) says something else than the job was planned with.
std::vector<Finding> shelf_findings(const MixSetup& mix, const std::vector<Material>& now);

}  // namespace palinform
