#pragma once
/// What to weigh (M9): whole scale divisions that meet the need, keep the ratio, and say how well.
#include <vector>

#include "base/finding.hpp"
#include "base/result.hpp"

namespace palinform {

struct Proportion {
  double need_g = 0;
  double ratio_b_per_a = 1;  ///< by weight: r = m_B / m_A
  double scale_division_g = 0.1;
  double waste_pct = 5;  ///< the total may exceed the need by this much
  double tare_g = 0;     ///< of the cup
};

struct Weighing {
  double a_g = 0, b_g = 0, total_g = 0;
  double ratio_error_pct = 0;        ///< (b / (a·r) − 1) · 100
  double ratio_u_pct = 0;            ///< from the scale's resolution alone
  double readings_g[3] = {0, 0, 0};  ///< tare, tare + A, tare + A + B
  bool over_waste = false;           ///< the scale has no total within need and waste: the next above was taken
};
/// A dose nobody may weigh so (M16): its ratio is off by more than the material allows, or may be (k = 2).
constexpr bool unsafe_dose(double ratio_error_pct, double ratio_u_pct, double tolerance_pct) {
  return 2 * ratio_u_pct > tolerance_pct || ratio_error_pct > tolerance_pct || -ratio_error_pct > tolerance_pct;
}

/// Volume ratio to weight ratio: r = (v_B·ρ_B) / (v_A·ρ_A).
double weight_ratio_from_volume(double volume_b_per_a, double density_a_g_cm3, double density_b_g_cm3);

/// Integers a, b with need ≤ (a + b)·d ≤ need·(1 + waste) that minimise |b/(a·r) − 1|; ties to the smaller total.
/// Refuses needs, ratios and divisions that are not above zero, negative waste or tare, more than 10⁷ divisions, and
/// needs too small for one division of each part.
Result<Weighing> weigh(const Proportion& p);

/// One mixing cup at a time.
struct BatchLimits {
  double cup_ml = 0;      ///< 0: no limit
  double foam_ratio = 1;  ///< height of the foam under vacuum over the liquid's
  double density_g_cm3 = 1;
  double pot_life_min = 0;  ///< 0: no limit; at `pot_life_ref_c`
  double pot_life_ref_c = 23, room_c = 23;
  double mix_min = 0, degas_min = 0, pour_min_per_100g = 0;
};

struct Batches {
  int count = 1;
  double each_g = 0;
  double pot_life_min = 0;  ///< at room temperature by Q10 = 2 (rule of thumb)
  double left_min = 0;      ///< pot life − (mix + degas + pour) of one batch; meaningless without a pot life
  enum class By { need, cup, time } limited_by = By::need;
  bool too_slow = false;  ///< mixing and degassing alone outlast the pot life
};

/// Equal batches, as few as cup and pot life allow.
Batches plan_batches(double total_g, const BatchLimits& limits);

/// The same for what is really weighed: waste and whole scale divisions make a batch heavier than its share of the
/// need, and it is that mass whose foam must fit the cup and that must be poured in time. At most 1,000 batches are
/// looked at.
struct WeighedBatches {
  Batches batches;
  Weighing each;
};
Result<WeighedBatches> weigh_batches(double total_g, Proportion proportion, const BatchLimits& limits);
constexpr int many_batches = 12;  ///< more than that is no plan (rule of thumb)

/// Q10 = 2: t(T) = t_ref · 2^((T_ref − T)/10).
double time_at_temperature(double t_ref, double ref_c, double temperature_c);

/// Mass to mix so that `poured_g` reaches the mould: cup loss as a share plus a fixed remainder a cup.
double with_cup_loss_g(double poured_g, double loss_pct, double loss_g_per_cup, int cups);

}  // namespace palinform
