#include "mould/bare.hpp"

#include <algorithm>

namespace palinform {

Mould bare_mould(const Vec3& extent, double part_mm3, double wall) {
  double m[3] = {extent.x, extent.y, extent.z};
  std::sort(m, m + 3);
  Mould out;
  out.wall_mm = wall;
  const Vec3 inner{m[2] + 2 * wall, m[1] + 2 * wall, m[0] + 2 * wall};
  out.inner_mm.min = inner * -0.5;
  out.inner_mm.max = inner * 0.5;
  out.part_mm3 = part_mm3;
  out.box_mm3 = inner.x * inner.y * inner.z;
  out.rubber_mm3 = out.box_mm3 - part_mm3;
  // The part's share of each height is unknown: half of its volume lies in the middle slab of each half, evenly.
  const double half = inner.z / 2, area = inner.x * inner.y, part_height = m[0] / 2;
  for (const char* name : {"a", "b"}) {
    RubberPour p;
    p.name = name;
    p.volume_mm3 = out.rubber_mm3 / 2;
    p.fill_height_mm = half;
    const double thin = (area * part_height - part_mm3 / 2);
    p.curve = {{0, 0}, {part_height, std::max(0.0, thin)}, {half, p.volume_mm3}};
    out.pours.push_back(std::move(p));
  }
  const double panel = 6;
  out.panels = {{"long side", inner.x + 2 * panel, inner.z, panel},
                {"long side", inner.x + 2 * panel, inner.z, panel},
                {"short side", inner.y, inner.z, panel},
                {"short side", inner.y, inner.z, panel},
                {"floor", inner.x + 2 * panel, inner.y + 2 * panel, panel}};
  return out;
}

namespace {

/// Corners of a box: bit 0 x, bit 1 y, bit 2 z.
void add_corners(TriMesh& m, const Vec3& lo, const Vec3& hi) {
  for (int k = 0; k < 8; ++k) m.points.push_back({k & 1 ? hi.x : lo.x, k & 2 ? hi.y : lo.y, k & 4 ? hi.z : lo.z});
}
void quad(TriMesh& m, uint32_t a, uint32_t b, uint32_t c, uint32_t d) {
  m.triangles.push_back({a, b, c});
  m.triangles.push_back({a, c, d});
}

}  // namespace

BareShapes bare_shapes(const Vec3& extent, const Mould& mould) {
  double e[3] = {extent.x, extent.y, extent.z};
  std::sort(e, e + 3);
  const Vec3 half{e[2] / 2, e[1] / 2, e[0] / 2};
  BareShapes out;
  add_corners(out.part, -half, half);
  const auto sides = [](TriMesh& m, uint32_t o) {  // four walls, facing out
    quad(m, o + 0, o + 1, o + 5, o + 4), quad(m, o + 1, o + 3, o + 7, o + 5);
    quad(m, o + 3, o + 2, o + 6, o + 7), quad(m, o + 2, o + 0, o + 4, o + 6);
  };
  sides(out.part, 0);
  quad(out.part, 0, 2, 3, 1), quad(out.part, 4, 5, 7, 6);
  // The lower tub: outer walls and floor, pocket walls facing in, pocket floor, and the rim between.
  TriMesh& t = out.half_b;
  const Vec3 &lo = mould.inner_mm.min, &hi = mould.inner_mm.max;
  add_corners(t, lo, {hi.x, hi.y, 0});
  add_corners(t, {-half.x, -half.y, -half.z}, {half.x, half.y, 0});
  sides(t, 0);
  quad(t, 0, 2, 3, 1);
  TriMesh pocket;
  sides(pocket, 8);
  for (const Triangle& w : pocket.triangles) t.triangles.push_back({w[0], w[2], w[1]});
  quad(t, 8, 9, 11, 10);
  quad(t, 4, 5, 13, 12), quad(t, 5, 7, 15, 13), quad(t, 7, 6, 14, 15), quad(t, 6, 4, 12, 14);
  out.half_a = t;
  for (Vec3& p : out.half_a.points) p.z = -p.z;
  for (Triangle& w : out.half_a.triangles) std::swap(w[1], w[2]);
  return out;
}

}  // namespace palinform
