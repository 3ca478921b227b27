#pragma once
/// Filler, thickener and thinner that a job stirs into a material (M17): how much, what it makes of it.
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/result.hpp"
#include "mix/catalogue.hpp"

namespace palinform {

enum class Additive { filler, thickener, thinner };
template <>
inline constexpr std::array names<Additive>{"filler"sv, "thickener"sv, "thinner"sv};

/// One of them, with what its bottle said when it was chosen.
struct Addition {
  std::string material_id, name;
  Additive kind = Additive::filler;
  double share = 0;  ///< of all in the cup, by weight
  double density_g_cm3 = 1;
  double most_share = 0;  ///< the sheet's limit; 0: none stated
  bool operator==(const Addition&) const = default;
  static void fields(auto& s, auto&& f) {
    f("material", s.material_id, AtMost{80});
    f("name", s.name, AtMost{120});
    f("kind", s.kind);
    f("share", s.share, Within{0, 0.9});
    f("density_g_cm3", s.density_g_cm3, Within{0.05, 25});
    f("most_share", s.most_share, Within{0, 1});
  }
};

/// What one cup takes of it.
struct AdditionDose {
  std::string material_id, name;
  double g = 0;
};

double share_of(const std::vector<Addition>& additions);
/// Refused, by name: a share of nought, one over its sheet's limit, one that stands twice, nine tenths and more in all.
Status check_additions(const std::vector<Addition>& additions);

/// `m` with all of them in it: density and viscosity; of a casting material shrinkage and heat too. Refused where so
/// much filler leaves no liquid. Thinner and thickener by rules of thumb (MixRules).
Result<Mixable> stirred(Mixable m, const std::vector<Addition>& additions, const MixRules& rules);
Result<Silicone> stirred(Silicone m, const std::vector<Addition>& additions, const MixRules& rules);
Result<Resin> stirred(Resin m, const std::vector<Addition>& additions, const MixRules& rules);

/// What goes into a cup of `liquid_g` of the two parts, where pigments take `other_share` besides.
std::vector<AdditionDose> weigh_additions(const std::vector<Addition>& additions, double liquid_g, double other_share);

}  // namespace palinform
