#pragma once
/// What stays in the cup (M18): a film on the wetted wall.
#include <optional>
#include <vector>

#include "base/result.hpp"

namespace palinform {

/// A mixing cup. Without measures it is a cylinder 1.2 times as high as wide (rule of thumb).
struct Cup {
  double brim_ml = 0;
  double empty_g = 0;
  std::optional<double> bottom_mm, top_mm, high_mm;  ///< inside diameters and height, where measured
};
/// Wall and bottom that `fill_ml` wet, mm². More than the brim wets all of it.
double wetted_mm2(const Cup& cup, double fill_ml);

/// Film that stays: 0.05 mm·sqrt(μ/1000 mPa·s), within 0.02 and 0.6 mm (rule of thumb).
double film_mm(double viscosity_mpa_s);

/// Grams that stay in the cup: ρ·A·δ, once for each time it is poured over into another.
double cup_loss_g(const Cup& cup, double fill_ml, double density_g_cm3, double film_mm, int pourings = 1);

/// One cup weighed empty after pouring.
struct EmptiedCup {
  double left_g = 0, wetted_mm2 = 0, density_g_cm3 = 1;
};
struct Film {
  double mm = 0, spread_mm = 0;
  int cups = 0;
};
/// The film as emptied cups show it: mean and standard deviation. Refused without a cup, or with one that held nothing.
Result<Film> learn_film(const std::vector<EmptiedCup>& cups);

}  // namespace palinform
