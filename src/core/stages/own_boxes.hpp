#pragma once
/// Boxes of the shop held against what a part needs: which take it, and what rubber each would cost.
#include "job/job.hpp"
#include "mould/panels.hpp"
#include "rules/equipment.hpp"

namespace palinform {

/// Plates that close off what of a box the part does not need: one across its length, one along it.
std::vector<DamPlate> dam_plates(const Vec3& needed_mm, const Vec3& inside_mm, double sheet_mm);

struct BoxOffer {
  std::string name;
  Vec3 inside_mm;  ///< long, wide, high; of clamped L-boards as they would be set
  bool adjusts = false;
  std::string why_not;       ///< "15 mm too low"; empty: it takes the part
  double rubber_mm3 = 0;     ///< that fills it over the part
  double more_mm3 = 0;       ///< than in a box made to measure
  double dammed_mm3 = 0;     ///< that plates would save of it
  double below_brim_mm = 0;  ///< from the rubber's top to its edge
  bool takes() const { return why_not.empty(); }
};

/// `needed_mm`: inside of the box made to measure, across, across, up to the rubber's top; `rim_mm` is left over it at
/// least. Those that take the part first, least rubber first; then the others, nearest first.
std::vector<BoxOffer> box_offers(const Vec3& needed_mm, double part_mm3, const std::vector<OwnBox>& boxes,
                                 double rim_mm);

/// Why a box does not take what is needed: "15 mm too low", "8 mm too narrow"; empty: it does.
std::string box_too_small(const Vec3& needed_mm, const Vec3& inside_mm, double rim_mm);

}  // namespace palinform
