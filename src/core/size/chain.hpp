#pragma once
/// The size chain (M10): what a size will measure on the casting, step by step, and how sure that is.
///   formed by rubber   y = x·S·(1 − s_sil)·(1 + α_sil·(T_gel − T_room))·(1 − s_res)
///   formed by a pin    y = pin·(1 − s_free), s_free ≈ 0 by default
///   across the line    + flash;   open face: + stock
/// Uncertainties are standard, combined to first order (GUM).
#include <string>
#include <vector>

#include "base/result.hpp"
#include "original/size.hpp"

namespace palinform {

struct ChainMaterials {
  double sil_shrink_pct = 0, sil_shrink_u_pct = 0;
  double sil_expansion_per_k = 0;  ///< linear, 1/K
  double res_shrink_pct = 0, res_shrink_u_pct = 0;
  double gel_c = 21, gel_u_c = 1, room_c = 21;
  double flash_mm = 0, flash_u_mm = 0;
  double pin_shrink_pct = 0, pin_u_mm = 0;
  bool operator==(const ChainMaterials&) const = default;
  void hash_into(Hasher& h) const;
};

struct ChainStep {
  enum class Kind { master, scale, rubber, heat, resin, flash, stock, pin } kind = Kind::master;
  double change_mm = 0;  ///< what this step adds
  double u_mm = 0;       ///< standard uncertainty it brings to the final size
  double after_mm = 0;   ///< size after this step
};
std::string_view name_of(ChainStep::Kind k);

enum class Verdict { holds, risk, misses };  ///< P ≥ 0.95, ≥ 0.5, below
std::string_view name_of(Verdict v);

struct Prediction {
  std::string size_id;
  std::vector<ChainStep> steps;
  double predicted_mm = 0, u_mm = 0;
  double p_in_limits = 0;  ///< Φ((USL − y)/u) − Φ((LSL − y)/u)
  Verdict verdict = Verdict::holds;
};

/// Predicts one size for master scale `scale` (1 where the master is the original).
Prediction predict(const MeasuredSize& size, const ChainMaterials& m, double scale);

/// Same size by drawing each input `draws` times from its normal distribution: mean and standard deviation. The check
/// of the first-order sum.
struct DrawnSize {
  double mean_mm = 0, u_mm = 0;
};
DrawnSize predict_by_draws(const MeasuredSize& size, const ChainMaterials& m, double scale, int draws, uint64_t seed);

/// Scale in [low, high] that maximises the smallest P over `sizes`; ties go to the smallest mean normalised error
/// |y − middle| / half width. Sizes formed by pins do not depend on it and are left out. 1 where nothing depends on it.
double best_scale(const std::vector<MeasuredSize>& sizes, const ChainMaterials& m, double low = 0.97,
                  double high = 1.05);

/// Resin shrinkage at a section: linear between the catalogue's thin and thick figures, held beyond them.
double shrink_at_section_pct(double section_mm, double thin_mm, double thin_pct, double thick_mm, double thick_pct);

double normal_cdf(double z);

}  // namespace palinform
