#pragma once
/// The chain by Monte Carlo: draws every input from its normal distribution and looks at what comes out. The check of
/// the first-order sums in chain.hpp (they should agree within 2 %).
#include <cstdint>
#include <vector>

#include "base/progress.hpp"
#include "size/chain.hpp"

namespace palinform {

/// One size with the chain figures at its own section.
struct ChainInput {
  MeasuredSize size;
  ChainMaterials materials;
};

struct DrawnSize {
  double mean_mm = 0, u_mm = 0;  ///< of the size as cast
};

/// `draws` per size. Each size has its own stream seeded from `seed` and its place, so that the result does not depend
/// on the number of threads.
Result<std::vector<DrawnSize>> draw_sizes(const std::vector<ChainInput>& sizes, const MasterScale& scale, int draws,
                                          uint64_t seed, const Progress& progress = Progress::none());

/// Largest |drawn / first-order − 1| of the standard uncertainties, and which size it is.
struct DrawCheck {
  double worst_ratio = 0;
  size_t size = 0;
  bool agrees() const { return worst_ratio <= 0.02; }
};
DrawCheck compare_draws(const std::vector<Prediction>& first_order, const std::vector<DrawnSize>& drawn);

}  // namespace palinform
