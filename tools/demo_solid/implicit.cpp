#include "demo_solid/implicit.hpp"

#include <openvdb/openvdb.h>
#include <openvdb/tools/SignedFloodFill.h>
#include <openvdb/tools/VolumeToMesh.h>

#include <algorithm>
#include <cmath>

namespace palinform {

TriMesh mesh_implicit(const Implicit& solid, const Box3& box, double voxel_mm) {
  openvdb::initialize();
  const double h = voxel_mm;
  const float band = static_cast<float>(3 * h);
  auto grid = openvdb::FloatGrid::create(band);
  grid->setGridClass(openvdb::GRID_LEVEL_SET);
  grid->setTransform(openvdb::math::Transform::createLinearTransform(h));
  constexpr double off = 0.381966;  // keeps grid planes off the part's own flats, where signs would be a toss-up
  auto cells = grid->getAccessor();
  const auto low = [&](double v) { return static_cast<int>(std::floor(v / h)) - 4; };
  const auto high = [&](double v) { return static_cast<int>(std::ceil(v / h)) + 4; };
  for (int i = low(box.min.x); i <= high(box.max.x); ++i)
    for (int j = low(box.min.y); j <= high(box.max.y); ++j)
      for (int k = low(box.min.z); k <= high(box.max.z); ++k) {
        const float v = static_cast<float>(solid({(i + off) * h, (j + off) * h, (k + off) * h}));
        if (std::abs(v) < band) cells.setValue({i, j, k}, v);
      }
  openvdb::tools::signedFloodFill(grid->tree());

  std::vector<openvdb::Vec3s> points;
  std::vector<openvdb::Vec4I> quads;
  openvdb::tools::volumeToMesh(*grid, points, quads, 0.0);
  TriMesh mesh;
  for (const auto& p : points) mesh.points.push_back(Vec3{p.x(), p.y(), p.z()} + Vec3{off, off, off} * h);
  for (Vec3& p : mesh.points)
    for (int step = 0; step < 4; ++step) {
      const double e = 1e-4, f = solid(p);
      const Vec3 g =
          Vec3{solid(p + Vec3{e, 0, 0}) - solid(p - Vec3{e, 0, 0}), solid(p + Vec3{0, e, 0}) - solid(p - Vec3{0, e, 0}),
               solid(p + Vec3{0, 0, e}) - solid(p - Vec3{0, 0, e})} /
          (2 * e);
      const double g2 = dot(g, g);
      if (g2 < 0.05) break;
      p -= g * (std::clamp(f, -0.3 * h, 0.3 * h) / g2);
    }
  for (const auto& q : quads) {
    // Across the shorter diagonal: fewer slivers on curved faces.
    const auto d02 = length(mesh.points[q[0]] - mesh.points[q[2]]), d13 = length(mesh.points[q[1]] - mesh.points[q[3]]);
    if (d02 <= d13) {
      mesh.triangles.push_back({q[0], q[2], q[1]});
      mesh.triangles.push_back({q[0], q[3], q[2]});
    } else {
      mesh.triangles.push_back({q[0], q[3], q[1]});
      mesh.triangles.push_back({q[1], q[3], q[2]});
    }
  }
  if (measure(mesh).volume_mm3 < 0)
    for (Triangle& t : mesh.triangles) std::swap(t[1], t[2]);
  return mesh;
}

}  // namespace palinform
