#include "flow/cavity.hpp"

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
  const auto columns = build_columns(mesh, frame_along({0, 0, 1}), voxel, voxel, progress);
  if (!columns) return columns.error();
  Cavity c;
  c.voxel_mm = voxel;
  c.nx = columns->nu;
  c.ny = columns->nv;
  c.nz = static_cast<int>(count(size.z));
  c.origin_mm = {columns->u0_mm, columns->v0_mm, m.box_mm.centre().z - 0.5 * c.nz * voxel};
  std::vector<uint8_t> inside(c.grid_size(), 0);
  for (size_t col = 0; col < columns->count(); ++col)
    for (uint32_t s = columns->start[col]; s < columns->start[col + 1]; ++s) {
      const Span& run = columns->span[s];
      const int k0 = std::max(0, static_cast<int>(std::ceil((run.low_mm - c.origin_mm.z) / voxel - 0.5 - 1e-9)));
      const int k1 =
          std::min(c.nz - 1, static_cast<int>(std::ceil((run.high_mm - c.origin_mm.z) / voxel - 0.5 - 1e-9)) - 1);
      for (int k = k0; k <= k1; ++k)
        inside[static_cast<size_t>(k) * static_cast<size_t>(c.nx) * static_cast<size_t>(c.ny) + col] = 1;
    }
  if (progress.cancelled()) return Error::stopped();
  number_cells(c, inside);
  if (c.cells.empty()) return Error{"no cell of this size fits inside", "flow", "Use a finer voxel."};
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
