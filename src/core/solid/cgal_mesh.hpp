#pragma once
// To CGAL's surface mesh and back. For .cpp files that hold CGAL code only: it is slow to compile.
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Surface_mesh.h>

#include <array>
#include <optional>
#include <vector>

#include "mesh/tri_mesh.hpp"

namespace palinform::cgal {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Surface = CGAL::Surface_mesh<Kernel::Point_3>;

inline std::optional<Surface> to_surface(const TriMesh& mesh) {
  std::vector<Kernel::Point_3> points;
  std::vector<std::array<std::size_t, 3>> faces;
  for (const Vec3& p : mesh.points) points.emplace_back(p.x, p.y, p.z);
  for (const Triangle& t : mesh.triangles) faces.push_back({t[0], t[1], t[2]});
  if (!CGAL::Polygon_mesh_processing::is_polygon_soup_a_polygon_mesh(faces)) return std::nullopt;
  Surface s;
  CGAL::Polygon_mesh_processing::polygon_soup_to_polygon_mesh(points, faces, s);
  return s;
}

inline TriMesh from_surface(Surface& s) {
  s.collect_garbage();
  TriMesh out;
  for (const auto v : s.vertices()) out.points.push_back({s.point(v).x(), s.point(v).y(), s.point(v).z()});
  for (const auto f : s.faces()) {
    Triangle t;
    int k = 0;
    for (const auto v : s.vertices_around_face(s.halfedge(f))) t[static_cast<size_t>(k++)] = static_cast<uint32_t>(v);
    out.triangles.push_back(t);
  }
  return out;
}

}  // namespace palinform::cgal
