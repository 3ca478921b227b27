#include "mould/pocket_body.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/section_walk.hpp"
#include "mould/halves.hpp"
#include "mould/smallest_box.hpp"
#include "solid/columns.hpp"
#include "solid/lattice.hpp"
#include "split/leaving.hpp"

namespace palinform {
namespace {

/// The largest cut of the solid square to `d` at that place along it; corners within `true_mm` of a straight line left
/// out.
std::vector<Vec3> outline_at(const TriMesh& solid, const Vec3& d, double at_mm, double true_mm) {
  const EdgePairs pairs = pair_edges(solid);
  const CutPlane plane{d * at_mm, d};
  std::vector<bool> seen(solid.triangles.size(), false);
  std::vector<Vec3> best;
  double most = 0;
  for (uint32_t t = 0; t < solid.triangles.size(); ++t) {
    if (seen[t]) continue;
    int above = 0;
    for (int k = 0; k < 3; ++k) above += plane.lift_mm(solid.corner(t, k)) > 0;
    if (above == 0 || above == 3) continue;
    const auto loop = walk_section(solid, pairs, t, plane);
    seen[t] = true;
    if (!loop) continue;
    for (const uint32_t h : loop->half_edges) seen[h / 3] = true;
    if (loop->area_mm2() > most) most = loop->area_mm2(), best = loop->points_mm;
  }
  // Each corner kept is the first past which the line to the one before leaves a point farther off.
  std::vector<Vec3> kept;
  for (size_t i = 0; i < best.size();) {
    kept.push_back(best[i]);
    size_t to = i + 1;
    for (; to + 1 < best.size(); ++to) {
      const Vec3 along = best[to + 1] - best[i];
      const double len = length(along);
      bool straight = len > 0;
      for (size_t k = i + 1; straight && k <= to; ++k)
        straight = length(cross(best[k] - best[i], along)) <= true_mm * len;
      if (!straight) break;
    }
    i = to;
  }
  return kept;
}

}  // namespace

Result<PinPlan> plan_pocket_slide(const TriMesh& mesh, const ExtraPiece& pocket, const Vec3& pull, double wall,
                                  const std::string& name, const PinRules& rules, double voxel,
                                  const Progress& progress) {
  if (pocket.triangles.empty()) return Error{"there is no pocket for it", name, "Click the pocket that is meant."};
  const Vec3 draw = unit(pocket.pull);
  const auto [low, high] = reach_along(mesh, pocket.triangles, draw);
  // From where the faces end: past the wall of the block at every corner of its outline.
  const Transform block = frame_around(mesh, unit(pull));
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(block.direction(p));
  const Vec3 round{wall, wall, 1.5 * wall};
  box.min = box.min - round, box.max = box.max + round;
  double head = std::max(wall, rules.into_wall_mm);
  for (const uint32_t t : pocket.triangles)
    for (int k = 0; k < 3; ++k) {
      const Vec3 p = mesh.corner(t, k);
      head = std::max(head, way_out_mm(box, block.direction(p + draw * (high - dot(p, draw))), block.direction(draw)));
    }
  ExtraPiece along = pocket;
  along.pull = draw;
  auto field = piece_field(mesh, along, head + rules.grip_mm, voxel, progress.part(0, 0.2));
  if (!field) return field.error();
  Lattice wider = *field;
  for (float& v : wider.value) v -= static_cast<float>(pin_slack_mm);
  auto socket = lattice_surface(wider, progress.part(0.2, 0.4));
  if (!socket) return socket.error();
  const Transform frame = frame_along(draw);
  const TriMesh part = transformed(mesh, frame);
  Box3 region;
  region.add(field->place_mm(0, 0, 0));
  region.add(field->place_mm(field->ni - 1, field->nj - 1, field->nk - 1));
  const double h = field->voxel_mm;
  auto skin = distance_lattice(part, region, h, 3 * h, progress.part(0.4, 0.7));
  if (!skin) return skin.error();
  Lattice& l = *field;
  for (int k = 0; k < l.nk; ++k)
    for (int j = 0; j < l.nj; ++j)
      for (int i = 0; i < l.ni; ++i) {
        const int si = i + l.i0 - skin->i0, sj = j + l.j0 - skin->j0, sk = k + l.k0 - skin->k0;
        if (si < 0 || sj < 0 || sk < 0 || si >= skin->ni || sj >= skin->nj || sk >= skin->nk) continue;
        l.at(i, j, k) = std::max(l.at(i, j, k), -skin->at(si, sj, sk));
      }
  auto body = lattice_surface(l, progress.part(0.7, 1));
  if (!body) return body.error();
  const Transform back = frame.inverse();
  const TriMesh solid = transformed(*std::move(body), back);
  if (solid.triangles.empty()) return Error{"nothing is left of it beside the part", name, "Draw it another way."};
  const std::vector<Vec3> outline = outline_at(solid, draw, high + head, 0.05 * h);
  if (outline.size() < 3) return Error{"it does not reach out of the mould", name, "Draw it another way."};
  Vec3 middle;
  for (const Vec3& q : outline) middle += q * (1.0 / static_cast<double>(outline.size()));
  const Vec3 mouth = middle + draw * (high - dot(middle, draw));
  PinPlan p = plan_slide(outline, mouth, draw, high - low, wall, name, rules);
  p.through = false;
  p.head_mm = head, p.tail_mm = 0;
  p.foot_mm = mouth - draw * p.forms_mm;
  p.volume_mm3 = measure(solid).volume_mm3;
  p.socket = std::make_shared<const TriMesh>(transformed(*std::move(socket), back));
  p.body = std::make_shared<const TriMesh>(solid);
  return p;
}

}  // namespace palinform
