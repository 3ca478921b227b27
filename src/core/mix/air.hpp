#pragma once
/// How the air that stirring brings in gets out again before the pour, and what of the pot life that takes.
#include "base/names.hpp"
#include "mix/catalogue.hpp"

namespace palinform {

enum class AirBy { none, vacuum, rest, self_clearing, warm };
template <>
inline constexpr std::array names<AirBy>{"none"sv, "vacuum"sv, "rest"sv, "self-clearing"sv, "warm"sv};
std::string_view words_of(AirBy by);  ///< "vacuum", "rest", "clears itself", …

/// Minutes of one cup between weighing and pouring.
struct CupMinutes {
  double stir_min = 3;
  double chamber_min = 0;  ///< under vacuum
  double wait_min = 0;     ///< at rest, or under warm air
  double foam_ratio = 1;   ///< height that must be free over the liquid's
  double all_min() const { return stir_min + chamber_min + wait_min; }
};
/// The material's own minutes where its sheet or its family has them, else the rules'. A casting resin goes under
/// vacuum only where its pot life allows twice stirring and vacuum.
CupMinutes cup_minutes(const Mixable& material, bool is_resin, AirBy by, const MixRules& rules);

/// Rubber that carries no bubbles into the cure: degassed, or clearing itself by its sheet. What else cures under
/// pressure raises pimples.
bool free_of_air(const Mixable& rubber, AirBy by);

}  // namespace palinform
