#pragma once
/// Does a measured casting hold its limits? (M12; ISO 14253-1 guard band)
#include <string>
#include <string_view>
#include <vector>

#include "base/names.hpp"
#include "original/size.hpp"

namespace palinform {

enum class DecisionRule { guard, plain };
template <>
inline constexpr std::array names<DecisionRule>{"guard"sv, "plain"sv};
enum class Conformity { conforms, fails, undecided };
template <>
inline constexpr std::array names<Conformity>{"conforms"sv, "fails"sv, "undecided"sv};

struct Judgement {
  ReadingMean reading;
  double dof = 0;          ///< effective, by Welch–Satterthwaite; infinite where nothing scattered
  double coverage = 2;     ///< k: Student's t for 95.45 % at that many degrees of freedom; 2 at infinitely many
  double expanded_mm = 0;  ///< U = k·u
  Conformity verdict = Conformity::undecided;
};

/// Guard band: conforms when LSL + U ≤ y ≤ USL − U, fails when y < LSL − U or y > USL + U, undecided between.
/// Plain: conforms inside the limits, fails outside. No readings: undecided. Mean and limits are compared to a
/// thousandth of the resolution, so that a reading equal to its limit is inside it. Few scattered readings tell their
/// own spread badly: k is then larger than 2 (GUM, annex G).
Judgement judge(const std::vector<double>& readings_mm, double resolution_mm, double instrument_u_mm, double lower_mm,
                double upper_mm, DecisionRule rule);

/// Student's t whose two-sided probability is that of two standard deviations, 95.45 %; 2 for infinite `dof`.
double coverage_factor(double dof);

/// All conform → conforms; any fails → fails; else undecided. Nothing measured: undecided.
Conformity overall(const std::vector<Conformity>& verdicts);

}  // namespace palinform
