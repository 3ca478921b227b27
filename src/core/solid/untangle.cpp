// Local removal of self-intersections. CGAL stays in this file and its neighbours.
#include <CGAL/Polygon_mesh_processing/repair_self_intersections.h>

#include "solid/cgal_mesh.hpp"
#include "solid/unite.hpp"

namespace palinform {

std::optional<TriMesh> without_self_intersections(const TriMesh& mesh) {
  auto s = cgal::to_surface(mesh);
  if (!s) return std::nullopt;
  try {
    CGAL::Polygon_mesh_processing::experimental::remove_self_intersections(*s, CGAL::parameters::preserve_genus(false));
    return cgal::from_surface(*s);
  } catch (const std::exception&) { return std::nullopt; }
}

}  // namespace palinform
