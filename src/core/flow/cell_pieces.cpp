#include "flow/cell_pieces.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace palinform {
namespace {

struct Joined {
  std::vector<uint32_t> up;
  explicit Joined(size_t n) : up(n) { std::iota(up.begin(), up.end(), 0u); }
  uint32_t root(uint32_t a) {
    while (up[a] != a) a = up[a] = up[up[a]];
    return a;
  }
  void join(uint32_t a, uint32_t b) {
    a = root(a), b = root(b);
    up[std::max(a, b)] = std::min(a, b);
  }
};

bool has_edge(const CutMesh& cut, const Facet& f, uint32_t k) {
  for (uint32_t i = f.first; i < f.first + f.count; ++i)
    if (cut.along[i] == k) return true;
  return false;
}

Vec3 area_vector(const CutMesh& cut, const Facet& f) {
  Vec3 sum;
  const Vec3& a = cut.corner[f.first];
  for (uint32_t i = f.first + 1; i + 1 < f.first + f.count; ++i) sum += cross(cut.corner[i] - a, cut.corner[i + 1] - a);
  return sum * 0.5;
}

Vec3 middle(const CutMesh& cut, const Facet& f) {
  Vec3 sum;
  for (uint32_t i = f.first; i < f.first + f.count; ++i) sum += cut.corner[i];
  return sum / f.count;
}

/// Does p–q pass through the facet, its ends left out?
bool crosses(const CutMesh& cut, const Facet& f, const Vec3& p, const Vec3& q) {
  const Vec3 d = q - p, &a = cut.corner[f.first];
  for (uint32_t i = f.first + 1; i + 1 < f.first + f.count; ++i) {
    const Vec3 e1 = cut.corner[i] - a, e2 = cut.corner[i + 1] - a, h = cross(d, e2);
    const double det = dot(e1, h);
    if (std::abs(det) < 1e-18) continue;
    const Vec3 s = p - a, r = cross(s, e1);
    const double u = dot(s, h) / det, v = dot(d, r) / det, t = dot(e2, r) / det;
    if (u >= 0 && v >= 0 && u + v <= 1 && t > 1e-6 && t < 1 - 1e-6) return true;
  }
  return false;
}

struct EdgeCrossing {
  double at;
  uint32_t patch;
};

}  // namespace

void split_cell(const CutMesh& cut, size_t first, size_t last, const EdgePairs& pairs, const Vec3& low, uint8_t inside,
                double volume, bool flipped, CellPieces& out) {
  const auto n = static_cast<uint32_t>(last - first);
  const Facet* facets = cut.facets.data() + first;
  Joined patches(n);
  for (uint32_t a = 0; a < n; ++a)
    for (uint32_t i = facets[a].first; i < facets[a].first + facets[a].count; ++i) {
      if (CutMesh::on_side(cut.along[i])) continue;
      const uint32_t half = 3 * facets[a].face + cut.along[i];
      if (!pairs.paired(half)) continue;
      const uint32_t twin = pairs.twin[half];
      const Facet* b =
          std::lower_bound(facets, facets + n, twin / 3, [](const Facet& f, uint32_t face) { return f.face < face; });
      if (b != facets + n && b->face == twin / 3 && has_edge(cut, *b, twin % 3))
        patches.join(a, static_cast<uint32_t>(b - facets));
    }
  bool one = true;
  for (uint32_t a = 1; a < n && one; ++a) one = patches.root(a) == patches.root(0);
  out.of_facet.assign(n, 0);
  if (one) {
    out.count = 1;
    for (size_t c = 0; c < 8; ++c) out.of_corner[c] = inside >> c & 1 ? 0 : CellPieces::none;
    out.volume.assign(1, volume);
    return;
  }
  // Corners come after facets in the same table.
  Joined all(n + 8);
  for (uint32_t a = 0; a < n; ++a) all.join(a, patches.root(a));
  std::array<std::vector<EdgeCrossing>, 12> edge;  // axis · 4 + which of the four along it
  std::vector<uint8_t> touches(n, 0);
  for (uint32_t a = 0; a < n; ++a) {
    const Facet& f = facets[a];
    for (uint32_t i = 0; i < f.count; ++i) {
      const uint8_t here = cut.along[f.first + i], before = cut.along[f.first + (i + f.count - 1) % f.count];
      if (!CutMesh::on_side(here) || !CutMesh::on_side(before)) continue;
      const int p = (here - 3) / 2, q = (before - 3) / 2;
      if (p == q) continue;
      const int axis = 3 - p - q;
      const int u = (axis + 1) % 3;
      const bool high_u = ((p == u ? here : before) - 3) % 2 == 0, high_v = ((p == u ? before : here) - 3) % 2 == 0;
      edge[static_cast<size_t>(axis * 4 + (high_u ? 1 : 0) + (high_v ? 2 : 0))].push_back(
          {cut.corner[f.first + i][axis] - low[axis], a});
      touches[patches.root(a)] = 1;
    }
  }
  struct Run {
    double length;
    uint32_t owner;
  };
  std::vector<Run> runs;  // along the edge x high, y high
  for (int axis = 0; axis < 3; ++axis)
    for (int which = 0; which < 4; ++which) {
      auto& list = edge[static_cast<size_t>(axis * 4 + which)];
      std::sort(list.begin(), list.end(), [](const EdgeCrossing& a, const EdgeCrossing& b) { return a.at < b.at; });
      const int u = (axis + 1) % 3, v = (axis + 2) % 3;
      const uint32_t from = static_cast<uint32_t>((which & 1) << u | (which >> 1) << v), to = from | 1u << axis;
      bool wet = inside >> from & 1;
      uint32_t owner = n + from;
      double begun = 0;
      const bool far_edge = axis == 2 && which == 3;
      for (const EdgeCrossing& c : list) {
        if (wet) {
          all.join(owner, c.patch);
          if (far_edge) runs.push_back({c.at - begun, c.patch});
        } else
          owner = c.patch, begun = c.at;
        wet = !wet;
      }
      if (wet && inside >> to & 1) {
        all.join(owner, n + to);
        if (far_edge) runs.push_back({1 - begun, n + to});
      }
    }
  // A sheet that touches no edge of the cube belongs to whatever it sees on its inner side.
  for (uint32_t a = 0; a < n; ++a) {
    if (patches.root(a) != a || touches[a]) continue;
    const Vec3 normal = unit(area_vector(cut, facets[a])) * (flipped ? 1 : -1);
    const Vec3 from = middle(cut, facets[a]) + normal * 1e-4;
    const auto sees = [&](const Vec3& to) {
      for (uint32_t b = 0; b < n; ++b)
        if (crosses(cut, facets[b], from, to)) return false;
      return true;
    };
    bool met = false;
    for (uint32_t c = 0; c < 8 && !met; ++c)
      if (inside >> c & 1 && sees(low + Vec3{c & 1 ? 1.0 : 0.0, c & 2 ? 1.0 : 0.0, c & 4 ? 1.0 : 0.0}))
        all.join(a, n + c), met = true;
    for (uint32_t b = 0; b < n && !met; ++b) {
      if (patches.root(b) == a) continue;
      const Vec3 there = unit(area_vector(cut, facets[b])) * (flipped ? 1 : -1);
      if (dot(there, middle(cut, facets[b]) - from) < 0 && sees(middle(cut, facets[b]) + there * 1e-4))
        all.join(a, b), met = true;
    }
  }
  std::vector<uint8_t> number(n + 8, CellPieces::none);
  out.count = 0;
  const auto piece = [&](uint32_t element) {
    uint8_t& p = number[all.root(element)];
    if (p == CellPieces::none && out.count < CellPieces::none - 1) p = static_cast<uint8_t>(out.count++);
    return p == CellPieces::none ? uint8_t{0} : p;
  };
  for (uint32_t a = 0; a < n; ++a) out.of_facet[a] = piece(a);
  for (uint32_t c = 0; c < 8; ++c) out.of_corner[c] = inside >> c & 1 ? piece(n + c) : CellPieces::none;
  // Of each piece, by the divergence theorem: its facets, and its share of the side x high, which again is a sum over
  // the facets' edges on that side and the stretch of the side's own far edge.
  out.volume.assign(static_cast<size_t>(out.count), 0);
  const double sign = flipped ? -1 : 1;
  for (uint32_t a = 0; a < n; ++a) {
    const Facet& f = facets[a];
    double& v = out.volume[out.of_facet[a]];
    const Vec3& p = cut.corner[f.first];
    for (uint32_t i = f.first + 1; i + 1 < f.first + f.count; ++i) {
      const Vec3 &q = cut.corner[i], &r = cut.corner[i + 1];
      v += sign * 0.5 * cross(q - p, r - p).x * ((p.x + q.x + r.x) / 3 - low.x);
    }
    const double ny = sign * area_vector(cut, f).y;
    for (uint32_t i = 0; i < f.count; ++i) {
      if (cut.along[f.first + i] != CutMesh::side(0, true)) continue;
      const Vec3 &s = cut.corner[f.first + i], &e = cut.corner[f.first + (i + 1) % f.count];
      v += (ny > 0 ? 1 : -1) * std::abs(e.z - s.z) * (0.5 * (s.y + e.y) - low.y);
    }
  }
  for (const Run& r : runs) out.volume[piece(r.owner)] += r.length;
  double sum = 0;
  for (double& v : out.volume) sum += v = std::max(v, 0.0);
  for (double& v : out.volume) v *= sum > 0 ? volume / sum : 0;
}

}  // namespace palinform
