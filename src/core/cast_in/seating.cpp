#include "cast_in/seating.hpp"

#include <algorithm>
#include <cmath>

#include "mesh/topology.hpp"
#include "solid/unite.hpp"

namespace palinform {
namespace {

constexpr double gravity = 9.80665;

/// Points spread over a triangle, about `step_mm` apart, none on its edges.
template <class Use>
void each_spot(const TriMesh& m, size_t t, double step_mm, Use&& use) {
  const Vec3 &a = m.corner(t, 0), &b = m.corner(t, 1), &c = m.corner(t, 2);
  const double longest = std::max({length(b - a), length(c - b), length(a - c)});
  const int n = std::clamp(static_cast<int>(std::ceil(longest / step_mm)), 1, 40);
  const double area = m.area_mm2(t) / (n * n);
  for (int i = 0; i < n; ++i)
    for (int j = 0; i + j < n; ++j) {
      use(a + (b - a) * ((i + 1.0 / 3) / n) + (c - a) * ((j + 1.0 / 3) / n), area);
      if (i + j + 1 < n) use(a + (b - a) * ((i + 2.0 / 3) / n) + (c - a) * ((j + 2.0 / 3) / n), area);
    }
}

/// The pieces of the insert that stand out, the largest first. Not those within `on_pin_mm` of its axis.
std::vector<StandsOut> pieces_out(const TriMesh& outside, const TriMesh& cavity, const RayScene& rays,
                                  const Insert& insert, double on_pin_mm) {
  std::vector<StandsOut> out;
  if (outside.triangles.empty()) return out;
  const EdgePairs pairs = pair_edges(outside);
  const Components parts = components(outside, pairs);
  std::vector<TriMesh> pieces(parts.count);
  for (TriMesh& p : pieces) p.points = outside.points;
  for (size_t t = 0; t < outside.triangles.size(); ++t)
    pieces[parts.of_triangle[t]].triangles.push_back(outside.triangles[t]);
  const Vec3 axis = unit(insert.axis);
  for (TriMesh& p : pieces) {
    drop_unused_points(p);
    const MeshMeasure m = measure(p);
    if (m.volume_mm3 < 1e-3) continue;
    StandsOut s;
    s.at_mm = m.centroid_mm, s.volume_mm3 = m.volume_mm3;
    bool pin = on_pin_mm > 0;
    for (const Vec3& q : p.points) {
      const SurfacePoint near = rays.closest(q);
      if (near.distance_mm > s.deep_mm) s.deep_mm = near.distance_mm;
      const Vec3 off = q - insert.at_mm;
      if (length(off - axis * dot(off, axis)) > on_pin_mm) pin = false;
    }
    if (pin) continue;
    const SurfacePoint foot = rays.closest(s.at_mm);
    s.foot_mm = foot.point_mm;
    s.out = cavity.normal(foot.triangle);
    out.push_back(s);
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const StandsOut& a, const StandsOut& b) { return a.volume_mm3 > b.volume_mm3; });
  return out;
}

}  // namespace

double Seating::outside_mm3() const { return std::max(0.0, body_mm3 - inside_mm3); }

Result<Seated> seat_insert(const TriMesh& cavity, const RayScene& rays, const TriMesh& body, const Insert& insert,
                           const InsertRules& rules, const Progress& progress) {
  const std::string name = insert.name.empty() ? "the insert" : insert.name;
  if (body.triangles.empty()) return Error{name + " has no body", "insert", "Its bore must leave a wall round it."};
  const MeshMeasure whole = measure(cavity), own = measure(body);
  for (int k = 0; k < 3; ++k)
    if (own.box_mm.min[k] > whole.box_mm.max[k] || whole.box_mm.min[k] > own.box_mm.max[k])
      return Error{name + " lies outside the part", "insert", "Move it to where it is to be cast in."};
  auto left = subtract(cavity, body);
  if (!left)
    return Error{name + " cannot be taken out of the cavity: " + left.error().what, "insert",
                 "Mend its mesh first, or move it a little."};
  if (progress.cancelled()) return Error::stopped();
  const double left_mm3 = measure(*left).volume_mm3;
  Seated r;
  r.how.body_mm3 = own.volume_mm3;
  r.how.inside_mm3 = whole.volume_mm3 - left_mm3;
  if (left->triangles.empty() || left_mm3 < 1e-3 * whole.volume_mm3)
    return Error{name + " leaves no room for the resin", "insert", "Take a smaller one, or move it."};
  if (r.how.inside_mm3 < 1e-6 * own.volume_mm3)
    return Error{name + " lies outside the part, or where another insert is", "insert",
                 "Move it to where it is to be cast in."};
  if (r.how.inside_mm3 < (1 - 1e-9) * own.volume_mm3) {
    auto out = subtract(body, cavity);
    if (!out) return out.error();
    r.outside = *std::move(out);
  }
  if (progress.cancelled()) return Error::stopped();
  const double on_pin = insert.hold == Insert::Hold::pin ? 0.5 * insert.across_mm * 1.02 : 0;
  for (StandsOut& s : pieces_out(r.outside, cavity, rays, insert, on_pin))
    (s.deep_mm >= rules.seat_mm ? r.how.seats : r.how.touches).push_back(s);

  // Flush in the wall is a touch too; but for the end of one on a pin, which stands on the mould there.
  const double tell = 1e-5 * std::max(1.0, length(whole.box_mm.size()));
  const Vec3 axis = unit(insert.axis);
  std::optional<StandsOut> flush;
  for (size_t t = 0; t < body.triangles.size() && !flush; ++t) {
    if (insert.hold == Insert::Hold::pin && std::abs(dot(body.normal(t), axis)) > 0.99) continue;
    if (body.area_mm2(t) < 1e-9) continue;
    each_spot(body, t, 1.0, [&](const Vec3& p, double) {
      if (flush) return;
      const SurfacePoint near = rays.closest(p);
      if (near.distance_mm > tell || dot(cavity.normal(near.triangle), body.normal(t)) < 0.99) return;
      flush = StandsOut{p, near.point_mm, cavity.normal(near.triangle), 0, 0};
    });
  }
  if (flush) r.how.touches.push_back(*flush);

  // From the insert's skin along its normals to the wall. By a seat its skin slopes into the wall: not counted there.
  std::shared_ptr<const RayScene> stands_out;
  if (!r.outside.triangles.empty())
    if (auto scene = RayScene::build(r.outside)) stands_out = *scene;
  const Vec3 size = own.box_mm.size();
  const double step = std::max(0.4, std::max({size.x, size.y, size.z}) / 60);
  double thin_mm2 = 0, skin_mm2 = 0;
  for (size_t t = 0; t < left->triangles.size(); ++t) {
    if (t % 4096 == 0 && progress.cancelled()) return Error::stopped();
    if (left->area_mm2(t) < 1e-9 || rays.closest(left->centre(t)).distance_mm < tell) continue;  // the part's own skin
    const Vec3 way = -left->normal(t);
    each_spot(*left, t, step, [&](const Vec3& p, double mm2) {
      if (stands_out && stands_out->closest(p).distance_mm < rules.cover_mm) return;
      skin_mm2 += mm2;
      const auto hit = rays.first_hit(p, way, tell);
      if (!hit) return;
      if (hit->t_mm < rules.cover_mm) thin_mm2 += mm2;
      if (!r.how.gap_mm || hit->t_mm < *r.how.gap_mm)
        r.how.gap_mm = hit->t_mm, r.how.gap_at_mm = p, r.how.gap_way = way;
    });
  }
  r.how.thin_share = skin_mm2 > 0 ? thin_mm2 / skin_mm2 : 0;
  r.cavity = *std::move(left);
  return r;
}

double lift_on_insert_n(double immersed_mm3, double mass_g, double resin_g_cm3) {
  return (immersed_mm3 * 1e-3 * resin_g_cm3 - mass_g) * 1e-3 * gravity;
}

}  // namespace palinform
