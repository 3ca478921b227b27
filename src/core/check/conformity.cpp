#include "check/conformity.hpp"

#include <algorithm>

namespace palinform {

std::string_view name_of(Conformity c) {
  return c == Conformity::conforms ? "conforms" : c == Conformity::fails ? "fails" : "undecided";
}

Judgement judge(const std::vector<double>& readings, double resolution, double instrument_u, double lower, double upper,
                DecisionRule rule) {
  Judgement j;
  j.reading = mean_of_readings(readings, resolution, instrument_u);
  j.expanded_mm = 2 * j.reading.u_mm;
  if (j.reading.n == 0) return j;
  const double y = j.reading.mean_mm, guard = rule == DecisionRule::guard ? j.expanded_mm : 0;
  if (y >= lower + guard && y <= upper - guard)
    j.verdict = Conformity::conforms;
  else if (y < lower - guard || y > upper + guard)
    j.verdict = Conformity::fails;
  return j;
}

Conformity overall(const std::vector<Conformity>& verdicts) {
  if (std::find(verdicts.begin(), verdicts.end(), Conformity::fails) != verdicts.end()) return Conformity::fails;
  const bool all = !verdicts.empty() && std::all_of(verdicts.begin(), verdicts.end(),
                                                    [](Conformity c) { return c == Conformity::conforms; });
  return all ? Conformity::conforms : Conformity::undecided;
}

}  // namespace palinform
