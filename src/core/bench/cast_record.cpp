#include "bench/cast_record.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

const ScreenRecord* last_of(const BenchRun& run, int screen) {
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == screen && r->done > 0) return &*r;
  return nullptr;
}

}  // namespace

CastRecord cast_record(const BenchRun& run, int at, WallSecond out_at) {
  CastRecord c;
  if (at < 0 || at >= static_cast<int>(run.screens.size())) return c;
  const int casting = run.screens[static_cast<size_t>(at)].casting;
  double rooms = 0, first_g = 0;
  int read = 0;
  WallSecond touched = 0, filled = 0;
  bool mixed = false;
  for (int i = 0; i < at; ++i) {
    const BenchScreen& s = run.screens[static_cast<size_t>(i)];
    if (s.casting != casting || casting == 0) continue;
    if (s.wait_min > 0) c.demould_needed_h = std::max(c.demould_needed_h.value_or(0), s.wait_min / 60);
    if (s.act == Act::degas && s.mould == 0) c.degassed = false;
    const ScreenRecord* r = last_of(run, i);
    if (!r) continue;
    if (r->room_c) rooms += *r->room_c, ++read;
    if (s.act == Act::degas && !r->went_wrong) c.degassed = true;
    if (s.act == Act::weigh || s.target_g) mixed = true;
    if (s.part == "A" || s.part == "B") {
      if (r->scale_g && s.from_g) {
        const double g = *r->scale_g - *s.from_g;
        if (s.ratio_to_last <= 0) {
          first_g = g;
        } else if (first_g > 0) {
          // The other part against what the first one asked for; of several cups the one that was farthest off.
          double off = 100 * (g / first_g / s.ratio_to_last - 1);
          if (s.part == "A") off = 100 * (first_g * s.ratio_to_last / g - 1);
          if (!c.ratio_off_pct || std::abs(off) > std::abs(*c.ratio_off_pct)) c.ratio_off_pct = off;
          if (s.band_g && s.part_g > 0) c.ratio_tolerance_pct = 100 * *s.band_g / s.part_g;
        }
      }
      // B touches A while the second part is poured.
      if (s.ratio_to_last > 0 && touched == 0) touched = r->started;
      if (s.pot_life_min > 0) c.pot_life_min = s.pot_life_min;
    }
    if (s.starts_pot_life && touched == 0) touched = r->done;
    if (s.pot_life_min > 0) c.pot_life_min = s.pot_life_min;
    if (s.is_casting || s.ends_pot_life) filled = r->done;
    if (s.act == Act::into_pot)
      for (const auto& [when, kpa] : r->gauge_kpa) c.pressure_kpa = std::max(c.pressure_kpa.value_or(0), kpa);
  }
  if (mixed && !c.degassed) c.degassed = false;
  if (read > 0) c.room_c = rooms / read;
  if (touched > 0 && filled > touched) c.minutes_b_to_filled = static_cast<double>(filled - touched) / 60;
  if (filled > 0 && out_at > filled) c.demould_h = static_cast<double>(out_at - filled) / 3600;
  return c;
}

}  // namespace palinform
