#include "stages/judging.hpp"

#include <map>

namespace palinform {

CheckResult check_result(const std::vector<MeasuredSize>& sizes, const CheckSetup& check) {
  CheckResult out;
  for (const Casting& c : check.castings) {
    std::map<std::string_view, const std::vector<double>*> read;
    for (const CastReading& r : c.readings) read[r.size_id] = &r.values_mm;
    CheckedCasting checked;
    checked.number = c.number;
    std::vector<Conformity> verdicts;
    for (const MeasuredSize& s : sizes) {
      const auto at = read.find(s.id);
      const Judgement j = judge(at == read.end() ? std::vector<double>{} : *at->second, s.resolution_mm,
                                s.instrument_u_mm, s.lower_mm, s.upper_mm, check.rule);
      checked.sizes.push_back({s.id, j});
      verdicts.push_back(j.verdict);
      checked.measured += j.reading.n > 0;
    }
    checked.overall = overall(verdicts);
    out.castings.push_back(std::move(checked));
  }
  return out;
}

}  // namespace palinform
