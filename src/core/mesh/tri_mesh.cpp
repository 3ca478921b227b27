#include "mesh/tri_mesh.hpp"

namespace palinform {

void TriMesh::hash_into(Hasher& h) const {
  h.add(points.size()).add(triangles.size());
  h.bytes(points.data(), points.size() * sizeof(Vec3));
  h.bytes(triangles.data(), triangles.size() * sizeof(Triangle));
}

MeshMeasure measure(const TriMesh& mesh) {
  MeshMeasure m;
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t) m.box_mm.add(mesh.points[v]);
  const Vec3 origin = m.box_mm.centre();
  Vec3 solid_moment, surface_moment;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 a = mesh.corner(t, 0) - origin, b = mesh.corner(t, 1) - origin, c = mesh.corner(t, 2) - origin;
    const double tetra = dot(a, cross(b, c)) / 6.0;
    const double area = 0.5 * length(cross(b - a, c - a));
    m.volume_mm3 += tetra;
    m.area_mm2 += area;
    solid_moment += (a + b + c) * (tetra / 4.0);
    surface_moment += (a + b + c) * (area / 3.0);
  }
  if (std::abs(m.volume_mm3) > 1e-12)
    m.centroid_mm = origin + solid_moment / m.volume_mm3;
  else if (m.area_mm2 > 0)
    m.centroid_mm = origin + surface_moment / m.area_mm2;
  return m;
}

TriMesh transformed(TriMesh mesh, const Transform& t) {
  for (Vec3& p : mesh.points) p = t.point(p);
  return mesh;
}

TriMesh scaled(TriMesh mesh, double factor) {
  for (Vec3& p : mesh.points) p *= factor;
  return mesh;
}

void drop_unused_points(TriMesh& mesh) {
  std::vector<uint32_t> to(mesh.points.size(), 0xFFFFFFFFu);
  std::vector<Vec3> kept;
  for (Triangle& t : mesh.triangles)
    for (uint32_t& v : t) {
      if (to[v] == 0xFFFFFFFFu) {
        to[v] = static_cast<uint32_t>(kept.size());
        kept.push_back(mesh.points[v]);
      }
      v = to[v];
    }
  mesh.points = std::move(kept);
}

}  // namespace palinform
