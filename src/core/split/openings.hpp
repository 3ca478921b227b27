#pragma once
/// Openings of a part: windows, vents, slots, bores and bent passages, of any outline, each followed from mouth to
/// mouth (M4).
#include <optional>
#include <string>
#include <vector>

#include "mesh/section_walk.hpp"
#include "split/waists.hpp"

namespace palinform {

/// A cut square to an opening's way.
struct OpeningCut {
  double at_mm = 0;  ///< along the way, from mouth 1
  CutPlane plane;    ///< its point in the opening, its normal toward mouth 2
  double area_mm2 = 0;
};

struct Opening {
  std::string name;                            ///< "Opening 1": widest first
  std::vector<OpeningCut> cuts;                ///< from mouth 1 to mouth 2
  size_t waist = 0;                            ///< of `cuts`: the narrowest
  std::vector<Vec3> outline_mm;                ///< there
  double area_mm2 = 0, outline_length_mm = 0;  ///< there
  double width_mm = 0;                         ///< there: across the largest circle inside
  double long_mm = 0;                          ///< there: the largest extent
  std::optional<double> round_mm;              ///< its diameter, where it is round there
  bool straight = true;                        ///< its way turns by less than 5°
  bool hollow = false;                         ///< leads into a hollow that is wider
  double volume_mm3 = 0;                       ///< between its mouths
  double length_mm() const { return cuts.empty() ? 0 : cuts.back().at_mm; }
  const Vec3& at_mm() const { return cuts[waist].plane.point_mm; }
  const Vec3& axis() const { return cuts[waist].plane.normal; }
  /// Changes of width along it, as a stepped bore has them: the areas from mouth 1 on, one for each stretch.
  std::vector<double> steps_mm2() const;
  /// The cut at a place along the way, in mm from mouth 1; held at the mouths.
  CutPlane cut_at(double mm) const;
};

struct Openings {
  std::vector<Opening> openings;
  size_t handles = 0, unseen = 0;  ///< see Waists
  double narrowest_mm = 0;         ///< what is narrower may be unseen
};

/// Follows every waist both ways, until the skin no longer closes round the way: that is a mouth, true to a few
/// thousandths of the opening's width. Passages that cross one another are followed across.
Result<Openings> find_openings(const TriMesh& mesh, const EdgePairs& pairs, const RayScene& rays,
                               const Progress& progress = Progress::none());

/// The opening a place lies in, or on whose wall it lies; none where it lies in none.
std::optional<size_t> opening_at(const Openings& all, const Vec3& p_mm);

}  // namespace palinform
