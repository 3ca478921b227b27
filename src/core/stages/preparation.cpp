#include "stages/preparation.hpp"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/shape_edits.hpp"
#include "mesh/smooth_face.hpp"
#include "mesh/thickness.hpp"
#include "mould/box.hpp"
#include "mould/forms.hpp"
#include "solid/unite.hpp"

namespace palinform {

Result<OriginalResult> ready_mesh(std::shared_ptr<const TriMesh> mesh, const Progress& progress) {
  OriginalResult r;
  r.mesh = std::move(mesh);
  progress.report(0.1);
  // Side by side: the tree and the picture's shape on it, the edges, the measures. None reads another's.
  Error fault;
  bool failed = false;
  tbb::parallel_invoke(
      [&] {
        auto rays = RayScene::build(*r.mesh);
        if (!rays) {
          failed = true, fault = rays.error();
          return;
        }
        r.rays = *rays;
        if (!progress.cancelled()) r.shape = make_shape(*r.mesh, *rays);
      },
      [&] { r.pairs = std::make_shared<const EdgePairs>(pair_edges(*r.mesh)); },
      [&] {
        r.measure = measure(*r.mesh);
        r.own_size_mm = own_size_mm(*r.mesh);
      });
  if (failed) return fault;
  if (progress.cancelled()) return Error::stopped();
  progress.report(1);
  return r;
}

Result<OriginalResult> drawn_original(const Drawn& drawn, const Progress& progress) {
  auto solid = draw_solid(drawn, progress.part(0, 0.6));
  if (!solid) return solid.error();
  auto r = ready_mesh(std::make_shared<const TriMesh>(std::move(solid->mesh)), progress.part(0.6, 1));
  if (!r) return r;
  r->exact = std::move(solid->exact);
  r->from = PartFrom::drawn;
  r->u_mm = solid->u_mm, r->u_volume_mm3 = solid->u_volume_mm3, r->apart = solid->apart;
  return r;
}

Result<OriginalResult> stood_in_original(const BareOriginal& bare, const Progress& progress) {
  const auto volume = bare_volume_mm3(bare);
  if (!volume) return volume.error();
  const Vec3& e = bare.extent_mm;
  auto mesh = stand_in_mesh(e, std::min(*volume, e.x * e.y * e.z), bare.like);
  if (!mesh) return mesh.error();
  auto r = ready_mesh(std::make_shared<const TriMesh>(*std::move(mesh)), progress);
  if (!r) return r;
  r->from = PartFrom::volume;
  r->u_volume_mm3 = bare_volume_u_mm3(bare);
  return r;
}

Result<OriginalResult> original_of(const OriginalPart& part, const MeshSource& meshes, const Progress& progress) {
  switch (part.from()) {
    case PartFrom::nothing:
      return Error{"it has no shape yet", "", "Take it in hand, and open its mesh in Original."};
    case PartFrom::drawn:
      return drawn_original(part.drawn, progress);
    case PartFrom::volume:
      return stood_in_original(part.bare, progress);
    case PartFrom::mesh:
      break;
  }
  auto mesh = meshes(part.mesh.hash);
  if (!mesh) return mesh.error();
  auto r = ready_mesh(*mesh, progress);
  if (r) r->exact = part.mesh.exact;
  return r;
}

Result<std::shared_ptr<const OriginalResult>> master_of(std::shared_ptr<const OriginalResult> original,
                                                        const std::vector<MasterStep>& steps, const MeshSource& meshes,
                                                        const Progress& progress) {
  if (steps.empty()) return original;
  auto mesh = prepared_master(*original, steps, meshes, progress.part(0, 0.7));
  if (!mesh) return mesh.error();
  auto r = ready_mesh(std::make_shared<const TriMesh>(*std::move(mesh)), progress.part(0.7, 1));
  if (!r) return r.error();
  r->from = original->from, r->u_mm = original->u_mm, r->u_volume_mm3 = original->u_volume_mm3;
  return std::make_shared<const OriginalResult>(*std::move(r));
}

Result<TriMesh> prepared_master(const OriginalResult& original, const std::vector<MasterStep>& steps,
                                const MeshSource& meshes, const Progress& progress) {
  TriMesh mesh = *original.mesh;
  for (size_t i = 0; i < steps.size(); ++i) {
    if (progress.cancelled()) return Error::stopped();
    progress.report(0.2 * static_cast<double>(i) / static_cast<double>(steps.size()));
    const MasterStep& s = steps[i];
    const auto fail = [&](const Error& e) {
      return Error{"step " + std::to_string(i + 1) + " (" + words_of(s) + "): " + e.what, "master", e.remedy};
    };
    if (s.kind == MasterStep::Kind::mirror) {
      mesh = mirrored(std::move(mesh), s.axis);
      continue;
    }
    if (s.kind == MasterStep::Kind::join) {
      const auto other = meshes(s.mesh);
      if (!other) return fail(other.error());
      auto both = unite(mesh, **other);
      if (!both) return fail(both.error());
      mesh = *std::move(both);
      continue;
    }
    const EdgePairs pairs = pair_edges(mesh);
    const auto rays = RayScene::build(mesh);
    if (!rays) return rays.error();
    const FaceFit face = fit_face(mesh, pairs, (*rays)->closest(s.point_mm).triangle);
    auto next =
        s.kind == MasterStep::Kind::stock ? with_stock(mesh, pairs, face, s.mm) : plugged(mesh, pairs, face, s.mm);
    if (!next) return fail(next.error());
    mesh = *std::move(next);
  }
  return mesh;
}

FacesResult find_faces(const OriginalResult& original, const std::vector<FaceMark>& marks) {
  FacesResult r;
  auto paint = std::make_shared<std::vector<uint8_t>>(original.mesh->triangles.size(), uint8_t{0});
  for (const FaceMark& m : marks) {
    const uint32_t seed = original.rays->closest(m.point_mm).triangle;
    FaceFit f = fit_face(*original.mesh, *original.pairs, seed);
    if (m.kind == FaceMark::Kind::show) f.triangles = smooth_face(*original.mesh, *original.pairs, seed);
    FacesResult::Found found{f.kind, 0, f.direction};
    for (const uint32_t t : f.triangles) {
      (*paint)[t] = static_cast<uint8_t>(1 + static_cast<int>(m.kind));
      found.area_mm2 += original.mesh->area_mm2(t);
    }
    r.faces.push_back(found);
  }
  r.paint = paint;
  return r;
}

std::optional<double> section_of_line(const OriginalResult& original, const Vec3& from, const Vec3& to) {
  if (from == to) return std::nullopt;
  // A centre distance ends on axes, in the open: the skin near them is what shrinks, but only within reach.
  const double reach = 0.3 * length(to - from) + 1;
  double sum = 0;
  int n = 0;
  for (const Vec3& p : {from, to}) {
    if (original.rays->closest(p).distance_mm > reach) continue;
    if (const auto s = section_at_mm(*original.mesh, *original.rays, p)) sum += *s, ++n;
  }
  if (n == 0) return std::nullopt;
  return std::round(sum / n * 100) / 100;
}

MasterFile master_file(const OriginalResult& master, const Job& job, const Shop& shop) {
  MasterFile out;
  out.mesh = *master.mesh;
  const MasterScale s = job.size.master_scale();
  const Vec3 centre = master.measure.box_mm.centre();
  for (Vec3& p : out.mesh.points)
    p = {centre.x + (p.x - centre.x) * s.x, centre.y + (p.y - centre.y) * s.y, centre.z + (p.z - centre.z) * s.z};
  const MeshMeasure m = measure(out.mesh);
  out.volume_mm3 = m.volume_mm3;
  if (s == MasterScale{})
    out.advice.push_back("At its own size: no scale is set.");
  else if (s.x == s.y && s.y == s.z)
    out.advice.push_back("Scaled × " + fixed(s.x, 5) + " already: print it at 100 %.");
  else
    out.advice.push_back("Scaled × " + fixed(s.x, 5) + ", " + fixed(s.y, 5) + ", " + fixed(s.z, 5) +
                         " along x, y, z already: print it at 100 %, standing as it is in the file.");
  const Vec3 size = m.box_mm.size();
  // The largest flat face down: the least support, and its layers lie along the hidden side.
  double best = 0;
  Vec3 down{0, 0, -1};
  std::vector<bool> seen(out.mesh.triangles.size(), false);
  for (int axis = 0; axis < 3; ++axis)
    for (const double side : {-1.0, 1.0}) {
      double area = 0;
      for (size_t t = 0; t < out.mesh.triangles.size(); ++t) {
        const Vec3 n = out.mesh.normal(t);
        if (n[axis] * side < 0.995) continue;
        const double at = out.mesh.centre(t)[axis], end = side > 0 ? m.box_mm.max[axis] : m.box_mm.min[axis];
        if (std::abs(at - end) < 0.003 * size[axis] + 0.02) area += out.mesh.area_mm2(t);
      }
      if (area > best) {
        best = area;
        down = {};
        down[axis] = side;
      }
    }
  if (best > 0.1 * std::min({size.x * size.y, size.y * size.z, size.z * size.x}))
    out.advice.push_back(std::string("Stand it on its ") + (down.x + down.y + down.z > 0 ? "+" : "−") +
                         (down.x != 0   ? "x"
                          : down.y != 0 ? "y"
                                        : "z") +
                         " face (" + fixed(best, 0) +
                         " mm² flat): it needs the least support, and the layers run off the show side.");
  else
    out.advice.push_back("It has no large flat face: tilt it, and put the supports on the hidden side.");
  double tightest = 1e9;
  for (const MeasuredSize& z : job.original.sizes)
    if (z.kind != SizeKind::angle && !(z.formed == FormedBy::pin && z.pin_mm))
      tightest = std::min(tightest, z.upper_mm - z.lower_mm);
  if (tightest < 1e8)
    out.advice.push_back("Layers of " + fixed(std::clamp(tightest / 4, 0.025, 0.2), 3) +
                         " mm or less: the narrowest limits span " + fixed(tightest, 3) +
                         " mm. Measure the print before rubber touches it.");
  out.advice.push_back("Solid " + grouped(out.volume_mm3 * 1e-3, 1) +
                       " ml. Print it solid or with thick walls: a hollow master floats in rubber.");
  if (const MasterMaterial* w = shop.shelf.master(job.original.finish.master_material))
    out.advice.push_back(w->seal + ", then wait " +
                         (w->wait_h >= 48 ? fixed(w->wait_h / 24, 0) + " days" : significant(w->wait_h, 2) + " h") +
                         ". " + w->why);
  else
    out.advice.push_back(
        "A photopolymer print must be washed, post-cured fully and sealed before addition-cure silicone touches it.");
  return out;
}

Vec3 through_mirrors(Vec3 p, const std::vector<MasterStep>& steps, const Vec3& centre) {
  for (const MasterStep& s : steps)
    if (s.kind == MasterStep::Kind::mirror) p[s.axis] = 2 * centre[s.axis] - p[s.axis];
  return p;
}

}  // namespace palinform
