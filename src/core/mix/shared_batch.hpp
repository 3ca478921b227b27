#pragma once
/// One batch for the cavities of several jobs that cast in the same material, poured one after the other inside one
/// pot life.
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/result.hpp"
#include "mix/proportion.hpp"

namespace palinform {

/// One pull of a job's mould.
struct CavityShare {
  std::string job_id, job_name;
  double pour_g = 0;  ///< that must reach the mould
  bool operator==(const CavityShare&) const = default;
};

struct SharedBatch {
  std::vector<CavityShare> in;   ///< the first, then as many others as fit, the small ones before the large
  std::vector<CavityShare> out;  ///< those that do not
  double poured_g = 0, pour_min = 0;
  double left_min = 0;       ///< of the pot life when the last of them is poured
  double cup_ml_needed = 0;  ///< foam in
};

/// `first` is always in. Refused where it alone outlasts the pot life or overfills the cup: it is then cast by itself,
/// in cups of its own. `limits.pour_min_per_100g` and the density are the material's.
Result<SharedBatch> share_batch(const CavityShare& first, std::vector<CavityShare> others, const BatchLimits& limits);

}  // namespace palinform
