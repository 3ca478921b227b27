#pragma once
/// What stays in the cup (M18): a film on the wetted wall.
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
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
  static void fields(auto& s, auto&& f) {
    f("mm", s.mm);
    f("spread_mm", s.spread_mm);
    f("cups", s.cups);
  }
};
/// … as the books keep it.
struct EmptiedRecord {
  std::string id, material_id, on;  ///< on: ISO date
  double left_g = 0, wetted_mm2 = 0, density_g_cm3 = 1;
  bool operator==(const EmptiedRecord&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{200});
    f("material", s.material_id, AtMost{80});
    f("on", s.on, AtMost{40});
    f("left_g", s.left_g, Within{0, 1e5});
    f("wetted_mm2", s.wetted_mm2, Within{1, 1e8});
    f("density_g_cm3", s.density_g_cm3, Within{0.05, 25});
  }
};
constexpr int cups_that_teach = 3;  ///< fewer are chance
/// Of one material, once so many cups of it were weighed; nothing before.
std::optional<Film> film_of(const std::vector<EmptiedRecord>& cups, std::string_view material_id);

/// The film as emptied cups show it: mean and standard deviation. Refused without a cup, or with one that held nothing.
Result<Film> learn_film(const std::vector<EmptiedCup>& cups);

}  // namespace palinform
