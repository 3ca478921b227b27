#include "flow/filling.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <Eigen/Sparse>
#include <limits>
#include <numbers>

#include "base/text.hpp"

namespace palinform {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();

/// Cells reached from cell 0 through neighbours.
size_t hanging_together(const Cavity& c) {
  std::vector<uint8_t> seen(c.cells.size(), 0);
  std::vector<uint32_t> stack{0};
  seen[0] = 1;
  size_t n = 0;
  while (!stack.empty()) {
    const uint32_t k = stack.back();
    stack.pop_back();
    ++n;
    for (const uint32_t o : c.beside[k])
      if (o != Cavity::outside && !seen[o]) seen[o] = 1, stack.push_back(o);
  }
  return n;
}

}  // namespace

Result<FillNetwork> fill_network(const TriMesh& mesh, const RayScene& rays, double cells, Progress& progress) {
  FillNetwork out;
  const double volume = measure(mesh).volume_mm3;
  for (double factor = 1; factor <= 8; factor *= 2) {
    auto c = fill_with_cells(mesh, std::max(0.02, voxel_for(volume, cells * factor)), progress);
    if (!c) {
      if (factor < 8 && !progress.cancelled()) continue;
      return c.error();
    }
    out.cavity = *std::move(c);
    if (hanging_together(out.cavity) > 0.97 * static_cast<double>(out.cavity.cells.size())) break;
  }
  const Cavity& c = out.cavity;
  const size_t n = c.cells.size();
  std::vector<float> depth(n);
  std::vector<Vec3> wall(n);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 256), [&](const auto& range) {
    for (size_t k = range.begin(); k < range.end() && !progress.cancelled(); ++k) {
      const SurfacePoint near = rays.closest(c.centre(c.cells[k]));
      depth[k] = static_cast<float>(near.distance_mm);
      wall[k] = near.point_mm;
    }
  });
  if (progress.cancelled()) return Error::stopped();
  // A ball about every cell that lies deeper than its neighbours; each cell takes the largest ball that reaches it, or
  // comes within a cell's diagonal of it: corners belong to the section they are the corners of. Nothing is told
  // thinner than a cell.
  out.volume_mm3 = volume;
  out.thick_mm.resize(n);
  const double h = c.voxel_mm;
  for (size_t k = 0; k < n; ++k) out.thick_mm[k] = std::max(2 * depth[k], static_cast<float>(h));
  std::vector<uint32_t> ridge;
  for (uint32_t k = 0; k < n; ++k)
    if (std::none_of(c.beside[k].begin(), c.beside[k].end(),
                     [&](uint32_t o) { return o != Cavity::outside && depth[o] > depth[k]; }))
      ridge.push_back(k);
  for (const uint32_t k : ridge) {
    // The cell lies beside the true middle: from the near wall straight on to the far one.
    const Vec3 middle = c.centre(c.cells[k]), way = middle - wall[k];
    float across = 2 * depth[k];
    if (length(way) > 1e-9)
      if (const auto far = rays.first_hit(middle, unit(way)))
        across = std::clamp(static_cast<float>(far->t_mm) + depth[k], across, across + 2 * static_cast<float>(h));
    const auto& at = c.lattice[k];
    const double r = static_cast<double>(depth[k]) / h + 1.75;
    const int reach = static_cast<int>(std::ceil(r));
    for (int dz = -reach; dz <= reach; ++dz)
      for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx) {
          if (dx * dx + dy * dy + dz * dz > r * r + 1e-9) continue;
          const int i = at[0] + dx, j = at[1] + dy, l = at[2] + dz;
          if (i < 0 || j < 0 || l < 0 || i >= c.nx || j >= c.ny || l >= c.nz) continue;
          const uint32_t o = c.number[(static_cast<size_t>(l) * static_cast<size_t>(c.ny) + static_cast<size_t>(j)) *
                                          static_cast<size_t>(c.nx) +
                                      static_cast<size_t>(i)];
          if (o != Cavity::outside) out.thick_mm[o] = std::max(out.thick_mm[o], across);
        }
  }
  progress.report(1);
  return out;
}

double network_resistance(const FillNetwork& net, const std::vector<uint32_t>& from, const std::vector<uint32_t>& to,
                          const std::vector<uint8_t>& open) {
  const Cavity& c = net.cavity;
  const size_t n = c.cells.size();
  if (from.empty() || to.empty()) return infinite;
  // What the source reaches; a set at one pressure is one node: source 0, sink −1 (held at nought).
  constexpr int unseen = -3, sink = -1, source = 0;
  std::vector<int> node(n, unseen);
  for (const uint32_t t : to) node[t] = sink;
  for (const uint32_t f : from)
    if (node[f] != sink) node[f] = source;
  std::vector<uint32_t> reached(from);
  int count = 1;
  bool touches = false;
  for (size_t k = 0; k < reached.size(); ++k)
    for (const uint32_t o : c.beside[reached[k]]) {
      if (o == Cavity::outside || (!open.empty() && !open[o])) continue;
      touches |= node[o] == sink;
      if (node[o] != unseen) continue;
      node[o] = count++;
      reached.push_back(o);
    }
  if (!touches) return infinite;
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::VectorXd diagonal = Eigen::VectorXd::Zero(count);
  const double h = c.voxel_mm;
  for (const uint32_t a : reached) {
    if (node[a] < 0) continue;
    for (const uint32_t b : c.beside[a]) {
      if (b == Cavity::outside || node[b] == unseen || node[b] == node[a]) continue;
      const double ka = static_cast<double>(net.thick_mm[a]) * static_cast<double>(net.thick_mm[a]) / 12,
                   kb = static_cast<double>(net.thick_mm[b]) * static_cast<double>(net.thick_mm[b]) / 12;
      const double g = std::max(1e-12, 2 * ka * kb / std::max(ka + kb, 1e-12) * h);
      diagonal[node[a]] += g;
      if (node[b] != sink) entries.emplace_back(node[a], node[b], -g);
      // Edges into the source from its cells are met once from each side: the far side's row is its own visit.
    }
  }
  for (int k = 0; k < count; ++k) entries.emplace_back(k, k, diagonal[k]);
  Eigen::SparseMatrix<double> m(count, count);
  m.setFromTriplets(entries.begin(), entries.end());
  Eigen::VectorXd in = Eigen::VectorXd::Zero(count);
  in[source] = 1;
  Eigen::ConjugateGradient<Eigen::SparseMatrix<double>, Eigen::Lower | Eigen::Upper, Eigen::IncompleteCholesky<double>>
      solver;
  solver.setTolerance(1e-7);
  solver.setMaxIterations(4000);
  solver.compute(m);
  const Eigen::VectorXd p = solver.solve(in);
  return p[source];
}

std::vector<FillStage> fill_stages(const FillNetwork& net, const Vec3& up_in, const std::vector<Vec3>& gates,
                                   double gate_d, int stages, Progress& progress) {
  const Cavity& c = net.cavity;
  const Vec3 up = unit(up_in);
  const size_t n = c.cells.size();
  const double cell = net.volume_mm3 / static_cast<double>(std::max<size_t>(1, n));
  std::vector<double> height(n);
  for (size_t k = 0; k < n; ++k) height[k] = dot(c.centre(c.cells[k]), up);
  std::vector<double> sorted = height;
  std::sort(sorted.begin(), sorted.end());
  std::vector<uint32_t> mouth;
  for (const Vec3& g : gates) {
    const uint32_t nearest = c.nearest_cell(g);
    if (nearest == Cavity::outside) continue;
    const Vec3 at = c.centre(nearest);
    for (uint32_t k = 0; k < n; ++k)
      if (c.cells[k] == nearest || length(c.centre(c.cells[k]) - at) <= 0.5 * gate_d) mouth.push_back(k);
  }
  std::sort(mouth.begin(), mouth.end());
  mouth.erase(std::unique(mouth.begin(), mouth.end()), mouth.end());
  std::vector<FillStage> out(static_cast<size_t>(stages));
  tbb::parallel_for(0, stages, [&](int s) {
    if (progress.cancelled()) return;
    FillStage& st = out[static_cast<size_t>(s)];
    const size_t under = std::max<size_t>(1, n * static_cast<size_t>(s + 1) / static_cast<size_t>(stages));
    st.level_mm = sorted[under - 1] + 0.5 * c.voxel_mm;
    st.volume_mm3 = static_cast<double>(under) * cell;
    std::vector<uint8_t> open(n, 0);
    std::vector<uint32_t> front, fed;
    for (uint32_t k = 0; k < n; ++k) open[k] = height[k] <= st.level_mm;
    for (const uint32_t k : mouth)
      if (open[k]) fed.push_back(k);
    for (uint32_t k = 0; k < n; ++k)
      if (open[k] && height[k] > st.level_mm - 1.5 * c.voxel_mm && !std::binary_search(fed.begin(), fed.end(), k))
        front.push_back(k);
    // While the front is still under the gate, resin falls to it freely.
    const double r = fed.empty() || front.empty() ? 0 : network_resistance(net, fed, front, open);
    st.resist = std::isfinite(r) ? r : 0;
  });
  progress.report(1);
  return out;
}

FillTime fill_time(const std::vector<FillStage>& stages, const FillConditions& c) {
  FillTime out;
  out.at_min.assign(stages.size(), infinite);
  if (stages.empty()) return out;
  const double r = 0.5 * c.sprue_mm, sprue = 8 * c.sprue_long_mm / (std::numbers::pi * std::pow(r, 4)) / c.gates;
  const double mu0 = c.viscosity_mpa_s * 1e-6;  // kPa·s
  const double tau = c.doubling_min * 60, limit = tau / (mu0 * std::numbers::ln2);
  double before = 0, sum = 0, last_resist = stages.front().resist;
  out.full_min = 0;
  for (size_t k = 0; k < stages.size(); ++k) {
    const FillStage& s = stages[k];
    const double dv = s.volume_mm3 - before;
    const double resist = sprue + 0.5 * (s.resist + last_resist);
    const double low = k ? stages[k - 1].level_mm : s.level_mm;
    const double head_mm = c.sprue_top_mm - std::max(c.gate_level_mm, 0.5 * (s.level_mm + low));
    const double kpa = c.density_g_cm3 * 9.81e-3 * head_mm + c.extra_kpa;
    if (kpa <= 0) {
      out.full_min.reset();
      out.filled_share = before / stages.back().volume_mm3;
      break;
    }
    const double step = dv * resist / kpa;
    if (sum + step >= limit) {
      out.full_min.reset();
      out.filled_share = (before + dv * std::clamp((limit - sum) / step, 0.0, 1.0)) / stages.back().volume_mm3;
      break;
    }
    sum += step;
    out.at_min[k] = -tau * std::log2(1 - sum / limit) / 60;
    before = s.volume_mm3;
    last_resist = s.resist;
  }
  if (out.full_min) out.full_min = out.at_min.back();
  out.sprue_share = sprue / std::max(sprue + stages.back().resist, 1e-300);
  return out;
}

std::vector<FillLever> fill_levers(const std::vector<FillStage>& stages, const std::vector<FillStage>& two_gates,
                                   const FillConditions& c) {
  std::vector<FillLever> out;
  const auto with = [&](std::string what, FillConditions changed, const std::vector<FillStage>& s) {
    out.push_back({std::move(what), fill_time(s, changed).full_min});
  };
  FillConditions x = c;
  x.sprue_mm = std::ceil(c.sprue_mm * 1.3);
  with("a sprue of Ø" + fixed(x.sprue_mm, 0) + " mm", x, stages);
  x = c;
  x.sprue_top_mm += 50, x.sprue_long_mm += 50;
  with("50 mm more head", x, stages);
  x = c;
  x.viscosity_mpa_s = viscosity_at(c.viscosity_mpa_s, 5, 0), x.doubling_min = c.doubling_min / std::sqrt(2.0);
  with("5 °C warmer", x, stages);
  x = c;
  x.doubling_min *= 2;
  with("a resin twice as slow", x, stages);
  if (!two_gates.empty()) {
    x = c;
    x.gates = 2;
    with("a second gate", x, two_gates);
  }
  std::stable_sort(out.begin(), out.end(), [](const FillLever& a, const FillLever& b) {
    return a.full_min.value_or(infinite) < b.full_min.value_or(infinite);
  });
  return out;
}

double viscosity_at(double mpa_s, double room_c, double reference_c) {
  return mpa_s * std::pow(0.96, room_c - reference_c);
}

}  // namespace palinform
