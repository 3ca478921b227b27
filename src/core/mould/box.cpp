#include "mould/box.hpp"

#include <Eigen/SparseCholesky>
#include <Eigen/SparseCore>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mould/kept_out.hpp"
#include "mould/line_heights.hpp"
#include "solid/laplace.hpp"

namespace palinform {
namespace {

/// By factors: slow, and sure.
void solve_directly(const GridLaplace<double>& g, const std::vector<double>& rhs, std::vector<double>& x) {
  std::vector<int> number(g.diagonal.size(), -1);
  int count = 0;
  for (size_t k = 0; k < number.size(); ++k)
    if (g.diagonal[k] > 0) number[k] = count++;
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::VectorXd right(count);
  const auto couple = [&](size_t k, size_t o, double by) {
    if (by <= 0) return;
    entries.emplace_back(number[k], number[o], -by);
    entries.emplace_back(number[o], number[k], -by);
  };
  for (size_t k = 0; k < number.size(); ++k) {
    if (number[k] < 0) continue;
    entries.emplace_back(number[k], number[k], g.diagonal[k]);
    right[number[k]] = rhs[k];
    couple(k, k + 1, g.east[k]);
    couple(k, k + static_cast<size_t>(g.nu), g.north[k]);
  }
  Eigen::SparseMatrix<double> a(count, count);
  a.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(a);
  const Eigen::VectorXd found = solver.solve(right);
  for (size_t k = 0; k < number.size(); ++k)
    if (number[k] >= 0) x[k] = found[number[k]];
}

/// Harmonic over the columns the part leaves empty, held to the line's height in the part's outermost columns, free at
/// the box walls. Columns inside the part carry the line's height too (used for the picture only).
std::vector<float> harmonic_surface(const Columns& c, const LineHeights& line, double fallback) {
  const size_t n = c.count();
  std::vector<float> height(n, static_cast<float>(fallback));
  if (line.empty()) return height;
  bool any = false;
  for (size_t k = 0; k < n; ++k) {
    if (c.empty_at(k)) {
      any = true;
    } else {
      const double u = c.u0_mm + (static_cast<double>(k % static_cast<size_t>(c.nu)) + 0.5) * c.pitch_mm;
      const double v = c.v0_mm + (static_cast<double>(k / static_cast<size_t>(c.nu)) + 0.5) * c.pitch_mm;
      height[k] = static_cast<float>(line.height(u, v));
    }
  }
  if (!any) return height;
  GridLaplace<double> grid(c.nu, c.nv);
  std::vector<double> rhs = grid.none(), x = grid.none();
  for (int j = 0; j < c.nv; ++j)
    for (int i = 0; i < c.nu; ++i) {
      const size_t k = grid.at(i, j);
      if (!c.empty_at(k - grid.pad)) continue;
      double diagonal = 1e-9, right = 1e-9 * fallback;
      const int step[4][2] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
      for (const auto& s : step) {
        const int u = i + s[0], v = j + s[1];
        if (u < 0 || v < 0 || u >= c.nu || v >= c.nv) continue;
        const size_t o = grid.at(u, v) - grid.pad;
        diagonal += 1;
        if (!c.empty_at(o))
          right += static_cast<double>(height[o]);
        else if (s[0] > 0)
          grid.east[k] = 1;
        else if (s[1] > 0)
          grid.north[k] = 1;
      }
      grid.diagonal[k] = diagonal;
      rhs[k] = right;
      x[k] = fallback;  // places without a line keep it
    }
  if (!solve_laplace(grid, rhs, x, 1e-9)) solve_directly(grid, rhs, x);
  for (size_t k = 0; k < n; ++k)
    if (c.empty_at(k)) height[k] = static_cast<float>(x[k + grid.pad]);
  return height;
}

}  // namespace

double wall_by_rule_mm(const Vec3& extent, double shore_a, const WallRule& rule) {
  return std::clamp(rule.share * std::max({extent.x, extent.y, extent.z}), rule.min_mm,
                    std::max(rule.min_mm, rule.most_mm)) +
         (shore_a < rule.soft_below_shore_a ? rule.extra_soft_mm : 0);
}

double mould_pitch_mm(const Box3& part, const Box3& box) {
  const double across = std::max(part.size().x, part.size().y), whole = std::max(box.size().x, box.size().y);
  return std::max({std::min(0.2, across / 40), across / 240, whole / 480});
}

double pitch_in_hand_mm(const Vec3& part) { return std::max({part.x, part.y, part.z}) / 80; }

double Mould::rim_mm() const {
  double low = 1e300;
  for (int i = 0; i < nu; ++i) low = std::min<double>({low, parting_mm[column(i, 0)], parting_mm[column(i, nv - 1)]});
  for (int j = 0; j < nv; ++j) low = std::min<double>({low, parting_mm[column(0, j)], parting_mm[column(nu - 1, j)]});
  return low;
}

double Mould::parting_at(double u, double v) const {
  const double x = std::clamp((u - u0_mm) / pitch_mm - 0.5, 0.0, nu - 1.001),
               y = std::clamp((v - v0_mm) / pitch_mm - 0.5, 0.0, nv - 1.001);
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const double fx = x - i, fy = y - j;
  const size_t at[4] = {column(i, j), column(i + 1, j), column(i, j + 1), column(i + 1, j + 1)};
  if (shadow[at[0]] || shadow[at[1]] || shadow[at[2]] || shadow[at[3]])
    return static_cast<double>(parting_mm[at[(fx >= 0.5) + 2 * (fy >= 0.5)]]);
  const double w[4] = {(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy};
  double z = 0;
  for (size_t k = 0; k < 4; ++k) z += w[k] * static_cast<double>(parting_mm[at[k]]);
  return z;
}

/// Along a pour's curve, linear between its points: `y` at `x`, nought before the first and the last beyond the end.
static double on_curve(const std::vector<HeightVolume>& curve, double HeightVolume::*x, double HeightVolume::*y,
                       double at) {
  if (curve.empty() || at <= 0) return 0;
  for (size_t i = 1; i < curve.size(); ++i)
    if (at <= curve[i].*x) {
      const HeightVolume &a = curve[i - 1], &b = curve[i];
      const double t = b.*x > a.*x ? (at - a.*x) / (b.*x - a.*x) : 1;
      return a.*y + t * (b.*y - a.*y);
    }
  return curve.back().*y;
}

double Mould::height_for(const RubberPour& p, double volume) {
  return on_curve(p.curve, &HeightVolume::volume_mm3, &HeightVolume::height_mm, volume);
}

double Mould::volume_under(const RubberPour& p, double height) {
  return on_curve(p.curve, &HeightVolume::height_mm, &HeightVolume::volume_mm3, height);
}

Result<Mould> two_part_mould(const TriMesh& mesh, const Split& split, const MouldOptions& options,
                             const Progress& progress) {
  if (!(options.wall_mm > 0) || !std::isfinite(options.wall_mm))
    return Error{"the wall must be thicker than nothing", "mould", "Give the wall in millimetres."};
  Mould m;
  m.frame = frame_around(mesh, split.pull);
  m.wall_mm = options.wall_mm;
  const Box3 part = box_in(mesh, m.frame);
  m.walls = options.walls();
  m.inner_mm = box_round(part, m.walls);
  const Vec3 inner = m.inner_mm.size();
  m.box_mm3 = inner.x * inner.y * inner.z;
  m.part_mm3 = measure(mesh).volume_mm3;
  m.pitch_mm = options.pitch_mm > 0 ? options.pitch_mm : mould_pitch_mm(part, m.inner_mm);

  const double nu = std::max(1.0, std::ceil(inner.x / m.pitch_mm - 1e-9)),
               nv = std::max(1.0, std::ceil(inner.y / m.pitch_mm - 1e-9));
  if (!(nu * nv <= 4e7)) return Error{"the columns would be too many", "mould", "Use a coarser pitch."};
  const Vec3 middle = m.inner_mm.centre();
  const ColumnGrid grid{middle.x - 0.5 * nu * m.pitch_mm, middle.y - 0.5 * nv * m.pitch_mm, static_cast<int>(nu),
                        static_cast<int>(nv)};
  const auto columns = build_columns(mesh, m.frame, m.pitch_mm, grid, progress.part(0, 0.4));
  if (!columns) return columns.error();
  const Columns& c = *columns;
  m.nu = c.nu, m.nv = c.nv, m.u0_mm = c.u0_mm, m.v0_mm = c.v0_mm;
  m.volume_error_mm3 = c.volume_error_mm3();
  m.shadow.resize(c.count());
  for (size_t k = 0; k < c.count(); ++k) m.shadow[k] = !c.empty_at(k);
  progress.report(0.4);
  if (progress.cancelled()) return Error::stopped();
  const LineHeights line(split, m.frame);
  m.parting_mm = harmonic_surface(c, line, part.min.z);
  progress.report(0.7);
  if (progress.cancelled()) return Error::stopped();

  // Under the part the surface runs inside it, on the side of each gap that the gap's own pour is not.
  m.part_low_mm.assign(c.count(), 0);
  m.part_high_mm.assign(c.count(), 0);
  for (size_t k = 0; k < c.count(); ++k) {
    if (c.empty_at(k)) continue;
    m.part_low_mm[k] = static_cast<float>(c.span[c.start[k]].low_mm);
    m.part_high_mm[k] = static_cast<float>(c.span[c.start[k + 1] - 1].high_mm);
    uint32_t in = c.start[k];
    for (uint32_t s = c.start[k]; s + 1 < c.start[k + 1]; ++s)
      if (split.side[c.span[s].high_face] == 1) in = s + 1;
    const double low = c.span[in].low_mm, high = c.span[in].high_mm, inset = std::min(0.3, 0.25 * (high - low));
    m.parting_mm[k] = static_cast<float>(std::clamp<double>(m.parting_mm[k], low + inset, high - inset));
  }

  double rise = 0;
  for (int j = 0; j + 1 < c.nv; ++j)
    for (int i = 0; i + 1 < c.nu; ++i) {
      const size_t k = static_cast<size_t>(j) * static_cast<size_t>(c.nu) + static_cast<size_t>(i);
      if (!c.empty_at(k) || !c.empty_at(k + 1) || !c.empty_at(k + static_cast<size_t>(c.nu))) continue;
      rise = std::max<double>(rise, std::hypot(m.parting_mm[k + 1] - m.parting_mm[k],
                                               m.parting_mm[k + static_cast<size_t>(c.nu)] - m.parting_mm[k]));
    }
  m.steepest_deg = std::atan(rise / m.pitch_mm) * 180 / std::numbers::pi;

  // Runs of rubber by pour. The grid overhangs the box by under a pitch; its edge columns count for what lies inside.
  struct Run {
    double low, high, area;
  };
  std::vector<Run> runs[2];
  for (int j = 0; j < c.nv; ++j)
    for (int i = 0; i < c.nu; ++i) {
      const auto overlap = [&](double from, double low, double high) {
        return std::max(0.0, std::min(from + m.pitch_mm, high) - std::max(from, low));
      };
      const double area = overlap(c.u0_mm + i * m.pitch_mm, m.inner_mm.min.x, m.inner_mm.max.x) *
                          overlap(c.v0_mm + j * m.pitch_mm, m.inner_mm.min.y, m.inner_mm.max.y);
      if (area <= 0) continue;
      const size_t k = static_cast<size_t>(j) * static_cast<size_t>(c.nu) + static_cast<size_t>(i);
      const double bottom = m.inner_mm.min.z, top = m.inner_mm.max.z;
      if (c.empty_at(k)) {
        const double at = std::clamp<double>(m.parting_mm[k], bottom, top);
        runs[1].push_back({bottom, at, area});
        runs[0].push_back({at, top, area});
        continue;
      }
      runs[1].push_back({bottom, c.span[c.start[k]].low_mm, area});
      runs[0].push_back({c.span[c.start[k + 1] - 1].high_mm, top, area});
      for (uint32_t s = c.start[k]; s + 1 < c.start[k + 1]; ++s)  // a gap in the part: it goes with the face it lies on
        runs[split.side[c.span[s].high_face]].push_back({c.span[s].high_mm, c.span[s + 1].low_mm, area});
    }
  for (int p = 0; p < 2; ++p) {
    RubberPour pour;
    pour.name = p == 0 ? "a" : "b";
    // Side b is poured with the mould turned over: its heights run the other way.
    double lowest = 1e300, highest = -1e300;
    for (Run& r : runs[p]) {
      if (p == 1) r = {-r.high, -r.low, r.area};
      if (r.high <= r.low) continue;
      lowest = std::min(lowest, r.low);
      highest = std::max(highest, r.high);
    }
    if (highest > lowest) {
      constexpr int bins = 96;
      const double step = (highest - lowest) / bins;
      std::vector<double> in_bin(bins, 0);
      for (const Run& r : runs[p]) {
        if (r.high <= r.low) continue;
        pour.volume_mm3 += (r.high - r.low) * r.area;
        spread_over(in_bin, lowest, step, r.low, r.high, r.area);
      }
      double sum = 0;
      pour.curve.push_back({0, 0});
      for (int b = 0; b < bins; ++b) pour.curve.push_back({(b + 1) * step, sum += in_bin[static_cast<size_t>(b)]});
      pour.fill_height_mm = highest - lowest;
    }
    m.rubber_mm3 += pour.volume_mm3;
    m.pours.push_back(std::move(pour));
  }
  double sunk[2] = {0, 0};
  for (size_t k = 0; k < c.count(); ++k)
    for (uint32_t s = c.start[k]; s < c.start[k + 1]; ++s) {
      const double at = std::clamp<double>(m.parting_mm[k], c.span[s].low_mm, c.span[s].high_mm);
      sunk[0] += (c.span[s].high_mm - at) * m.pitch_mm * m.pitch_mm;
      sunk[1] += (at - c.span[s].low_mm) * m.pitch_mm * m.pitch_mm;
    }
  m.sunk_mm3 = std::min(m.part_mm3, std::max(sunk[0], sunk[1]));
  if (options.master_g) {
    const auto lift_n = [&](double mm3) {
      return std::max(0.0, (options.rubber_density_g_cm3 * 1e-3 * mm3 - *options.master_g) * 1e-3 * 9.80665);
    };
    m.hold_down_n = lift_n(m.sunk_mm3);
    m.hold_down_whole_n = lift_n(m.part_mm3);
  }
  keep_out(m, options);
  const double t = options.panel_mm;
  m.panels = {{"long side", inner.x + 2 * t, inner.z, t},
              {"long side", inner.x + 2 * t, inner.z, t},
              {"short side", inner.y, inner.z, t},
              {"short side", inner.y, inner.z, t},
              {"base", inner.x + 2 * t, inner.y + 2 * t, t}};
  progress.report(1);
  return m;
}

Result<Mould> fine_mould(const TriMesh& mesh, const Split& split, MouldOptions options, double pitch_mm,
                         const Progress& progress) {
  if (!(pitch_mm > 0)) return Error{"the pitch must be above nought", "mould", ""};
  const Vec3 extent = measure(mesh).box_mm.size();
  options.pitch_mm = std::max(pitch_mm, std::max({extent.x, extent.y, extent.z}) / 500);
  return two_part_mould(mesh, split, options, progress);
}

}  // namespace palinform
