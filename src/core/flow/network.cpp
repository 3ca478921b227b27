#include "flow/network.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "flow/pressure_field.hpp"

namespace palinform {
namespace {

/// Cells reached from the first.
size_t hanging_together(const Cavity& c) {
  std::vector<uint8_t> seen(c.size(), 0);
  std::vector<uint32_t> stack{0};
  seen[0] = 1;
  size_t n = 0;
  while (!stack.empty()) {
    const uint32_t k = stack.back();
    stack.pop_back();
    ++n;
    c.each_neighbour(k, [&](uint32_t o, float, int) {
      if (!seen[o]) seen[o] = 1, stack.push_back(o);
    });
  }
  return n;
}

/// How wide the section is that `middle` lies in, seen across `normal`: of eight lines in that plane the longest is the
/// way the section runs; the width is what lies square to it.
double width_at(const RayScene& rays, const Vec3& middle, const Vec3& normal) {
  const Vec3 u = any_perpendicular(normal), v = cross(normal, u);
  double across[8];
  int longest = 0;
  for (int k = 0; k < 8; ++k) {
    const double a = std::numbers::pi * k / 8;
    const Vec3 way = u * std::cos(a) + v * std::sin(a);
    const auto there = rays.first_hit(middle, way), back = rays.first_hit(middle, -way);
    across[k] = (there ? there->t_mm : 1e9) + (back ? back->t_mm : 1e9);
    if (across[k] > across[longest]) longest = k;
  }
  return across[(longest + 4) % 8];
}

void measure_sections(FillNetwork& net, const RayScene& rays, const Progress& progress) {
  const Cavity& c = net.cavity;
  const size_t n = c.size();
  const double h = c.voxel_mm;
  std::vector<float> depth(n);
  std::vector<Vec3> wall(n), at(n);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, 256), [&](const auto& range) {
    for (size_t k = range.begin(); k < range.end() && !progress.cancelled(); ++k) {
      at[k] = c.centre(static_cast<uint32_t>(k));
      const SurfacePoint near = rays.closest(at[k]);
      depth[k] = static_cast<float>(near.distance_mm);
      wall[k] = near.point_mm;
    }
  });
  if (progress.cancelled()) return;
  // A ball about every cell that no neighbour lies clearly deeper than (a lattice askew to a wall has its deepest cells
  // far apart); each cell takes the largest ball that reaches it, or comes within a cell's diagonal of it: corners
  // belong to the section they are the corners of.
  std::vector<uint32_t> ridge;
  for (uint32_t k = 0; k < n; ++k) {
    bool deepest = true;
    c.each_neighbour(k,
                     [&](uint32_t o, float, int) { deepest &= depth[o] <= depth[k] + 0.3f * static_cast<float>(h); });
    if (deepest) ridge.push_back(k);
  }
  std::vector<float> across(ridge.size()), passes(ridge.size());
  tbb::parallel_for(tbb::blocked_range<size_t>(0, ridge.size(), 64), [&](const auto& range) {
    for (size_t r = range.begin(); r < range.end() && !progress.cancelled(); ++r) {
      // The cell lies beside the true middle: from the near wall straight on to the far one; where that is much
      // farther, the ball is held by other walls.
      const uint32_t k = ridge[r];
      const Vec3 way = at[k] - wall[k];
      float t = std::max(2 * depth[k], static_cast<float>(1e-3 * h));
      Vec3 middle = at[k];
      const Vec3 normal = unit(way);
      if (length(way) > 1e-9) {
        const auto far = rays.first_hit(at[k], normal);
        if (far && static_cast<float>(far->t_mm) < depth[k] + 1.3f * static_cast<float>(h)) {
          t = std::max(t, static_cast<float>(far->t_mm) + depth[k]);
          middle = wall[k] + normal * (0.5 * static_cast<double>(t));
        }
      }
      across[r] = t;
      passes[r] = static_cast<float>(section_permeability_mm2(
          static_cast<double>(t), std::max(static_cast<double>(t), width_at(rays, middle, normal))));
    }
  });
  if (progress.cancelled()) return;
  net.thick_mm.resize(n);
  net.permeability_mm2.resize(n);
  for (size_t k = 0; k < n; ++k) {
    net.thick_mm[k] = std::max(2 * depth[k], static_cast<float>(1e-3 * h));
    net.permeability_mm2[k] = net.thick_mm[k] * net.thick_mm[k] / 30;
  }
  // The largest first, each through what hangs together with it: a corner of its section lies up to √2 radii away. One
  // whose middle nearly coincides with a larger one's adds nothing.
  std::vector<uint32_t> by_size(ridge.size());
  for (uint32_t r = 0; r < ridge.size(); ++r) by_size[r] = r;
  std::sort(by_size.begin(), by_size.end(), [&](uint32_t a, uint32_t b) {
    return across[a] != across[b] ? across[a] > across[b] : passes[a] != passes[b] ? passes[a] > passes[b] : a < b;
  });
  std::vector<uint32_t> visited(n, UINT32_MAX), stack;
  std::vector<uint8_t> served(n, 0), near_larger(n, 0);
  for (const uint32_t r : by_size) {
    if (near_larger[ridge[r]]) continue;
    const double radius = 0.5 * static_cast<double>(across[r]), reach = 1.6 * radius + 0.9 * h, close = 0.15 * radius;
    const Vec3 middle = at[ridge[r]];
    stack.assign(1, ridge[r]);
    visited[ridge[r]] = r;
    while (!stack.empty()) {
      const uint32_t k = stack.back();
      stack.pop_back();
      if (!served[k]) served[k] = 1, net.thick_mm[k] = across[r], net.permeability_mm2[k] = passes[r];
      if (length(at[k] - middle) <= close) near_larger[k] = 1;
      c.each_neighbour(k, [&](uint32_t o, float, int) {
        if (visited[o] != r && length(at[o] - middle) <= reach) visited[o] = r, stack.push_back(o);
      });
    }
  }
}

}  // namespace

double section_permeability_mm2(double thick, double wide) {
  return thick * thick / 12 * (1 - 0.6 * thick / std::max(wide, thick));
}

Result<FillNetwork> fill_network(const TriMesh& mesh, const RayScene& rays, double cells, const Progress& progress) {
  FillNetwork out;
  const double volume = measure(mesh).volume_mm3;
  for (double factor = 1; factor <= 8; factor *= 2) {
    auto c = fill_with_cells(mesh, std::max(0.02, voxel_for(volume, cells * factor)), progress.part(0, 0.6));
    if (!c) {
      if (factor < 8 && !progress.cancelled()) continue;
      return c.error();
    }
    out.cavity = *std::move(c);
    if (hanging_together(out.cavity) > 0.97 * static_cast<double>(out.cavity.size())) break;
  }
  measure_sections(out, rays, progress.part(0.6, 1));
  if (progress.cancelled()) return Error::stopped();
  const Cavity& c = out.cavity;
  out.start.push_back(0);
  for (uint32_t k = 0; k < c.size(); ++k) {
    c.each_neighbour(k, [&](uint32_t o, float area, int) {
      const auto a = static_cast<double>(out.permeability_mm2[k]), b = static_cast<double>(out.permeability_mm2[o]);
      out.to.push_back(o);
      out.conduct_mm3.push_back(static_cast<float>(
          std::max(1e-15, static_cast<double>(area) * 2 * a * b / std::max(a + b, 1e-15) / c.voxel_mm)));
    });
    out.start.push_back(static_cast<uint32_t>(out.to.size()));
  }
  progress.report(1);
  return out;
}

Result<double> network_resistance(const FillNetwork& net, const std::vector<uint32_t>& from,
                                  const std::vector<uint32_t>& to, const std::vector<uint8_t>& open) {
  constexpr double infinite = std::numeric_limits<double>::infinity();
  if (from.empty() || to.empty()) return infinite;
  std::vector<CellRole> role(net.cavity.size(), CellRole::dry);
  std::vector<double> value(net.cavity.size(), 0);
  for (const uint32_t k : to) role[k] = CellRole::held;
  for (const uint32_t k : from) role[k] = CellRole::held, value[k] = 1;
  // Only what the source reaches takes part.
  std::vector<uint32_t> reached(from);
  bool touches = false;
  for (size_t n = 0; n < reached.size(); ++n)
    for (uint32_t e = net.start[reached[n]]; e < net.start[reached[n] + 1]; ++e) {
      const uint32_t o = net.to[e];
      if (!open.empty() && !open[o]) continue;
      touches |= role[o] == CellRole::held && value[o] == 0;
      if (role[o] == CellRole::dry) role[o] = CellRole::wet, reached.push_back(o);
    }
  if (!touches) return infinite;
  PressureField field(net);
  if (!field.prepare(role) || !field.solve(value))
    return Error{"the pressure in the cavity could not be worked out", "flow", "Check the mesh, or use another voxel."};
  double flow = 0;
  for (const uint32_t k : from)
    for (uint32_t e = net.start[k]; e < net.start[k + 1]; ++e)
      if (role[net.to[e]] == CellRole::wet || (role[net.to[e]] == CellRole::held && value[net.to[e]] == 0))
        flow += static_cast<double>(net.conduct_mm3[e]) * (1 - value[net.to[e]]);
  return flow > 0 ? 1 / flow : infinite;
}

}  // namespace palinform
