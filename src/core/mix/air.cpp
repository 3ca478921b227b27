#include "mix/air.hpp"

namespace palinform {

std::string_view words_of(AirBy by) {
  constexpr std::array words{"nothing", "vacuum", "rest", "clears itself", "warm air"};
  return words[static_cast<size_t>(by)];
}

CupMinutes cup_minutes(const Mixable& m, bool is_resin, AirBy by, const MixRules& rules) {
  CupMinutes c;
  c.stir_min = m.stir_min.value_or(rules.mix_min);
  c.foam_ratio = rules.free_over_stirring;
  if (by == AirBy::vacuum) {
    const double under = m.degas_min.value_or(rules.degas_min);
    if (!is_resin || m.pot_life_min > 2 * (c.stir_min + under)) c.chamber_min = under;
    if (c.chamber_min > 0)
      c.foam_ratio = m.pot_life_min < rules.fast_pot_life_min ? rules.foam_ratio_fast : rules.foam_ratio;
  }
  if (by == AirBy::rest || by == AirBy::self_clearing) c.wait_min = m.rest_min.value_or(rules.rest_min);
  if (by == AirBy::warm) c.wait_min = rules.warm_air_min;
  return c;
}

bool free_of_air(const Mixable& rubber, AirBy by) {
  return by == AirBy::vacuum || (by == AirBy::self_clearing && rubber.self_clearing_mm.value_or(0) > 0);
}

}  // namespace palinform
