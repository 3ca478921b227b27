#include "mould/strip.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>

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

/// A part as it hangs, before it is shifted to its place.
struct Hung {
  Transform frame;
  TriMesh mesh;
  Box3 box;
  Vec3 foot;
  std::vector<Vec3> struts;
};

/// Something of the body stands straight under that place of it.
bool stands_over(const TriMesh& m, const Vec3& p) {
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Vec3 a = m.corner(t, 0), b = m.corner(t, 1), c = m.corner(t, 2);
    if (std::min({a.z, b.z, c.z}) > p.z - 0.1) continue;
    const double all = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (std::abs(all) < 1e-12) continue;
    const double s = ((p.x - a.x) * (c.y - a.y) - (c.x - a.x) * (p.y - a.y)) / all,
                 r = ((b.x - a.x) * (p.y - a.y) - (p.x - a.x) * (b.y - a.y)) / all;
    if (s < 0 || r < 0 || s + r > 1) continue;
    if (a.z + s * (b.z - a.z) + r * (c.z - a.z) < p.z - 0.1) return true;
  }
  return false;
}

Hung hung(const StripPart& part, const StripRules& r) {
  Hung h;
  h.frame = frame_around(*part.mesh, unit(part.up));
  h.box = measure(transformed(*part.mesh, h.frame)).box_mm;
  if (h.box.size().x > h.box.size().y)  // the short side along the bar
    h.frame.rows = {h.frame.rows[1], -h.frame.rows[0], h.frame.rows[2]};
  h.mesh = transformed(*part.mesh, h.frame);
  h.box = measure(h.mesh).box_mm;
  // The lowest place: middle of the points within a tenth of a millimetre of it.
  const double low = h.box.min.z + 0.1;
  int n = 0;
  for (const Vec3& q : h.mesh.points)
    if (q.z < low) h.foot = h.foot + q, ++n;
  h.foot = h.foot / std::max(1, n);
  // Must be on the part: else the nearest of those points.
  Vec3 on = h.mesh.points.front();
  for (const Vec3& q : h.mesh.points)
    if (q.z < low && (on.z >= low || length(q - h.foot) < length(on - h.foot))) on = q;
  h.foot = on;
  if (r.strut_mm > 0)
    for (const Vec3& tip : low_tips(h.mesh, r.strut_least_mm))
      if (std::hypot(tip.x - h.foot.x, tip.y - h.foot.y) > 2 * r.nub_mm && !stands_over(h.mesh, tip))
        h.struts.push_back(tip);
  return h;
}

/// Height at which a hung part reaches farthest across, and the middle of it there.
struct Widest {
  double z = 0, middle_v = 0, wide_mm = 0;
};
Widest widest(const TriMesh& m, const Box3& box) {
  constexpr int bins = 60;
  std::vector<double> low(bins, 1e300), high(bins, -1e300);
  const double step = box.size().z / bins;
  for (size_t t = 0; t < m.triangles.size(); ++t)
    for (int e = 0; e < 3; ++e) {
      Vec3 a = m.corner(t, e), b = m.corner(t, (e + 1) % 3);
      if (a.z > b.z) std::swap(a, b);
      const int k0 = std::max(0, static_cast<int>(std::ceil((a.z - box.min.z) / step - 0.5))),
                k1 = std::min(bins - 1, static_cast<int>(std::floor((b.z - box.min.z) / step - 0.5)));
      for (int k = k0; k <= k1; ++k) {
        const double z = box.min.z + (k + 0.5) * step, s = b.z > a.z ? (z - a.z) / (b.z - a.z) : 0;
        const double v = a.y + s * (b.y - a.y);
        low[static_cast<size_t>(k)] = std::min(low[static_cast<size_t>(k)], v);
        high[static_cast<size_t>(k)] = std::max(high[static_cast<size_t>(k)], v);
      }
    }
  Widest w;
  // The highest of the places as wide within a hundredth: the cut need go no deeper.
  for (int k = 0; k < bins; ++k) {
    const double wide = high[static_cast<size_t>(k)] - low[static_cast<size_t>(k)];
    if (wide >= 0.99 * w.wide_mm)
      w = {box.min.z + (k + 0.5) * step, 0.5 * (high[static_cast<size_t>(k)] + low[static_cast<size_t>(k)]),
           std::max(wide, w.wide_mm)};
  }
  return w;
}

double frustum_mm3(double high, double r0, double r1) {
  return std::numbers::pi / 3 * high * (r0 * r0 + r0 * r1 + r1 * r1);
}

}  // namespace

std::vector<Vec3> low_tips(const TriMesh& m, double least) {
  // Corners of one place as one; from the lowest up, valleys grow and run together: the shallower ends there.
  std::map<std::array<double, 3>, uint32_t> known;
  std::vector<uint32_t> id(m.points.size());
  std::vector<Vec3> points;
  for (size_t i = 0; i < m.points.size(); ++i) {
    const auto [at, fresh] =
        known.try_emplace({m.points[i].x, m.points[i].y, m.points[i].z}, static_cast<uint32_t>(points.size()));
    if (fresh) points.push_back(m.points[i]);
    id[i] = at->second;
  }
  std::vector<Vec3> normal(points.size());
  std::vector<std::vector<uint32_t>> next(points.size());
  for (size_t t = 0; t < m.triangles.size(); ++t)
    for (int e = 0; e < 3; ++e) {
      const uint32_t a = id[m.triangles[t][e]], b = id[m.triangles[t][(e + 1) % 3]];
      normal[a] += m.area_vector(t);
      next[a].push_back(b), next[b].push_back(a);
    }
  std::vector<uint32_t> order(points.size()), root(points.size(), 0xFFFFFFFFu), low(points.size());
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](uint32_t a, uint32_t b) {
    const Vec3 &p = points[a], &q = points[b];
    return std::tie(p.z, p.x, p.y) < std::tie(q.z, q.x, q.y);
  });
  const auto find = [&](uint32_t v) {
    while (root[v] != v) v = root[v] = root[root[v]];
    return v;
  };
  std::vector<Vec3> out;
  for (const uint32_t v : order) {
    root[v] = low[v] = v;
    for (const uint32_t w : next[v]) {
      if (root[w] == 0xFFFFFFFFu) continue;
      uint32_t a = find(v), b = find(w);
      if (a == b) continue;
      if (points[low[a]].z < points[low[b]].z) std::swap(a, b);  // b is the deeper one
      const uint32_t tip = low[a];
      if (points[v].z - points[tip].z >= least && normal[tip].z < 0) out.push_back(points[tip]);
      root[a] = b;
    }
  }
  std::sort(out.begin(), out.end(), [](const Vec3& a, const Vec3& b) { return a.z < b.z; });
  return out;
}

std::vector<Vec3> strut_places(const StripPart& part, const StripRules& rules) {
  const Hung h = hung(part, rules);
  std::vector<Vec3> out;
  for (const Vec3& p : h.struts) out.push_back(h.frame.direction_back(p));
  return out;
}

double StripPlan::bar_mm3() const {
  const Box3 base = base_of(*this);
  const Vec3 s = base.size();
  double sum = s.x * s.y * s.z;
  for (const Vec3& tip : tips_mm) {
    // The nub is rooted half-way up the bar; only what stands over it counts.
    const double all = tip.z - 0.5 * base.max.z, over = tip.z - base.max.z, r1 = nub_tip * nub_mm,
                 r0 = r1 + (nub_foot - nub_tip) * nub_mm * over / all;
    sum += frustum_mm3(over, r0, r1);
  }
  for (const Vec3& tip : struts_mm) sum += frustum_mm3(tip.z - base.max.z, 0.5 * strut_mm, 0.5 * strut_mm);
  return sum;
}

double StripPlan::well_mm3() const {
  const Vec3 s = well_mm.size();
  return s.x * s.y * s.z;
}

double StripPlan::rubber_mm3() const {
  const Vec3 s = inner_mm.size();
  return s.x * s.y * s.z - parts_mm3 - bar_mm3();
}

Result<StripPlan> plan_strip(const std::vector<StripPart>& parts, const StripRules& r, const Progress& progress) {
  int count = 0;
  for (const StripPart& part : parts) count += part.many;
  if (count < 1) return Error{"a strip holds at least one part", "strip", ""};
  StripPlan p;
  std::vector<Hung> all;
  double long_mm = -r.gap_mm, beside = 0, beyond = 0, tall = 0;  // along; before and behind the nubs; over the bar
  for (const StripPart& part : parts) {
    all.push_back(hung(part, r));
    const Hung& h = all.back();
    p.parts_mm3 += part.many * measure(h.mesh).volume_mm3;
    long_mm += part.many * (h.box.size().x + r.gap_mm);
    beside = std::max(beside, h.foot.y - h.box.min.y);
    beyond = std::max(beyond, h.box.max.y - h.foot.y);
    tall = std::max(tall, h.box.size().z);
    if (progress.cancelled()) return Error::stopped();
  }
  // The well holds all that goes in, as high as it foams: deeper first, then wider. It runs beside the bar over its
  // whole length, out through the floor that is the top when resin goes in.
  const double nub_v = r.wall_mm + beside;
  const double well_v = std::max(nub_v + beyond, nub_v + 0.5 * r.bar_mm);
  const double foam_mm3 = r.foam_ratio * p.parts_mm3;
  const double high =
      std::clamp(foam_mm3 / (long_mm * (well_v + r.well_mm - nub_v)), r.bar_mm, std::max(r.bar_mm, r.well_deep_mm));
  const double wide = std::max(r.well_mm, foam_mm3 / (long_mm * high) - (well_v - nub_v));
  if (wide > std::max(r.well_most_mm, r.well_mm))
    return Error{"the well would have to be " + std::to_string(static_cast<int>(std::ceil(wide))) +
                     " mm wide to hold the foam of " + std::to_string(count) + (count == 1 ? " part" : " parts"),
                 "strip", "Parts so thick are cast one by one."};
  const double z0 = high + r.nub_long_mm;
  p.bar_mm.add({r.wall_mm, nub_v - 0.5 * r.bar_mm, 0});
  p.bar_mm.add({r.wall_mm + long_mm, nub_v + 0.5 * r.bar_mm, high});
  p.well_mm.add({r.wall_mm, nub_v, 0});
  p.well_mm.add({r.wall_mm + long_mm, well_v + wide, high});
  p.inner_mm.add({0, 0, 0});
  p.inner_mm.add({long_mm + 2 * r.wall_mm, well_v + wide + r.wall_mm, z0 + tall + r.wall_mm});
  p.nub_mm = r.nub_mm, p.strut_mm = r.strut_mm;
  double u = r.wall_mm, face = 0, side = 0, face_v = 0, side_z = 0;
  for (size_t k = 0; k < parts.size(); ++k) {
    const Hung& h = all[k];
    const Widest w = widest(h.mesh, h.box);
    for (int i = 0; i < parts[k].many; ++i) {
      const Vec3 shift{u - h.box.min.x, nub_v - h.foot.y, z0 - h.box.min.z};
      Transform place = h.frame;
      place.shift = shift;
      p.places.push_back({k, place});
      p.tips_mm.push_back(h.foot + shift);
      for (const Vec3& tip : h.struts) {
        p.struts_mm.push_back(tip + shift);
        // The bar reaches under each of them.
        p.bar_mm.min.y = std::min(p.bar_mm.min.y, tip.y + shift.y - r.strut_mm);
      }
      u += h.box.size().x + r.gap_mm;
      const double down = p.inner_mm.max.z - (w.z + shift.z), in = w.middle_v + shift.y;
      if (down > face) face = down, face_v = in;
      if (in > side) side = in, side_z = down;
    }
  }
  p.cut = {face <= side, face <= side ? face_v : side_z, std::min(face, side), p.inner_mm.size().x};
  progress.report(1);
  return p;
}

Result<TriMesh> strip_bar(const StripPlan& p, const Progress& progress) {
  const Box3 base = base_of(p);
  std::vector<TriMesh> bodies{box_in_frame({}, base.min, base.max)};
  const double root = 0.5 * base.max.z;
  for (const Vec3& tip : p.tips_mm)
    bodies.push_back(rod({tip.x, tip.y, root}, {0, 0, 1}, tip.z - root, nub_foot * p.nub_mm, nub_tip * p.nub_mm, 24));
  for (const Vec3& tip : p.struts_mm)
    bodies.push_back(rod({tip.x, tip.y, root}, {0, 0, 1}, tip.z - root, 0.5 * p.strut_mm, 0.5 * p.strut_mm, 24));
  return carved(bodies, {}, 0, 0.25, progress);
}

Result<TriMesh> strip_rubber(const std::vector<StripPart>& parts, const StripPlan& p, const TriMesh& bar, double voxel,
                             const std::vector<std::vector<const TriMesh*>>& sockets, const Progress& progress) {
  std::vector<TriMesh> away{bar};
  for (const StripPlace& at : p.places) {
    away.push_back(transformed(*parts[at.part].mesh, at.place));
    if (at.part < sockets.size())
      for (const TriMesh* s : sockets[at.part]) away.push_back(transformed(*s, at.place));
  }
  return carved({box_in_frame({}, p.inner_mm.min, p.inner_mm.max)}, away, 0, voxel, progress);
}

}  // namespace palinform
