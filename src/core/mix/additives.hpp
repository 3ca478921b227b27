#pragma once
/// Pigment, filler, thickener, thinner (M17): how much, and what it does to the mix.
#include <optional>
#include <string>
#include <vector>

#include "base/result.hpp"

namespace palinform {

/// A mix with a share `weight_share` of it (0 … <1) as filler of density `filler_g_cm3`. Rules of thumb but for
/// density.
struct Filled {
  double volume_share = 0;     ///< φ
  double density_g_cm3 = 0;    ///< φ·ρ_f + (1 − φ)·ρ
  double viscosity_times = 1;  ///< (1 − φ/φ_m)^(−2.5·φ_m), φ_m 0.64
  double shrink_times = 1;     ///< 1 − φ
  double heat_times = 1;       ///< 1 − w
};
/// Refused where so much filler is a solid: φ at φ_m or above.
Result<Filled> filled(double weight_share, double filler_g_cm3, double liquid_g_cm3);

/// One pigment of a recipe.
struct Tint {
  std::string name;
  double share = 0;                  ///< of the total, by weight: 0.005
  std::optional<double> most_share;  ///< the sheet's limit
  bool operator==(const Tint&) const = default;
};
/// What of a pigment goes into a batch, and how to get so little in where the scale cannot weigh it.
struct TintDose {
  std::string name;
  std::string material_id = {};
  double g = 0;
  bool master_batch = false;                     ///< fewer than 20 divisions of the scale
  double stock_pigment_g = 0, stock_part_g = 0;  ///< the master batch: so much pigment in so much of the part
  double stock_use_g = 0;                        ///< and so much of that into this batch
  /// What is put on the scale: pigment, or master batch.
  double weighed_g() const { return master_batch ? stock_use_g : g; }
};
/// Shares keep; the total grows by them: `batch_g` is all that is in the cup. Refused: a share of nought or below,
/// over the sheet's limit by name, more than half pigment in all.
Result<std::vector<TintDose>> weigh_tints(const std::vector<Tint>& recipe, double batch_g, double scale_division_g);

}  // namespace palinform
