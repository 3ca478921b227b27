#include "solid/mend.hpp"

#include "mesh/topology.hpp"

#include <cmath>

#include "base/text.hpp"
#include "solid/unite.hpp"

namespace palinform {

std::string MendReport::words() const {
  if (method == Method::nothing) return "It was sound already; nothing was changed.";
  std::vector<std::string> parts;
  const auto add = [&](size_t n, const char* one, const char* many) {
    if (n) parts.push_back(counted(static_cast<long long>(n), one, many));
  };
  add(count.merged_points, "point merged", "points merged");
  add(count.removed_faces, "bad face taken out", "bad faces taken out");
  add(count.stitched_edges, "edge stitched", "edges stitched");
  add(count.turned_faces, "face turned", "faces turned");
  add(count.filled_holes, "hole filled", "holes filled");
  add(united_pieces, "overlapping piece united", "overlapping pieces united");
  if (untangled) parts.push_back("faces laid anew where they cut one another");
  std::string was;
  const auto fault = [&](size_t n, const char* one, const char* many) {
    if (n) was += (was.empty() ? "" : ", ") + counted(static_cast<long long>(n), one, many);
  };
  fault(before.open_edges, "open edge", "open edges");
  fault(before.non_manifold_edges, "edge of more than two faces", "edges of more than two faces");
  fault(before.self_intersections, "cutting pair", "cutting pairs");
  fault(before.degenerate_faces, "face without area", "faces without area");
  fault(before.flipped_components, "piece inside out", "pieces inside out");
  std::string s = "It had " + was + "; now it is sound. ";
  s += method == Method::exact ? "Mended exactly: " : "Wrapped: ";
  if (method == Method::wrapped) {
    s += "a new skin at " + significant(voxel_mm, 2) + " mm, since " + why_wrapped + ". 95 % of it lies within " +
         significant(off_p95_mm, 2) + " mm of the old faces, the farthest " + significant(off_max_mm, 2) +
         " mm; gaps and passages under " + significant(bridged_mm, 2) +
         " mm may have closed, edges are broken by about " + significant(voxel_mm, 2) + " mm";
  } else {
    for (size_t i = 0; i < parts.size(); ++i) s += (i ? ", " : "") + parts[i];
    if (parts.empty()) s += "faces set in order";
  }
  s += ". Volume " + grouped(volume_before_mm3) + " → " + grouped(volume_after_mm3) + " mm³";
  if (volume_before_mm3 > 0) {
    const double pct = 100 * (volume_after_mm3 / volume_before_mm3 - 1);
    s += " (" + std::string(pct < 0 ? "−" : "+") + significant(std::abs(pct), 2) + " %)";
  }
  return s + ".";
}

namespace {

/// Cuts out the faces that intersect, with `rings` rings of neighbours, and lets plain repair fill the gaps anew.
/// Local, so that a million triangles with a few tangles stay what they are elsewhere.
Result<TriMesh> recut(const TriMesh& mesh, int rings, const Progress& progress) {
  const auto found = self_intersections(mesh, 200'000, progress);
  if (!found) return found.error();
  std::vector<bool> point(mesh.points.size(), false), drop(mesh.triangles.size(), false);
  for (const auto& [a, b] : found->pairs) drop[a] = drop[b] = true;
  for (int k = 0; k < rings; ++k) {
    for (size_t t = 0; t < drop.size(); ++t)
      if (drop[t])
        for (const uint32_t v : mesh.triangles[t]) point[v] = true;
    for (size_t t = 0; t < drop.size(); ++t)
      for (const uint32_t v : mesh.triangles[t])
        if (point[v]) drop[t] = true;
  }
  TriMesh rest;
  rest.points = mesh.points;
  for (size_t t = 0; t < drop.size(); ++t)
    if (!drop[t]) rest.triangles.push_back(mesh.triangles[t]);
  if (rest.triangles.size() < mesh.triangles.size() / 2)
    return Error{"more than half of the faces cut one another", "mesh", ""};
  auto r = repair(rest, {}, progress);
  if (!r) return r.error();
  return std::move(r->mesh);
}

}  // namespace

bool is_sheet(const TriMesh& mesh) {
  const EdgePairs pairs = pair_edges(mesh);
  if (pairs.open_edges == 0) return false;
  const Components parts = components(mesh, pairs);
  std::vector<Vec3> facing(parts.count);
  std::vector<double> area(parts.count, 0);
  double all = 0, flat = 0;
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    facing[parts.of_triangle[t]] += mesh.area_vector(t) * 0.5;
    area[parts.of_triangle[t]] += mesh.area_mm2(t);
  }
  for (size_t k = 0; k < parts.count; ++k) {
    all += area[k];
    if (length(facing[k]) > 0.8 * area[k]) flat += area[k];
  }
  return all > 0 && flat > 0.9 * all;
}

Result<Mended> mend(const TriMesh& mesh, const MendOptions& options, const Progress& progress) {
  if (is_sheet(mesh))
    return Error{"this is a sheet, not a solid: it has an edge all round and no inside", "mesh",
                 "Scan the part from all sides and join the scans, or give the sheet a thickness first."};

  Mended out{mesh, {}};
  MendReport& r = out.report;
  const auto check = [&](const TriMesh& m) { return check_soundness(m, true, progress.part(0.2, 0.5)); };
  auto before = check(mesh);
  if (!before) return before.error();
  r.before = r.after = *before;
  r.volume_before_mm3 = r.volume_after_mm3 = measure(mesh).volume_mm3;
  if (before->sound()) return out;
  progress.report(0.15);

  auto plain = repair(mesh, {}, progress.part(0, 0.2));
  if (!plain) return plain.error();
  r.count = plain->count;
  TriMesh best = std::move(plain->mesh);
  auto after = check(best);
  if (!after) return after.error();
  const auto take = [&](const TriMesh& tried) -> Result<bool> {
    const auto s = check(tried);
    if (!s) return s.error();
    if (!s->sound()) return false;
    after = *s, best = tried;
    return true;
  };
  const bool exact_ok = best.triangles.size() <= options.most_exact_faces;
  if (after->self_intersections > 0 && after->open_edges + after->non_manifold_edges == 0 && exact_ok) {
    size_t united = 0;
    if (const auto tried = unite_pieces(best, &united)) {
      const auto ok = take(*tried);
      if (!ok) return ok.error();
      if (*ok) r.united_pieces = united;
    }
  }
  for (int rings = 1; rings <= 3 && after->self_intersections > 0 && after->self_intersections < 20'000; ++rings) {
    auto tried = recut(best, rings, progress.part(0.2, 0.6));
    if (!tried && tried.error().cancelled) return tried.error();
    if (!tried) break;
    const auto ok = take(*tried);
    if (!ok) return ok.error();
    r.untangled = r.untangled || *ok;
  }
  if (after->self_intersections > 0 && after->open_edges + after->non_manifold_edges == 0 && exact_ok)
    if (const auto tried = without_self_intersections(best)) {
      const auto ok = take(*tried);
      if (!ok) return ok.error();
      r.untangled = r.untangled || *ok;
    }
  progress.report(0.5);
  if (after->sound()) {
    r.method = MendReport::Method::exact;
    r.after = *after;
    r.volume_after_mm3 = measure(best).volume_mm3;
    out.mesh = std::move(best);
    return out;
  }
  if (after->self_intersections)
    r.why_wrapped = counted(static_cast<long long>(after->self_intersections), "pair of faces still cuts",
                            "pairs of faces still cut") +
                    " one another";
  else if (after->open_edges)
    r.why_wrapped = counted(static_cast<long long>(after->open_edges), "edge stays", "edges stay") + " open";
  else
    r.why_wrapped =
        "more than two faces meet at " + counted(static_cast<long long>(after->non_manifold_edges), "edge", "edges");
  if (!options.may_wrap)
    return Error{"exact repair does not make it sound: " + r.why_wrapped, "mesh",
                 "Allow the wrap, which costs some accuracy."};
  auto w = wrap(best, {options.voxel_mm, std::abs(measure(best).volume_mm3)}, progress.part(0.6, 0.9));
  if (!w) return w.error();
  r.method = MendReport::Method::wrapped;
  r.voxel_mm = w->voxel_mm;
  r.bridged_mm = w->bridged_mm;
  r.off_p95_mm = w->off_p95_mm;
  r.off_max_mm = w->off_max_mm;
  out.mesh = std::move(w->mesh);
  auto last = check(out.mesh);
  if (!last) return last.error();
  if (!last->sound()) {  // dual quads can pinch at a voxel's corner: one more plain repair settles it
    auto again = repair(out.mesh, {}, progress.part(0.9, 1));
    if (!again) return again.error();
    last = check(again->mesh);
    if (!last) return last.error();
    if (last->self_intersections > 0 && again->mesh.triangles.size() <= options.most_exact_faces)
      if (auto tried = without_self_intersections(again->mesh))
        if (const auto s = check(*tried); s && s->sound()) again->mesh = *std::move(tried), last = *s;
    out.mesh = std::move(again->mesh);
  }
  r.after = *last;
  r.volume_after_mm3 = measure(out.mesh).volume_mm3;
  if (!last->sound()) return Error{"even the wrap is not sound", "mesh", "Try another voxel size."};
  progress.report(1);
  return out;
}

}  // namespace palinform
