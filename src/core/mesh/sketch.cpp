#include "mesh/sketch.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/weld.hpp"

namespace palinform {

TriMesh sketch_of(TriMesh mesh, size_t most, int cells) {
  if (mesh.triangles.size() <= most) return mesh;
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(p);
  const Vec3 size = box.size();
  const double per_mm = cells / std::max({size.x, size.y, size.z, 1e-9});
  std::vector<uint32_t> cell(mesh.points.size());
  const size_t kept = weld(
                          mesh.points.size(),
                          [&](size_t i) {
                            const Vec3 p = (mesh.points[i] - box.min) * per_mm;
                            return Vec3{std::floor(p.x), std::floor(p.y), std::floor(p.z)};
                          },
                          cell.data())
                          .size();
  TriMesh out;
  out.points.resize(kept);
  for (size_t i = mesh.points.size(); i-- > 0;) out.points[cell[i]] = mesh.points[i];
  out.triangles.reserve(4 * kept);
  for (const Triangle& t : mesh.triangles) {
    const Triangle s{cell[t[0]], cell[t[1]], cell[t[2]]};
    if (s[0] != s[1] && s[1] != s[2] && s[2] != s[0]) out.triangles.push_back(s);
  }
  return out;
}

}  // namespace palinform
