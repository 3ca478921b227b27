#include "mesh/tri_mesh.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/readers.hpp"

namespace palinform {

void TriMesh::hash_into(Hasher& h) const {
  h.add(points.size()).add(triangles.size());
  h.bytes(points.data(), points.size() * sizeof(Vec3));
  h.bytes(triangles.data(), triangles.size() * sizeof(Triangle));
}

namespace {

/// Round what the triangles use; each point is looked at once, however many meet in it.
Box3 box_of_used(const TriMesh& mesh, const std::vector<uint8_t>& used) {
  Box3 box;
  for (size_t i = 0; i < used.size(); ++i)
    if (used[i]) box.add(mesh.points[i]);
  return box;
}

}  // namespace

MeshMeasure measure(const TriMesh& mesh) {
  MeshMeasure m;
  std::vector<uint8_t> used(mesh.points.size());
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t) used[v] = 1;
  m.box_mm = box_of_used(mesh, used);
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

Status check_mesh(const TriMesh& mesh, const std::string& name) {
  const auto fault = [&](std::string what, std::string remedy = "Save it again from the program it came from.") {
    return Error{std::move(what), name, std::move(remedy)};
  };
  if (mesh.triangles.empty()) return fault("it holds no faces");
  if (mesh.triangles.size() > most_triangles)
    return fault("it has " + grouped(static_cast<double>(mesh.triangles.size())) + " triangles; the limit is " +
                     grouped(static_cast<double>(most_triangles)),
                 "Thin the scan out first, for instance to one million.");
  for (size_t i = 0; i < mesh.points.size(); ++i) {
    if (!readers::usable(mesh.points[i]))
      return fault("point " + grouped(static_cast<double>(i + 1)) + " has a coordinate that is no usable number");
  }
  std::vector<uint8_t> used(mesh.points.size());
  for (size_t t = 0; t < mesh.triangles.size(); ++t)
    for (const uint32_t v : mesh.triangles[t]) {
      if (v >= mesh.points.size())
        return fault("face " + grouped(static_cast<double>(t + 1)) + " names a point that is not there");
      used[v] = 1;
    }
  const Vec3 size = box_of_used(mesh, used).size();
  const double largest = std::max({size.x, size.y, size.z});
  if (largest > largest_extent_mm)
    return fault("it would be " + shortest(largest / 1000, 1) + " m across; parts of up to 10 m are read",
                 "Is its unit right? Scale it in the program it came from.");
  if (largest < 1e-3) return fault("it is less than a thousandth of a millimetre across", "Is its unit right?");
  return {};
}

}  // namespace palinform
