#include "mould/grooves.hpp"

#include <algorithm>
#include <cmath>

#include "mould/smallest_box.hpp"
#include "solid/columns.hpp"
#include "solid/plan_distance.hpp"

namespace palinform {

double grooves_ml(const std::vector<Groove>& grooves) {
  double ml = 0;
  for (const Groove& g : grooves) ml += 1e-3 * g.volume_mm3;
  return ml;
}

Result<std::vector<Groove>> grooves_of(const TriMesh& mesh, const Vec3& flat_normal, double narrow,
                                       const Progress& progress) {
  const Transform frame = frame_around(mesh, flat_normal);
  const Box3 box = box_in(mesh, frame);
  const Vec3 size = box.size();
  const double pitch = std::max(narrow / 12, std::max(size.x, size.y) / 400);
  const auto columns = build_columns(mesh, frame, pitch, 0, progress.part(0, 0.3));
  if (!columns) return columns.error();
  const Columns& c = *columns;
  constexpr int layers = 40;
  const double step = size.z / layers, radius2 = std::pow(0.5 * narrow / pitch, 2);
  // A margin of empty cells, so that the part's own rim opens like any other edge.
  const int wide = c.nu + 2, high = c.nv + 2;
  const auto cell = [&](size_t column) {
    const auto i = static_cast<int>(column) % c.nu, j = static_cast<int>(column) / c.nu;
    return static_cast<size_t>(j + 1) * static_cast<size_t>(wide) + static_cast<size_t>(i + 1);
  };
  std::vector<double> tall(c.count(), 0), lowest(c.count(), 1e300);
  for (int k = 0; k < layers; ++k) {
    if (progress.cancelled()) return Error::stopped();
    const double z = box.min.z + (k + 0.5) * step;
    std::vector<uint8_t> empty(static_cast<size_t>(wide) * static_cast<size_t>(high), 1);
    bool any = false;
    for (size_t q = 0; q < c.count(); ++q)
      for (uint32_t s = c.start[q]; s < c.start[q + 1]; ++s)
        if (c.span[s].low_mm <= z && z <= c.span[s].high_mm) empty[cell(q)] = 0, any = true;
    if (!any) continue;
    const std::vector<double> in = plan_distance2(empty, wide, high);
    std::vector<uint8_t> core(empty.size(), 0);
    for (size_t q = 0; q < core.size(); ++q) core[q] = in[q] > radius2;
    const std::vector<double> out = plan_distance2(core, wide, high);
    for (size_t q = 0; q < c.count(); ++q) {
      if (empty[cell(q)] || out[cell(q)] <= radius2 + 2 * std::sqrt(radius2) + 1)
        continue;  // within the disc and a cell
      tall[q] += step;
      lowest[q] = std::min(lowest[q], z - 0.5 * step);
    }
    progress.report(0.3 + 0.7 * (k + 1) / layers);
  }
  std::vector<Groove> out;
  std::vector<uint8_t> seen(c.count(), 0);
  for (size_t start = 0; start < c.count(); ++start) {
    if (seen[start] || tall[start] <= 0) continue;
    std::vector<size_t> stack{start};
    seen[start] = 1;
    Groove g;
    double low = 1e300, area = 0, deepest = 0;
    while (!stack.empty()) {
      const size_t q = stack.back();
      stack.pop_back();
      area += pitch * pitch;
      g.volume_mm3 += pitch * pitch * tall[q];
      deepest = std::max(deepest, tall[q]);
      const int i = static_cast<int>(q) % c.nu, j = static_cast<int>(q) / c.nu;
      if (lowest[q] < low) {
        low = lowest[q];
        g.at_mm = frame.direction_back({c.u0_mm + (i + 0.5) * pitch, c.v0_mm + (j + 0.5) * pitch, box.max.z});
      }
      for (const auto& [x, y] : {std::pair{i + 1, j}, {i - 1, j}, {i, j + 1}, {i, j - 1}}) {
        if (x < 0 || y < 0 || x >= c.nu || y >= c.nv) continue;
        const size_t o = static_cast<size_t>(y) * static_cast<size_t>(c.nu) + static_cast<size_t>(x);
        if (!seen[o] && tall[o] > 0) seen[o] = 1, stack.push_back(o);
      }
    }
    g.deep_mm = box.max.z - low;
    // What a disc leaves of an upright corner is a quarter of this.
    if (area < 0.25 * narrow * narrow || deepest < narrow) continue;
    out.push_back(g);
  }
  std::stable_sort(out.begin(), out.end(), [](const Groove& a, const Groove& b) { return a.deep_mm > b.deep_mm; });
  return out;
}

}  // namespace palinform
