#include "flow/cut_cells.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "flow/cell_walls.hpp"

namespace palinform {
namespace {

constexpr double least_volume = 1e-9;  // of a cube: less is no cell

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
  Builder(const CutMesh& cut, const CellWalls& walls, const CellLattice& l, bool flipped,
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
  const CellWalls& w_;
  const CellLattice& l_;
  bool flipped_;
  const std::function<bool(int, int, int)>& wanted_;
  Cavity c_;
  std::vector<uint32_t> first_piece_, cell_of_piece_;
  std::vector<uint8_t> open_;  ///< per cell: sides open whole
};

}  // namespace

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
  const auto walls = measure_walls(mesh, cut, l, flipped, progress.part(0.3, 0.7));
  if (!walls) return walls.error();
  auto c = Builder(cut, *walls, l, flipped, wanted).build();
  progress.report(1);
  return c;
}

}  // namespace palinform
