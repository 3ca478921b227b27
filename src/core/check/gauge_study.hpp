#pragma once
/// What a gauge and the hands that hold it add to a reading: people × parts × repeats, by analysis of variance.
#include <vector>

#include "base/result.hpp"

namespace palinform {

/// readings[person][part][repeat], mm; all parts by all people, equally often.
using GaugeReadings = std::vector<std::vector<std::vector<double>>>;

struct GaugeStudy {
  int people = 0, parts = 0, repeats = 0;
  double repeatability_mm = 0;    ///< one person, one part, again
  double reproducibility_mm = 0;  ///< between people, the way they differ from part to part with it
  double u_mm = 0;                ///< both together: standard uncertainty of one reading, whoever takes it
  double part_to_part_mm = 0;
  double share_pct = 0;      ///< of u in all the spread that was seen
  bool interaction = false;  ///< people differ from part to part (F at 25 %); else it is pooled
};

/// Refused: under two people, parts or repeats, lists of unequal length, figures not finite.
Result<GaugeStudy> gauge_study(const GaugeReadings& readings_mm);

}  // namespace palinform
