#pragma once
/// Which scale to print the master at (M10): the one that gives the worst size its best chance; and which sizes no
/// scale can meet together.
#include <optional>
#include <utility>
#include <vector>

#include "size/draws.hpp"

namespace palinform {

enum class ScaleFreedom { one, per_axis };

/// Scale within [low, high] that maximises the smallest P over `sizes`; ties go to the smallest mean normalised error
/// |y − middle| / half width, then to the scale nearest 1. Sizes formed by pins, and angles, do not depend on it and
/// are left out. 1 where nothing depends on it; per axis, an axis that no size runs along takes the mean of the others.
MasterScale best_scale(const std::vector<ChainInput>& sizes, ScaleFreedom freedom, double low = 0.97,
                       double high = 1.05);

/// Scales at which one size holds (P ≥ 0.95), all axes scaled alike; none where it does not hold at any.
struct ScaleWindow {
  size_t size = 0;
  double low = 0, high = 0;
};
std::optional<ScaleWindow> scale_window(const ChainInput& input, size_t index);

/// Two sizes whose windows do not meet: `wants_more` needs at least `low`, `wants_less` bears at most `high`.
struct ScaleConflict {
  size_t wants_more = 0, wants_less = 0;
  double low = 0, high = 0;
};

struct ScaleLimits {
  std::vector<size_t> never;  ///< hold at no scale at all: their spread is wider than the limits
  /// Each size that cannot be met together with another, paired with the one that contradicts it most.
  std::vector<ScaleConflict> conflicts;
};
/// Sizes that depend on the scale only. With `per_axis`, only sizes that run along one and the same axis contradict.
ScaleLimits scale_limits(const std::vector<ChainInput>& sizes, ScaleFreedom freedom);

}  // namespace palinform
