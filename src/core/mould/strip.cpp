#include "mould/strip.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/primitives.hpp"
#include "mould/box.hpp"
#include "solid/carve.hpp"
#include "solid/columns.hpp"

namespace palinform {

double StripPlan::rubber_mm3() const {
  const Vec3 s = inner_mm.size();
  return s.x * s.y * s.z - static_cast<double>(places_mm.size()) * part_mm3 - bar_mm3;
}

Result<StripPlan> plan_strip(const TriMesh& mesh, const Vec3& up, int many, const StripRules& r, Progress& progress) {
  if (many < 1) return Error{"a strip holds at least one part", "strip", ""};
  StripPlan p;
  p.frame = frame_around(mesh, unit(up));
  Box3 e = measure(transformed(mesh, p.frame)).box_mm;
  if (e.size().x > e.size().y) {  // the short side along the bar
    p.frame.rows = {p.frame.rows[1], -p.frame.rows[0], p.frame.rows[2]};
    e = measure(transformed(mesh, p.frame)).box_mm;
  }
  const TriMesh part = transformed(mesh, p.frame);
  p.part_mm3 = measure(part).volume_mm3;
  const Vec3 size = e.size();
  // The lowest place: middle of the points within a tenth of a millimetre of it.
  Vec3 foot;
  int n = 0;
  for (const Vec3& q : part.points)
    if (q.z < e.min.z + 0.1) foot = foot + q, ++n;
  foot = foot / std::max(1, n);
  // Must be on the part: else the nearest of those points.
  Vec3 on = part.points.front();
  for (const Vec3& q : part.points)
    if (q.z < e.min.z + 0.1 && (on.z >= e.min.z + 0.1 || length(q - foot) < length(on - foot))) on = q;
  foot = on;
  const double run = size.x + r.gap_mm, z0 = r.bar_mm + r.nub_long_mm;
  for (int k = 0; k < many; ++k)
    p.places_mm.push_back({r.wall_mm + k * run - e.min.x, r.wall_mm - e.min.y, z0 - e.min.z});
  const double long_mm = many * run - r.gap_mm, across = size.y, nub_v = p.places_mm[0].y + foot.y;
  p.bar_mm.add({r.wall_mm, nub_v - 0.5 * r.bar_mm, 0});
  p.bar_mm.add({r.wall_mm + long_mm, nub_v + 0.5 * r.bar_mm, r.bar_mm});
  // The well runs beside the bar over its whole length, out through the floor that is the top when resin goes in.
  const double well_v = std::max(r.wall_mm + across, nub_v + 0.5 * r.bar_mm) + 0.0;
  p.well_mm.add({r.wall_mm, nub_v, 0});
  p.well_mm.add({r.wall_mm + long_mm, well_v + r.well_mm, r.bar_mm});
  p.inner_mm.add({0, 0, 0});
  p.inner_mm.add({long_mm + 2 * r.wall_mm, well_v + r.well_mm + r.wall_mm, z0 + size.z + r.wall_mm});
  // One solid: bar and well side by side as one block, nubs standing in it.
  Box3 base;
  base.add({r.wall_mm, p.bar_mm.min.y, 0});
  base.add({r.wall_mm + long_mm, p.well_mm.max.y, r.bar_mm});
  std::vector<TriMesh> bodies{box_in_frame({}, base.min, base.max)};
  for (const Vec3& at : p.places_mm) {
    if (progress.cancelled()) return Error::stopped();
    const Vec3 tip = foot + at;
    bodies.push_back(
        rod({tip.x, tip.y, 0.5 * r.bar_mm}, {0, 0, 1}, tip.z - 0.5 * r.bar_mm, 0.7 * r.nub_mm, 0.5 * r.nub_mm, 24));
  }
  auto bar = carved(bodies, {}, 0, 0.25, progress);
  if (!bar) return bar.error();
  p.bar = *std::move(bar);
  p.bar_mm3 = measure(p.bar).volume_mm3;
  progress.report(1);
  return p;
}

Result<TriMesh> strip_rubber(const TriMesh& mesh, const StripPlan& p, double voxel, Progress& progress) {
  std::vector<TriMesh> away{p.bar};
  for (const Vec3& at : p.places_mm) {
    Transform t = p.frame;
    t.shift = at;
    away.push_back(transformed(mesh, t));
  }
  return carved({box_in_frame({}, p.inner_mm.min, p.inner_mm.max)}, away, 0, voxel, progress);
}

}  // namespace palinform
