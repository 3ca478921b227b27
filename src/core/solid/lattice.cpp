#include "solid/lattice.hpp"

#include <openvdb/tools/Dense.h>

#include <algorithm>
#include <cmath>

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

Result<Lattice> distance_lattice(const TriMesh& mesh, const Box3& box, double voxel, double band,
                                 const Progress& progress) {
  auto l = lattice_over(box, voxel, static_cast<float>(band));
  if (!l) return l;
  vdb::start();
  const auto grid = vdb::distance_to(mesh, voxel, band + voxel, band + voxel, true, progress);
  if (progress.cancelled()) return Error::stopped();
  const auto from = grid->getConstAccessor();
  const float most = static_cast<float>(band);
  for (int k = 0; k < l->nk; ++k)
    for (int j = 0; j < l->nj; ++j)
      for (int i = 0; i < l->ni; ++i)
        l->at(i, j, k) = std::clamp(from.getValue({l->i0 + i, l->j0 + j, l->k0 + k}), -most, most);
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
