#include "flow/cavity.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>

#include "solid/columns.hpp"

namespace palinform {
namespace {

void number_cells(Cavity& c, const std::vector<uint8_t>& inside) {
  c.number.assign(c.grid_size(), Cavity::outside);
  for (uint32_t g = 0; g < c.grid_size(); ++g)
    if (inside[g]) {
      c.number[g] = static_cast<uint32_t>(c.cells.size());
      c.cells.push_back(g);
    }
  c.beside.resize(c.cells.size());
  c.lattice.resize(c.cells.size());
  const auto nx = static_cast<uint32_t>(c.nx), ny = static_cast<uint32_t>(c.ny);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, c.cells.size(), 16384), [&](const auto& range) {
    for (size_t n = range.begin(); n < range.end(); ++n) {
      const uint32_t g = c.cells[n];
      c.beside[n] = {c.number[g + 1],  c.number[g - 1],       c.number[g + nx],
                     c.number[g - nx], c.number[g + nx * ny], c.number[g - nx * ny]};
      c.lattice[n] = {static_cast<uint16_t>(g % nx), static_cast<uint16_t>(g / nx % ny),
                      static_cast<uint16_t>(g / nx / ny)};
    }
  });
}

/// Marks the cells of the grid whose centres the columns fill.
std::vector<uint8_t> filled_cells(const Columns& columns, const Cavity& c) {
  std::vector<uint8_t> inside(c.grid_size(), 0);
  for (size_t col = 0; col < columns.count(); ++col)
    for (uint32_t s = columns.start[col]; s < columns.start[col + 1]; ++s) {
      const Span& run = columns.span[s];
      const auto first_at = [&](double z) {
        return static_cast<int>(std::ceil((z - c.origin_mm.z) / c.voxel_mm - 0.5 - 1e-9));
      };
      for (int k = std::max(0, first_at(run.low_mm)); k <= std::min(c.nz - 1, first_at(run.high_mm) - 1); ++k)
        inside[static_cast<size_t>(k) * static_cast<size_t>(c.nx) * static_cast<size_t>(c.ny) + col] = 1;
    }
  return inside;
}

}  // namespace

uint32_t Cavity::nearest_cell(const Vec3& p) const {
  if (cells.empty()) return outside;
  const Vec3 q = (p - origin_mm) / voxel_mm;
  const auto clamped = [](double v, int n) { return std::clamp(static_cast<int>(std::floor(v)), 0, n - 1); };
  const int ci = clamped(q.x, nx), cj = clamped(q.y, ny), ck = clamped(q.z, nz);
  uint32_t found = outside;
  double best = 1e300;
  for (int ring = 0; ring <= std::max({nx, ny, nz}); ++ring) {
    // A ring further out cannot hold a nearer centre than the best so far.
    if (found != outside && (ring - 1) * voxel_mm > std::sqrt(best)) break;
    for (int k = std::max(0, ck - ring); k <= std::min(nz - 1, ck + ring); ++k)
      for (int j = std::max(0, cj - ring); j <= std::min(ny - 1, cj + ring); ++j) {
        const bool face = std::abs(k - ck) == ring || std::abs(j - cj) == ring;
        const int step = face || ring == 0 ? 1 : 2 * ring;
        for (int i = face ? std::max(0, ci - ring) : ci - ring; i <= std::min(nx - 1, ci + ring); i += step) {
          if (i < 0) continue;
          const uint32_t g = static_cast<uint32_t>(
              (static_cast<size_t>(k) * static_cast<size_t>(ny) + static_cast<size_t>(j)) * static_cast<size_t>(nx) +
              static_cast<size_t>(i));
          if (number[g] == outside) continue;
          const Vec3 d = centre(g) - p;
          const double d2 = dot(d, d);
          if (d2 < best || (d2 == best && g < found)) best = d2, found = g;
        }
      }
  }
  return found;
}

Result<Cavity> fill_with_cells(const TriMesh& mesh, double voxel, Progress& progress) {
  if (!(voxel > 0) || !std::isfinite(voxel))
    return Error{"the voxel must be larger than nothing", "flow", "Give it in millimetres."};
  const MeshMeasure m = measure(mesh);
  const Vec3 size = m.box_mm.size();
  // A layer of outside cells all round, so that neighbours need no bounds check.
  const auto count = [&](double extent) { return std::ceil(extent / voxel - 1e-9) + 2; };
  if (count(size.x) * count(size.y) * count(size.z) > 6e7)
    return Error{"the grid would have over 60 million cells", "flow", "Use a coarser voxel."};
  if (std::max({count(size.x), count(size.y), count(size.z)}) > 65'000)
    return Error{"the grid would be over 65 000 cells long", "flow", "Use a coarser voxel."};
  const auto columns = build_columns(mesh, frame_along({0, 0, 1}), voxel, voxel, progress);
  if (!columns) return columns.error();
  Cavity c;
  c.voxel_mm = voxel;
  c.nx = columns->nu;
  c.ny = columns->nv;
  c.nz = static_cast<int>(count(size.z));
  c.origin_mm = {columns->u0_mm, columns->v0_mm, m.box_mm.centre().z - 0.5 * c.nz * voxel};
  if (progress.cancelled()) return Error::stopped();
  number_cells(c, filled_cells(*columns, c));
  if (c.cells.empty()) return Error{"no cell of this size fits inside", "flow", "Use a finer voxel."};
  progress.report(1);
  return c;
}

Result<Cavity> rubber_space(const TriMesh& part, const Box3& in, const std::function<double(double, double)>& surface,
                            bool upper, bool whole, double voxel, Progress& progress) {
  if (!(voxel > 0)) return Error{"the voxel must be larger than nothing", "flow", "Give it in millimetres."};
  const MeshMeasure m = measure(part);
  const Vec3 size = in.size(), own = m.box_mm.size();
  // The part's own columns fix the lattice; the box is counted off from there.
  const auto columns = build_columns(part, frame_along({0, 0, 1}), voxel, voxel, progress);
  if (!columns) return columns.error();
  Cavity solid;
  solid.voxel_mm = voxel;
  solid.nx = columns->nu, solid.ny = columns->nv, solid.nz = static_cast<int>(std::ceil(own.z / voxel)) + 2;
  solid.origin_mm = {columns->u0_mm, columns->v0_mm, m.box_mm.centre().z - 0.5 * solid.nz * voxel};
  const std::vector<uint8_t> taken = filled_cells(*columns, solid);
  Cavity c;
  c.voxel_mm = voxel;
  int shift[3];
  for (int k = 0; k < 3; ++k) {
    shift[k] = static_cast<int>(std::ceil((solid.origin_mm[k] - in.min[k]) / voxel - 1e-9)) + 1;
    c.origin_mm[k] = solid.origin_mm[k] - shift[k] * voxel;
  }
  const auto count = [&](int k) {
    return static_cast<int>(std::ceil((in.max[k] - c.origin_mm[k]) / voxel - 1e-9)) + 1;
  };
  if ((size.x / voxel + 3) * (size.y / voxel + 3) * (size.z / voxel + 3) > 6e7)
    return Error{"the grid would have over 60 million cells", "flow", "Use a coarser voxel."};
  c.nx = count(0), c.ny = count(1), c.nz = count(2);
  std::vector<uint8_t> inside(c.grid_size(), 0);
  for (int j = 1; j + 1 < c.ny; ++j)
    for (int i = 1; i + 1 < c.nx; ++i) {
      const double u = c.origin_mm.x + (i + 0.5) * voxel, v = c.origin_mm.y + (j + 0.5) * voxel;
      if (u < in.min.x || u > in.max.x || v < in.min.y || v > in.max.y) continue;
      const double ground = whole ? 0 : surface(u, v);
      for (int k = 1; k + 1 < c.nz; ++k) {
        const double w = c.origin_mm.z + (k + 0.5) * voxel;
        if (w < in.min.z || w > in.max.z || (!whole && (upper ? w < ground : w > ground))) continue;
        const int a = i - shift[0], b = j - shift[1], d = k - shift[2];
        const bool part_here = a >= 0 && b >= 0 && d >= 0 && a < solid.nx && b < solid.ny && d < solid.nz &&
                               taken[(static_cast<size_t>(d) * static_cast<size_t>(solid.ny) + static_cast<size_t>(b)) *
                                         static_cast<size_t>(solid.nx) +
                                     static_cast<size_t>(a)];
        inside[(static_cast<size_t>(k) * static_cast<size_t>(c.ny) + static_cast<size_t>(j)) *
                   static_cast<size_t>(c.nx) +
               static_cast<size_t>(i)] = !part_here;
      }
    }
  if (progress.cancelled()) return Error::stopped();
  number_cells(c, inside);
  if (c.cells.empty()) return Error{"no cell of this size fits round the part", "flow", "Use a finer voxel."};
  progress.report(1);
  return c;
}

double voxel_for(double volume, double cells) { return std::cbrt(std::max(volume, 1e-9) / std::max(cells, 1.0)); }

Cavity cavity_of(int nx, int ny, int nz, double voxel, const std::vector<uint8_t>& inside) {
  Cavity c;
  c.nx = nx + 2, c.ny = ny + 2, c.nz = nz + 2;
  c.voxel_mm = voxel;
  c.origin_mm = Vec3{-1, -1, -1} * voxel;
  std::vector<uint8_t> padded(c.grid_size(), 0);
  for (int k = 0; k < nz; ++k)
    for (int j = 0; j < ny; ++j)
      for (int i = 0; i < nx; ++i)
        padded[(static_cast<size_t>(k + 1) * static_cast<size_t>(c.ny) + static_cast<size_t>(j + 1)) *
                   static_cast<size_t>(c.nx) +
               static_cast<size_t>(i + 1)] =
            inside[(static_cast<size_t>(k) * static_cast<size_t>(ny) + static_cast<size_t>(j)) *
                       static_cast<size_t>(nx) +
                   static_cast<size_t>(i)];
  number_cells(c, padded);
  return c;
}

}  // namespace palinform
