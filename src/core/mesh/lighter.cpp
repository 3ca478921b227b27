#include "mesh/lighter.hpp"

#include <meshoptimizer.h>

#include <algorithm>
#include <cstdint>

namespace palinform {
namespace {

/// Sheets that a collapse left touching along an edge, parted: each edge is shared by two faces afterwards. Faces that
/// came to lie on one another, back to back, go.
void part_sheets(TriMesh& mesh) {
  const auto sorted = [](Triangle t) {
    std::sort(t.begin(), t.end());
    return t;
  };
  std::vector<uint32_t> order(mesh.triangles.size());
  for (uint32_t t = 0; t < order.size(); ++t) order[t] = t;
  std::sort(order.begin(), order.end(), [&](uint32_t a, uint32_t b) {
    const Triangle x = sorted(mesh.triangles[a]), y = sorted(mesh.triangles[b]);
    return x != y ? x < y : a < b;
  });
  std::vector<bool> gone(mesh.triangles.size());
  for (size_t i = 0; i + 1 < order.size(); ++i)
    if (sorted(mesh.triangles[order[i]]) == sorted(mesh.triangles[order[i + 1]])) {
      gone[order[i]] = gone[order[i + 1]] = true;
      ++i;
    }
  size_t kept = 0;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Triangle& f = mesh.triangles[t];
    if (!gone[t] && f[0] != f[1] && f[1] != f[2] && f[2] != f[0]) mesh.triangles[kept++] = f;
  }
  mesh.triangles.resize(kept);
  // Half-edges by edge; those that run one way are paired with those that run the other.
  struct Half {
    uint32_t low, high, at;
    bool up;
  };
  std::vector<Half> halves;
  halves.reserve(3 * kept);
  for (uint32_t t = 0; t < kept; ++t)
    for (uint32_t k = 0; k < 3; ++k) {
      const uint32_t a = mesh.triangles[t][k], b = mesh.triangles[t][(k + 1) % 3];
      halves.push_back({std::min(a, b), std::max(a, b), 3 * t + k, a < b});
    }
  std::sort(halves.begin(), halves.end(), [](const Half& x, const Half& y) {
    return x.low != y.low ? x.low < y.low : x.high != y.high ? x.high < y.high : x.up != y.up ? x.up : x.at < y.at;
  });
  // Corners that hang together across paired edges are one point.
  std::vector<uint32_t> parent(3 * kept);
  for (uint32_t c = 0; c < parent.size(); ++c) parent[c] = c;
  const auto root = [&](uint32_t c) {
    while (parent[c] != c) c = parent[c] = parent[parent[c]];
    return c;
  };
  const auto next = [](uint32_t h) { return h % 3 == 2 ? h - 2 : h + 1; };
  for (size_t i = 0; i < halves.size();) {
    size_t j = i, ups = 0;
    while (j < halves.size() && halves[j].low == halves[i].low && halves[j].high == halves[i].high)
      ups += halves[j++].up;
    for (size_t k = 0; k < std::min(ups, j - i - ups); ++k) {
      const uint32_t h = halves[i + k].at, g = halves[i + ups + k].at;
      parent[root(h)] = root(next(g)), parent[root(next(h))] = root(g);
    }
    i = j;
  }
  std::vector<uint32_t> number(3 * kept, UINT32_MAX);
  std::vector<Vec3> points;
  for (uint32_t c = 0; c < 3 * kept; ++c) {
    uint32_t& n = number[root(c)];
    if (n == UINT32_MAX) {
      n = static_cast<uint32_t>(points.size());
      points.push_back(mesh.points[mesh.triangles[c / 3][c % 3]]);
    }
  }
  for (uint32_t t = 0; t < kept; ++t)
    mesh.triangles[t] = {number[root(3 * t)], number[root(3 * t + 1)], number[root(3 * t + 2)]};
  mesh.points = std::move(points);
}

}  // namespace

TriMesh lighter(const TriMesh& mesh, size_t most, double off) {
  if (mesh.triangles.size() <= most) return mesh;
  const Box3 box = measure(mesh).box_mm;
  const Vec3 size = box.size(), middle = box.centre();
  const double extent = std::max({size.x, size.y, size.z});
  if (!(extent > 0)) return mesh;
  std::vector<float> points;
  points.reserve(mesh.points.size() * 3);
  for (const Vec3& p : mesh.points)
    for (int k = 0; k < 3; ++k) points.push_back(static_cast<float>(p[k] - middle[k]));
  std::vector<unsigned> index;
  index.reserve(mesh.triangles.size() * 3);
  for (const Triangle& t : mesh.triangles) index.insert(index.end(), t.begin(), t.end());
  std::vector<unsigned> fewer(index.size());
  const size_t n = meshopt_simplify(fewer.data(), index.data(), index.size(), points.data(), mesh.points.size(), 12,
                                    most * 3, static_cast<float>(off / extent), 0, nullptr);
  TriMesh out;
  out.points = mesh.points;
  for (size_t i = 0; i + 2 < n; i += 3) out.triangles.push_back({fewer[i], fewer[i + 1], fewer[i + 2]});
  part_sheets(out);
  return out;
}

}  // namespace palinform
