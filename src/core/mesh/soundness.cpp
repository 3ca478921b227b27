#include "mesh/soundness.hpp"

#include "mesh/rays.hpp"
#include "mesh/repair.hpp"
#include "mesh/topology.hpp"

namespace palinform {

bool is_degenerate(const TriMesh& mesh, size_t t) {
  const Triangle& v = mesh.triangles[t];
  if (v[0] == v[1] || v[1] == v[2] || v[2] == v[0]) return true;
  const Vec3 e0 = mesh.corner(t, 1) - mesh.corner(t, 0), e1 = mesh.corner(t, 2) - mesh.corner(t, 0);
  // Area against the square of the longest edge: a needle thinner than one part in 10¹⁰ has no usable normal.
  const Vec3 e2 = e1 - e0;
  const double longest = std::max({dot(e0, e0), dot(e1, e1), dot(e2, e2)});
  return length(cross(e0, e1)) <= 1e-10 * longest;
}

Result<Soundness> check_soundness(const TriMesh& mesh, bool with_intersections, const Progress& progress) {
  Soundness s;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) s.degenerate_faces += is_degenerate(mesh, t);
  const EdgePairs pairs = pair_edges(mesh);
  s.open_edges = pairs.open_edges;
  s.non_manifold_edges = pairs.non_manifold_edges;
  progress.report(0.1);
  if (progress.cancelled()) return Error::stopped();
  const Components parts = components(mesh, pairs);
  s.components = parts.count;
  const auto turned = turned_faces(mesh, pairs, parts, progress.part(0, 0.3));
  if (!turned) return turned.error();
  std::vector<bool> bad(parts.count, false);
  for (size_t t = 0; t < mesh.triangles.size(); ++t)
    if ((*turned)[t]) bad[parts.of_triangle[t]] = true;
  for (const bool b : bad) s.flipped_components += b;
  progress.report(0.3);
  if (with_intersections) {
    const auto found = self_intersections(mesh, 0, progress.part(0.3, 1));
    if (!found) return found.error();
    s.self_intersections = found->count;
  }
  progress.report(1);
  return s;
}

}  // namespace palinform
