#include "flow/cell_walls.hpp"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <mutex>

#include "mesh/topology.hpp"
#include "solid/columns.hpp"

namespace palinform {
namespace {

constexpr double shut = 1e-9;  // of a side: less is no opening

/// A key in whose order the cubes of a line along `axis` follow each other.
uint64_t line_key(const std::array<int, 3>& at, int axis, const CellLattice& l) {
  const int u = axis == 0 ? 1 : 0, v = axis == 2 ? 1 : 2;
  return (static_cast<uint64_t>(at[static_cast<size_t>(v)]) * static_cast<uint64_t>(l.count(u)) +
          static_cast<uint64_t>(at[static_cast<size_t>(u)])) *
             static_cast<uint64_t>(l.count(axis)) +
         static_cast<uint64_t>(at[static_cast<size_t>(axis)]);
}

/// Gathers the cubes with facets, and what of their sides and of themselves lies inside: exact sums, since what a line
/// of cubes loses from one side to the next is just what its facets cover.
CellWalls sums_of(const CutMesh& cut, const CellLattice& l, bool flipped) {
  CellWalls w;
  for (size_t f = 0; f < cut.facets.size();) {
    Wall wall;
    wall.cell = cut.facets[f].cell;
    wall.first = static_cast<uint32_t>(f);
    while (f < cut.facets.size() && cut.facets[f].cell == wall.cell) ++f;
    wall.last = static_cast<uint32_t>(f);
    w.wall.push_back(wall);
  }
  const double sign = flipped ? -1 : 1;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, w.wall.size(), 1024), [&](const auto& range) {
    for (size_t n = range.begin(); n < range.end(); ++n) {
      Wall& wall = w.wall[n];
      const auto at = place(wall.cell, l);
      for (uint32_t f = wall.first; f < wall.last; ++f) {
        const Facet& facet = cut.facets[f];
        const Vec3& a = cut.corner[facet.first];
        for (uint32_t i = facet.first + 1; i + 1 < facet.first + facet.count; ++i) {
          const Vec3 &b = cut.corner[i], &c = cut.corner[i + 1];
          const Vec3 s = cross(b - a, c - a) * (0.5 * sign);
          wall.area += s;
          wall.moment += s.x * ((a.x + b.x + c.x) / 3 - at[0]);
          for (int k = 0; k < 3; ++k) {
            const double x = a[k] - at[static_cast<size_t>(k)], y = b[k] - at[static_cast<size_t>(k)],
                         z = c[k] - at[static_cast<size_t>(k)];
            wall.second[k] += s[k] * (x * x + y * y + z * z + x * y + y * z + z * x) / 12;
          }
        }
      }
    }
  });
  for (int axis = 0; axis < 3; ++axis) {
    auto& order = w.along[static_cast<size_t>(axis)];
    std::vector<std::pair<uint64_t, uint32_t>> keys(w.wall.size());
    tbb::parallel_for(size_t{0}, keys.size(), [&](size_t n) {
      keys[n] = {line_key(place(w.wall[n].cell, l), axis, l), static_cast<uint32_t>(n)};
    });
    if (axis != 0) tbb::parallel_sort(keys.begin(), keys.end());
    order.resize(keys.size());
    double running = 0;
    for (size_t n = 0; n < keys.size(); ++n) {
      order[n] = keys[n].second;
      Wall& wall = w.wall[order[n]];
      if (n == 0 || !same_line(w.wall[order[n - 1]], wall, axis, l)) running = flipped ? 1 : 0;
      const auto settled = [](double v) { return v < shut ? 0 : v > 1 - shut ? 1 : v; };
      wall.side[static_cast<size_t>(2 * axis + 1)] = settled(running);
      running -= wall.area[axis];
      wall.side[static_cast<size_t>(2 * axis)] = settled(running);
    }
  }
  tbb::parallel_for(size_t{0}, w.wall.size(), [&](size_t n) {
    Wall& wall = w.wall[n];
    wall.volume = std::clamp(wall.moment + wall.side[0], 0.0, 1.0);
  });
  return w;
}

/// Which corners of the cubes lie inside, by lines through the lattice.
Status mark_corners(CellWalls& w, const TriMesh& mesh, const CellLattice& l, bool flipped, const Progress& progress) {
  const double h = l.voxel_mm;
  const ColumnGrid grid{l.origin_mm.x - 0.5 * h, l.origin_mm.y - 0.5 * h, l.nx + 1, l.ny + 1};
  const auto columns = build_columns(mesh, Transform{}, h, grid, progress);
  if (!columns) return columns.error();
  tbb::parallel_for(tbb::blocked_range<size_t>(0, w.wall.size(), 1024), [&](const auto& range) {
    for (size_t n = range.begin(); n < range.end(); ++n) {
      Wall& wall = w.wall[n];
      const auto at = place(wall.cell, l);
      for (int c = 0; c < 4; ++c) {
        const size_t col = static_cast<size_t>(at[1] + (c >> 1)) * static_cast<size_t>(l.nx + 1) +
                           static_cast<size_t>(at[0] + (c & 1));
        bool in[2] = {flipped, flipped};
        for (int high = 0; high < 2; ++high) {
          const double z = l.origin_mm.z + (at[2] + high) * h;
          // The last run that begins under it.
          const Span *first = columns->span.data() + columns->start[col],
                     *last = columns->span.data() + columns->start[col + 1];
          const Span* s = std::upper_bound(first, last, z, [](double v, const Span& x) { return v < x.low_mm; });
          if (s != first && z < (s - 1)->high_mm) in[high] = !flipped;
        }
        wall.corners = static_cast<uint8_t>(wall.corners | (in[0] ? 1u << c : 0u) | (in[1] ? 1u << (c + 4) : 0u));
      }
    }
  });
  return {};
}

void split_walls(CellWalls& w, const CutMesh& cut, const TriMesh& mesh, const CellLattice& l, bool flipped) {
  const EdgePairs pairs = pair_edges(mesh);
  w.piece_of_facet.assign(cut.facets.size(), 0);
  std::vector<std::pair<uint32_t, std::vector<double>>> volumes;
  std::mutex lock;
  tbb::parallel_for(tbb::blocked_range<size_t>(0, w.wall.size(), 512), [&](const auto& range) {
    CellPieces p;
    for (size_t n = range.begin(); n < range.end(); ++n) {
      Wall& wall = w.wall[n];
      const auto at = place(wall.cell, l);
      split_cell(cut, wall.first, wall.last, pairs,
                 {static_cast<double>(at[0]), static_cast<double>(at[1]), static_cast<double>(at[2])}, wall.corners,
                 wall.volume, flipped, p);
      for (uint32_t f = wall.first; f < wall.last; ++f) w.piece_of_facet[f] = p.of_facet[f - wall.first];
      wall.of_corner = p.of_corner;
      wall.pieces = static_cast<uint8_t>(p.count);
      if (p.count > 1) {
        const std::lock_guard hold(lock);
        volumes.emplace_back(static_cast<uint32_t>(n), p.volume);
      }
    }
  });
  std::sort(volumes.begin(), volumes.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [n, v] : volumes) {
    w.wall[n].first_volume = static_cast<uint32_t>(w.volume_of_piece.size());
    w.volume_of_piece.insert(w.volume_of_piece.end(), v.begin(), v.end());
  }
}

}  // namespace

std::array<int, 3> place(uint64_t cell, const CellLattice& l) {
  const auto nx = static_cast<uint64_t>(l.nx), ny = static_cast<uint64_t>(l.ny);
  return {static_cast<int>(cell % nx), static_cast<int>(cell / nx % ny), static_cast<int>(cell / nx / ny)};
}

bool same_line(const Wall& a, const Wall& b, int axis, const CellLattice& l) {
  const auto p = place(a.cell, l), q = place(b.cell, l);
  for (size_t k = 0; k < 3; ++k)
    if (static_cast<int>(k) != axis && p[k] != q[k]) return false;
  return true;
}

uint8_t corner_on_side(int axis, bool high, int c) {
  const int u = (axis + 1) % 3, v = (axis + 2) % 3;
  return static_cast<uint8_t>((c & 1) << u | (c >> 1) << v | (high ? 1 : 0) << axis);
}

bool cut_on_side(const CutMesh& cut, const Wall& wall, uint8_t side) {
  for (uint32_t f = wall.first; f < wall.last; ++f)
    for (uint32_t i = cut.facets[f].first; i < cut.facets[f].first + cut.facets[f].count; ++i)
      if (cut.along[i] == side) return true;
  return false;
}

Result<CellWalls> measure_walls(const TriMesh& mesh, const CutMesh& cut, const CellLattice& l, bool flipped,
                                const Progress& progress) {
  CellWalls walls = sums_of(cut, l, flipped);
  if (auto ok = mark_corners(walls, mesh, l, flipped, progress.part(0, 0.5)); !ok) return ok.error();
  progress.report(0.5);
  split_walls(walls, cut, mesh, l, flipped);
  if (progress.cancelled()) return Error::stopped();
  progress.report(1);
  return walls;
}

}  // namespace palinform
