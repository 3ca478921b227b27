#pragma once
/// Limits from several surviving originals: an interval that holds so large a share of all that were ever made, with
/// stated confidence (normal law).
#include <optional>
#include <vector>

#include "base/result.hpp"
#include "original/size.hpp"

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

/// The same of the originals that a size was read on, with what measuring adds to their spread taken off it: the
/// readings' own scatter, pooled over the originals read more than once, and the instrument's step. What is left is the
/// originals' own; the instrument's constant error moves all of them alike and stays in the mean. Howe's k, for as many
/// originals, holds for the whole spread and is a little wide for what is left.
struct OriginalsSpread {
  ToleranceInterval interval;  ///< its spread_mm: of the means, as read; its limits by what is left
  double repeat_mm = 0;        ///< of that spread: standard deviation of a mean by measuring alone
  bool resolved = false;       ///< the originals differ by more than measuring scatters
};
/// Nothing under three originals.
std::optional<OriginalsSpread> spread_of_originals(const MeasuredSize& size);
/// The size takes those limits, and says where they come from.
void take_limits(MeasuredSize& size, const OriginalsSpread& spread);

}  // namespace palinform
