#include "days/casting_run.hpp"

#include <algorithm>

namespace palinform {
namespace {

std::vector<Step> in_order(const CastingRun& run, int moulds, int between) {
  std::vector<Step> steps;
  const auto mould = [](int m) { return "mould " + std::to_string(m); };
  const auto pour = [&](int m, int p) {
    Step s;
    const std::string id = "mould-" + std::to_string(m) + "-pour-";
    s.id = id + std::to_string(p);
    s.name = "Mould " + std::to_string(m) + ", pour " + std::to_string(p);
    s.hands_min = run.mould_hands_min, s.wait_min = run.mould_cure_min;
    if (p == run.pours) s.holds = mould(m);
    if (p > 1) s.after = {id + std::to_string(p - 1)};
    steps.push_back(std::move(s));
  };
  const auto make = [&](int m) {
    for (int p = 1; p <= run.pours; ++p) pour(m, p);
  };
  int made = 1;
  if (between < 0) {
    for (int p = 1; p <= run.pours; ++p)
      for (int m = 1; m <= moulds; ++m) pour(m, p);
    made = moulds;
  } else
    make(1);
  while (between == 0 && made < moulds) make(++made);
  for (int n = 1; n <= run.castings; ++n) {
    Step s;
    s.id = "casting-" + std::to_string(n);
    s.name = "Casting " + std::to_string(n);
    s.hands_min = run.cast_hands_min, s.wait_min = run.cast_cure_min;
    for (int m = 1; m <= moulds; ++m) s.any_of.push_back(mould(m));
    steps.push_back(std::move(s));
    if (between > 0 && n % between == 0 && made < moulds) make(++made);
  }
  return steps;
}

}  // namespace

Result<CastingRunPlan> plan_casting_run(const CastingRun& run, int moulds, const Progress& progress) {
  std::optional<CastingRunPlan> best;
  for (int between = moulds > 1 ? -1 : 0; between <= (moulds > 1 ? std::min(run.castings - 1, 6) : 0); ++between) {
    CastingRunPlan p{in_order(run, moulds, between), {}};
    auto s = lay_out(p.steps, run.bench, run.start, progress);
    if (!s) return s.error();
    p.schedule = *std::move(s);
    if (!best || p.schedule.finish < best->schedule.finish) best = std::move(p);
  }
  return *std::move(best);
}

}  // namespace palinform
