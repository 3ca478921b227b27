// CGAL's hole filling stays in this file (slow to compile).
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/triangulate_hole.h>
#include <CGAL/utility.h>

#include "mesh/repair.hpp"

namespace palinform {

std::vector<Triangle> fill_loop(const std::vector<Vec3>& loop) {
  using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
  if (loop.size() < 3) return {};
  if (loop.size() == 3) return {{0, 1, 2}};
  std::vector<Kernel::Point_3> points;
  for (const Vec3& p : loop) points.emplace_back(p.x, p.y, p.z);
  std::vector<CGAL::Triple<int, int, int>> patch;
  CGAL::Polygon_mesh_processing::triangulate_hole_polyline(points, std::back_inserter(patch));
  std::vector<Triangle> out;
  for (const auto& t : patch)
    out.push_back({static_cast<uint32_t>(t.first), static_cast<uint32_t>(t.second), static_cast<uint32_t>(t.third)});
  return out;
}

}  // namespace palinform
