#include "picture/shape.hpp"

#include <tbb/parallel_for.h>

#include <cmath>
#include <numbers>

#include "mesh/topology.hpp"

namespace palinform {

uint32_t pack_normal(const Vec3& n) {
  const auto part = [](double v) { return static_cast<uint32_t>(static_cast<int>(std::lround(v * 511)) & 1023); };
  return part(n.x) | part(n.y) << 10 | part(n.z) << 20;
}
Vec3 unpack_normal(uint32_t p) {
  const auto part = [](uint32_t bits) { return static_cast<double>(static_cast<int>(bits << 22) >> 22); };
  return unit(Vec3{part(p & 1023), part(p >> 10 & 1023), part(p >> 20 & 1023)});
}

std::shared_ptr<const Shape> make_shape(const TriMesh& mesh, std::shared_ptr<const RayScene> rays, double crease_deg) {
  auto s = std::make_shared<Shape>();
  s->rays = std::move(rays);
  s->triangles = mesh.triangles;
  for (const Vec3& p : mesh.points) s->box_mm.add(p);
  const size_t n = mesh.triangles.size();
  std::vector<Vec3> face(n);
  tbb::parallel_for(size_t{0}, n, [&](size_t t) { face[t] = unit(mesh.area_vector(t), {0, 0, 0}); });
  const Fans fans = point_fans(mesh);
  const double bend = std::cos(crease_deg * std::numbers::pi / 180);
  s->corner_normals.resize(n * 3);
  tbb::parallel_for(tbb::blocked_range<size_t>(0, mesh.points.size(), 4096), [&](const auto& range) {
    std::vector<double> angle;
    for (size_t p = range.begin(); p < range.end(); ++p) {
      const uint32_t first = fans.start[p], last = fans.start[p + 1];
      angle.clear();
      for (uint32_t i = first; i < last; ++i) {
        const uint32_t t = fans.corner[i] / 3, k = fans.corner[i] % 3;
        const Vec3 a = unit(mesh.corner(t, (k + 1) % 3) - mesh.corner(t, k)),
                   b = unit(mesh.corner(t, (k + 2) % 3) - mesh.corner(t, k));
        angle.push_back(std::acos(std::clamp(dot(a, b), -1.0, 1.0)));
      }
      for (uint32_t i = first; i < last; ++i) {
        const Vec3& own = face[fans.corner[i] / 3];
        Vec3 sum;
        for (uint32_t j = first; j < last; ++j) {
          const Vec3& other = face[fans.corner[j] / 3];
          if (dot(own, other) >= bend) sum += other * angle[j - first];
        }
        s->corner_normals[fans.corner[i]] = pack_normal(unit(sum, own));
      }
    }
  });
  return s;
}

Result<std::shared_ptr<const Shape>> make_shape(const TriMesh& mesh, double crease_deg) {
  auto rays = RayScene::build(mesh);
  if (!rays) return rays.error();
  return make_shape(mesh, *rays, crease_deg);
}

}  // namespace palinform
