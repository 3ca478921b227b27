#pragma once
/// Limits from several surviving originals: an interval that holds so large a share of all that were ever made, with
/// stated confidence (normal law).
#include <vector>

#include "base/result.hpp"

namespace palinform {

struct ToleranceInterval {
  size_t n = 0;
  double mean_mm = 0, spread_mm = 0;  ///< of the originals' means; spread: sample standard deviation
  double k = 0;                       ///< the interval is mean ± k·spread
  double lower_mm = 0, upper_mm = 0;
};

/// Two-sided, by Howe's formula k = z·√((n − 1)(1 + 1/n)/χ²). `coverage` and `confidence` between 0 and 1. Refused:
/// under 2 originals, means not finite.
Result<ToleranceInterval> tolerance_interval(const std::vector<double>& means_mm, double coverage = 0.95,
                                             double confidence = 0.95);

}  // namespace palinform
