// OpenVDB stays in the .cpp files that include vdb_mesh.hpp.
#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"
#include "solid/vdb_mesh.hpp"
#include "solid/wrap.hpp"

namespace palinform {
namespace {

/// Pieces that enclose volume outward and lie in no other such piece. `flip`: the mesher's faces look inward.
Result<TriMesh> outer_skins(TriMesh mesh) {
  const EdgePairs pairs = pair_edges(mesh);
  const Components c = components(mesh, pairs);
  const std::vector<double> volume = component_volumes_mm3(mesh, c);
  // The largest piece by magnitude is an outer one: it tells which way the mesher's faces look.
  const auto largest =
      std::max_element(volume.begin(), volume.end(), [](double a, double b) { return std::abs(a) < std::abs(b); });
  const double sign = largest != volume.end() && *largest < 0 ? -1 : 1;
  TriMesh out;
  out.points = mesh.points;
  std::vector<uint32_t> piece;
  for (size_t t = 0; t < mesh.triangles.size(); ++t)
    if (sign * volume[c.of_triangle[t]] > 0) {
      Triangle v = mesh.triangles[t];
      if (sign < 0) std::swap(v[1], v[2]);
      out.triangles.push_back(v);
      piece.push_back(c.of_triangle[t]);
    }
  if (out.triangles.empty() || c.count < 2) return out;
  const auto rays = RayScene::build(out);
  if (!rays) return rays.error();
  std::vector<int> inside(c.count, -1);
  for (size_t t = 0; t < out.triangles.size(); ++t) {
    int& known = inside[piece[t]];
    if (known >= 0) continue;
    std::vector<int> crossings(c.count, 0);
    for (const RayHit& hit : (*rays)->all_hits(out.centre(t), unit(Vec3{0.5377, 0.2846, 0.7937})))
      if (piece[hit.triangle] != piece[t]) ++crossings[piece[hit.triangle]];
    known = std::any_of(crossings.begin(), crossings.end(), [](int n) { return n % 2 == 1; });
  }
  std::vector<Triangle> kept;
  for (size_t t = 0; t < out.triangles.size(); ++t)
    if (!inside[piece[t]]) kept.push_back(out.triangles[t]);
  out.triangles = std::move(kept);
  return out;
}

Result<Wrapped> wrap_centred(const TriMesh& mesh, const WrapOptions& options, const Progress& progress) {
  vdb::start();
  const Vec3 size = measure(mesh).box_mm.size();
  const double extent = std::max({size.x, size.y, size.z});
  if (!(extent > 0)) return Error{"there is nothing to wrap", "mesh", ""};
  Wrapped out;
  out.voxel_mm = options.voxel_mm > 0 ? options.voxel_mm : extent / 250;
  if (extent / out.voxel_mm > 2000)
    return Error{
        "a voxel of " + significant(out.voxel_mm, 2) + " mm is too fine for a part of " + fixed(extent, 0) + " mm",
        "wrap", "Use " + significant(extent / 1000, 1) + " mm or more."};
  TriMesh kept;
  for (double half = 1.5 * out.voxel_mm; half <= extent / 20 + 1.5 * out.voxel_mm; half *= 2) {
    const auto far = vdb::distance_to(mesh, out.voxel_mm, half + 2.5 * out.voxel_mm, half + 2.5 * out.voxel_mm, false,
                                      progress.part(0, 0.4));
    if (progress.cancelled()) return Error::stopped();
    auto skins = outer_skins(vdb::iso_surface(*far, half));
    if (!skins) return skins.error();
    progress.report(0.4);
    const auto inside = vdb::distance_to(*skins, out.voxel_mm, 3 * out.voxel_mm, half + 3 * out.voxel_mm, true,
                                         progress.part(0.4, 0.8));
    if (progress.cancelled()) return Error::stopped();
    auto back = outer_skins(vdb::iso_surface(*inside, -half));
    if (!back) return back.error();
    progress.report(0.8);
    const double volume = measure(*back).volume_mm3;
    // A shell that leaks is hollow: after the way back next to nothing is left of it.
    const double hollow = options.volume_mm3 > 0 ? 0.5 * options.volume_mm3 : 0.25 * measure(*skins).volume_mm3;
    if (volume > hollow && volume > 0) {
      out.bridged_mm = 2 * half;
      kept = *std::move(back);
      break;
    }
  }
  if (kept.triangles.empty())
    return Error{"the holes are too wide to be bridged", "wrap",
                 "Fill the largest ones in the program the scan came from."};
  drop_unused_points(kept);
  const auto rays = RayScene::build(mesh);
  if (!rays) return rays.error();
  std::vector<double> off;
  const size_t stride = std::max<size_t>(1, kept.points.size() / 50'000);
  for (size_t i = 0; i < kept.points.size(); i += stride) off.push_back((*rays)->closest(kept.points[i]).distance_mm);
  std::sort(off.begin(), off.end());
  out.off_p95_mm = off[off.size() * 95 / 100];
  out.off_max_mm = off.back();
  out.mesh = std::move(kept);
  progress.report(1);
  return out;
}

}  // namespace

Result<Wrapped> wrap(const TriMesh& mesh, const WrapOptions& options, const Progress& progress) {
  // The lattice keeps single precision: a scan in site coordinates would come out ragged where it lies.
  const Vec3 centre = measure(mesh).box_mm.centre();
  auto w = wrap_centred(transformed(mesh, Transform::move(-centre)), options, progress);
  if (w) w->mesh = transformed(std::move(w->mesh), Transform::move(centre));
  return w;
}

}  // namespace palinform
