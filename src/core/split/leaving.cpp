#include "split/leaving.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

namespace palinform {
namespace {

/// Where a ray along `d` begins, over the face's centre; nothing where the face leans away from it.
std::optional<Vec3> over_centre(const TriMesh& mesh, const RayScene& rays, uint32_t face, const Vec3& d) {
  const Vec3 n = mesh.normal(face);
  if (dot(n, d) < -0.01) return std::nullopt;
  return mesh.centre(face) + n * std::clamp(2e-4 * rays.diagonal_mm(), 1e-4, 0.02);
}

}  // namespace

bool leaves(const TriMesh& mesh, const RayScene& rays, uint32_t face, const Vec3& d) {
  const auto from = over_centre(mesh, rays, face, d);
  return from && !rays.first_hit(*from, d, 0);
}

std::vector<uint8_t> leaving(const TriMesh& mesh, const RayScene& rays, const std::vector<uint32_t>& faces,
                             const Vec3& d) {
  std::vector<uint8_t> open(faces.size(), 0);
  std::vector<RayScene::Ray> batch;
  std::vector<size_t> owner;
  for (size_t i = 0; i < faces.size(); ++i) {
    const auto from = over_centre(mesh, rays, faces[i], d);
    if (!from) continue;
    const Vec3 p = *from - rays.centre();
    batch.push_back({{static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)},
                     {static_cast<float>(d.x), static_cast<float>(d.y), static_cast<float>(d.z)},
                     0,
                     INFINITY});
    owner.push_back(i);
  }
  std::vector<uint8_t> blocked(batch.size());
  rays.occluded(batch, blocked.data());
  for (size_t k = 0; k < owner.size(); ++k) open[owner[k]] = !blocked[k];
  return open;
}

std::array<double, 2> reach_along(const TriMesh& mesh, const std::vector<uint32_t>& faces, const Vec3& d) {
  double low = 1e300, high = -1e300;
  for (const uint32_t t : faces)
    for (int k = 0; k < 3; ++k) {
      const double at = dot(mesh.corner(t, k), d);
      low = std::min(low, at), high = std::max(high, at);
    }
  return {low, high};
}

}  // namespace palinform
