#include "mesh/handles.hpp"

#include <algorithm>

#include "mesh/flood.hpp"

namespace palinform {

size_t handles_of(const TriMesh& mesh, const EdgePairs& pairs) {
  const Components c = components(mesh, pairs);
  std::vector<bool> used(mesh.points.size(), false);
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t) used[v] = true;
  const auto points = static_cast<long>(std::count(used.begin(), used.end(), true));
  const auto faces = static_cast<long>(mesh.triangles.size()), edges = 3 * faces / 2;
  const long genus = static_cast<long>(c.count) - (points - edges + faces) / 2;
  return genus > 0 ? static_cast<size_t>(genus) : 0;
}

std::vector<std::vector<uint32_t>> handle_loops(const TriMesh& mesh, const EdgePairs& pairs) {
  const size_t nt = mesh.triangles.size(), np = mesh.points.size();
  constexpr uint32_t none = 0xFFFFFFFFu;
  const Fans fans = point_fans(mesh);
  // Points, breadth first, so that loops stay short.
  std::vector<uint32_t> up(np, none), depth(np, 0), queue;
  std::vector<bool> seen(np, false), taken(3 * nt, false);  // taken: half-edges of the one tree or the other
  for (uint32_t root = 0; root < np; ++root) {
    if (seen[root] || fans.start[root] == fans.start[root + 1]) continue;
    seen[root] = true;
    queue.assign(1, root);
    for (size_t q = 0; q < queue.size(); ++q) {
      const uint32_t v = queue[q];
      for (uint32_t k = fans.start[v]; k < fans.start[v + 1]; ++k) {
        const uint32_t h = fans.corner[k], w = edge_to(mesh, h);
        if (seen[w]) continue;
        seen[w] = true, up[w] = v, depth[w] = depth[v] + 1;
        taken[h] = true;
        if (pairs.paired(h)) taken[pairs.twin[h]] = true;
        queue.push_back(w);
      }
    }
  }
  // Faces, across the edges that are left.
  std::vector<bool> reached(nt, false);
  for (uint32_t root = 0; root < nt; ++root) {
    if (reached[root]) continue;
    reached[root] = true;
    flood_faces(
        pairs, root, [](uint32_t) {},
        [&](uint32_t, uint32_t h) {
          if (taken[h] || reached[pairs.twin[h] / 3]) return false;
          taken[h] = taken[pairs.twin[h]] = true;
          reached[pairs.twin[h] / 3] = true;
          return true;
        });
  }
  std::vector<std::vector<uint32_t>> out;
  for (uint32_t h = 0; h < 3 * nt; ++h) {
    if (taken[h] || !pairs.paired(h) || pairs.twin[h] < h) continue;
    uint32_t a = edge_from(mesh, h), b = edge_to(mesh, h);
    std::vector<uint32_t> left{a}, right{b};
    while (a != b) {
      if (depth[a] >= depth[b])
        left.push_back(a = up[a]);
      else
        right.push_back(b = up[b]);
    }
    left.pop_back();  // they meet once
    left.insert(left.end(), right.rbegin(), right.rend());
    out.push_back(std::move(left));
  }
  return out;
}

}  // namespace palinform
