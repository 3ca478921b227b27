#include "mix/cup_film.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {
namespace {

using std::numbers::pi;

/// Volume of a cone's frustum, mm³.
double frustum_mm3(double r0, double r1, double h) { return pi * h / 3 * (r0 * r0 + r0 * r1 + r1 * r1); }

}  // namespace

double wetted_mm2(const Cup& cup, double fill_ml) {
  const double brim_mm3 = 1000 * cup.brim_ml, fill_mm3 = std::min(1000 * fill_ml, brim_mm3);
  double r0, r1, h;
  if (cup.bottom_mm && cup.top_mm && cup.high_mm) {
    r0 = *cup.bottom_mm / 2, r1 = *cup.top_mm / 2, h = *cup.high_mm;
  } else {
    r0 = r1 = std::cbrt(brim_mm3 / (2.4 * pi));  // π r²·h, h = 1.2·2r
    h = 2.4 * r0;
  }
  // Height the fill reaches: the frustum's volume grows with it, so halving finds it.
  double low = 0, high = h;
  for (int i = 0; i < 60; ++i) {
    const double mid = 0.5 * (low + high);
    (frustum_mm3(r0, r0 + (r1 - r0) * mid / h, mid) < fill_mm3 ? low : high) = mid;
  }
  const double top = r0 + (r1 - r0) * high / h;
  return pi * r0 * r0 + pi * (r0 + top) * std::hypot(high, top - r0);
}

double film_mm(double viscosity_mpa_s) { return std::clamp(0.05 * std::sqrt(viscosity_mpa_s / 1000), 0.02, 0.6); }

double cup_loss_g(const Cup& cup, double fill_ml, double density, double film, int pourings) {
  return density * 1e-3 * wetted_mm2(cup, fill_ml) * film * pourings;
}

std::optional<Film> film_of(const std::vector<EmptiedRecord>& cups, std::string_view material_id) {
  std::vector<EmptiedCup> of_it;
  for (const EmptiedRecord& c : cups)
    if (c.material_id == material_id) of_it.push_back({c.left_g, c.wetted_mm2, c.density_g_cm3});
  if (of_it.size() < cups_that_teach) return std::nullopt;
  const auto f = learn_film(of_it);
  return f ? std::optional(*f) : std::nullopt;
}

Result<Film> learn_film(const std::vector<EmptiedCup>& cups) {
  if (cups.empty()) return Error{"no cup has been weighed yet", "cups", "Weigh one after pouring."};
  std::vector<double> mm;
  for (const EmptiedCup& c : cups) {
    if (!(c.left_g >= 0) || !(c.wetted_mm2 > 0) || !(c.density_g_cm3 > 0))
      return Error{"a cup that held nothing tells nothing", "cups", "Leave it out."};
    mm.push_back(c.left_g / (c.density_g_cm3 * 1e-3 * c.wetted_mm2));
  }
  Film f;
  f.cups = static_cast<int>(mm.size());
  for (const double v : mm) f.mm += v / static_cast<double>(mm.size());
  double sum = 0;
  for (const double v : mm) sum += (v - f.mm) * (v - f.mm);
  f.spread_mm = mm.size() > 1 ? std::sqrt(sum / static_cast<double>(mm.size() - 1)) : 0;
  return f;
}

}  // namespace palinform
