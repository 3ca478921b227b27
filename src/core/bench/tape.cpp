#include "bench/tape.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

std::vector<TapeLine> tape_of(const BenchRun& run) {
  std::vector<TapeLine> out;
  WallSecond touched = 0;  // when the last B touched its A, as far as the records say
  for (const ScreenRecord& r : run.records) {
    if (r.screen < 0 || r.screen >= static_cast<int>(run.screens.size())) continue;
    const BenchScreen& s = run.screens[static_cast<size_t>(r.screen)];
    TapeLine l;
    l.screen = r.screen;
    l.title = s.title;
    l.what = !s.part.empty() ? "part " + s.part
             : s.target_g    ? (s.part_g > 0 ? "colour" : "cup")
                             : std::string(name_of(s.act));
    l.started = r.started, l.done = r.done;
    if (s.target_g) {
      l.planned_g = s.part_g > 0 ? s.part_g : s.target_g;
      if (r.scale_g) {
        l.weighed_g = *r.scale_g - s.from_g.value_or(0);
        if (s.part_g > 0) l.off_pct = 100 * (*l.weighed_g / s.part_g - 1);
        l.out_of_band = s.band_g && std::abs(*r.scale_g - *s.target_g) > *s.band_g + 1e-9;
      }
    } else if (s.poured_g > 0) {
      l.planned_g = s.poured_g;
      l.weighed_g = weighed_g(run, r.screen);
      if (l.weighed_g && *l.planned_g > 0) l.off_pct = 100 * (*l.weighed_g / *l.planned_g - 1);
    }
    if (s.starts_pot_life && r.done) touched = r.done;
    if (s.ends_pot_life && r.done && touched) {
      l.planned_min = s.pot_life_min;
      l.took_min = static_cast<double>(r.done - touched) / 60;
      touched = 0;
    }
    l.room_c = r.room_c;
    for (const auto& [at, kpa] : r.gauge_kpa) {
      l.gauge_low_kpa = std::min(l.gauge_low_kpa.value_or(kpa), kpa);
      l.gauge_high_kpa = std::max(l.gauge_high_kpa.value_or(kpa), kpa);
    }
    l.note = r.note, l.went_wrong = r.went_wrong;
    l.photos = r.photos.size();
    out.push_back(std::move(l));
  }
  return out;
}

std::vector<NextRing> next_rings(const std::vector<std::pair<std::string, BenchRun>>& runs) {
  std::vector<NextRing> out;
  for (const auto& [name, run] : runs)
    for (const BenchClock& c : run.clocks)
      if (!c.rung) out.push_back({run.job_id, name, c.label, c.ends});
  std::stable_sort(out.begin(), out.end(), [](const NextRing& a, const NextRing& b) { return a.at < b.at; });
  return out;
}

}  // namespace palinform
