#include "flow/cut_mesh.hpp"

#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>

namespace palinform {
namespace {

struct Polygon {
  int n = 0;
  Vec3 at[12];
  uint8_t along[12];
  void push(const Vec3& p, uint8_t label) { at[n] = p, along[n++] = label; }
};

/// Where p–q crosses the plane; the same to the last bit whichever way the edge is run.
Vec3 meet(const Vec3& p, const Vec3& q, int axis, double plane) {
  const bool swap = q[axis] < p[axis];
  const Vec3 &a = swap ? q : p, &b = swap ? p : q;
  Vec3 m = a + (b - a) * ((plane - a[axis]) / (b[axis] - a[axis]));
  m[axis] = plane;
  return m;
}

/// What of `in` lies under (`below`) or over the plane; false when nothing with an area does.
bool keep(const Polygon& in, int axis, double plane, bool below, Polygon& out) {
  out.n = 0;
  const uint8_t cut = CutMesh::side(axis, below);
  for (int i = 0; i < in.n; ++i) {
    const Vec3 &p = in.at[i], &q = in.at[i + 1 == in.n ? 0 : i + 1];
    const double dp = below ? plane - p[axis] : p[axis] - plane, dq = below ? plane - q[axis] : q[axis] - plane;
    if (dp >= 0) out.push(p, dp == 0 && dq < 0 ? cut : in.along[i]);
    if (dp > 0 && dq < 0) out.push(meet(p, q, axis, plane), cut);
    if (dp < 0 && dq > 0) out.push(meet(p, q, axis, plane), in.along[i]);
  }
  return out.n >= 3;
}

struct Slabs {
  int first, last;
};
Slabs slabs(const Polygon& p, int axis) {
  double low = p.at[0][axis], high = low;
  for (int i = 1; i < p.n; ++i) low = std::min(low, p.at[i][axis]), high = std::max(high, p.at[i][axis]);
  const int first = static_cast<int>(std::floor(low)), last = static_cast<int>(std::floor(high));
  // A polygon that only touches the next slab has no part in it.
  return {first, last > first && high == last ? last - 1 : last};
}

/// Calls use(slab, polygon) for every slab of the axis that holds a part of `in`.
template <class Use>
void each_slab(const Polygon& in, int axis, Use&& use) {
  const Slabs s = slabs(in, axis);
  if (s.first == s.last) {
    use(s.first, in);
    return;
  }
  Polygon low, both;
  for (int k = s.first; k <= s.last; ++k) {
    const Polygon* now = &in;
    if (k > s.first) {
      if (!keep(*now, axis, k, false, low)) continue;
      now = &low;
    }
    if (k < s.last) {
      if (!keep(*now, axis, k + 1, true, both)) continue;
      now = &both;
    }
    use(k, *now);
  }
}

struct Pieces {
  std::vector<Facet> facets;
  std::vector<Vec3> corner;
  std::vector<uint8_t> along;
};

}  // namespace

CutMesh cut_mesh(const TriMesh& mesh, const CellLattice& lattice, const Progress& progress) {
  tbb::enumerable_thread_specific<Pieces> parts;
  const double per = 1 / lattice.voxel_mm;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, mesh.triangles.size(), 512), [&](const auto& range) {
    if (progress.cancelled()) return;
    Pieces& mine = parts.local();
    for (size_t t = range.begin(); t < range.end(); ++t) {
      Polygon p;
      for (int k = 0; k < 3; ++k) p.push((mesh.corner(t, k) - lattice.origin_mm) * per, static_cast<uint8_t>(k));
      each_slab(p, 2, [&](int k, const Polygon& pz) {
        each_slab(pz, 1, [&](int j, const Polygon& pyz) {
          each_slab(pyz, 0, [&](int i, const Polygon& q) {
            if (i < 0 || j < 0 || k < 0 || i >= lattice.nx || j >= lattice.ny || k >= lattice.nz) return;
            mine.facets.push_back({lattice.key(i, j, k), static_cast<uint32_t>(t),
                                   static_cast<uint32_t>(mine.corner.size()), static_cast<uint32_t>(q.n)});
            mine.corner.insert(mine.corner.end(), q.at, q.at + q.n);
            mine.along.insert(mine.along.end(), q.along, q.along + q.n);
          });
        });
      });
    }
  });
  CutMesh out;
  if (progress.cancelled()) return out;
  size_t facets = 0, corners = 0;
  for (const Pieces& p : parts) facets += p.facets.size(), corners += p.corner.size();
  out.facets.reserve(facets);
  out.corner.reserve(corners);
  out.along.reserve(corners);
  for (const Pieces& p : parts) {
    const auto shift = static_cast<uint32_t>(out.corner.size());
    for (Facet f : p.facets) f.first += shift, out.facets.push_back(f);
    out.corner.insert(out.corner.end(), p.corner.begin(), p.corner.end());
    out.along.insert(out.along.end(), p.along.begin(), p.along.end());
  }
  tbb::parallel_sort(out.facets.begin(), out.facets.end(), [](const Facet& a, const Facet& b) {
    return a.cell != b.cell ? a.cell < b.cell : a.face < b.face;
  });
  return out;
}

}  // namespace palinform
