#pragma once
/// Pins and slides of masters that stand in one box, drawn past one another.
#include <optional>
#include <string>
#include <vector>

#include "mould/box.hpp"
#include "mould/several.hpp"
#include "split/pins.hpp"

namespace palinform {

/// A pin or slide that cannot be drawn as it stands.
struct NoWayOut {
  std::string pin;
  size_t master = 0;            ///< of the set's
  std::optional<size_t> meets;  ///< the other master it stands in, or is drawn into; none: it ends in the rubber …
  double short_mm = 0;          ///< … so far from the box's face
  Vec3 at_mm;                   ///< where, in the first part's frame
};

/// `pins`: of each part, in its own frame. Looked at by rays from up to 200 places of each pin along its draw; an end
/// less than half its grip inside the box counts as outside. O(masters · pins · log triangles).
std::vector<NoWayOut> no_ways_out(const MasterSet& set, const Mould& block,
                                  const std::vector<std::vector<PinPlan>>& pins);

}  // namespace palinform
