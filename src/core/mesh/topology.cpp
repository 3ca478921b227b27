#include "mesh/topology.hpp"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <numeric>
#include <unordered_map>

#include "mesh/flood.hpp"

namespace palinform {

EdgePairs pair_edges(const TriMesh& mesh) {
  struct Keyed {
    uint64_t ends;
    uint32_t half_edge;
    bool operator<(const Keyed& o) const { return ends != o.ends ? ends < o.ends : half_edge < o.half_edge; }
  };
  const uint32_t n = static_cast<uint32_t>(mesh.triangles.size() * 3);
  std::vector<Keyed> keys(n);
  tbb::parallel_for(uint32_t{0}, n, [&](uint32_t h) {
    const uint64_t a = edge_from(mesh, h), b = edge_to(mesh, h);
    keys[h] = {std::min(a, b) << 32 | std::max(a, b), h};
  });
  tbb::parallel_sort(keys.begin(), keys.end());

  EdgePairs p;
  p.twin.assign(n, EdgePairs::open);
  p.same_way.assign(n, false);
  for (uint32_t i = 0; i < n;) {
    uint32_t j = i + 1;
    while (j < n && keys[j].ends == keys[i].ends) ++j;
    if (j - i == 1) {
      ++p.open_edges;
    } else if (j - i == 2) {
      const uint32_t g = keys[i].half_edge, h = keys[i + 1].half_edge;
      p.twin[g] = h;
      p.twin[h] = g;
      if (edge_from(mesh, g) == edge_from(mesh, h)) {
        p.same_way[g] = p.same_way[h] = true;
        ++p.turned_pairs;
      }
    } else {
      ++p.non_manifold_edges;
      for (uint32_t k = i; k < j; ++k) p.twin[keys[k].half_edge] = EdgePairs::non_manifold;
    }
    i = j;
  }
  return p;
}

Fans point_fans(const TriMesh& mesh) {
  Fans f;
  f.start.assign(mesh.points.size() + 1, 0);
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t) ++f.start[v + 1];
  std::partial_sum(f.start.begin(), f.start.end(), f.start.begin());
  f.corner.resize(mesh.triangles.size() * 3);
  std::vector<uint32_t> at(f.start.begin(), f.start.end() - 1);
  for (uint32_t c = 0; c < f.corner.size(); ++c) f.corner[at[mesh.triangles[c / 3][c % 3]]++] = c;
  return f;
}

Components components(const TriMesh& mesh, const EdgePairs& pairs) {
  Components c;
  constexpr uint32_t none = 0xFFFFFFFFu;
  c.of_triangle.assign(mesh.triangles.size(), none);
  for (uint32_t seed = 0; seed < mesh.triangles.size(); ++seed) {
    if (c.of_triangle[seed] != none) continue;
    const uint32_t id = static_cast<uint32_t>(c.count++);
    c.of_triangle[seed] = id;
    flood_faces(
        pairs, seed, [](uint32_t) {},
        [&](uint32_t, uint32_t h) {
          uint32_t& other = c.of_triangle[pairs.twin[h] / 3];
          if (other != none) return false;
          other = id;
          return true;
        });
  }
  return c;
}

std::vector<double> component_volumes_mm3(const TriMesh& mesh, const Components& parts,
                                          const std::vector<bool>& turned) {
  std::vector<double> volume(parts.count, 0);
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(p);
  const Vec3 origin = mesh.points.empty() ? Vec3{} : box.centre();
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const double v = dot(mesh.corner(t, 0) - origin, cross(mesh.corner(t, 1) - origin, mesh.corner(t, 2) - origin)) / 6;
    volume[parts.of_triangle[t]] += !turned.empty() && turned[t] ? -v : v;
  }
  return volume;
}

std::vector<std::vector<uint32_t>> open_loops(const TriMesh& mesh, const EdgePairs& pairs) {
  std::unordered_multimap<uint32_t, uint32_t> leaving;  // point → open half-edge that starts there
  std::vector<uint32_t> all;
  for (uint32_t h = 0; h < pairs.twin.size(); ++h)
    if (pairs.twin[h] == EdgePairs::open) {
      leaving.emplace(edge_from(mesh, h), h);
      all.push_back(h);
    }
  std::vector<bool> used(pairs.twin.size(), false);
  std::vector<std::vector<uint32_t>> loops;
  for (const uint32_t first : all) {
    if (used[first]) continue;
    std::vector<uint32_t> chain;
    uint32_t h = first;
    for (;;) {
      used[h] = true;
      chain.push_back(h);
      if (edge_to(mesh, h) == edge_from(mesh, first)) {
        loops.push_back(std::move(chain));
        break;
      }
      uint32_t following = EdgePairs::open;
      const auto range = leaving.equal_range(edge_to(mesh, h));
      for (auto it = range.first; it != range.second; ++it)
        if (!used[it->second]) following = std::min(following, it->second);
      if (following == EdgePairs::open) break;
      h = following;
    }
  }
  return loops;
}

}  // namespace palinform
