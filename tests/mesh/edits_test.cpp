#include <catch2/catch.hpp>
#include <numbers>

#include "mesh/shape_edits.hpp"
#include "mesh/soundness.hpp"
#include "mesh/thickness.hpp"
#include "original/measure_between.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"

namespace tests_mesh_edits {

using namespace palinform;

namespace {

struct Part : ReadyPart {
  using ReadyPart::ReadyPart;
  Clicked click(const Vec3& near) const {
    const SurfacePoint p = rays->closest(near);
    return {fit_face(mesh, pairs, p.triangle), p.point_mm};
  }
};

}  // namespace

TEST_CASE("the other hand has the same volume, turned about", "[mesh]") {
  TriMesh m = transformed(shapes::bored_box({30, 20, 6}, 4, 2, 48), shapes::odd_turn());
  for (int axis = 0; axis < 3; ++axis) {
    const TriMesh o = mirrored(m, axis);
    CHECK(check_soundness(o)->sound());
    CHECK(measure(o).volume_mm3 == Approx(measure(m).volume_mm3).epsilon(1e-12));
    const Vec3 a = measure(m).centroid_mm, b = measure(o).centroid_mm, c = measure(m).box_mm.centre();
    CHECK(b[axis] - c[axis] == Approx(c[axis] - a[axis]).margin(1e-9));
    const TriMesh back = mirrored(o, axis);
    for (size_t i = 0; i < m.points.size(); ++i) CHECK(length(back.points[i] - m.points[i]) < 1e-9);
    CHECK(back.triangles == m.triangles);
  }
}

TEST_CASE("stock on a flat face adds area times thickness", "[mesh]") {
  const Part p(shapes::bored_box({30, 20, 6}, 4, 2, 64));
  const Clicked top = p.click({25, 15, 6});
  REQUIRE(top.face.kind == FaceKind::plane);
  double area = 0;
  for (const uint32_t t : top.face.triangles) area += p.mesh.area_mm2(t);
  const auto more = with_stock(p.mesh, p.pairs, top.face, 0.8);
  REQUIRE(more);
  CHECK(check_soundness(*more)->sound());
  CHECK(measure(*more).volume_mm3 == Approx(measure(p.mesh).volume_mm3 + 0.8 * area).epsilon(1e-9));
  CHECK(measure(*more).box_mm.max.z == Approx(6.8));
  CHECK_FALSE(with_stock(p.mesh, p.pairs, top.face, 0));
  CHECK_FALSE(with_stock(p.mesh, p.pairs, top.face, -1));
  CHECK_FALSE(with_stock(p.mesh, p.pairs, top.face, 1000));
  CHECK_FALSE(with_stock(p.mesh, p.pairs, p.click({4, 0, 0}).face, 1));  // the bore's wall is not flat
}

TEST_CASE("a plugged bore is solid but for its dimples", "[mesh]") {
  const double r = 4;
  const int n = 64;
  const Part p(shapes::bored_box({30, 20, 6}, r, 2, n));
  const Clicked bore = p.click({3.9, 0, 0});
  REQUIRE(bore.face.kind == FaceKind::bore);
  const double gon = 0.5 * n * std::sin(2 * std::numbers::pi / n);
  const auto flat = plugged(p.mesh, p.pairs, bore.face, 0);
  REQUIRE(flat);
  CHECK(check_soundness(*flat)->sound());
  CHECK(measure(*flat).volume_mm3 == Approx(60.0 * 40 * 12).epsilon(1e-9));
  const auto dimpled = plugged(p.mesh, p.pairs, bore.face, 2);
  REQUIRE(dimpled);
  CHECK(check_soundness(*dimpled)->sound());
  // Two cones of 90°: a third of base times height each, the base a regular polygon.
  CHECK(measure(*dimpled).volume_mm3 == Approx(60.0 * 40 * 12 - 2 * gon * 1 * 1 / 3).epsilon(1e-6));
  CHECK_FALSE(plugged(p.mesh, p.pairs, bore.face, 7));
  CHECK_FALSE(plugged(p.mesh, p.pairs, p.click({25, 15, 6}).face, 1));
}

TEST_CASE("walls and sections", "[mesh]") {
  const Part p(shapes::box({0, 0, 0}, {40, 24, 9}, 4));
  const auto w = wall_at(p.mesh, *p.rays, {20, 12, 9});
  REQUIRE(w);
  CHECK(w->thickness_mm == Approx(9));
  // The ball in the middle of the end face touches floor and top: its diameter is the bar's thickness.
  CHECK(*section_at_mm(p.mesh, *p.rays, {0, 12, 4.5}) == Approx(9).epsilon(0.03));
  CHECK(*section_at_mm(p.mesh, *p.rays, {20, 12, 9}) == Approx(9).epsilon(0.03));
  const Part ball(shapes::icosphere(10, 4));
  CHECK(*section_at_mm(ball.mesh, *ball.rays, {10, 0, 0}) == Approx(20).epsilon(0.1));  // facets bend the rays' start
  const Part turned(transformed(p.mesh, shapes::odd_turn()));
  CHECK(*section_at_mm(turned.mesh, *turned.rays, shapes::odd_turn().point({20, 12, 9})) == Approx(9).epsilon(0.03));
}

TEST_CASE("two clicks make a size", "[original]") {
  for (const bool turn : {false, true}) {
    const auto place = [&](Vec3 v) { return turn ? shapes::odd_turn().point(v) : v; };
    TriMesh m = shapes::bored_box({30, 20, 6}, 4, 2, 96);
    if (turn) m = transformed(m, shapes::odd_turn());
    const Part p(std::move(m));
    const Clicked left = p.click(place({-30, 5, 1})), right = p.click(place({30, -8, 2})),
                  top = p.click(place({20, 15, 6})), bore = p.click(place({4, 0, 1}));
    const auto width = propose_faces(left, right);
    REQUIRE(width);
    CHECK(width->size.kind == SizeKind::outer);
    CHECK(width->size.nominal_mm == Approx(60).margin(1e-6));
    CHECK(length(width->size.to_mm - width->size.from_mm) == Approx(60));
    CHECK(width->words.find("parallel within 0.01") != std::string::npos);
    const auto angle = propose_faces(left, top);
    REQUIRE(angle);
    CHECK(angle->size.kind == SizeKind::angle);
    CHECK(angle->size.nominal_mm == Approx(90));
    const auto round = propose_round(bore, {1, 0, 0});
    REQUIRE(round);
    CHECK(round->size.kind == SizeKind::bore);
    CHECK(round->size.nominal_mm == Approx(8).margin(0.01));
    CHECK(*round->size.depth_mm == Approx(12).margin(1e-6));
    CHECK(length(round->size.to_mm - round->size.from_mm) == Approx(8).margin(0.01));
    const Vec3 share = scale_share_of(round->size);
    CHECK(share.x + share.y + share.z == Approx(1));
    if (!turn) CHECK(share.z == Approx(0).margin(1e-9));
    const auto wall = propose_wall(p.mesh, *p.rays, place({20, 15, 6}));
    REQUIRE(wall);
    CHECK(wall->size.nominal_mm == Approx(12).margin(1e-6));
    CHECK_FALSE(propose_faces(left, p.click(place({-30, -6, -2}))));  // one and the same face
    CHECK_FALSE(propose_round(left, {1, 0, 0}));
    CHECK_FALSE(propose_axes(left, bore));
    CHECK_FALSE(propose_axes(bore, p.click(place({-4, 0, -2}))));
    CHECK_FALSE(propose_edge_radius(left, {1, 0, 0}));
  }
}

TEST_CASE("distance and parallelism of two axes, crossed axes too", "[original]") {
  const auto fit = [](Vec3 point, Vec3 dir, double d) {
    FaceFit f;
    f.kind = FaceKind::bore;
    f.point_mm = point;
    f.direction = unit(dir);
    f.diameter_mm = d;
    f.depth_mm = 10;
    return Clicked{f, point + Vec3{0, 0, 2}};
  };
  const auto par = propose_axes(fit({0, 0, 0}, {0, 0, 1}, 8), fit({48, 0, 3}, {0, 0, -1}, 6));
  REQUIRE(par);
  CHECK(par->size.kind == SizeKind::centre);
  CHECK(par->size.nominal_mm == Approx(48));
  CHECK(par->size.from_mm.z == Approx(2));  // at the height of the click
  CHECK(par->size.to_mm.z == Approx(2));
  const auto lean = propose_axes(fit({0, 0, 0}, {0, 0, 1}, 8), fit({48, 0, 0}, {0, std::sin(0.01), std::cos(0.01)}, 8));
  REQUIRE(lean);
  CHECK(lean->words.find("within 0.6°") != std::string::npos);
  const auto skew = propose_axes(fit({0, 0, 0}, {0, 0, 1}, 8), fit({5, 12, 7}, {0, 1, 0}, 8));
  REQUIRE(skew);
  CHECK(skew->size.nominal_mm == Approx(5));
  CHECK(length(skew->size.to_mm - skew->size.from_mm) == Approx(5));
  CHECK(clicks_of(Measuring::axes) == 2);
  CHECK(clicks_of(Measuring::wall) == 1);
}

}  // namespace tests_mesh_edits
