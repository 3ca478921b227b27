#include "flow/sweep.hpp"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>

#include "solid/columns.hpp"

namespace palinform {
namespace {

constexpr uint32_t none = 0xFFFFFFFFu;

/// Regions of cells taken so far. Each ventless one keeps its cells as a linked list, so that its volume can be counted
/// exactly when it is cut off; lists join in constant time.
struct Regions {
  std::vector<uint32_t> parent, next, tail, apex;
  std::vector<bool> vented;
  explicit Regions(size_t n) : parent(n, none), next(n, none), tail(n), apex(n), vented(n, false) {}
  bool taken(uint32_t c) const { return parent[c] != none; }
  uint32_t root(uint32_t c) {
    while (parent[c] != c) c = parent[c] = parent[parent[c]];
    return c;
  }
};

}  // namespace

Result<Sweep> sweep_air(const Cavity& cavity, const Vec3& up_in, const std::vector<Opening>& openings,
                        Progress& progress) {
  if (!finite(up_in) || length(up_in) < 1e-9)
    return Error{"up has no direction", "flow", "Give a vector that is not nought."};
  const Vec3 up = unit(up_in);
  const size_t n = cavity.cells.size();
  const double h = cavity.voxel_mm;
  // How far a cell reaches along up, corner to corner.
  const double reach = h * (std::abs(up.x) + std::abs(up.y) + std::abs(up.z));

  std::vector<float> height(n);
  std::vector<uint64_t> order(n);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 8192), [&](const auto& range) {
    for (size_t c = range.begin(); c < range.end(); ++c) {
      height[c] = static_cast<float>(dot(cavity.centre(cavity.cells[c]) - cavity.origin_mm, up));
      // Float bits turned so that they sort as unsigned, highest first; the cell's number breaks ties.
      uint32_t bits;
      std::memcpy(&bits, &height[c], 4);
      bits = bits & 0x80000000u ? ~bits : bits | 0x80000000u;
      order[c] = uint64_t{~bits} << 32 | c;
    }
  });
  if (progress.cancelled()) return Error::stopped();
  tbb::parallel_sort(order.begin(), order.end());
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.5);

  // Level at which each open cell stops letting air out: the opening's own height, not the cell's.
  std::vector<float> open_level(n, -INFINITY);
  const double base = dot(cavity.origin_mm, up);
  for (const Opening& o : openings) {
    if (o.radius_mm <= 0) {
      const uint32_t g = cavity.nearest_cell(o.at_mm);
      if (g == Cavity::outside) continue;
      const uint32_t c = cavity.number[g];
      // A snapped point may lie just off its cell; the level stays within the cell.
      const double level = std::clamp(dot(o.at_mm, up) - base, height[c] - 0.5 * reach, height[c] + 0.5 * reach);
      open_level[c] = std::max(open_level[c], static_cast<float>(level));
      continue;
    }
    for (size_t c = 0; c < n; ++c)
      if (length(cavity.centre(cavity.cells[c]) - o.at_mm) <= o.radius_mm + 0.5 * h)
        open_level[c] = std::max(open_level[c], static_cast<float>(height[c] + 0.5 * reach));
  }

  const int64_t step[6] = {
      1, -1, cavity.nx, -cavity.nx, int64_t{cavity.nx} * cavity.ny, -int64_t{cavity.nx} * cavity.ny};
  Regions r(n);
  Sweep out;
  const double cell = h * h * h;
  const auto share_above = [&](uint32_t c, double level) {
    return std::clamp((height[c] + 0.5 * reach - level) / reach, 0.0, 1.0);
  };
  // A region cut off at one level may be several bubbles that only touched below it: each is told by itself.
  std::vector<bool> told(n, false);
  std::vector<uint32_t> stack;
  const auto close_pocket = [&](uint32_t root, double level, std::optional<Vec3> saddle, double extra_mm3) {
    for (uint32_t seed = root; seed != none; seed = r.next[seed]) {
      if (told[seed] || share_above(seed, level) <= 0) continue;
      Pocket p;
      p.saddle_mm = saddle;
      uint32_t apex = seed;
      told[seed] = true;
      stack.push_back(seed);
      while (!stack.empty()) {
        const uint32_t c = stack.back();
        stack.pop_back();
        p.volume_mm3 += cell * share_above(c, level);
        if (height[c] > height[apex] || (height[c] == height[apex] && c < apex)) apex = c;
        for (const int64_t s : step) {
          const uint32_t o = cavity.number[static_cast<size_t>(static_cast<int64_t>(cavity.cells[c]) + s)];
          if (o == Cavity::outside || !r.taken(o) || told[o] || share_above(o, level) <= 0) continue;
          told[o] = true;
          stack.push_back(o);
        }
      }
      p.volume_mm3 += extra_mm3;
      extra_mm3 = 0;
      p.apex_mm = cavity.centre(cavity.cells[apex]);
      p.depth_mm = height[apex] + 0.5 * reach - std::max(level, -1e30);
      if (p.volume_mm3 < 0.1 * cell) continue;
      out.trapped_mm3 += p.volume_mm3;
      out.pockets.push_back(p);
    }
  };
  size_t done = 0;
  for (const uint64_t key : order) {
    if (++done % 65536 == 0) {
      if (progress.cancelled()) return Error::stopped();
      progress.report(0.5 + 0.5 * static_cast<double>(done) / static_cast<double>(n));
    }
    const uint32_t c = static_cast<uint32_t>(key);
    const uint32_t g = cavity.cells[c];
    r.parent[c] = c;
    r.tail[c] = c;
    r.apex[c] = c;
    uint32_t roots[6];
    int count = 0;
    bool beside_vented = false;
    for (const int64_t s : step) {
      const uint32_t o = cavity.number[static_cast<size_t>(static_cast<int64_t>(g) + s)];
      if (o == Cavity::outside || !r.taken(o)) continue;
      const uint32_t root = r.root(o);
      if (std::find(roots, roots + count, root) != roots + count) continue;
      roots[count++] = root;
      beside_vented |= r.vented[root];
    }
    const bool is_vent = open_level[c] > -INFINITY, any_vented = beside_vented || is_vent;
    if (any_vented) {
      // The passage is cut when the liquid reaches its roof: the top of this cell where the air gets on beside it, the
      // vent's own level where this cell is the only way out. Then the cell's own share above the vent stays too.
      const double cell_top = height[c] + 0.5 * reach, level = beside_vented ? cell_top : open_level[c];
      double own = beside_vented ? 0 : cell * share_above(c, level);
      for (int i = 0; i < count; ++i)
        if (!r.vented[roots[i]]) {
          close_pocket(roots[i], level, cavity.centre(g), own);
          own = 0;
        }
    }
    uint32_t top = c;
    for (int i = 0; i < count; ++i)
      if (height[r.apex[roots[i]]] > height[r.apex[top]] ||
          (height[r.apex[roots[i]]] == height[r.apex[top]] && r.apex[roots[i]] < r.apex[top]))
        top = roots[i];
    const uint32_t apex = r.apex[top];
    for (int i = 0; i < count; ++i) {
      r.parent[roots[i]] = c;
      if (!any_vented) {
        r.next[r.tail[c]] = roots[i];
        r.tail[c] = r.tail[roots[i]];
      }
    }
    r.apex[c] = apex;
    r.vented[c] = any_vented;
  }
  // What never met a vent cannot fill at all.
  for (uint32_t c = 0; c < n; ++c)
    if (r.parent[c] == c && !r.vented[c]) close_pocket(c, -INFINITY, std::nullopt, 0);
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
