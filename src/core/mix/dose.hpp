#pragma once
/// Small parts as people measure them (M16): drops, whole divisions of a scale, and when a dose is not to be trusted.
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/result.hpp"

namespace palinform {

/// Mass of one drop, with its standard uncertainty.
struct DropMass {
  double g = 0, u_g = 0;
};
/// From weighing `count` drops together (20 at least) on a scale of division d: u = sqrt((d/√12/N)² + (s/√N)²).
/// `spread_g`: standard deviation from drop to drop; 5 % of a drop where nobody measured it.
Result<DropMass> weigh_drops(int count, double total_g, double scale_division_g, std::optional<double> spread_g = {});
/// A drop whose mass somebody states, within `u_pct` (default: as badly as 20 drops on a 0.01 g scale).
DropMass stated_drop(double g, double u_pct = 5);

/// How a dose comes out.
struct Dose {
  double need_g = 0, g = 0;  ///< wanted, and what whole drops or divisions make
  long count = 0;            ///< of them
  double rounding_pct = 0;   ///< |g − need| / need
  double u_pct = 0;          ///< standard uncertainty, relative; 100 where the count is nought
  /// The expanded error (k = 2) or the rounding alone is over what the material allows.
  bool unsafe(double tolerance_pct) const { return 2 * u_pct > tolerance_pct || rounding_pct > tolerance_pct; }
};
/// Whole drops: relative error sqrt((0.5/√3/count)² + (u/m_d)²).
Dose dose_in_drops(double need_g, const DropMass& drop);
/// Whole divisions of a scale or a syringe, in grams: relative error 0.5/√3/count.
Dose dose_in_divisions(double need_g, double division_g);

/// What would make an unsafe dose safe. Each is nothing where it would not.
struct DoseHelp {
  double batch_g = 0;                ///< smallest batch (base and dose) whose dose this scale can weigh
  double batch_waste_g = 0;          ///< of it more than is needed
  std::optional<double> division_g;  ///< coarsest scale that would do: 0.1, 0.05, 0.02, 0.01 …, 0.001
  std::optional<Dose> drops;         ///< counted, where that is safe
  std::optional<double> syringe_ml;  ///< coarsest syringe division that would do: 0.1, 0.05, 0.02, 0.01
};
/// `base_g`, `b_per_a`: the batch asked for; `drop`: where drops are an option.
DoseHelp help_for_dose(double base_g, double b_per_a, double scale_division_g, double tolerance_pct,
                       double dose_density_g_cm3, const std::optional<DropMass>& drop);

/// Pot life and demould time at a percentage of catalyst: log–log between what the sheet gives. Refused outside it.
struct AtPercent {
  double pct = 0, pot_life_min = 0, demould_h = 0;
  bool operator==(const AtPercent&) const = default;
  static void fields(auto& s, auto&& f) {
    f("pct", s.pct, Within{0, 100});
    f("pot_life_min", s.pot_life_min, Within{0.1, 10'000});
    f("demould_h", s.demould_h, Within{0.01, 1000});
  }
};
Result<AtPercent> at_percent(const std::vector<AtPercent>& sheet, double pct);

/// After too much of one part went in.
struct Mending {
  double a_g = 0, b_g = 0, total_g = 0;
  double add_a_g = 0, add_b_g = 0;  ///< still to be poured
};
/// A came to `a_got`, none of B is in: B' = A'·r.
Mending mend_a(double a_got_g, double b_per_a);
/// B came to `b_got` on `a_g`: A needs δ/r more; nothing more is needed where B is short (then B itself is).
Mending mend_b(double a_g, double b_got_g, double b_per_a);

}  // namespace palinform
