#pragma once
/// Laplace's equation on the cells of a plane grid, some of them left out: conjugate gradients, preconditioned by one
/// cycle over ever coarser grids of 2 × 2 cells each (Galerkin sums, one damped Jacobi step before and after, in single
/// precision: only the direction is its own). O(cells) a cycle, a few dozen cycles whatever the grid; the same figures
/// every time.
#include <algorithm>
#include <cmath>
#include <vector>

namespace palinform {

/// On every cell: diagonal·x − Σ coupling·x(neighbour) = right side. Couplings are above nought between two unknowns,
/// else nought; cells that are none have a diagonal of nought. Rows of `nu` cells, with so many cells of nought before
/// and after them all that every neighbour is a place of the array.
template <class Real>
struct GridLaplace {
  int nu = 0, nv = 0;
  size_t pad = 0;
  std::vector<Real> diagonal;
  std::vector<Real> east, north;  ///< to the next cell of the row; to that of the next row

  GridLaplace(int cells_u, int cells_v) : nu(cells_u), nv(cells_v), pad(static_cast<size_t>(cells_u) + 1) {
    diagonal = east = north = none();
  }
  size_t cells() const { return static_cast<size_t>(nu) * static_cast<size_t>(nv); }
  size_t at(int i, int j) const {
    return pad + static_cast<size_t>(j) * static_cast<size_t>(nu) + static_cast<size_t>(i);
  }
  /// Noughts for all cells and what stands round them.
  std::vector<Real> none() const { return std::vector<Real>(cells() + 2 * pad, Real(0)); }

  /// this · x at one place.
  Real times(const Real* x, size_t k) const {
    const size_t w = static_cast<size_t>(nu);
    return diagonal[k] * x[k] - east[k] * x[k + 1] - east[k - 1] * x[k - 1] - north[k] * x[k + w] -
           north[k - w] * x[k - w];
  }
};

namespace laplace {

/// Half as many cells each way.
inline GridLaplace<float> coarser(const GridLaplace<float>& fine) {
  GridLaplace<float> c((fine.nu + 1) / 2, (fine.nv + 1) / 2);
  for (int j = 0; j < fine.nv; ++j)
    for (int i = 0; i < fine.nu; ++i) {
      const size_t k = fine.at(i, j), block = c.at(i / 2, j / 2);
      c.diagonal[block] += fine.diagonal[k];
      if (i % 2)
        c.east[block] += fine.east[k];
      else
        c.diagonal[block] -= 2 * fine.east[k];
      if (j % 2)
        c.north[block] += fine.north[k];
      else
        c.diagonal[block] -= 2 * fine.north[k];
    }
  return c;
}

struct Levels {
  std::vector<GridLaplace<float>> grid;
  std::vector<std::vector<float>> damped;  // ω / diagonal; nought where there is no unknown
  std::vector<std::vector<float>> x, next, b;

  explicit Levels(const GridLaplace<double>& finest) {
    constexpr float omega = 0.8F;
    GridLaplace<float> g(finest.nu, finest.nv);
    const auto narrow = [](const std::vector<double>& from, std::vector<float>& to) {
      for (size_t k = 0; k < from.size(); ++k) to[k] = static_cast<float>(from[k]);
    };
    narrow(finest.diagonal, g.diagonal), narrow(finest.east, g.east), narrow(finest.north, g.north);
    grid.push_back(std::move(g));
    while (std::max(grid.back().nu, grid.back().nv) > 3) grid.push_back(coarser(grid.back()));
    for (const GridLaplace<float>& level : grid) {
      auto& d = damped.emplace_back(level.none());
      // Of an unknown that is held by next to nothing the rounding of sums may be all there is.
      for (size_t k = 0; k < d.size(); ++k)
        if (level.diagonal[k] > 1e-4F) d[k] = omega / level.diagonal[k];
      x.push_back(level.none()), next.push_back(level.none()), b.push_back(level.none());
    }
  }
  void smooth(size_t l) {
    const GridLaplace<float>& g = grid[l];
    const float *now = x[l].data(), *d = damped[l].data(), *right = b[l].data();
    float* to = next[l].data();
    for (size_t k = g.pad, end = g.pad + g.cells(); k < end; ++k) to[k] = now[k] + d[k] * (right[k] - g.times(now, k));
    std::swap(x[l], next[l]);
  }
  /// About A⁻¹·b[l] into x[l].
  void cycle(size_t l) {
    const GridLaplace<float>& g = grid[l];
    for (size_t k = g.pad, end = g.pad + g.cells(); k < end; ++k) x[l][k] = damped[l][k] * b[l][k];
    if (l + 1 == grid.size()) {
      for (int k = 0; k < 24; ++k) smooth(l);
      return;
    }
    const GridLaplace<float>& c = grid[l + 1];
    std::vector<float>& below = b[l + 1];
    std::fill(below.begin(), below.end(), 0.0F);
    for (int j = 0; j < g.nv; ++j)
      for (int i = 0; i < g.nu; ++i) {
        const size_t k = g.at(i, j);
        below[c.at(i / 2, j / 2)] += b[l][k] - g.times(x[l].data(), k);
      }
    cycle(l + 1);
    // Sums over blocks are too stiff by about this much for a smooth field.
    constexpr float stiffer = 1.6F;
    for (int j = 0; j < g.nv; ++j)
      for (int i = 0; i < g.nu; ++i) {
        const size_t k = g.at(i, j);
        if (damped[l][k] > 0) x[l][k] += stiffer * x[l + 1][c.at(i / 2, j / 2)];
      }
    smooth(l);
  }
};

}  // namespace laplace

/// Solves into `x`, from what stands in it. False where what is left does not fall under `share` of the right side in
/// `most` steps: `x` is then no solution.
inline bool solve_laplace(const GridLaplace<double>& a, const std::vector<double>& right, std::vector<double>& x,
                          double share = 1e-10, int most = 200) {
  const size_t from = a.pad, to = a.pad + a.cells();
  for (size_t k = 0; k < x.size(); ++k)
    if (a.diagonal[k] <= 0) x[k] = 0;
  std::vector<double> r = a.none(), p = a.none(), ap = a.none();
  double size = 0, left = 0;
  for (size_t k = from; k < to; ++k) {
    r[k] = right[k] - a.times(x.data(), k);
    size += right[k] * right[k], left += r[k] * r[k];
  }
  const double enough = share * share * std::max(size, 1e-300);
  if (left <= enough) return true;
  laplace::Levels levels(a);
  double rz = 0;
  for (int step = 0; step <= most; ++step) {
    // Small figures keep their digits in single precision.
    const double unit = std::sqrt(left);
    for (size_t k = from; k < to; ++k) levels.b[0][k] = static_cast<float>(r[k] / unit);
    levels.cycle(0);
    const std::vector<float>& z = levels.x[0];
    double now = 0;
    for (size_t k = from; k < to; ++k) now += r[k] * static_cast<double>(z[k]);
    if (!(now > 0) || step == most) return false;
    // The direction's length does not matter, only what it is made of: rz is told in the same unit.
    const double keep = step == 0 ? 0 : now * unit / rz;
    for (size_t k = from; k < to; ++k) p[k] = unit * static_cast<double>(z[k]) + keep * p[k];
    rz = now * unit;
    double curve = 0;
    for (size_t k = from; k < to; ++k) ap[k] = a.times(p.data(), k), curve += p[k] * ap[k];
    if (!(curve > 0)) return false;
    const double along = rz / curve;
    left = 0;
    for (size_t k = from; k < to; ++k) x[k] += along * p[k], r[k] -= along * ap[k], left += r[k] * r[k];
    if (left <= enough) return true;
  }
  return false;
}

}  // namespace palinform
