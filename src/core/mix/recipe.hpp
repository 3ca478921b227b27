#pragma once
/// A colour as the shop keeps it: shares of pigments, and the trials that led there (M17).
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "mix/additives.hpp"

namespace palinform {

/// A pigment of the shelf and its share of the total, by weight.
struct RecipeTint {
  std::string material_id, name;
  double share = 0;  ///< 0.005
  bool operator==(const RecipeTint&) const = default;
  static void fields(auto& s, auto&& f) {
    f("material", s.material_id, AtMost{80});
    f("name", s.name, AtMost{120});
    f("share", s.share, Within{0, 0.5});
  }
};

/// One try: what was in it, how it looked, what was changed after.
struct ColourTrial {
  std::string on;       ///< ISO date
  std::string casting;  ///< "Drum latch, casting 4"; empty: a chip
  std::vector<RecipeTint> tints;
  std::string verdict, changed;
  std::string picture_png;  ///< base64, at most 128 px a side; empty: none
  bool operator==(const ColourTrial&) const = default;
  static void fields(auto& s, auto&& f) {
    f("on", s.on, AtMost{40});
    f("casting", s.casting, AtMost{200});
    f("tints", s.tints, AtMost{12});
    f("verdict", s.verdict, AtMost{500});
    f("changed", s.changed, AtMost{500});
    f("picture_png", s.picture_png, AtMost{200'000});
  }
};

struct ColourRecipe {
  std::string id, name;
  std::vector<RecipeTint> tints;
  std::vector<ColourTrial> trials;  ///< oldest first
  /// Of all that is in the cup, what the pigments are together.
  double share() const {
    double all = 0;
    for (const RecipeTint& t : tints) all += t.share;
    return all;
  }
  bool operator==(const ColourRecipe&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{80});
    f("name", s.name, AtMost{120});
    f("tints", s.tints, AtMost{12});
    f("trials", s.trials, AtMost{100});
  }
};

/// Refused: no name, no pigment, a share of nought, one pigment twice, more than half pigment in all.
Status check_recipe(const ColourRecipe& recipe);

/// The recipe for a batch, with the limit of each pigment's sheet by its id; what weigh_tints() refuses is refused.
struct PigmentLimit {
  std::string material_id;
  double most_share = 0;
};
Result<std::vector<TintDose>> scaled_recipe(const ColourRecipe& recipe, double batch_g, double scale_division_g,
                                            const std::vector<PigmentLimit>& limits);

/// Keeps what the recipe was as a trial, and `tints` as what it is now.
ColourRecipe after_trial(ColourRecipe recipe, ColourTrial trial, std::vector<RecipeTint> tints);

}  // namespace palinform
