#pragma once
/// Does a measured casting hold its limits? (M12; ISO 14253-1 guard band)
#include <string>
#include <string_view>
#include <vector>

#include "original/size.hpp"

namespace palinform {

enum class DecisionRule { guard, plain };
enum class Conformity { conforms, fails, undecided };
std::string_view name_of(Conformity c);

struct Judgement {
  ReadingMean reading;
  double expanded_mm = 0;  ///< U = 2u
  Conformity verdict = Conformity::undecided;
};

/// Guard band: conforms when LSL + U ≤ y ≤ USL − U, fails when y < LSL − U or y > USL + U, undecided between.
/// Plain: conforms inside the limits, fails outside. No readings: undecided.
Judgement judge(const std::vector<double>& readings_mm, double resolution_mm, double instrument_u_mm, double lower_mm,
                double upper_mm, DecisionRule rule);

/// All conform → conforms; any fails → fails; else undecided. Nothing measured: undecided.
Conformity overall(const std::vector<Conformity>& verdicts);

}  // namespace palinform
