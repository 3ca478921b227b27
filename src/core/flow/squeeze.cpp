#include "flow/squeeze.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace palinform {

double squeeze_force_n(double viscosity_pa_s, double land_mm, double flash_mm, double seconds) {
  if (!(flash_mm > 0) || !(seconds > 0)) return 0;
  const double r = land_mm * 1e-3, h = flash_mm * 1e-3;
  return 3 * std::numbers::pi * viscosity_pa_s * std::pow(r, 4) / (4 * seconds * h * h);
}

double land_radius_mm(double area_mm2) { return std::sqrt(std::max(0.0, area_mm2) / std::numbers::pi); }

}  // namespace palinform
