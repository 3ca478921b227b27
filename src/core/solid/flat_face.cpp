// Triangulated loops. CGAL stays in this file and its neighbours.
#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <limits>
#include <map>

#include "solid/flat_face.hpp"

namespace palinform {
namespace {

using FlatKernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using FlatVertex = CGAL::Triangulation_vertex_base_with_info_2<uint32_t, FlatKernel>;
using FlatFace = CGAL::Constrained_triangulation_face_base_2<FlatKernel>;
using Flat =
    CGAL::Constrained_Delaunay_triangulation_2<FlatKernel, CGAL::Triangulation_data_structure_2<FlatVertex, FlatFace>,
                                               CGAL::No_constraint_intersection_tag>;

}  // namespace

Result<std::vector<Triangle>> triangulated(const std::vector<std::vector<Point2>>& loops) {
  const Error crossed{"the outline crosses or touches itself", "outline", "Move the point where it does."};
  Flat flat;
  uint32_t next = 0;
  try {
    for (const auto& loop : loops) {
      if (loop.size() < 3) return Error{"an outline needs three points at least", "outline", ""};
      std::vector<Flat::Vertex_handle> at;
      for (const Point2& p : loop) {
        const size_t before = flat.number_of_vertices();
        at.push_back(flat.insert({p.x, p.y}));
        if (flat.number_of_vertices() == before) return crossed;  // two points in one place
        at.back()->info() = next++;
      }
      for (size_t i = 0; i < at.size(); ++i) flat.insert_constraint(at[i], at[(i + 1) % at.size()]);
    }
  } catch (const std::exception&) { return crossed; }
  // A constraint that runs through a point of another loop is split there: the loops touch.
  size_t constrained = 0;
  for (auto e = flat.finite_edges_begin(); e != flat.finite_edges_end(); ++e) constrained += flat.is_constrained(*e);
  if (constrained != next) return crossed;
  // Inside is an odd number of constraints from the outside.
  std::map<Flat::Face_handle, int> depth;
  std::vector<Flat::Face_handle> now{flat.infinite_face()}, then;
  depth[flat.infinite_face()] = 0;
  for (int level = 0; !now.empty(); ++level, now = std::exchange(then, {}))
    while (!now.empty()) {
      const Flat::Face_handle f = now.back();
      now.pop_back();
      for (int k = 0; k < 3; ++k) {
        const Flat::Face_handle o = f->neighbor(k);
        if (depth.contains(o)) continue;
        const bool over = flat.is_constrained({f, k});
        if (over) {
          then.push_back(o);
          continue;
        }
        depth[o] = level;
        now.push_back(o);
      }
      if (now.empty()) {
        std::vector<Flat::Face_handle> kept;
        for (const Flat::Face_handle& o : then)
          if (!depth.contains(o)) depth[o] = level + 1, kept.push_back(o);
        then = std::move(kept);
      }
    }
  std::vector<Triangle> out;
  for (auto f = flat.finite_faces_begin(); f != flat.finite_faces_end(); ++f)
    if (depth[f] % 2 == 1) out.push_back({f->vertex(0)->info(), f->vertex(1)->info(), f->vertex(2)->info()});
  return out;
}

}  // namespace palinform
