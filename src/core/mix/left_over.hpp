#pragma once
/// What is left in a cup goes into open moulds that stand ready (M14): a 0/1 knapsack by worth.
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/result.hpp"

namespace palinform {

/// An open mould that waits for left-overs: what it holds, what a casting from it is worth, what may go in.
struct StandingMould {
  std::string id, name;
  double volume_ml = 0, worth = 0;
  std::vector<std::string> kinds;  ///< name_of(MaterialKind); empty: anything that cures
  std::string place;
  bool operator==(const StandingMould&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{80});
    f("name", s.name, AtMost{120});
    f("volume_ml", s.volume_ml, Within{0, 1e6});
    f("worth", s.worth, Within{0, 1e6});
    f("kinds", s.kinds, AtMost{20});
    f("place", s.place, AtMost{200});
  }
};
Status check_standing(const StandingMould& m);

struct LeftOver {
  std::vector<size_t> moulds;  ///< of those given, in their order
  double used_g = 0, wasted_g = 0, worth = 0;
};
/// The moulds that `left_g` of a material of `density_g_cm3` fills whole, worth the most together; of equal worth the
/// fuller. To a gram; more than 10 kg or 200 moulds are refused.
Result<LeftOver> fill_with_left_over(const std::vector<StandingMould>& moulds, std::string_view kind, double left_g,
                                     double density_g_cm3);

}  // namespace palinform
