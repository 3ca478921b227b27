#include "solid/carve.hpp"

#include <openvdb/tools/Composite.h>

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/topology.hpp"
#include "solid/vdb_mesh.hpp"

namespace palinform {
namespace {

Status check(const TriMesh& m, double voxel) {
  const Vec3 size = measure(m).box_mm.size();
  if (!(voxel > 0)) return Error{"the voxel must be above nought", "solid", ""};
  if (size.x / voxel * (size.y / voxel) * (size.z / voxel) > 4e8)
    return Error{"a voxel of " + significant(voxel, 2) + " mm is too fine for this size", "solid", "Use a coarser one."};
  return {};
}

/// Specks go; outside is made to look out.
Result<TriMesh> cleaned(TriMesh mesh, double voxel, Progress& progress) {
  drop_unused_points(mesh);
  const EdgePairs pairs = pair_edges(mesh);
  const Components parts = components(mesh, pairs);
  if (parts.count > 1) {
    std::vector<double> volume(parts.count, 0);
    for (size_t t = 0; t < mesh.triangles.size(); ++t)
      volume[parts.of_triangle[t]] += dot(mesh.corner(t, 0), cross(mesh.corner(t, 1), mesh.corner(t, 2))) / 6;
    const double least = std::pow(3 * voxel, 3);
    std::vector<Triangle> kept;
    for (size_t t = 0; t < mesh.triangles.size(); ++t)
      if (std::abs(volume[parts.of_triangle[t]]) > least) kept.push_back(mesh.triangles[t]);
    mesh.triangles = std::move(kept);
    drop_unused_points(mesh);
  }
  if (progress.cancelled()) return Error::stopped();
  if (measure(mesh).volume_mm3 < 0)
    for (Triangle& t : mesh.triangles) std::swap(t[1], t[2]);
  return mesh;
}

}  // namespace

Result<TriMesh> carved(const TriMesh& block, const std::vector<TriMesh>& away, double grow_mm, double voxel,
                       Progress& progress) {
  if (auto ok = check(block, voxel); !ok) return ok.error();
  vdb::start();
  const auto body = vdb::distance_to(block, voxel, 3 * voxel, 3 * voxel, true, progress);
  progress.report(0.4);
  for (const TriMesh& m : away) {
    if (progress.cancelled()) return Error::stopped();
    const double band = 3 * voxel + std::abs(grow_mm);
    auto taken = vdb::distance_to(m, voxel, band, band, true, progress);
    if (progress.cancelled()) return Error::stopped();
    if (grow_mm != 0) {
      // The field itself, shifted: exact for a true distance field within its band.
      for (auto it = taken->beginValueOn(); it; ++it) it.setValue(it.getValue() - static_cast<float>(grow_mm));
      const float out_value = taken->background() - static_cast<float>(grow_mm);
      openvdb::tools::changeBackground(taken->tree(), std::max(out_value, static_cast<float>(3 * voxel)));
    }
    openvdb::tools::csgDifference(*body, *taken);
  }
  progress.report(0.7);
  return cleaned(vdb::iso_surface(*body, 0), voxel, progress);
}

Result<TriMesh> grown(const TriMesh& solid, double by_mm, double voxel, Progress& progress) {
  if (auto ok = check(solid, voxel); !ok) return ok.error();
  vdb::start();
  const double band = std::abs(by_mm) + 3 * voxel;
  const auto field = vdb::distance_to(solid, voxel, band, band, true, progress);
  if (progress.cancelled()) return Error::stopped();
  return cleaned(vdb::iso_surface(*field, by_mm), voxel, progress);
}

}  // namespace palinform
