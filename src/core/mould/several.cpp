#include "mould/several.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/primitives.hpp"
#include "mould/smallest_box.hpp"

namespace palinform {

std::vector<Vec3> master_places(const TriMesh& mesh, const Transform& frame, int count, double between) {
  const Vec3 size = box_in(mesh, frame).size();
  int best = 1;
  double least = 1e300;
  for (int along = 1; along <= count; ++along) {
    const int rows = (count + along - 1) / along;
    const double u = along * size.x + (along + 1) * between, v = rows * size.y + (rows + 1) * between;
    // Of boxes alike in rubber the one nearer a square: its walls bow less.
    const double cost = u * v * (1 + 1e-3 * std::max(u, v) / std::min(u, v));
    if (cost < least - 1e-9) least = cost, best = along;
  }
  std::vector<Vec3> out;
  for (int k = 0; k < count; ++k)
    out.push_back(
        frame.direction_back({(k % best) * (size.x + between), static_cast<double>(k / best) * (size.y + between), 0}));
  return out;
}

TriMesh repeated(const TriMesh& mesh, const std::vector<Vec3>& places) {
  TriMesh all;
  for (const Vec3& p : places) append(all, transformed(mesh, Transform::move(p)));
  return all;
}

Result<MasterSet> master_set(const TriMesh& mesh, const Split& split, int count, double between) {
  if (mesh.triangles.size() * static_cast<size_t>(count) > most_triangles)
    return Error{"so many masters of so many triangles are too much for one box", "mould",
                 "Thin the mesh, or take fewer."};
  MasterSet s;
  s.places_mm = master_places(mesh, frame_around(mesh, split.pull), count, between);
  s.mesh = std::make_shared<const TriMesh>(repeated(mesh, s.places_mm));
  auto rays = RayScene::build(*s.mesh);
  if (!rays) return rays.error();
  s.rays = *rays;
  s.split = split;
  s.split.side.clear(), s.split.locked.clear(), s.split.loops.clear();
  for (const Vec3& p : s.places_mm) {
    s.split.side.insert(s.split.side.end(), split.side.begin(), split.side.end());
    s.split.locked.insert(s.split.locked.end(), split.locked.begin(), split.locked.end());
    for (PartingLoop l : split.loops) {
      for (Vec3& q : l.points_mm) q += p;
      s.split.loops.push_back(std::move(l));
    }
  }
  s.split.regions.clear();
  s.split.line_mm *= count, s.split.locked_area_mm2 *= count;
  return s;
}

}  // namespace palinform
