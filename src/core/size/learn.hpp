#pragma once
/// What castings teach about a pair of materials (M11): total shrinkage and flash by weighted least squares over
/// measured against master sizes, and the normal–normal update of the figure believed before.
#include <optional>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "original/size.hpp"

namespace palinform {

struct Estimate {
  double value = 0, u = 0;  ///< standard uncertainty
  bool operator==(const Estimate&) const = default;
};

/// One size of one casting.
struct LearnRow {
  int casting = 1;
  std::string name;
  FormedBy formed = FormedBy::rubber;
  double master_mm = 0, measured_mm = 0, u_mm = 0;
  double stock_mm = 0;  ///< on an open face
  double warmth_k = 0;  ///< gel temperature over the room's
  bool operator==(const LearnRow&) const = default;
};

struct LearnResidual {
  size_t row = 0;          ///< into the rows given
  double residual_mm = 0;  ///< measured − fitted
  double normalised = 0;   ///< residual / u
};

struct Learned {
  Estimate total_shrink_pct;           ///< rubber, heat and resin together; heat apart where it could be told
  std::optional<Estimate> flash_mm;    ///< where sizes across the line were measured
  std::optional<Estimate> heat_per_k;  ///< linear expansion, where castings gelled at different warmth
  std::optional<double> correlation;   ///< between shrinkage and flash
  Estimate posterior_pct;              ///< total shrinkage with the prior
  std::vector<LearnResidual> residuals;
  size_t used = 0;           ///< rows that carry news (a size formed by a pin does not)
  double scatter_ratio = 0;  ///< sqrt(χ²/degrees of freedom); over 2 the castings disagree more than u says
};

/// measured = master·(1 − s + α·ΔT) + flash + stock, weights 1/u². Refused: no usable row, a size or u that is not
/// above zero, a prior without spread. A parameter that the rows cannot tell apart is left out.
Result<Learned> learn(const std::vector<LearnRow>& rows, const Estimate& prior_pct);

/// Product of two normal densities of one quantity.
Estimate combine(const Estimate& prior, const Estimate& data);

}  // namespace palinform
