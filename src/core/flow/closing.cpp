#include "flow/closing.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>
#include <queue>
#include <utility>

#include "solid/columns.hpp"

namespace palinform {
namespace {

constexpr int steps = 72;
constexpr double gravity = 9.81;

/// Each neighbour of column c that lies on the grid; `edge` when one would lie beyond.
template <class Use>
bool each_beside(const ClosingGrid& g, size_t c, Use&& use) {
  const int i = static_cast<int>(c % static_cast<size_t>(g.nu)), j = static_cast<int>(c / static_cast<size_t>(g.nu));
  if (i > 0) use(c - 1);
  if (i + 1 < g.nu) use(c + 1);
  if (j > 0) use(c - static_cast<size_t>(g.nu));
  if (j + 1 < g.nv) use(c + static_cast<size_t>(g.nu));
  return i == 0 || j == 0 || i + 1 == g.nu || j + 1 == g.nv;
}

/// The eight round column c, with the way there in mm; `edge` as above.
template <class Use>
bool each_around(const ClosingGrid& g, size_t c, Use&& use) {
  const auto n = static_cast<size_t>(g.nu);
  const bool edge = each_beside(g, c, [&](size_t o) { use(o, g.pitch_mm); });
  const int i = static_cast<int>(c % n), j = static_cast<int>(c / n);
  for (const int a : {-1, 1})
    for (const int b : {-1, 1})
      if (i + a >= 0 && i + a < g.nu && j + b >= 0 && j + b < g.nv)
        use(static_cast<size_t>(j + b) * n + static_cast<size_t>(i + a), std::numbers::sqrt2 * g.pitch_mm);
  return edge;
}

/// Of the whole gap, what is open over each column: nearly nothing at the hinged end, all at the other.
std::vector<double> gap_shares(const ClosingGrid& g, const std::optional<double>& hinge_deg) {
  std::vector<double> s(g.count(), 1);
  if (!hinge_deg) return s;
  const double a = *hinge_deg * std::numbers::pi / 180, x = std::cos(a), y = std::sin(a);
  double low = 1e300, high = -1e300;
  for (size_t c = 0; c < s.size(); ++c) {
    const Point2 p = g.middle(c);
    s[c] = -(p.x * x + p.y * y);
    low = std::min(low, s[c]), high = std::max(high, s[c]);
  }
  for (double& v : s) v = 0.02 + 0.98 * (v - low) / std::max(1e-9, high - low);
  return s;
}

/// Resin as it is poured: level in side b, what is more heaped.
std::vector<double> poured(const ClosingGrid& g, const ClosingHow& how) {
  const size_t n = g.count();
  const double cell = g.pitch_mm * g.pitch_mm;
  double brim = std::numeric_limits<double>::infinity();
  for (size_t c = 0; c < n; ++c)
    if (!g.part[c])
      each_beside(g, c, [&](size_t o) {
        if (g.part[o]) brim = std::min(brim, static_cast<double>(g.floor_mm[c]));
      });
  const auto level = [&](double to) {
    double sum = 0;
    for (size_t c = 0; c < n; ++c)
      if (g.part[c]) sum += cell * std::max(0.0, to - static_cast<double>(g.floor_mm[c]));
    return sum;
  };
  double at = brim;
  if (level(brim) > how.resin_mm3) {
    double low = brim;
    for (size_t c = 0; c < n; ++c) low = std::min(low, static_cast<double>(g.floor_mm[c]));
    for (int k = 0; k < 50; ++k) {
      at = 0.5 * (low + brim);
      (level(at) > how.resin_mm3 ? brim : low) = at;
    }
  }
  std::vector<double> r(n, 0);
  double held = 0;
  for (size_t c = 0; c < n; ++c)
    if (g.part[c]) held += cell * (r[c] = std::max(0.0, at - static_cast<double>(g.floor_mm[c])));
  const double heap = how.resin_mm3 - held;
  if (heap <= 0) return r;
  // A paraboloid; wider than the land it lies as a layer, and what lies beyond the box has run off.
  const double high = std::max(how.heap_high_mm, 1e-3), wide2 = 2 * heap / (std::numbers::pi * high);
  for (size_t c = 0; c < n; ++c) {
    const Point2 p = g.middle(c);
    const double d2 = (p.x - how.heap_mm.x) * (p.x - how.heap_mm.x) + (p.y - how.heap_mm.y) * (p.y - how.heap_mm.y);
    if (d2 < wide2) r[c] += high * (1 - d2 / wide2);
  }
  return r;
}

}  // namespace

double ClosingGrid::part_mm3() const {
  double sum = 0;
  for (size_t c = 0; c < count(); ++c) sum += static_cast<double>(roof_mm[c] - floor_mm[c]);
  return sum * pitch_mm * pitch_mm;
}

Result<ClosingGrid> closing_grid(const TriMesh& mesh, const Mould& m, bool turned_over, int across,
                                 const Progress& progress) {
  ClosingGrid g;
  g.frame = m.frame;
  Box3 box = m.inner_mm;
  const double over = turned_over ? -1 : 1;
  if (turned_over) {
    // Half a turn about u.
    g.frame.rows[1] = -g.frame.rows[1], g.frame.rows[2] = -g.frame.rows[2];
    box.min.y = -m.inner_mm.max.y, box.max.y = -m.inner_mm.min.y;
  }
  g.pitch_mm = std::max(box.size().x, box.size().y) / across;
  g.u0_mm = box.min.x, g.v0_mm = box.min.y;
  g.nu = std::max(3, static_cast<int>(std::ceil(box.size().x / g.pitch_mm - 1e-9)));
  g.nv = std::max(3, static_cast<int>(std::ceil(box.size().y / g.pitch_mm - 1e-9)));
  const auto columns = build_columns(mesh, g.frame, g.pitch_mm, ColumnGrid{g.u0_mm, g.v0_mm, g.nu, g.nv}, progress);
  if (!columns) return columns.error();
  g.floor_mm.resize(g.count()), g.roof_mm.resize(g.count()), g.part.assign(g.count(), 0);
  for (size_t c = 0; c < g.count(); ++c) {
    const Point2 p = g.middle(c);
    if (columns->empty_at(c)) {
      g.floor_mm[c] = g.roof_mm[c] = static_cast<float>(over * m.parting_at(p.x, over * p.y));
      continue;
    }
    double thick = 0, top = -1e300;
    for (uint32_t s = columns->start[c]; s < columns->start[c + 1]; ++s) {
      thick += columns->span[s].high_mm - columns->span[s].low_mm;
      top = std::max(top, columns->span[s].high_mm);
    }
    g.part[c] = 1;
    g.roof_mm[c] = static_cast<float>(top);
    g.floor_mm[c] = static_cast<float>(top - thick);
  }
  return g;
}

double heap_height_mm(double viscosity_pa_s) { return std::clamp(3 + 2 * viscosity_pa_s, 3.0, 15.0); }

Closing close_squeeze(const ClosingGrid& g, const ClosingHow& how) {
  const size_t n = g.count();
  const double cell = g.pitch_mm * g.pitch_mm;
  Closing out;
  out.reached_mm.assign(n, std::numeric_limits<float>::infinity());
  std::vector<double> r = poured(g, how);
  const std::vector<double> share = gap_shares(g, how.hinge_deg);
  double held = 0;
  for (const double x : r) held += cell * x;
  out.ran_over_mm3 = std::max(0.0, how.resin_mm3 - held);

  // High enough that nothing touches yet, but at the hinged end, where it always does.
  double open = how.flash_mm;
  for (size_t c = 0; c < n; ++c) {
    const double stands = static_cast<double>(g.floor_mm[c] - g.roof_mm[c]) + r[c];
    if (r[c] > 0 && share[c] > 0.2) open = std::max(open, stands / share[c]);
  }
  out.first_touch_mm = open;
  const double half = 0.25 * (g.nu + g.nv) * g.pitch_mm;
  // Pascals per millimetre of way through a gap of 1 mm, at the speed that fills half the box in the time given.
  const double drag = 12 * how.viscosity_pa_s * (half / std::max(1.0, how.close_s) * 1e-3) / 1e-6 * 1e-3;
  const double head = how.density_g_cm3 * gravity;  // Pa per mm

  std::vector<uint8_t> wet(n, 0), shut(n, 0), queued(n, 0);
  std::vector<double> path(n, 0);                 // Pa spent on the way there
  std::vector<std::pair<size_t, double>> pocket;  // columns shut in, with the gap at that moment
  std::vector<double> clear(n);
  using Entry = std::pair<double, size_t>;  // key, column; n: out over the box's edge
  std::priority_queue<Entry, std::vector<Entry>, std::greater<>> front;
  std::vector<size_t> stack;
  std::vector<uint8_t> airy(n);

  for (int k = 0; k <= steps; ++k) {
    const double part = std::pow(1 - static_cast<double>(k) / steps, 1.6);
    const double gap = how.flash_mm + (open - how.flash_mm) * part;
    double spare = 0;
    for (size_t c = 0; c < n; ++c) {
      clear[c] = static_cast<double>(g.roof_mm[c] - g.floor_mm[c]) + how.flash_mm + (gap - how.flash_mm) * share[c];
      if (r[c] < clear[c] - 1e-9) continue;
      spare += r[c] - clear[c];
      r[c] = clear[c];
      if (!std::exchange(wet[c], 1)) out.reached_mm[c] = static_cast<float>(gap);
    }
    // What is pressed away, to where it takes the least.
    front = {};
    std::fill(queued.begin(), queued.end(), 0);
    const auto offer = [&](size_t from) {
      const bool edge = each_around(g, from, [&](size_t o, double way) {
        if (wet[o] || shut[o] || queued[o]) return;
        queued[o] = 1;
        const double thin = std::max(0.02, std::min(clear[from], clear[o]));
        path[o] = path[from] + drag * way / (thin * thin);
        front.push({head * (static_cast<double>(g.floor_mm[o]) + clear[o]) + path[o], o});
      });
      if (edge) {
        const double thin = std::max(0.02, clear[from]);
        front.push({head * (static_cast<double>(g.floor_mm[from]) + clear[from]) + path[from] +
                        drag * g.pitch_mm / (thin * thin),
                    n});
      }
    };
    if (spare > 0)
      for (size_t c = 0; c < n; ++c)
        if (wet[c]) offer(c);
    while (spare > 1e-12) {
      if (front.empty()) break;
      const size_t c = front.top().second;
      front.pop();
      if (c == n) break;  // over the edge: all the rest of it
      const double takes = clear[c] - r[c];
      if (takes > spare) {
        r[c] += spare;
        spare = 0;
        break;
      }
      spare -= takes;
      r[c] = clear[c];
      wet[c] = 1;
      out.reached_mm[c] = static_cast<float>(gap);
      offer(c);
    }
    out.ran_over_mm3 += cell * std::max(0.0, spare);

    // Air that no longer finds a way out between the halves.
    std::fill(airy.begin(), airy.end(), 0);
    const auto reach = [&](size_t c) {
      if (wet[c] || airy[c]) return;
      airy[c] = 1;
      stack.push_back(c);
    };
    for (int i = 0; i < g.nu; ++i) reach(static_cast<size_t>(i)), reach(n - 1 - static_cast<size_t>(i));
    for (int j = 0; j < g.nv; ++j)
      reach(static_cast<size_t>(j) * static_cast<size_t>(g.nu)),
          reach(static_cast<size_t>(j + 1) * static_cast<size_t>(g.nu) - 1);
    while (!stack.empty()) {
      const size_t c = stack.back();
      stack.pop_back();
      each_beside(g, c, reach);
    }
    for (size_t c = 0; c < n; ++c)
      if (!wet[c] && !airy[c] && !shut[c]) shut[c] = 1, pocket.emplace_back(c, gap);
  }

  // Pockets: what lies side by side of the columns shut in and still holds air.
  std::vector<double> shut_at(n, 0);
  for (const auto& [c, gap] : pocket) shut_at[c] = gap;
  std::vector<uint8_t> seen(n, 0);
  const auto air = [&](size_t c) { return shut[c] && !wet[c] && clear[c] - r[c] > 1e-6; };
  for (size_t first = 0; first < n; ++first) {
    if (seen[first] || !air(first)) continue;
    ClosingPocket p;
    double area = 0, top = -1e300;
    seen[first] = 1;
    stack.push_back(first);
    while (!stack.empty()) {
      const size_t c = stack.back();
      stack.pop_back();
      p.volume_mm3 += cell * (clear[c] - r[c]);
      p.shut_mm = std::max(p.shut_mm, shut_at[c]);
      area += cell;
      if (static_cast<double>(g.roof_mm[c]) > top) {
        top = static_cast<double>(g.roof_mm[c]);
        const Point2 m = g.middle(c);
        p.apex_mm = g.frame.point_back({m.x, m.y, top});
      }
      each_beside(g, c, [&](size_t o) {
        if (!seen[o] && air(o)) seen[o] = 1, stack.push_back(o);
      });
    }
    p.wide_mm = 2 * std::sqrt(area / std::numbers::pi);
    out.trapped_mm3 += p.volume_mm3;
    out.pockets.push_back(p);
  }
  std::sort(out.pockets.begin(), out.pockets.end(),
            [](const ClosingPocket& a, const ClosingPocket& b) { return a.volume_mm3 > b.volume_mm3; });
  for (size_t c = 0; c < n; ++c)
    if (g.part[c] && !wet[c] && !shut[c]) out.short_mm3 += cell * std::max(0.0, clear[c] - how.flash_mm - r[c]);
  return out;
}

ClosingHow plan_closing(const ClosingGrid& g, ClosingHow how, bool keep_heap, bool keep_hinge,
                        const Progress& progress) {
  std::vector<Point2> heaps;
  if (keep_heap) {
    heaps.push_back(how.heap_mm);
  } else {
    // The thickest place: the middle of all columns within a tenth of the thickest, else it would hang on a single one.
    double most = 0, u = 0, v = 0, m = 0, uu = 0, vv = 0, mm = 0;
    for (size_t c = 0; c < g.count(); ++c) most = std::max(most, static_cast<double>(g.roof_mm[c] - g.floor_mm[c]));
    for (size_t c = 0; c < g.count(); ++c) {
      if (!g.part[c]) continue;
      const Point2 p = g.middle(c);
      uu += p.x, vv += p.y, mm += 1;
      if (static_cast<double>(g.roof_mm[c] - g.floor_mm[c]) >= 0.9 * most) u += p.x, v += p.y, m += 1;
    }
    if (m > 0) heaps.push_back({u / m, v / m});
    if (mm > 0) heaps.push_back({uu / mm, vv / mm});
    // Hollows of the roof: no place as high within 6 columns, and the line lower.
    std::vector<std::pair<float, size_t>> tops;
    constexpr int reach = 6;
    for (int j = 0; j < g.nv; ++j)
      for (int i = 0; i < g.nu; ++i) {
        const size_t c = static_cast<size_t>(j) * static_cast<size_t>(g.nu) + static_cast<size_t>(i);
        if (!g.part[c]) continue;
        bool highest = true, over = false;
        for (int b = std::max(0, j - reach); b <= std::min(g.nv - 1, j + reach) && highest; ++b)
          for (int a = std::max(0, i - reach); a <= std::min(g.nu - 1, i + reach) && highest; ++a) {
            const size_t o = static_cast<size_t>(b) * static_cast<size_t>(g.nu) + static_cast<size_t>(a);
            highest = g.roof_mm[o] < g.roof_mm[c] || (g.roof_mm[o] == g.roof_mm[c] && o >= c);
            over |= g.roof_mm[o] < g.roof_mm[c] - 0.5f;
          }
        if (highest && over) tops.emplace_back(-g.roof_mm[c], c);
      }
    std::sort(tops.begin(), tops.end());
    for (size_t k = 0; k < std::min<size_t>(4, tops.size()); ++k) heaps.push_back(g.middle(tops[k].second));
  }
  std::vector<std::optional<double>> hinges{how.hinge_deg};
  if (!keep_hinge) hinges = {std::nullopt, 0.0, 90.0, 180.0, 270.0};
  ClosingHow best = how;
  double least = std::numeric_limits<double>::infinity();
  int done = 0;
  for (const Point2& heap : heaps)
    for (const auto& hinge : hinges) {
      if (progress.cancelled()) return best;
      ClosingHow tried = how;
      tried.heap_mm = heap, tried.hinge_deg = hinge;
      const Closing c = close_squeeze(g, tried);
      // A cubic millimetre of air or of nothing is worth ten that ran over; what came first wins where they are equal.
      const double price = c.trapped_mm3 + c.short_mm3 + 0.1 * c.ran_over_mm3;
      if (price < 0.98 * least - 0.5) least = price, best = tried;
      progress.report(static_cast<double>(++done) / static_cast<double>(heaps.size() * hinges.size()));
    }
  return best;
}

double land_force_n(double viscosity_pa_s, double line_mm, double wide_mm, double flash_mm, double seconds) {
  if (!(flash_mm > 0) || !(seconds > 0)) return 0;
  const double l = line_mm * 1e-3, w = wide_mm * 1e-3, h = flash_mm * 1e-3;
  return viscosity_pa_s * l * w * w * w / (2 * seconds * h * h);
}

}  // namespace palinform
