#include "solid/lattice.hpp"

#include <openvdb/math/Proximity.h>
#include <openvdb/tools/Dense.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/text.hpp"
#include "solid/vdb_mesh.hpp"
#include "solid/vdb_surface.hpp"

namespace palinform {

Result<Lattice> lattice_over(const Box3& box, double voxel, float fill) {
  if (!(voxel > 0)) return Error{"the voxel must be above nought", "solid", ""};
  Lattice l;
  l.voxel_mm = voxel;
  int low[3], count[3];
  double all = 1;
  for (int k = 0; k < 3; ++k) {
    low[k] = static_cast<int>(std::floor(box.min[k] / voxel)) - 1;
    const double n = std::ceil(box.max[k] / voxel) + 2 - low[k];
    all *= n;
    count[k] = static_cast<int>(std::min(n, 1e6));
  }
  if (all > 8e7)
    return Error{"a voxel of " + significant(voxel, 2) + " mm is too fine for this size", "solid",
                 "Use a coarser one."};
  l.i0 = low[0], l.j0 = low[1], l.k0 = low[2];
  l.ni = count[0], l.nj = count[1], l.nk = count[2];
  l.value.assign(static_cast<size_t>(all), fill);
  return l;
}

namespace {

constexpr int32_t no_seed = -1;

/// The nearest of the skin's points handed from value to value, forward and back in each direction: exact for most
/// values and off by far less than a voxel for the rest, in a tenth of the time of searching a wide band for triangles.
/// `seed`: index into `point` (in voxels from the first value) or none; none nearer than `band` stays none.
void hand_on(const Lattice& l, const std::vector<openvdb::Vec3f>& point, float band, std::vector<int32_t>& seed,
             const Progress& progress) {
  std::vector<float> far2(seed.size(), std::numeric_limits<float>::max());
  const float band2 = band * band;
  const auto off2 = [&](int32_t s, int i, int j, int k) {
    const openvdb::Vec3f& p = point[static_cast<size_t>(s)];
    const float x = p.x() - static_cast<float>(i), y = p.y() - static_cast<float>(j), z = p.z() - static_cast<float>(k);
    return x * x + y * y + z * z;
  };
  const auto take = [&](size_t at, size_t from, int i, int j, int k) {
    const int32_t s = seed[from];
    if (s == no_seed || s == seed[at]) return;
    const float d = off2(s, i, j, k);
    if (d < far2[at] && d < band2) far2[at] = d, seed[at] = s;
  };
  for (int k = 0; k < l.nk; ++k)
    for (int j = 0; j < l.nj; ++j)
      for (int i = 0; i < l.ni; ++i)
        if (const size_t at = l.index(i, j, k); seed[at] != no_seed) far2[at] = off2(seed[at], i, j, k);
  const auto row = static_cast<size_t>(l.ni), layer = row * static_cast<size_t>(l.nj);
  for (const bool back : {false, true}) {
    for (int n = 0; n < l.nk; ++n) {
      if (progress.cancelled()) return;
      const int k = back ? l.nk - 1 - n : n;
      const size_t first = l.index(0, 0, k);
      if (n > 0) {
        const size_t before = back ? first + layer : first - layer;
        for (int j = 0; j < l.nj; ++j)
          for (int i = 0; i < l.ni; ++i) {
            const size_t in = static_cast<size_t>(j) * row + static_cast<size_t>(i);
            take(first + in, before + in, i, j, k);
            if (i > 0) take(first + in, before + in - 1, i, j, k);
            if (i + 1 < l.ni) take(first + in, before + in + 1, i, j, k);
            if (j > 0) take(first + in, before + in - row, i, j, k);
            if (j + 1 < l.nj) take(first + in, before + in + row, i, j, k);
          }
      }
      for (const bool up : {true, false})
        for (int m = 0; m < l.nj; ++m) {
          const int j = up ? m : l.nj - 1 - m;
          const size_t here = first + static_cast<size_t>(j) * row, beside = up ? here - row : here + row;
          if (m > 0)
            for (int i = 0; i < l.ni; ++i) {
              const auto in = static_cast<size_t>(i);
              take(here + in, beside + in, i, j, k);
              if (i > 0) take(here + in, beside + in - 1, i, j, k);
              if (i + 1 < l.ni) take(here + in, beside + in + 1, i, j, k);
            }
          for (int i = 1; i < l.ni; ++i)
            take(here + static_cast<size_t>(i), here + static_cast<size_t>(i) - 1, i, j, k);
          for (int i = l.ni - 2; i >= 0; --i)
            take(here + static_cast<size_t>(i), here + static_cast<size_t>(i) + 1, i, j, k);
        }
      progress.report((back ? 0.5 : 0.0) + 0.5 * n / l.nk);
    }
  }
}

}  // namespace

Result<Lattice> distance_lattice(const TriMesh& mesh, const Box3& box, double voxel, double band,
                                 const Progress& progress) {
  auto made = lattice_over(box, voxel, static_cast<float>(band));
  if (!made) return made;
  Lattice l = *std::move(made);
  vdb::start();
  // Beyond a band of a few voxels distances are handed on; not where the part reaches out of the lattice, whose skin
  // out there would not be seen.
  constexpr double narrow = 3;
  const Box3 part = measure(mesh).box_mm;
  bool inside = true;
  for (int a = 0; a < 3; ++a) inside = inside && part.min[a] >= box.min[a] && part.max[a] <= box.max[a];
  const bool wide = inside && band > 1.5 * narrow * voxel;
  const double searched = wide ? narrow * voxel : band + voxel;
  auto triangles = openvdb::Int32Grid::create(-1);
  const auto grid = vdb::distance_to(mesh, voxel, searched, searched, true, progress.part(0, wide ? 0.4 : 1),
                                     wide ? triangles.get() : nullptr);
  if (progress.cancelled()) return Error::stopped();
  const openvdb::CoordBBox where({l.i0, l.j0, l.k0}, {l.i0 + l.ni - 1, l.j0 + l.nj - 1, l.k0 + l.nk - 1});
  openvdb::tools::Dense<float, openvdb::tools::LayoutXYZ> dense(where, l.value.data());
  openvdb::tools::copyToDense(*grid, dense);
  const float most = static_cast<float>(band);
  if (!wide) {
    for (float& v : l.value) v = std::clamp(v, -most, most);
    return l;
  }
  std::vector<int32_t> seed(l.value.size(), no_seed);
  std::vector<openvdb::Vec3f> point;
  std::vector<size_t> of;  // the triangle each lies on
  const auto nearest_on = [&](size_t triangle, const openvdb::Vec3d& place) {
    openvdb::Vec3d corner[3], uvw;
    for (int n = 0; n < 3; ++n) {
      const Vec3& p = mesh.corner(triangle, n);
      corner[n] = {p.x / voxel, p.y / voxel, p.z / voxel};
    }
    return openvdb::math::closestPointOnTriangleToPoint(corner[0], corner[1], corner[2], place, uvw);
  };
  const auto nearest = triangles->getConstAccessor();
  for (auto it = grid->cbeginValueOn(); it; ++it) {
    if (std::abs(static_cast<double>(it.getValue())) > voxel) continue;
    const openvdb::Coord c = it.getCoord();
    const int32_t t = nearest.getValue(c);
    if (t < 0 || !where.isInside(c)) continue;
    seed[l.index(c.x() - l.i0, c.y() - l.j0, c.z() - l.k0)] = static_cast<int32_t>(point.size());
    of.push_back(static_cast<size_t>(t));
    point.emplace_back(nearest_on(of.back(), c.asVec3d()) - openvdb::Vec3d(l.i0, l.j0, l.k0));
  }
  hand_on(l, point, static_cast<float>(band / voxel), seed, progress.part(0.4, 1));
  if (progress.cancelled()) return Error::stopped();
  const auto searched_well = static_cast<float>((narrow - 0.5) * voxel);
  tbb::parallel_for(0, l.nk, [&](int k) {
    for (int j = 0; j < l.nj; ++j)
      for (int i = 0; i < l.ni; ++i) {
        float& v = l.at(i, j, k);
        // Near the skin as OpenVDB has it; its sign everywhere. A point that was handed on is about the nearest one:
        // the triangle it lies on has a nearer.
        if (std::abs(v) <= searched_well) continue;
        const int32_t s = seed[l.index(i, j, k)];
        float d = most;
        if (s != no_seed) {
          const openvdb::Vec3d here = openvdb::Coord(l.i0 + i, l.j0 + j, l.k0 + k).asVec3d();
          d = static_cast<float>(voxel * (nearest_on(of[static_cast<size_t>(s)], here) - here).length());
        }
        v = std::copysign(std::min(d, most), v);
      }
  });
  return l;
}

Result<TriMesh> lattice_surface(const Lattice& l, const Progress& progress) {
  vdb::start();
  const auto band = static_cast<float>(3 * l.voxel_mm);
  auto grid = openvdb::FloatGrid::create(band);
  grid->setTransform(openvdb::math::Transform::createLinearTransform(l.voxel_mm));
  openvdb::CoordBBox where({l.i0, l.j0, l.k0}, {l.i0 + l.ni - 1, l.j0 + l.nj - 1, l.k0 + l.nk - 1});
  openvdb::tools::Dense<float, openvdb::tools::LayoutXYZ> dense(where);
  for (int k = 0; k < l.nk; ++k)
    for (int j = 0; j < l.nj; ++j)
      for (int i = 0; i < l.ni; ++i) {
        const bool border = i == 0 || j == 0 || k == 0 || i + 1 == l.ni || j + 1 == l.nj || k + 1 == l.nk;
        const float v = std::clamp(l.at(i, j, k), -band, band);
        dense.setValue({l.i0 + i, l.j0 + j, l.k0 + k}, border ? std::max(v, 0.01f * band) : v);
      }
  if (progress.cancelled()) return Error::stopped();
  openvdb::tools::copyFromDense(dense, *grid, 0.0f);
  return vdb::sound_surface(*grid, 0, l.voxel_mm, progress);
}

}  // namespace palinform
