#include "flow/sweep.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "flow/fall.hpp"
#include "flow/roofs.hpp"
#include "solid/columns.hpp"

namespace palinform {

std::vector<VentCell> vent_cells(const Cavity& cavity, const Descent& d, const Vec3& up,
                                 const std::vector<AirHole>& openings) {
  std::vector<VentCell> out;
  const double base = dot(cavity.origin_mm, up);
  for (const AirHole& o : openings) {
    if (o.radius_mm > 0) {
      for (uint32_t c = 0; c < cavity.size(); ++c)
        if (length(cavity.centre(c) - o.at_mm) <= o.radius_mm + 0.5 * cavity.voxel_mm) out.push_back({c, d.level[c]});
      continue;
    }
    const uint32_t c = cavity.nearest_cell(o.at_mm);
    if (c == Cavity::outside) continue;
    // The opening's own height, not the cell's; a snapped point may lie just off its cell, the level stays within it.
    const auto lowest = static_cast<int64_t>(d.level[c]) - static_cast<int64_t>(d.reach(cavity, c));
    out.push_back({c, std::clamp(d.level_at(dot(o.at_mm, up) - base), lowest, static_cast<int64_t>(d.level[c]))});
  }
  std::sort(out.begin(), out.end(), [](const VentCell& a, const VentCell& b) {
    return a.level != b.level ? a.level > b.level : a.cell < b.cell;
  });
  return out;
}

Result<Sweep> sweep_air(const Cavity& cavity, const Vec3& up_in, const std::vector<AirHole>& openings,
                        const Progress& progress) {
  if (!finite(up_in) || length(up_in) < 1e-9)
    return Error{"up has no direction", "flow", "Give a vector that is not nought."};
  const Vec3 up = unit(up_in);
  const size_t n = cavity.size();
  Descent d;
  descend(cavity, up, d);
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.3);

  Regions r;
  r.clear(n);
  Sweep out;
  std::vector<uint8_t> told;
  std::vector<uint32_t> stack, cut;
  struct Bubble {
    double whole_mm3 = 0, cut_mm3 = 0;
    uint32_t apex = Regions::none;
  };
  const auto take_in = [&](Bubble& b, uint32_t c, int64_t level) {
    const double share = d.share_above(cavity, c, level), all = static_cast<double>(cavity.cell[c].volume_mm3);
    if (share < 1 && !cavity.whole(c))
      cut.push_back(c), b.cut_mm3 += all * share;
    else
      b.whole_mm3 += all * share;
    if (b.apex == Regions::none || d.level[c] > d.level[b.apex] || (d.level[c] == d.level[b.apex] && c < b.apex))
      b.apex = c;
  };
  const auto tell = [&](const Bubble& b, int64_t level, const std::optional<Vec3>& saddle) {
    if (b.apex == Regions::none || no_depth(cavity, d, b.apex, level)) return;
    Pocket p;
    p.saddle_mm = saddle;
    p.volume_mm3 = b.whole_mm3 + b.cut_mm3;
    // Cells that the level itself cuts make up a small pocket; in a large one they are few and even out.
    if (b.cut_mm3 > 0.1 * p.volume_mm3) {
      p.volume_mm3 = b.whole_mm3;
      for (const uint32_t c : cut)
        p.volume_mm3 += static_cast<double>(cavity.cell[c].volume_mm3) * d.share_above_exactly(cavity, c, level);
    }
    p.apex_mm = cavity.top_point(b.apex, up);
    p.depth_mm = d.top_mm(d.level[b.apex]) - d.top_mm(level);
    out.trapped_mm3 += p.volume_mm3;
    out.pockets.push_back(p);
  };
  const auto close_pocket = [&](uint32_t root, int64_t level, std::optional<Vec3> saddle) {
    // What last joined over the level is one bubble.
    if (r.all[root].joined > level + 1) {
      Bubble b;
      cut.clear();
      for (uint32_t c = r.all[root].head; c != Regions::none; c = r.next[c])
        if (d.level[c] > level) take_in(b, c, level);
      return tell(b, level, saddle);
    }
    // Joined just here it may be several that only touch below: each is told by itself.
    told.resize(n, 0);
    const auto over = [&](uint32_t c) { return d.level[c] > level && !told[c]; };
    const auto take = [&](uint32_t c) { told[c] = 1, stack.push_back(c); };
    for (uint32_t seed = r.all[root].head; seed != Regions::none; seed = r.next[seed]) {
      if (!over(seed)) continue;
      Bubble b;
      cut.clear();
      take(seed);
      while (!stack.empty()) {
        const uint32_t c = stack.back();
        stack.pop_back();
        take_in(b, c, level);
        for (const uint32_t o : cavity.cell[c].beside)
          if (o != Cavity::outside && over(o)) take(o);
        if (cavity.whole(c)) continue;
        const Cavity::Part& part = cavity.part(c);
        for (uint32_t k = part.first_passage; k < part.first_passage + part.passages; ++k)
          if (over(cavity.passage[k].to) && d.opening[k] > level) take(cavity.passage[k].to);
      }
      tell(b, level, saddle);
    }
  };
  // Passages are cut when the liquid reaches their roof; a vent, when it reaches the vent.
  const auto meet = [&](int64_t level, uint32_t c, const uint32_t* roots, int count) {
    bool any_vented = false;
    for (int i = 0; i < count; ++i) any_vented |= r.all[roots[i]].vented;
    if (any_vented)
      for (int i = 0; i < count; ++i)
        if (!r.all[roots[i]].vented) close_pocket(roots[i], level, cavity.centre(c));
    uint32_t root = roots[0];
    for (int i = 1; i < count; ++i) root = r.join(root, roots[i]);
    r.all[root].vented = any_vented;
    r.all[root].joined = level;
    return root;
  };
  const auto vent = [&](const VentCell& v, uint32_t root) {
    if (r.all[root].vented) return;
    close_pocket(root, v.level, cavity.centre(v.cell));
    r.all[root].vented = true;
  };
  size_t done = 0;
  const auto tick = [&] {
    if (++done % 65536 != 0) return true;
    progress.report(0.3 + 0.7 * static_cast<double>(done) / static_cast<double>(n));
    return !progress.cancelled();
  };
  if (!fall(cavity, d, r, vent_cells(cavity, d, up, openings), meet, vent, tick)) return Error::stopped();
  // What never met a vent cannot fill at all.
  constexpr int64_t under_all = std::numeric_limits<int32_t>::min();
  for (uint32_t k = 0; k < r.all.size(); ++k)
    if (r.all[k].parent == k && !r.all[k].vented) close_pocket(k, under_all, std::nullopt);
  std::stable_sort(out.pockets.begin(), out.pockets.end(),
                   [](const Pocket& a, const Pocket& b) { return a.volume_mm3 > b.volume_mm3; });
  progress.report(1);
  return out;
}

double air_pressure_kpa(double altitude_m) { return 101.325 * std::pow(1 - 2.25577e-5 * altitude_m, 5.25588); }
double under_pressure_mm3(double v, double gauge_kpa, double altitude_m) {
  const double p = air_pressure_kpa(altitude_m);
  return v * p / (p + gauge_kpa);
}
double after_vacuum_mm3(double v, double absolute_kpa, double altitude_m) {
  return v * absolute_kpa / air_pressure_kpa(altitude_m);
}
double pressure_for_kpa(double v, double to, double altitude_m) {
  return to >= v ? 0 : air_pressure_kpa(altitude_m) * (v / to - 1);
}
double vacuum_gauge_kpa(double absolute_kpa, double altitude_m) { return air_pressure_kpa(altitude_m) - absolute_kpa; }
double ball_diameter_mm(double v) { return std::cbrt(6 * v / std::numbers::pi); }

Vec3 tilted_up(const Vec3& base_up, double tilt_deg, double azimuth_deg) {
  const Transform f = frame_along(base_up);
  const double t = tilt_deg * std::numbers::pi / 180, a = azimuth_deg * std::numbers::pi / 180;
  return unit(f.rows[2] * std::cos(t) + (f.rows[0] * std::cos(a) + f.rows[1] * std::sin(a)) * std::sin(t));
}

}  // namespace palinform
