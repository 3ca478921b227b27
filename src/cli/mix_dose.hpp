#pragma once
/// For `palin mix`: what is asked, and how a dose of it is weighed or counted.
#include <optional>
#include <string>

#include "commands.hpp"
#include "mix/proportion.hpp"

namespace palinform::cli {

struct MixOptions {
  double need = 0, density_a = 0, density_b = 0, scale = 0.1, waste = 5, tare = 0, cup_ml = 0, foam = 4, pot_life = 0,
         room = 23, tolerance = 3;
  double drop_g = 0, pigment_pct = 0, pigment_most_pct = 0, filler_pct = 0, filler_density = 0;
  double stir_min = -1, degas_min = 0, pour_min = -1;
  int people = 1;
  bool peroxide = false, b_first = false;
  std::string ratio, by = "weight", cups, mend, material, workshop;
};

/// What is weighed: whole divisions of the scale, B in drops where so asked.
struct Weighed {
  double a_g = 0, b_g = 0;
  std::optional<long> drops;
  double ratio_error_pct = 0, ratio_u_pct = 0;
  bool possible = true;  ///< false: the scale has no reading for so little
  bool unsafe(double tolerance_pct) const {
    return !possible || unsafe_dose(ratio_error_pct, ratio_u_pct, tolerance_pct);
  }
};

/// "100:10", or for per cent of the base also "1.5": m_B / m_A.
Result<double> weight_ratio(const MixOptions& o);

/// Parts that make up `parts_g` with B in whole drops.
Weighed weighed_in_drops(double parts_g, double b_per_a, const MixOptions& o);
/// Parts that make up `parts_g`, with no waste added, as they are weighed or counted.
Weighed weighed_whole(double parts_g, double b_per_a, const MixOptions& o);

/// A stop that nobody can accept: only another way of measuring helps.
Json unsafe_finding(const MixOptions& o, double base_g, double b_per_a, double density_b_g_cm3);

}  // namespace palinform::cli
