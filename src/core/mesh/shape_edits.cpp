#include "mesh/shape_edits.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "base/text.hpp"
#include "mesh/repair.hpp"

namespace palinform {
TriMesh mirrored(TriMesh mesh, int axis) {
  const double twice = 2 * measure(mesh).box_mm.centre()[axis];
  for (Vec3& p : mesh.points) p[axis] = twice - p[axis];
  for (Triangle& t : mesh.triangles) std::swap(t[1], t[2]);
  return mesh;
}

Result<TriMesh> with_stock(const TriMesh& mesh, const EdgePairs& pairs, const FaceFit& patch, double mm) {
  if (patch.kind != FaceKind::plane || patch.triangles.empty())
    return Error{"stock needs a flat face", "stock", "Click a flat face."};
  const Vec3 size = measure(mesh).box_mm.size();
  if (!(mm > 0) || mm > 0.5 * std::max({size.x, size.y, size.z}))
    return Error{"the stock must be above 0 and below half the part's size", fixed(mm, 2) + " mm",
                 "0.5 to 1 mm is usual."};
  std::vector<bool> in(mesh.triangles.size(), false);
  for (const uint32_t t : patch.triangles) in[t] = true;
  TriMesh out = mesh;
  std::unordered_map<uint32_t, uint32_t> lifted;
  const auto lift = [&](uint32_t v) {
    const auto [it, fresh] = lifted.try_emplace(v, static_cast<uint32_t>(out.points.size()));
    if (fresh) out.points.push_back(mesh.points[v] + patch.direction * mm);
    return it->second;
  };
  size_t rim = 0;
  for (const uint32_t t : patch.triangles) {
    for (int k = 0; k < 3; ++k) {
      const uint32_t h = 3 * t + static_cast<uint32_t>(k), a = edge_from(mesh, h), b = edge_to(mesh, h);
      if (pairs.paired(h) && in[pairs.twin[h] / 3]) continue;
      ++rim;
      // The wall faces outward: from the old edge a→b up to the lifted one.
      const uint32_t la = lift(a), lb = lift(b);
      out.triangles.push_back({a, b, lb});
      out.triangles.push_back({a, lb, la});
    }
    for (uint32_t& v : out.triangles[t]) v = lift(v);
  }
  if (rim == 0) return Error{"this face has no rim", "stock", "Click a flat face of the part."};
  drop_unused_points(out);
  return out;
}

Result<TriMesh> plugged(const TriMesh& mesh, const EdgePairs& pairs, const FaceFit& bore, double dimple) {
  if (bore.kind != FaceKind::bore || bore.triangles.empty())
    return Error{"this is no bore", "plug", "Click the wall of a bore."};
  if (dimple < 0 || dimple > 0.8 * bore.diameter_mm)
    return Error{"the dimple must be narrower than the bore of " + fixed(bore.diameter_mm, 2) + " mm",
                 fixed(dimple, 2) + " mm", "A quarter of the bore is usual."};
  std::vector<bool> wall(mesh.triangles.size(), false);
  for (const uint32_t t : bore.triangles) wall[t] = true;
  TriMesh rest;
  rest.points = mesh.points;
  for (size_t t = 0; t < mesh.triangles.size(); ++t)
    if (!wall[t]) rest.triangles.push_back(mesh.triangles[t]);
  if (rest.triangles.empty()) return Error{"nothing is left without the bore's wall", "plug", ""};
  // A blind bore's floor is now a piece of its own: the piece with the most area is the part.
  {
    const EdgePairs p = pair_edges(rest);
    const Components c = components(rest, p);
    std::vector<double> area(c.count, 0);
    std::vector<bool> open(c.count, false);
    for (size_t t = 0; t < rest.triangles.size(); ++t) area[c.of_triangle[t]] += rest.area_mm2(t);
    for (uint32_t h = 0; h < p.twin.size(); ++h)
      if (p.twin[h] == EdgePairs::open) open[c.of_triangle[h / 3]] = true;
    const size_t part = static_cast<size_t>(std::max_element(area.begin(), area.end()) - area.begin());
    std::vector<Triangle> kept;
    for (size_t t = 0; t < rest.triangles.size(); ++t) {
      const size_t k = c.of_triangle[t];
      // Closed pieces elsewhere (an inner void) stay; open ones are what the wall led to.
      if (k == part || !open[k]) kept.push_back(rest.triangles[t]);
    }
    rest.triangles = std::move(kept);
  }
  const EdgePairs p = pair_edges(rest);
  const auto loops = open_loops(rest, p);
  if (loops.empty() || loops.size() > 2 || pairs.open_edges > 0)
    return Error{"the bore's mouths are not one or two closed rims", "plug",
                 "Mend the mesh first, or plug it by hand."};
  for (const auto& loop : loops) {
    std::vector<uint32_t> rim;
    Vec3 middle;
    for (auto h = loop.rbegin(); h != loop.rend(); ++h)
      rim.push_back(edge_to(rest, *h)), middle += rest.points[rim.back()];
    middle = middle / static_cast<double>(rim.size());
    // Which way is out: from the bore's middle to this mouth.
    const Vec3 out = dot(middle - bore.point_mm, bore.direction) >= 0 ? bore.direction : -bore.direction;
    if (dimple <= 0) {
      std::vector<Vec3> polygon;
      for (const uint32_t v : rim) polygon.push_back(rest.points[v]);
      for (const Triangle& t : fill_loop(polygon)) rest.triangles.push_back({rim[t[0]], rim[t[1]], rim[t[2]]});
      continue;
    }
    const size_t n = rim.size();
    const auto ring = static_cast<uint32_t>(rest.points.size());
    for (const uint32_t v : rim) {
      const Vec3 off = rest.points[v] - middle, flat = off - out * dot(off, out);
      rest.points.push_back(middle + unit(flat, any_perpendicular(out)) * (0.5 * dimple));
    }
    const auto tip = static_cast<uint32_t>(rest.points.size());
    rest.points.push_back(middle - out * (0.5 * dimple));  // 90° cone
    for (uint32_t i = 0; i < n; ++i) {
      const auto j = static_cast<uint32_t>((i + 1) % n);
      rest.triangles.push_back({rim[i], rim[j], ring + j});
      rest.triangles.push_back({rim[i], ring + j, ring + i});
      rest.triangles.push_back({ring + i, ring + j, tip});
    }
  }
  drop_unused_points(rest);
  return rest;
}

}  // namespace palinform
