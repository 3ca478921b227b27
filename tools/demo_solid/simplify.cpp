#include "demo_solid/simplify.hpp"

#include <CGAL/Simple_cartesian.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/Surface_mesh_simplification/edge_collapse.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/Bounded_normal_change_placement.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/Count_stop_predicate.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/LindstromTurk_cost.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/LindstromTurk_placement.h>

namespace palinform {

TriMesh simplified(const TriMesh& mesh, size_t faces) {
  namespace sms = CGAL::Surface_mesh_simplification;
  using Kernel = CGAL::Simple_cartesian<double>;
  using Surface = CGAL::Surface_mesh<Kernel::Point_3>;
  Surface s;
  std::vector<Surface::Vertex_index> v;
  for (const Vec3& p : mesh.points) v.push_back(s.add_vertex({p.x, p.y, p.z}));
  for (const Triangle& t : mesh.triangles) s.add_face(v[t[0]], v[t[1]], v[t[2]]);
  sms::Count_stop_predicate<Surface> stop(faces * 3 / 2);
  using Placement = sms::Bounded_normal_change_placement<sms::LindstromTurk_placement<Surface>>;
  sms::edge_collapse(s, stop,
                     CGAL::parameters::get_cost(sms::LindstromTurk_cost<Surface>()).get_placement(Placement()));
  s.collect_garbage();
  TriMesh out;
  for (const auto p : s.vertices()) out.points.push_back({s.point(p).x(), s.point(p).y(), s.point(p).z()});
  for (const auto f : s.faces()) {
    Triangle t;
    int k = 0;
    for (const auto p : s.vertices_around_face(s.halfedge(f))) t[k++] = static_cast<uint32_t>(p);
    out.triangles.push_back(t);
  }
  return out;
}

}  // namespace palinform
