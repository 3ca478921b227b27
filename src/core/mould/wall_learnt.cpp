#include "mould/wall_learnt.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

std::optional<LearntWall> learnt_wall(const std::vector<BlockLife>& lives, double part_mm, double shore_a,
                                      double rule_mm, const WallLearning& how) {
  std::vector<double> lived;
  double failed_mm = 0;  // thickest wall under the rule's that did not last
  for (const BlockLife& l : lives) {
    if (l.wall_mm <= 0 || l.part_mm <= 0 || l.wall_mm > rule_mm - 0.05) continue;
    if (std::abs(l.shore_a - shore_a) > how.shore_a) continue;
    if (std::max(l.part_mm, part_mm) > how.size_ratio * std::min(l.part_mm, part_mm)) continue;
    if (l.pulls >= how.pulls)
      lived.push_back(l.wall_mm);
    else if (l.retired)
      failed_mm = std::max(failed_mm, l.wall_mm);
  }
  std::erase_if(lived, [&](double wall) { return wall <= failed_mm; });
  if (static_cast<int>(lived.size()) < how.moulds) return std::nullopt;
  std::sort(lived.begin(), lived.end());
  // A single thin one is luck: as many as teach must have stood at this wall or a thinner one.
  return LearntWall{lived[static_cast<size_t>(how.moulds) - 1], static_cast<int>(lived.size())};
}

}  // namespace palinform
