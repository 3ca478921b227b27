#include "flow/cavity.hpp"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <mutex>

#include "flow/cell_pieces.hpp"
#include "mesh/topology.hpp"
#include "solid/columns.hpp"

namespace palinform {
namespace {

constexpr double most_cells = 3e7;
// Where the lattice begins before the box, in voxels: off any round figure, so that walls along the axes do not lie on
// the cells' sides.
constexpr double off_x = 0.3819, off_y = 0.3607, off_z = 0.4142;
constexpr double shut = 1e-9;  // of a side: less is no opening
constexpr double least_volume = 1e-9;

/// A cube with facets of the mesh in it.
struct Wall {
  uint64_t cell = 0;
  uint32_t first = 0, last = 0;  ///< facets
  Vec3 area;                     ///< of its facets, outward
  double moment = 0;             ///< ∫(x − x0)·dA_x over them
  Vec3 second;                   ///< ∫(x − x0)²/2·dA_x, and so along each axis
  std::array<double, 6> side{};  ///< share of each side that lies inside: +x −x +y −y +z −z
  double volume = 0;
  uint8_t corners = 0;                 ///< bits of the corners inside
  std::array<uint8_t, 8> of_corner{};  ///< pieces
  uint8_t pieces = 0;
  uint32_t first_volume = 0;  ///< of a cube in several pieces, in a list of its own
};

std::array<int, 3> place(uint64_t cell, const CellLattice& l) {
  const auto nx = static_cast<uint64_t>(l.nx), ny = static_cast<uint64_t>(l.ny);
  return {static_cast<int>(cell % nx), static_cast<int>(cell / nx % ny), static_cast<int>(cell / nx / ny)};
}

/// A key in whose order the cubes of a line along `axis` follow each other.
uint64_t line_key(const std::array<int, 3>& at, int axis, const CellLattice& l) {
  const int u = axis == 0 ? 1 : 0, v = axis == 2 ? 1 : 2;
  return (static_cast<uint64_t>(at[static_cast<size_t>(v)]) * static_cast<uint64_t>(l.count(u)) +
          static_cast<uint64_t>(at[static_cast<size_t>(u)])) *
             static_cast<uint64_t>(l.count(axis)) +
         static_cast<uint64_t>(at[static_cast<size_t>(axis)]);
}

struct Walls {
  std::vector<Wall> wall;
  std::array<std::vector<uint32_t>, 3> along;  ///< the walls, in lines along each axis
  std::vector<uint8_t> piece_of_facet;
  std::vector<double> volume_of_piece;  ///< of cubes in several pieces
};

bool same_line(const Wall& a, const Wall& b, int axis, const CellLattice& l) {
  const auto p = place(a.cell, l), q = place(b.cell, l);
  for (size_t k = 0; k < 3; ++k)
    if (static_cast<int>(k) != axis && p[k] != q[k]) return false;
  return true;
}

/// Gathers the cubes with facets, and what of their sides and of themselves lies inside: exact sums, since what a line
/// of cubes loses from one side to the next is just what its facets cover.
Walls measure_walls(const CutMesh& cut, const CellLattice& l, bool flipped) {
  Walls w;
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
Result<bool> mark_corners(Walls& w, const TriMesh& mesh, const CellLattice& l, bool flipped, const Progress& progress) {
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
  return true;
}

void split_walls(Walls& w, const CutMesh& cut, const TriMesh& mesh, const CellLattice& l, bool flipped) {
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

/// Corner c of the four on the side of an axis, as a corner of the cube.
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

/// Of many points the few that stick out: the farthest each of 64 ways. A finely meshed wall gives a cell hundreds.
void keep_outermost(std::vector<std::array<float, 3>>& points, size_t enough) {
  if (points.size() <= enough) return;
  std::vector<uint8_t> kept(points.size(), 0);
  constexpr int ways = 64;
  for (int w = 0; w < ways; ++w) {
    // Spread evenly over the ball (golden spiral).
    const double z = 1 - (2 * w + 1.0) / ways, r = std::sqrt(1 - z * z), a = 2.399963229728653 * w;
    const auto x = static_cast<float>(r * std::cos(a)), y = static_cast<float>(r * std::sin(a)),
               zz = static_cast<float>(z);
    size_t best = 0;
    float far = -std::numeric_limits<float>::max();
    for (size_t n = 0; n < points.size(); ++n) {
      const float v = points[n][0] * x + points[n][1] * y + points[n][2] * zz;
      if (v > far) far = v, best = n;
    }
    kept[best] = 1;
  }
  size_t n = 0;
  for (size_t k = 0; k < points.size(); ++k)
    if (kept[k]) points[n++] = points[k];
  points.resize(n);
}

/// The cavity from its walls: cells numbered row by row, whole ones between the walls, sides joined.
class Builder {
 public:
  Builder(const CutMesh& cut, const Walls& walls, const CellLattice& l, bool flipped,
          const std::function<bool(int, int, int)>& wanted)
      : cut_(cut), w_(walls), l_(l), flipped_(flipped), wanted_(wanted) {
    c_.voxel_mm = l.voxel_mm;
    c_.origin_mm = l.origin_mm;
    c_.nx = l.nx, c_.ny = l.ny, c_.nz = l.nz;
  }

  Result<Cavity> build() {
    if (!number()) return Error{"the cavity would have over 30 million cells", "flow", "Use a coarser voxel."};
    if (c_.size() == 0) return Error{"no cell of this size fits inside", "flow", "Use a finer voxel."};
    gather_points();
    join_parts();
    join_whole_sides();
    return std::move(c_);
  }

 private:
  static constexpr uint32_t outside = Cavity::outside;
  float cube() const { return static_cast<float>(l_.voxel_mm * l_.voxel_mm * l_.voxel_mm); }

  bool put(int i, int j, int k, float volume, uint32_t part, uint8_t open) {
    c_.lattice.push_back({static_cast<uint16_t>(i), static_cast<uint16_t>(j), static_cast<uint16_t>(k)});
    c_.cell.push_back({{outside, outside, outside, outside, outside, outside}, part, volume});
    open_.push_back(open);
    return static_cast<double>(c_.size()) <= most_cells;
  }

  bool number() {
    cell_of_piece_.reserve(w_.wall.size());
    c_.row.assign(static_cast<size_t>(l_.ny) * static_cast<size_t>(l_.nz) + 1, 0);
    size_t n = 0;
    for (int k = 0; k < l_.nz; ++k)
      for (int j = 0; j < l_.ny; ++j) {
        const size_t r = static_cast<size_t>(k) * static_cast<size_t>(l_.ny) + static_cast<size_t>(j);
        c_.row[r] = static_cast<uint32_t>(c_.size());
        int next = 0;
        bool full = flipped_;
        const auto fill_to = [&](int end) {
          for (; next < end; ++next)
            if (full && (!wanted_ || wanted_(next, j, k)) && !put(next, j, k, cube(), outside, 0x3F)) return false;
          next = end;
          return true;
        };
        const uint64_t row_end = l_.key(0, j, k) + static_cast<uint64_t>(l_.nx);
        for (; n < w_.wall.size() && w_.wall[n].cell < row_end; ++n) {
          const Wall& wall = w_.wall[n];
          const int i = place(wall.cell, l_)[0];
          if (!fill_to(i)) return false;
          next = i + 1;
          full = wall.side[0] > 0.5;
          first_piece_.push_back(static_cast<uint32_t>(cell_of_piece_.size()));
          const bool wanted = !wanted_ || wanted_(i, j, k);
          uint8_t open[256] = {};
          for (int s = 0; s < 6 && wanted; ++s) {
            if (wall.side[static_cast<size_t>(s)] < 1) continue;
            if (cut_on_side(cut_, wall, CutMesh::side(s / 2, s % 2 == 0))) continue;
            const uint8_t p = wall.of_corner[corner_on_side(s / 2, s % 2 == 0, 0)];
            if (p != CellPieces::none) open[p] = static_cast<uint8_t>(open[p] | 1u << s);
          }
          for (uint8_t p = 0; p < wall.pieces; ++p) {
            const double v = wall.pieces == 1 ? wall.volume : w_.volume_of_piece[wall.first_volume + p];
            if (v < least_volume || !wanted) {
              cell_of_piece_.push_back(outside);
              continue;
            }
            cell_of_piece_.push_back(static_cast<uint32_t>(c_.size()));
            if (!put(i, j, k, static_cast<float>(v) * cube(), static_cast<uint32_t>(c_.parts.size()), open[p]))
              return false;
            c_.parts.emplace_back();
          }
        }
        if (full && !fill_to(l_.nx)) return false;
      }
    c_.row.back() = static_cast<uint32_t>(c_.size());
    first_piece_.push_back(static_cast<uint32_t>(cell_of_piece_.size()));
    return true;
  }

  std::array<float, 3> point(const Vec3& voxels) const {
    const Vec3 p = voxels * l_.voxel_mm;
    return {static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)};
  }
  Vec3 corner(const std::array<int, 3>& at, unsigned c) const {
    return {at[0] + static_cast<double>(c & 1), at[1] + static_cast<double>(c >> 1 & 1),
            at[2] + static_cast<double>(c >> 2 & 1)};
  }

  /// By the divergence theorem; of one piece of several, the mean of its corners.
  std::array<float, 3> centroid(const Wall& wall, const std::array<int, 3>& at,
                                const std::vector<std::array<float, 3>>& corners) const {
    Vec3 sum;
    for (int k = 0; k < 3; ++k) {
      const double inside = (wall.second[k] + 0.5 * wall.side[static_cast<size_t>(2 * k)]) / wall.volume;
      // A mesh that overlaps itself has no such centre.
      if (wall.pieces == 1 && inside > 0 && inside < 1)
        sum[k] = at[static_cast<size_t>(k)] + inside;
      else {
        double mean = 0;
        for (const auto& p : corners) mean += static_cast<double>(p[static_cast<size_t>(k)]);
        sum[k] = mean / static_cast<double>(std::max<size_t>(1, corners.size())) / l_.voxel_mm;
      }
    }
    return point(sum);
  }

  void gather_points() {
    std::vector<std::array<float, 3>> mine;
    for (size_t n = 0; n < w_.wall.size(); ++n) {
      const Wall& wall = w_.wall[n];
      const auto at = place(wall.cell, l_);
      for (uint8_t p = 0; p < wall.pieces; ++p) {
        const uint32_t cell = cell_of_piece_[first_piece_[n] + p];
        if (cell == outside) continue;
        mine.clear();
        for (uint32_t f = wall.first; f < wall.last; ++f) {
          if (w_.piece_of_facet[f] != p) continue;
          const Facet& facet = cut_.facets[f];
          for (uint32_t i = facet.first; i < facet.first + facet.count; ++i) mine.push_back(point(cut_.corner[i]));
        }
        for (unsigned c = 0; c < 8; ++c)
          if (wall.of_corner[c] == p) mine.push_back(point(corner(at, c)));
        std::sort(mine.begin(), mine.end());
        mine.erase(std::unique(mine.begin(), mine.end()), mine.end());
        keep_outermost(mine, 16);
        Cavity::Part& part = c_.parts[c_.cell[cell].part];
        part.centroid_mm = centroid(wall, at, mine);
        part.first_point = static_cast<uint32_t>(c_.point_mm.size());
        part.points = static_cast<uint32_t>(mine.size());
        c_.point_mm.insert(c_.point_mm.end(), mine.begin(), mine.end());
      }
    }
  }

  /// Sides that are open in part, between the pieces on either side: those that a face runs through on both, and those
  /// that share a corner.
  void join_parts() {
    struct Found {
      uint32_t a, b, first, count;
      float area;
      uint8_t axis;
    };
    std::vector<Found> found;
    struct Local {
      uint32_t a, b;
      std::vector<std::array<float, 3>> points;
    };
    std::vector<Local> local;
    for (int axis = 0; axis < 3; ++axis) {
      const auto& order = w_.along[static_cast<size_t>(axis)];
      const auto hi = static_cast<size_t>(2 * axis);
      for (size_t n = 0; n + 1 < order.size(); ++n) {
        const uint32_t wa = order[n], wb = order[n + 1];
        const Wall &a = w_.wall[wa], &b = w_.wall[wb];
        const auto pa = place(a.cell, l_), pb = place(b.cell, l_);
        if (pb[static_cast<size_t>(axis)] != pa[static_cast<size_t>(axis)] + 1 || !same_line(a, b, axis, l_)) continue;
        const double area = a.side[hi];
        local.clear();
        const auto add = [&](uint8_t piece_a, uint8_t piece_b, const std::array<float, 3>& p) {
          const uint32_t ca = cell_of_piece_[first_piece_[wa] + piece_a],
                         cb = cell_of_piece_[first_piece_[wb] + piece_b];
          if (ca == outside || cb == outside) return;
          for (Local& x : local)
            if (x.a == ca && x.b == cb) {
              x.points.push_back(p);
              return;
            }
          local.push_back({ca, cb, {p}});
        };
        const uint8_t side = CutMesh::side(axis, true);
        bool cut = false;
        uint32_t g = b.first;
        for (uint32_t f = a.first; f < a.last; ++f) {
          const Facet& facet = cut_.facets[f];
          for (uint32_t i = 0; i < facet.count; ++i) {
            if (cut_.along[facet.first + i] != side) continue;
            cut = true;
            while (g < b.last && cut_.facets[g].face < facet.face) ++g;
            if (g == b.last || cut_.facets[g].face != facet.face) continue;
            for (const uint32_t end : {i, (i + 1) % facet.count})
              add(w_.piece_of_facet[f], w_.piece_of_facet[g], point(cut_.corner[facet.first + end]));
          }
        }
        if (area >= 1 && !cut) continue;  // open whole
        for (int c = 0; c < 4; ++c) {
          const uint8_t ka = corner_on_side(axis, true, c), kb = corner_on_side(axis, false, c);
          if (a.of_corner[ka] != CellPieces::none && b.of_corner[kb] != CellPieces::none)
            add(a.of_corner[ka], b.of_corner[kb], point(corner(pa, ka)));
        }
        for (Local& x : local) {
          std::sort(x.points.begin(), x.points.end());
          x.points.erase(std::unique(x.points.begin(), x.points.end()), x.points.end());
          keep_outermost(x.points, 8);
          const auto first = static_cast<uint32_t>(c_.point_mm.size());
          c_.point_mm.insert(c_.point_mm.end(), x.points.begin(), x.points.end());
          const double share = std::max(area, 1e-6) / static_cast<double>(local.size());
          found.push_back({x.a, x.b, first, static_cast<uint32_t>(x.points.size()),
                           static_cast<float>(share * l_.voxel_mm * l_.voxel_mm), static_cast<uint8_t>(axis)});
        }
      }
    }
    for (const Found& f : found) ++c_.parts[c_.cell[f.a].part].passages, ++c_.parts[c_.cell[f.b].part].passages;
    uint32_t sum = 0;
    for (Cavity::Part& p : c_.parts) {
      p.first_passage = sum;
      sum += p.passages;
      p.passages = 0;
    }
    c_.passage.resize(sum);
    for (const Found& f : found)
      for (const bool turn : {false, true}) {
        Cavity::Part& p = c_.parts[c_.cell[turn ? f.b : f.a].part];
        c_.passage[p.first_passage + p.passages++] = {turn ? f.a : f.b, f.area, f.first, f.count, f.axis};
      }
  }

  void join_whole_sides() {
    const auto ny = static_cast<size_t>(l_.ny), rows = ny * static_cast<size_t>(l_.nz);
    tbb::parallel_for(tbb::blocked_range<size_t>(0, rows, 16), [&](const auto& range) {
      for (size_t r = range.begin(); r < range.end(); ++r) {
        for (uint32_t a = c_.row[r]; a < c_.row[r + 1]; ++a)
          if (open_[a] & 1)
            for (uint32_t b = a + 1; b < c_.row[r + 1] && c_.lattice[b][0] <= c_.lattice[a][0] + 1; ++b)
              if (c_.lattice[b][0] == c_.lattice[a][0] + 1 && open_[b] & 2)
                c_.cell[a].beside[0] = b, c_.cell[b].beside[1] = a;
        const auto with_row = [&](size_t other, size_t high) {
          uint32_t b = c_.row[other];
          for (uint32_t a = c_.row[r]; a < c_.row[r + 1]; ++a) {
            if (!(open_[a] >> high & 1)) continue;
            while (b < c_.row[other + 1] && c_.lattice[b][0] < c_.lattice[a][0]) ++b;
            for (uint32_t q = b; q < c_.row[other + 1] && c_.lattice[q][0] == c_.lattice[a][0]; ++q)
              if (open_[q] >> (high + 1) & 1) c_.cell[a].beside[high] = q, c_.cell[q].beside[high + 1] = a;
          }
        };
        if (r % ny + 1 < ny) with_row(r + 1, 2);
        if (r + ny < rows) with_row(r + ny, 4);
      }
    });
  }

  const CutMesh& cut_;
  const Walls& w_;
  const CellLattice& l_;
  bool flipped_;
  const std::function<bool(int, int, int)>& wanted_;
  Cavity c_;
  std::vector<uint32_t> first_piece_, cell_of_piece_;
  std::vector<uint8_t> open_;  ///< per cell: sides open whole
};

/// `wanted(i, j, k)`: cubes that count; empty: all.
Result<Cavity> cut_cells(const TriMesh& mesh, const CellLattice& l, bool flipped,
                         const std::function<bool(int, int, int)>& wanted, const Progress& progress) {
  for (const int n : {l.nx, l.ny, l.nz})
    if (n > 65'000) return Error{"the grid would be over 65 000 cells long", "flow", "Use a coarser voxel."};
  if (static_cast<double>(l.ny) * l.nz > 4e7 || static_cast<double>(l.nx) * l.ny > 4e7)
    return Error{"the grid would have over 40 million rows of cells", "flow", "Use a coarser voxel."};
  // A cell that the wall passes through needs far more memory than a whole one.
  if (measure(mesh).area_mm2 / (l.voxel_mm * l.voxel_mm) > most_cells)
    return Error{"the cavity would have over 30 million cells at its wall", "flow", "Use a coarser voxel."};
  const CutMesh cut = cut_mesh(mesh, l, progress.part(0, 0.3));
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.3);
  Walls walls = measure_walls(cut, l, flipped);
  const auto marked = mark_corners(walls, mesh, l, flipped, progress.part(0.3, 0.5));
  if (!marked) return marked.error();
  progress.report(0.5);
  split_walls(walls, cut, mesh, l, flipped);
  if (progress.cancelled()) return Error::stopped();
  progress.report(0.7);
  auto c = Builder(cut, walls, l, flipped, wanted).build();
  progress.report(1);
  return c;
}

}  // namespace

Vec3 Cavity::centre(uint32_t c) const {
  if (whole(c)) return cube_centre(c);
  const auto& p = part(c).centroid_mm;
  return origin_mm + Vec3{static_cast<double>(p[0]), static_cast<double>(p[1]), static_cast<double>(p[2])};
}

Vec3 Cavity::top_point(uint32_t c, const Vec3& up) const {
  if (whole(c))
    return cube_centre(c) +
           Vec3{std::copysign(0.5, up.x), std::copysign(0.5, up.y), std::copysign(0.5, up.z)} * voxel_mm;
  const Part& p = part(c);
  Vec3 best;
  double top = -1e300;
  for (uint32_t n = p.first_point; n < p.first_point + p.points; ++n) {
    const Vec3 q{static_cast<double>(point_mm[n][0]), static_cast<double>(point_mm[n][1]),
                 static_cast<double>(point_mm[n][2])};
    if (dot(q, up) > top) top = dot(q, up), best = q;
  }
  return origin_mm + best;
}

double Cavity::total_mm3() const {
  double sum = 0;
  for (const Cell& c : cell) sum += static_cast<double>(c.volume_mm3);
  return sum;
}

uint32_t Cavity::nearest_cell(const Vec3& p) const {
  if (size() == 0) return outside;
  const Vec3 q = (p - origin_mm) / voxel_mm;
  const auto clamped = [](double v, int n) {
    return std::isfinite(v) ? std::clamp(static_cast<int>(std::clamp(std::floor(v), -1e9, 1e9)), 0, n - 1) : 0;
  };
  const int ci = clamped(q.x, nx), cj = clamped(q.y, ny), ck = clamped(q.z, nz);
  // Squared distance to a whole cell's cube; to a cut cell's box, and where boxes overlap to its nearest corner.
  const auto distance = [&](uint32_t k) -> std::pair<double, double> {
    if (whole(k)) {
      const Vec3 d = p - cube_centre(k);
      double sum = 0;
      for (int a = 0; a < 3; ++a) sum += std::pow(std::max(0.0, std::abs(d[a]) - 0.5 * voxel_mm), 2);
      return {sum, 0};
    }
    const Part& part_here = part(k);
    const Vec3 at = p - origin_mm;
    Box3 box;
    double near = 1e300;
    for (uint32_t n = part_here.first_point; n < part_here.first_point + part_here.points; ++n) {
      const Vec3 c{static_cast<double>(point_mm[n][0]), static_cast<double>(point_mm[n][1]),
                   static_cast<double>(point_mm[n][2])};
      box.add(c);
      near = std::min(near, dot(c - at, c - at));
    }
    double sum = 0;
    for (int a = 0; a < 3; ++a) sum += std::pow(std::max({0.0, box.min[a] - at[a], at[a] - box.max[a]}), 2);
    const double slack = 1e-6 * voxel_mm;
    return {sum < slack * slack ? 0 : sum, near};
  };
  uint32_t found = outside;
  std::pair<double, double> best{1e300, 1e300};
  for (int ring = 0; ring <= std::max({nx, ny, nz}); ++ring) {
    // A ring further out cannot hold a nearer cell than the best so far; the next one may hold the wall's other cells.
    if (found != outside && ring > 1 && (ring - 1) * voxel_mm > std::sqrt(best.first)) break;
    for (int k = std::max(0, ck - ring); k <= std::min(nz - 1, ck + ring); ++k)
      for (int j = std::max(0, cj - ring); j <= std::min(ny - 1, cj + ring); ++j) {
        const bool face = std::abs(k - ck) == ring || std::abs(j - cj) == ring;
        const size_t r = static_cast<size_t>(k) * static_cast<size_t>(ny) + static_cast<size_t>(j);
        const auto look = [&](int from, int to) {
          auto it = std::lower_bound(lattice.begin() + row[r], lattice.begin() + row[r + 1], from,
                                     [](const auto& at, int i) { return at[0] < i; });
          for (; it != lattice.begin() + row[r + 1] && (*it)[0] <= to; ++it) {
            const auto here = static_cast<uint32_t>(it - lattice.begin());
            const auto d = distance(here);
            if (d < best) best = d, found = here;
          }
        };
        if (face || ring == 0)
          look(ci - ring, ci + ring);
        else
          look(ci - ring, ci - ring), look(ci + ring, ci + ring);
      }
  }
  return found;
}

Result<Cavity> fill_with_cells(const TriMesh& mesh, double voxel, const Progress& progress) {
  if (!(voxel > 0) || !std::isfinite(voxel))
    return Error{"the voxel must be larger than nothing", "flow", "Give it in millimetres."};
  const MeshMeasure m = measure(mesh);
  if (m.box_mm.empty()) return Error{"there is nothing to fill", "flow", ""};
  if (m.volume_mm3 / (voxel * voxel * voxel) > most_cells)
    return Error{"the cavity would have over 30 million cells", "flow", "Use a coarser voxel."};
  const Vec3 size = m.box_mm.size();
  CellLattice l;
  l.voxel_mm = voxel;
  l.origin_mm = m.box_mm.min - Vec3{off_x, off_y, off_z} * voxel;
  const auto count = [&](double extent) {
    return static_cast<int>(std::min(1e6, std::floor(extent / voxel + 0.5) + 2));
  };
  l.nx = count(size.x), l.ny = count(size.y), l.nz = count(size.z);
  return cut_cells(mesh, l, false, {}, progress);
}

Result<Cavity> rubber_space(const TriMesh& part, const Box3& in, const std::function<double(double, double)>& surface,
                            bool upper, bool whole, double voxel, const Progress& progress) {
  if (!(voxel > 0) || !std::isfinite(voxel))
    return Error{"the voxel must be larger than nothing", "flow", "Give it in millimetres."};
  Box3 all = in;
  const Box3 own = measure(part).box_mm;
  if (!own.empty()) all.add(own.min), all.add(own.max);
  const Vec3 size = all.size();
  if (size.x / voxel * (size.y / voxel) * (size.z / voxel) > most_cells)
    return Error{"the space would have over 30 million cells", "flow", "Use a coarser voxel."};
  CellLattice l;
  l.voxel_mm = voxel;
  l.origin_mm = all.min - Vec3{off_x, off_y, off_z} * voxel;
  const auto count = [&](double extent) { return static_cast<int>(std::floor(extent / voxel + 0.5)) + 2; };
  l.nx = count(size.x), l.ny = count(size.y), l.nz = count(size.z);
  std::vector<double> ground(static_cast<size_t>(l.nx) * static_cast<size_t>(l.ny), 0);
  const auto middle = [&](int axis, int n) { return l.origin_mm[axis] + (n + 0.5) * voxel; };
  if (!whole)
    for (int j = 0; j < l.ny; ++j)
      for (int i = 0; i < l.nx; ++i)
        ground[static_cast<size_t>(j) * static_cast<size_t>(l.nx) + static_cast<size_t>(i)] =
            surface(middle(0, i), middle(1, j));
  const std::function<bool(int, int, int)> wanted = [&](int i, int j, int k) {
    const int at[3] = {i, j, k};
    for (int a = 0; a < 3; ++a)
      if (middle(a, at[a]) < in.min[a] || middle(a, at[a]) > in.max[a]) return false;
    if (whole) return true;
    const double g = ground[static_cast<size_t>(j) * static_cast<size_t>(l.nx) + static_cast<size_t>(i)],
                 z = middle(2, k);
    return upper ? z >= g : z <= g;
  };
  return cut_cells(part, l, true, wanted, progress);
}

double voxel_for(double volume, double cells) { return std::cbrt(std::max(volume, 1e-9) / std::max(cells, 1.0)); }

Cavity cavity_of(int nx, int ny, int nz, double voxel, const std::vector<uint8_t>& inside) {
  Cavity c;
  c.nx = nx, c.ny = ny, c.nz = nz;
  c.voxel_mm = voxel;
  std::vector<uint32_t> number(inside.size(), Cavity::outside);
  const auto at = [&](int i, int j, int k) {
    return (static_cast<size_t>(k) * static_cast<size_t>(ny) + static_cast<size_t>(j)) * static_cast<size_t>(nx) +
           static_cast<size_t>(i);
  };
  for (int k = 0; k < nz; ++k)
    for (int j = 0; j < ny; ++j) {
      c.row.push_back(static_cast<uint32_t>(c.size()));
      for (int i = 0; i < nx; ++i) {
        if (!inside[at(i, j, k)]) continue;
        number[at(i, j, k)] = static_cast<uint32_t>(c.size());
        c.lattice.push_back({static_cast<uint16_t>(i), static_cast<uint16_t>(j), static_cast<uint16_t>(k)});
      }
    }
  c.row.push_back(static_cast<uint32_t>(c.size()));
  for (const auto& q : c.lattice) {
    std::array<uint32_t, 6> b;
    const int p[3] = {q[0], q[1], q[2]}, n[3] = {nx, ny, nz};
    for (size_t s = 0; s < 6; ++s) {
      int o[3] = {p[0], p[1], p[2]};
      o[s / 2] += s % 2 ? -1 : 1;
      const bool in = o[s / 2] >= 0 && o[s / 2] < n[s / 2];
      b[s] = in ? number[at(o[0], o[1], o[2])] : Cavity::outside;
    }
    c.cell.push_back({b, Cavity::outside, static_cast<float>(voxel * voxel * voxel)});
  }
  return c;
}

}  // namespace palinform
