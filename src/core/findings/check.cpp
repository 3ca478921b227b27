#include "findings/check.hpp"

#include "base/text.hpp"

namespace palinform {

std::vector<Finding> check_findings(const CheckResult& check, const std::vector<MeasuredSize>& sizes) {
  std::vector<Finding> out;
  if (check.castings.empty()) return out;
  const CheckedCasting& last = check.castings.back();
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
    out.push_back(std::move(f));
  }
  return out;
}

}  // namespace palinform
