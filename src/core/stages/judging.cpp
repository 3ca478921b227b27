#include "stages/judging.hpp"

#include <map>

#include "base/text.hpp"

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
  const CheckedCasting& last = out.castings.back();
  for (size_t i = 0; i < sizes.size(); ++i) {
    const Judgement& j = last.sizes[i].judgement;
    if (j.reading.n == 0 || j.verdict == Conformity::conforms) continue;
    const bool fails = j.verdict == Conformity::fails;
    Finding f{fails ? "check-fails" : "check-undecided", fails ? Severity::stop : Severity::caution, {}, "", "", {}};
    f.where.size = sizes[i].id;
    f.where.step = "casting " + std::to_string(last.number);
    f.where.point_mm = (sizes[i].from_mm + sizes[i].to_mm) * 0.5;
    const double y = j.reading.mean_mm;
    f.what = sizes[i].name + (fails ? " is out of its limits" : ": the calipers cannot decide");
    f.why = "Casting " + std::to_string(last.number) + " measures " + fixed(y, 3) + " ±" + fixed(j.expanded_mm, 3) +
            " mm; the limits are " + fixed(sizes[i].lower_mm, 3) + " to " + fixed(sizes[i].upper_mm, 3) + " mm.";
    if (fails) {
      const double miss = y < sizes[i].lower_mm ? sizes[i].lower_mm - y : y - sizes[i].upper_mm;
      f.why += " That is " + fixed(miss, 3) + " mm too " + (y < sizes[i].lower_mm ? "small." : "large.");
    } else {
      f.why += " More readings, or a finer instrument, narrow it.";
    }
    out.findings.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
