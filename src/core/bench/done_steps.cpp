#include "bench/done_steps.hpp"

#include <cmath>
#include <map>

namespace palinform {

WallMinute wall_minute(WallSecond s, int64_t zone_s) {
  const int64_t t = s + zone_s;
  return (t >= 0 ? t : t - 59) / 60;
}

std::vector<DoneStep> done_steps(const BenchRun& run, const std::vector<Step>& steps, int64_t zone_s) {
  std::vector<DoneStep> out;
  if (!run.title.empty() && !run.title.starts_with("From: ")) return out;
  struct Of {
    WallSecond begun = 0, done = 0;
    bool all = true, any = false;
  };
  std::map<std::string, Of> by;
  for (size_t i = 0; i < run.screens.size(); ++i) {
    Of& of = by[run.screens[i].step_id];
    if (static_cast<int>(i) >= run.at) of.all = false;
  }
  for (const ScreenRecord& r : run.records) {
    if (r.screen < 0 || static_cast<size_t>(r.screen) >= run.screens.size() || r.screen >= run.at || r.done == 0)
      continue;
    Of& of = by[run.screens[static_cast<size_t>(r.screen)].step_id];
    if (!of.any || r.started < of.begun) of.begun = r.started;
    of.done = std::max(of.done, r.done);
    of.any = true;
  }
  bool before = run.title.starts_with("From: ");
  const WallMinute begun = wall_minute(run.begun, zone_s);
  for (const Step& s : steps) {
    const auto it = by.find(s.id);
    if (it != by.end()) before = false;
    if (before)
      out.push_back({s.id, begun - static_cast<WallMinute>(std::ceil(s.wait_min)),
                     begun - static_cast<WallMinute>(std::ceil(s.wait_min))});
    else if (it != by.end() && it->second.all && it->second.any)
      out.push_back({s.id, wall_minute(it->second.begun, zone_s), wall_minute(it->second.done, zone_s)});
  }
  return out;
}

}  // namespace palinform
