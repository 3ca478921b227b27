#include "split/open_face.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/primitives.hpp"
#include "mesh/topology.hpp"
#include "solid/columns.hpp"
#include "split/accessibility.hpp"
#include "split/bores.hpp"

namespace palinform {
namespace {

struct Flat {
  double top_mm = 0;  ///< of the part along the normal
  double area_mm2 = 0;
  std::vector<uint8_t> on;  ///< per face
};

/// Faces in the part's outermost plane along `n`.
Flat flat_at(const TriMesh& mesh, const Vec3& n, double flat_mm) {
  Flat f;
  f.top_mm = -1e300;
  for (const Vec3& p : mesh.points) f.top_mm = std::max(f.top_mm, dot(p, n));
  f.on.assign(mesh.triangles.size(), 0);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (dot(mesh.normal(t), n) < 0.999) continue;
    bool in = true;
    for (const uint32_t p : mesh.triangles[t]) in = in && dot(mesh.points[p], n) > f.top_mm - flat_mm;
    if (in) f.on[t] = 1, f.area_mm2 += mesh.area_mm2(t);
  }
  return f;
}

Result<OpenFace> judged(const TriMesh& mesh, const RayScene& rays, const Vec3& n, const Flat& flat, double share,
                        double h, const OpenFaceOptions& o, const Progress& progress) {
  OpenFace out;
  out.normal = n;
  out.area_mm2 = flat.area_mm2;
  out.share = share;
  // The base plate closes what hangs over it: then an overhang is locked between part and plate as any undercut is
  // between part and part. Raised by the lip, so that a rounded edge does not count.
  const Transform frame = frame_along(n);
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(frame.direction(p));
  TriMesh whole = mesh;
  append(whole, box_in_frame(frame, {box.min.x - 3 * h, box.min.y - 3 * h, flat.top_mm - o.lip_mm},
                             {box.max.x + 3 * h, box.max.y + 3 * h, flat.top_mm + 4 * h}));
  const auto away = releasable_share(mesh, rays, -n, {}, progress.part(0, 0.4));
  if (!away) return away.error();
  Split split;
  split.pull = n;
  split.side.assign(whole.triangles.size(), 0);
  split.locked.assign(whole.triangles.size(), false);
  for (size_t t = 0; t < mesh.triangles.size(); ++t) split.locked[t] = !flat.on[t] && (*away)[t] < 0.5f;
  UndercutOptions how;
  how.pitch_mm = h;
  how.shore_a = o.shore_a;
  how.rule = o.rule;
  const auto found = find_undercuts(whole, split, how, progress.part(0.4, 1));
  if (!found) return found.error();
  const Undercut* worst = nullptr;
  int stiff = 0, rings = 0;
  for (const Undercut& u : *found) {
    ++out.holds;
    if (u.sealed() || u.tunnel())
      ++rings;
    else if (!u.flexes)
      ++stiff;
    if (!worst || u.ratio() > worst->ratio()) worst = &u;
  }
  if (!worst) {
    out.why = "Nothing holds it: it draws straight off its flat face";
    return out;
  }
  out.reach_mm = worst->reach_mm, out.mouth_mm = worst->mouth_mm;
  if (!worst->mouths.empty()) out.at_mm = worst->mouths.front().centre_mm;
  const std::string figures =
      "reach " + fixed(out.reach_mm, 1) + " mm through a mouth of " + fixed(out.mouth_mm, 1) + " mm";
  double high = 0;
  for (const Undercut& u : *found)
    if (!u.flexes)
      for (const uint32_t t : u.triangles) high = std::max(high, flat.top_mm - dot(mesh.centre(t), n));
  if (rings > 0) {
    out.verdict = LetsGo::no;
    out.why = "Rubber goes right through it in " + counted(rings, "place", "places") + " and would hold it fast";
  } else if (stiff > o.slits) {
    out.verdict = LetsGo::no;
    out.why = counted(stiff, "place holds", "places hold") + ", the worst with " + figures + ": too many for slits";
  } else if (stiff > 0) {
    out.verdict = LetsGo::slit;
    out.slit_mm = high;
    out.why = "It holds with " + figures + ", which " + fixed(o.shore_a, 0) + " A does not flex: slit the rubber " +
              fixed(high, 0) + " mm up from the rim there";
  } else {
    out.verdict = LetsGo::peels;
    out.why = "It peels: " + figures + ", which " + fixed(o.shore_a, 0) + " A flexes; begin at the edge there";
  }
  return out;
}

}  // namespace

Result<std::vector<OpenFace>> open_faces(const TriMesh& mesh, const RayScene& rays, const OpenFaceOptions& o,
                                         const std::optional<Vec3>& only, const Progress& progress) {
  const Vec3 size = measure(mesh).box_mm.size();
  const double h = o.pitch_mm > 0 ? o.pitch_mm : std::max({size.x, size.y, size.z}) / 90;
  std::vector<Vec3> normals;
  if (only)
    normals = {unit(*only)};
  else
    for (const Vec3& d : flat_normals(mesh, 4 * o.most)) normals.push_back(d), normals.push_back(-d);
  struct Candidate {
    Vec3 n;
    Flat flat;
    double share = 0;
  };
  std::vector<Candidate> wanted;
  for (const Vec3& n : normals) {
    Candidate c{n, flat_at(mesh, n, o.flat_mm), 0};
    if (!(c.flat.area_mm2 > 0)) continue;
    const auto seen = build_columns(mesh, frame_along(n), h, 0);
    if (!seen) return seen.error();
    size_t covered = 0;
    for (size_t k = 0; k < seen->count(); ++k) covered += seen->start[k + 1] > seen->start[k];
    c.share = std::min(1.0, c.flat.area_mm2 / std::max(1e-9, static_cast<double>(covered) * h * h));
    if (only || c.share >= o.least_share) wanted.push_back(std::move(c));
  }
  std::stable_sort(wanted.begin(), wanted.end(), [](const Candidate& a, const Candidate& b) {
    return a.flat.area_mm2 > b.flat.area_mm2 * (1 + 1e-6);
  });
  if (wanted.size() > o.most) wanted.resize(o.most);
  std::vector<OpenFace> out;
  for (size_t k = 0; k < wanted.size(); ++k) {
    if (progress.cancelled()) return Error::stopped();
    const double from = static_cast<double>(k) / static_cast<double>(wanted.size());
    auto face = judged(mesh, rays, wanted[k].n, wanted[k].flat, wanted[k].share, h, o,
                       progress.part(from, from + 1.0 / static_cast<double>(wanted.size())));
    if (!face) return face.error();
    out.push_back(*std::move(face));
  }
  std::stable_sort(out.begin(), out.end(), [](const OpenFace& a, const OpenFace& b) { return a.verdict < b.verdict; });
  return out;
}

}  // namespace palinform
