#pragma once
/// Mix over a Job: what to weigh for each pour, in how many cups.
#include "mix/shared_batch.hpp"
#include "stages/results.hpp"

namespace palinform {

/// What goes into a cavity besides the part, and what takes room in it or in the rubber, mm³.
struct CastBesides {
  double channels = 0;  ///< resin that stays in gate and vents; 0: not laid out yet, an allowance
  double films = 0;     ///< across openings
  double inserts = 0;   ///< cast in: so much less resin
  /// Resin in gates and vents of the other parts' cavities, or run over from them; none: an allowance.
  std::optional<double> of_others = {};
  std::array<double, 2> seats{0, 0};  ///< of those in the rubber of side a and b: so much less rubber
};

/// Every pour of rubber and one casting. `forms`: where the job's form has pours of its own, else null. `pieces_mm3`:
/// of a mould in several pieces, as built: a, b, then the others; each of those is a pour of its own. Reads
/// copies, mix, room and ends of the job: no rubber where only castings are made, no casting where only a mould is.
MixResult mix_result(const MouldResult& mould, const FormsResult* forms, const std::vector<double>& pieces_mm3,
                     const CastBesides& besides_mm3, const Job& job, const Shop& shop);

/// So many grams of the job's casting material, or of its rubber, for a top-up or a pour outside any plan.
Result<PourMix> small_batch(double g, bool resin, const Job& job, const Shop& shop);

/// One batch of the casting material for this job and as many of the others as it reaches.
Result<SharedBatch> batch_with_others(const MixResult& mix, const Job& job, std::vector<CavityShare> others,
                                      const Shop& shop);

/// What a job takes of each material, its moulds and castings together, with what its sheet says of keeping and packs.
std::vector<Need> needs_of(const MixResult& mix, const MixSetup& materials, int moulds, const Shop& shop);

}  // namespace palinform
