#include "findings/check.hpp"

#include "check/run_chart.hpp"
#include "findings/tell.hpp"
#include "stages/judging.hpp"

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

std::vector<Finding> wear_findings(const std::vector<MeasuredSize>& sizes, const std::vector<Casting>& castings) {
  std::vector<Finding> out;
  const std::vector<int> mould = mould_numbers(castings);
  if (castings.empty()) return out;
  const int newest = mould.back();
  std::vector<const Casting*> of;
  for (size_t i = 0; i < castings.size(); ++i)
    if (mould[i] == newest) of.push_back(&castings[i]);
  constexpr size_t least_points = 4;
  for (const MeasuredSize& s : sizes) {
    std::vector<RunPoint> points;
    for (size_t i = 0; i < of.size(); ++i)
      if (const auto mean = mean_reading(*of[i], s.id)) points.push_back({static_cast<int>(i) + 1, *mean});
    if (points.size() < least_points) continue;
    const RunChart chart = run_chart(points, s.lower_mm, s.upper_mm);
    const int next = static_cast<int>(of.size()) + 1;
    if (!chart.drift || !chart.drift->sure || !chart.leaves_from || *chart.leaves_from > next + 1) continue;
    Finding& f = tell(out, "wear-size", Severity::caution,
                      "The mould wears: " + s.name + " may leave its limits from pull " +
                          std::to_string(std::max(next, *chart.leaves_from)),
                      "It drifts by " + fixed(chart.drift->mm_a_pull, 4) + " ±" +
                          fixed(2 * chart.drift->u_mm_a_pull, 4) + " mm a pull over " + std::to_string(points.size()) +
                          " castings. Retire the mould after this pull (Ledger), or widen the limits.");
    f.where.size = s.id;
    f.magnitude = *chart.leaves_from;
  }
  // The same wear on two of the last three.
  for (const Fault wear : {Fault::torn, Fault::flash, Fault::step}) {
    int seen = 0;
    const size_t from = of.size() > 3 ? of.size() - 3 : 0;
    for (size_t i = from; i < of.size(); ++i)
      seen +=
          std::any_of(of[i]->faults.begin(), of[i]->faults.end(), [&](const FaultSeen& f) { return f.fault == wear; });
    if (of.size() < 3 || seen < 2) continue;
    Finding& f = tell(out, "wear-seen", Severity::caution,
                      "The mould wears: " + std::string(words_of(wear)) + " on " + std::to_string(seen) +
                          " of the last three castings",
                      "It has done " + counted(static_cast<long long>(of.size()), "pull", "pulls") +
                          " by these castings. Retire it (Ledger) or mend it before the next.");
    f.where.step = "wear " + std::string(name_of(wear));
    f.magnitude = seen;
  }
  return out;
}

std::vector<Finding> gauge_findings(const std::vector<OwnGauge>& gauges, const std::string& today) {
  std::vector<Finding> out;
  for (const OwnGauge& g : gauges) {
    const auto months = overdue_months(g, today);
    if (!months) continue;
    Finding& f = tell(out, "gauge-overdue", Severity::note,
                      g.checked_on.empty()
                          ? g.name + " was never checked against a standard"
                          : "The check of " + g.name + " is " + counted(*months, "month", "months") + " overdue",
                      "Readings are judged as if it still held. Check it on a gauge block and write the day into the "
                      "shop's line (Ledger, The shop).");
    f.where.step = g.name;
    f.magnitude = *months;
  }
  return out;
}

}  // namespace palinform
