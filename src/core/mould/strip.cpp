#include "mould/strip.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "mesh/primitives.hpp"
#include "mould/box.hpp"
#include "solid/carve.hpp"
#include "solid/columns.hpp"

namespace palinform {

namespace {

/// Bar and well side by side as one block.
Box3 base_of(const StripPlan& p) {
  Box3 base = p.bar_mm;
  base.add(p.well_mm.min), base.add(p.well_mm.max);
  return base;
}
constexpr double nub_foot = 0.7, nub_tip = 0.5;  // radii, of the nub's diameter

}  // namespace

double StripPlan::bar_mm3() const {
  const Box3 base = base_of(*this);
  const Vec3 s = base.size();
  double sum = s.x * s.y * s.z;
  for (const Vec3& tip : tips_mm) {
    // The nub is rooted half-way up the bar; only what stands over it counts.
    const double all = tip.z - 0.5 * base.max.z, over = tip.z - base.max.z, r1 = nub_tip * nub_mm,
                 r0 = r1 + (nub_foot - nub_tip) * nub_mm * over / all;
    sum += std::numbers::pi / 3 * over * (r0 * r0 + r0 * r1 + r1 * r1);
  }
  return sum;
}

double StripPlan::well_mm3() const {
  const Vec3 s = well_mm.size();
  return s.x * s.y * s.z;
}

double StripPlan::rubber_mm3() const {
  const Vec3 s = inner_mm.size();
  return s.x * s.y * s.z - static_cast<double>(places_mm.size()) * part_mm3 - bar_mm3();
}

Result<StripPlan> plan_strip(const TriMesh& mesh, const Vec3& up, int many, const StripRules& r,
                             const Progress& progress) {
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
  // The well holds all that goes in, as high as it foams: deeper first, then wider. It runs beside the bar over its
  // whole length, out through the floor that is the top when resin goes in.
  const double run = size.x + r.gap_mm, long_mm = many * run - r.gap_mm, across = size.y;
  const double nub_v = r.wall_mm - e.min.y + foot.y;
  const double well_v = std::max(r.wall_mm + across, nub_v + 0.5 * r.bar_mm);
  const double foam_mm3 = r.foam_ratio * many * p.part_mm3;
  const double high =
      std::clamp(foam_mm3 / (long_mm * (well_v + r.well_mm - nub_v)), r.bar_mm, std::max(r.bar_mm, r.well_deep_mm));
  const double wide = std::max(r.well_mm, foam_mm3 / (long_mm * high) - (well_v - nub_v));
  if (wide > std::max(r.well_most_mm, r.well_mm))
    return Error{"the well would have to be " + std::to_string(static_cast<int>(std::ceil(wide))) +
                     " mm wide to hold the foam of " + std::to_string(many) + (many == 1 ? " part" : " parts"),
                 "strip", "Parts so thick are cast one by one."};
  const double z0 = high + r.nub_long_mm;
  for (int k = 0; k < many; ++k)
    p.places_mm.push_back({r.wall_mm + k * run - e.min.x, r.wall_mm - e.min.y, z0 - e.min.z});
  p.bar_mm.add({r.wall_mm, nub_v - 0.5 * r.bar_mm, 0});
  p.bar_mm.add({r.wall_mm + long_mm, nub_v + 0.5 * r.bar_mm, high});
  p.well_mm.add({r.wall_mm, nub_v, 0});
  p.well_mm.add({r.wall_mm + long_mm, well_v + wide, high});
  p.inner_mm.add({0, 0, 0});
  p.inner_mm.add({long_mm + 2 * r.wall_mm, well_v + wide + r.wall_mm, z0 + size.z + r.wall_mm});
  p.nub_mm = r.nub_mm;
  for (const Vec3& at : p.places_mm) p.tips_mm.push_back(foot + at);
  progress.report(1);
  return p;
}

Result<TriMesh> strip_bar(const StripPlan& p, const Progress& progress) {
  const Box3 base = base_of(p);
  std::vector<TriMesh> bodies{box_in_frame({}, base.min, base.max)};
  const double root = 0.5 * base.max.z;
  for (const Vec3& tip : p.tips_mm)
    bodies.push_back(rod({tip.x, tip.y, root}, {0, 0, 1}, tip.z - root, nub_foot * p.nub_mm, nub_tip * p.nub_mm, 24));
  return carved(bodies, {}, 0, 0.25, progress);
}

Result<TriMesh> strip_rubber(const TriMesh& mesh, const StripPlan& p, const TriMesh& bar, double voxel,
                             const Progress& progress) {
  std::vector<TriMesh> away{bar};
  for (const Vec3& at : p.places_mm) {
    Transform t = p.frame;
    t.shift = at;
    away.push_back(transformed(mesh, t));
  }
  return carved({box_in_frame({}, p.inner_mm.min, p.inner_mm.max)}, away, 0, voxel, progress);
}

}  // namespace palinform
