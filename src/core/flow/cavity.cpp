#include "flow/cavity.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "flow/cut_cells.hpp"

namespace palinform {
namespace {

// Where the lattice begins before the box, in voxels: off any round figure, so that walls along the axes do not lie on
// the cells' sides.
constexpr double off_x = 0.3819, off_y = 0.3607, off_z = 0.4142;

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
