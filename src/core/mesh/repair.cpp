#include "mesh/repair.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

#include "mesh/flood.hpp"
#include "mesh/rays.hpp"
#include "mesh/soundness.hpp"

namespace palinform {
namespace {

/// Points within `reach` of an earlier kept point join it. A grid of that pitch keeps it O(n).
size_t merge_points(TriMesh& mesh, double reach) {
  struct CellHash {
    size_t operator()(const std::array<int64_t, 3>& c) const {
      return static_cast<size_t>(c[0] * 73856093) ^ static_cast<size_t>(c[1] * 19349663) ^
             static_cast<size_t>(c[2] * 83492791);
    }
  };
  std::unordered_map<std::array<int64_t, 3>, std::vector<uint32_t>, CellHash> grid;
  grid.reserve(mesh.points.size());
  std::vector<Vec3> kept;
  std::vector<uint32_t> to(mesh.points.size());
  const auto cell_of = [&](const Vec3& p) {
    return std::array<int64_t, 3>{std::llround(p.x / reach), std::llround(p.y / reach), std::llround(p.z / reach)};
  };
  for (size_t i = 0; i < mesh.points.size(); ++i) {
    const Vec3& p = mesh.points[i];
    const auto c = cell_of(p);
    uint32_t found = 0xFFFFFFFFu;
    double nearest = reach;
    for (int64_t dx = -1; dx <= 1; ++dx)
      for (int64_t dy = -1; dy <= 1; ++dy)
        for (int64_t dz = -1; dz <= 1; ++dz) {
          const auto it = grid.find({c[0] + dx, c[1] + dy, c[2] + dz});
          if (it == grid.end()) continue;
          for (const uint32_t k : it->second) {
            const double d = length(kept[k] - p);
            if (d <= nearest && (d < nearest || k < found)) nearest = d, found = k;
          }
        }
    if (found == 0xFFFFFFFFu) {
      found = static_cast<uint32_t>(kept.size());
      kept.push_back(p);
      grid[c].push_back(found);
    }
    to[i] = found;
  }
  const size_t merged = mesh.points.size() - kept.size();
  for (Triangle& t : mesh.triangles)
    for (uint32_t& v : t) v = to[v];
  mesh.points = std::move(kept);
  return merged;
}

size_t remove_bad_faces(TriMesh& mesh) {
  std::vector<Triangle> kept;
  kept.reserve(mesh.triangles.size());
  std::unordered_map<uint64_t, std::vector<Triangle>> by_ends;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (is_degenerate(mesh, t)) continue;
    Triangle sorted = mesh.triangles[t];
    std::sort(sorted.begin(), sorted.end());
    auto& same = by_ends[uint64_t{sorted[0]} << 32 | sorted[1]];
    if (std::find(same.begin(), same.end(), sorted) != same.end()) continue;
    same.push_back(sorted);
    kept.push_back(mesh.triangles[t]);
  }
  const size_t removed = mesh.triangles.size() - kept.size();
  mesh.triangles = std::move(kept);
  return removed;
}

/// Open edges whose two ends each lie within `reach` of another open edge's ends: joined by moving points together.
size_t stitch(TriMesh& mesh, double reach) {
  const EdgePairs before = pair_edges(mesh);
  if (before.open_edges == 0) return 0;
  std::vector<uint32_t> border;
  for (uint32_t h = 0; h < before.twin.size(); ++h)
    if (before.twin[h] == EdgePairs::open) border.push_back(edge_from(mesh, h)), border.push_back(edge_to(mesh, h));
  std::sort(border.begin(), border.end());
  border.erase(std::unique(border.begin(), border.end()), border.end());
  TriMesh rim;
  for (const uint32_t v : border) rim.points.push_back(mesh.points[v]);
  for (uint32_t i = 0; i < rim.points.size(); ++i) rim.triangles.push_back({i, i, i});
  merge_points(rim, reach);
  std::vector<uint32_t> first(rim.points.size(), 0xFFFFFFFFu), to(mesh.points.size());
  for (uint32_t v = 0; v < to.size(); ++v) to[v] = v;
  for (uint32_t i = 0; i < border.size(); ++i) {
    uint32_t& f = first[rim.triangles[i][0]];
    if (f == 0xFFFFFFFFu) f = border[i];
    to[border[i]] = f;
  }
  TriMesh joined = mesh;
  for (Triangle& t : joined.triangles)
    for (uint32_t& v : t) v = to[v];
  remove_bad_faces(joined);
  const EdgePairs after = pair_edges(joined);
  if (after.non_manifold_edges > before.non_manifold_edges || after.open_edges >= before.open_edges) return 0;
  mesh = std::move(joined);
  return before.open_edges - after.open_edges;
}

}  // namespace

Result<std::vector<bool>> turned_faces(const TriMesh& mesh, const EdgePairs& pairs, const Components& parts,
                                       const Progress& progress) {
  const size_t n = mesh.triangles.size();
  std::vector<bool> turned(n, false), seen(n, false);
  std::vector<double> kept_area(parts.count, 0), turned_area(parts.count, 0);
  for (uint32_t seed = 0; seed < n; ++seed) {
    if (seen[seed]) continue;
    seen[seed] = true;
    flood_faces(
        pairs, seed,
        [&](uint32_t t) { (turned[t] ? turned_area : kept_area)[parts.of_triangle[t]] += mesh.area_mm2(t); },
        [&](uint32_t t, uint32_t h) {
          const uint32_t other = pairs.twin[h] / 3;
          if (seen[other]) return false;
          seen[other] = true;
          turned[other] = turned[t] != pairs.same_way[h];
          return true;
        });
  }
  for (size_t t = 0; t < n; ++t)
    if (turned_area[parts.of_triangle[t]] > kept_area[parts.of_triangle[t]]) turned[t] = !turned[t];

  const std::vector<double> volume = component_volumes_mm3(mesh, parts, turned);
  std::vector<uint32_t> sample(parts.count, 0xFFFFFFFFu);
  for (uint32_t t = 0; t < n; ++t) {
    uint32_t& s = sample[parts.of_triangle[t]];
    if (s == 0xFFFFFFFFu || mesh.area_mm2(t) > mesh.area_mm2(s)) s = t;
  }
  std::vector<bool> inside_other(parts.count, false);
  if (parts.count > 1 && parts.count <= 4096) {
    const auto rays = RayScene::build(mesh);
    if (!rays) return rays.error();
    for (size_t c = 0; c < parts.count; ++c) {
      if (progress.cancelled()) return Error::stopped();
      // A line from the piece's largest face; each other piece crossed an odd number of times encloses it.
      const Vec3 dir = unit(Vec3{0.5377, 0.2846, 0.7937});
      std::map<uint32_t, size_t> crossings;
      for (const RayHit& hit : (*rays)->all_hits(mesh.centre(sample[c]), dir))
        if (parts.of_triangle[hit.triangle] != c) ++crossings[parts.of_triangle[hit.triangle]];
      size_t depth = 0;
      for (const auto& [other, count] : crossings) depth += count % 2;
      inside_other[c] = depth % 2 == 1;
    }
  }
  for (size_t t = 0; t < n; ++t) {
    const uint32_t c = parts.of_triangle[t];
    if ((volume[c] < 0) != inside_other[c] && std::abs(volume[c]) > 0) turned[t] = !turned[t];
  }
  return turned;
}

Result<Repaired> repair(const TriMesh& mesh, const RepairOptions& options, const Progress& progress) {
  Repaired out{mesh, {}};
  TriMesh& m = out.mesh;
  const MeshMeasure before = measure(mesh);
  const Vec3 extent = before.box_mm.size();
  const double reach = options.merge_mm > 0 ? options.merge_mm : 1e-6 * std::max({extent.x, extent.y, extent.z, 1e-6});
  out.count.merged_points = merge_points(m, reach);
  out.count.removed_faces = remove_bad_faces(m);
  progress.report(0.3);
  if (progress.cancelled()) return Error::stopped();
  // Seams of separately exported patches gape by more than rounding; only open rims are drawn together.
  out.count.stitched_edges = stitch(m, std::max(reach * 100, 1e-4 * std::max({extent.x, extent.y, extent.z})));
  drop_unused_points(m);
  progress.report(0.5);
  if (progress.cancelled()) return Error::stopped();

  const auto orient = [&]() -> Status {
    const EdgePairs pairs = pair_edges(m);
    const auto turned = turned_faces(m, pairs, components(m, pairs), progress.part(0.5, 0.7));
    if (!turned) return turned.error();
    for (size_t t = 0; t < m.triangles.size(); ++t)
      if ((*turned)[t]) {
        std::swap(m.triangles[t][1], m.triangles[t][2]);
        ++out.count.turned_faces;
      }
    return {};
  };
  if (auto s = orient(); !s) return s.error();
  progress.report(0.7);

  const EdgePairs pairs = pair_edges(m);
  for (const auto& loop : open_loops(m, pairs)) {
    if (progress.cancelled()) return Error::stopped();
    if (loop.size() > options.largest_hole_edges) {
      ++out.count.holes_left;
      continue;
    }
    // The rim runs against the patch: reverse it so that the patch faces the same way as its neighbours.
    std::vector<uint32_t> rim;
    std::vector<Vec3> polygon;
    for (auto h = loop.rbegin(); h != loop.rend(); ++h) {
      rim.push_back(edge_to(m, *h));
      polygon.push_back(m.points[rim.back()]);
    }
    const auto patch = fill_loop(polygon);
    if (patch.empty()) {
      ++out.count.holes_left;
      continue;
    }
    ++out.count.filled_holes;
    out.count.added_faces += patch.size();
    for (const Triangle& t : patch) m.triangles.push_back({rim[t[0]], rim[t[1]], rim[t[2]]});
  }
  if (auto s = orient(); !s) return s.error();  // a closed piece can now be told inside out
  out.count.volume_change_mm3 = measure(m).volume_mm3 - before.volume_mm3;
  progress.report(1);
  return out;
}

}  // namespace palinform
