#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "findings/mould.hpp"
#include "mesh/soundness.hpp"
#include "mould/box.hpp"
#include "shapes.hpp"
#include "solid/columns.hpp"

namespace tests_mould_mould {

using namespace palinform;

namespace {

Result<Mould> mould_of(const TriMesh& m, const Vec3& pull, MouldOptions o = {}) {
  const auto s = split_along(m, pair_edges(m), **RayScene::build(m), pull);
  if (!s) return s.error();
  return two_part_mould(m, *s, o);
}

}  // namespace

TEST_CASE("columns: a box exactly, a ball closely, turned or not", "[mould]") {
  const auto box = build_columns(shapes::box({1, 2, 3}, {11, 22, 33}), frame_along({0, 0, 1}), 0.5, 2);
  REQUIRE(box);
  CHECK(box->volume_mm3() == Approx(10 * 20 * 30).epsilon(1e-9));
  CHECK(box->broken == 0);
  const TriMesh ball = shapes::icosphere(10, 4);
  const double true_volume = measure(ball).volume_mm3;
  double last = 1e300;
  for (const double pitch : {1.0, 0.5, 0.25}) {
    const auto c = build_columns(ball, frame_along({0, 0, 1}), pitch, 1);
    const double off = std::abs(c->volume_mm3() / true_volume - 1);
    CHECK(off < 0.02 * pitch);
    CHECK(off <= last + 1e-3);
    last = off;
  }
  const Vec3 d = unit(Vec3{1, -2, 0.7});
  const auto turned = build_columns(ball, frame_along(d), 0.25, 1);
  CHECK(turned->volume_mm3() == Approx(true_volume).epsilon(2e-3));
  CHECK(turned->broken == 0);
}

TEST_CASE("columns keep runs apart and in order", "[mould]") {
  const TriMesh m = shapes::joined(shapes::box({0, 0, 0}, {10, 10, 2}), shapes::box({0, 0, 5}, {10, 10, 9}));
  const auto c = build_columns(m, frame_along({0, 0, 1}), 1, 1);
  REQUIRE(c);
  size_t two = 0;
  for (size_t k = 0; k < c->count(); ++k) {
    const uint32_t n = c->start[k + 1] - c->start[k];
    CHECK((n == 0 || n == 2));
    if (n == 2) {
      ++two;
      CHECK(c->span[c->start[k]].high_mm == Approx(2));
      CHECK(c->span[c->start[k] + 1].low_mm == Approx(5));
    }
  }
  CHECK(two == 100);
  CHECK_FALSE(build_columns(m, frame_along({0, 0, 1}), 0, 1));
  CHECK_FALSE(build_columns(m, frame_along({0, 0, 1}), 1e-4, 1));
}

TEST_CASE("frames are right-handed and unit for any direction", "[mould]") {
  for (const Vec3 d :
       {Vec3{0, 0, 1}, Vec3{0, -1, 0}, Vec3{1, 0, 0}, unit(Vec3{1, 2, 3}), unit(Vec3{-0.9, 0.01, 0.3})}) {
    const Transform f = frame_along(d);
    CHECK(length(f.rows[2] - d) < 1e-12);
    CHECK(length(cross(f.rows[0], f.rows[1]) - f.rows[2]) < 1e-12);
  }
}

TEST_CASE("volumes add up: box = part + rubber, on six shapes", "[mould]") {
  const std::vector<std::pair<TriMesh, Vec3>> shapes_and_pulls = {
      {shapes::icosphere(12, 4), {0, 0, 1}},
      {shapes::torus(20, 6, 96, 48), {0, 0, 1}},
      {shapes::box({0, 0, 0}, {40, 20, 10}, 3), {0, 0, 1}},
      {shapes::bored_box({20, 15, 10}, 4, 1, 48), {0, 0, 1}},
      {shapes::bored_box({20, 15, 10}, 4, 2, 48), {0, 0, 1}},
      {shapes::cylinder(8, 30, 64), {1, 0, 0}}};
  for (const auto& [mesh, pull] : shapes_and_pulls) {
    const auto m = mould_of(mesh, pull);
    REQUIRE(m);
    CHECK(m->part_mm3 + m->rubber_mm3 == Approx(m->box_mm3).epsilon(2e-3));
    CHECK(m->pours.size() == 2);
    CHECK(m->pours[0].volume_mm3 + m->pours[1].volume_mm3 == Approx(m->rubber_mm3));
    for (const RubberPour& p : m->pours) {
      CHECK(p.curve.front().volume_mm3 == 0);
      CHECK(p.curve.back().volume_mm3 == Approx(p.volume_mm3).epsilon(1e-9));
      CHECK(p.curve.back().height_mm == Approx(p.fill_height_mm));
      for (size_t i = 1; i < p.curve.size(); ++i) CHECK(p.curve[i].volume_mm3 >= p.curve[i - 1].volume_mm3);
    }
  }
}

TEST_CASE("a ball splits its rubber in halves, flat across", "[mould]") {
  const auto m = mould_of(shapes::icosphere(12, 5), {0, 0, 1});
  REQUIRE(m);
  // Walls that lean in by half a degree still count as side a: the line sits that much (0.12 mm) below the middle.
  CHECK(m->pours[0].volume_mm3 == Approx(m->pours[1].volume_mm3).epsilon(1e-2));
  CHECK(m->inner_mm.size().x == Approx(44).epsilon(1e-3));
  CHECK(m->pours[0].fill_height_mm == Approx(22).margin(0.4));
  CHECK(m->steepest_deg < 10);
  // Half the height of a half pour holds the block's slice less the ball's.
  const double h = 6, r = 12, slab = 44 * 44 * h, cap = std::numbers::pi * (r * r * h - h * h * h / 3);
  double at = 0;
  for (const auto& c : m->pours[0].curve)
    if (c.height_mm <= h + m->pours[0].fill_height_mm - 22) at = c.volume_mm3;
  CHECK(at == Approx(slab - cap).epsilon(0.03));
}

TEST_CASE("height for a poured volume inverts the curve", "[mould]") {
  const auto m = mould_of(shapes::bored_box({20, 15, 10}, 4, 2, 48), {0, 0, 1});
  REQUIRE(m);
  for (const RubberPour& p : m->pours) {
    CHECK(Mould::height_for(p, 0) == 0);
    CHECK(Mould::height_for(p, p.volume_mm3) == Approx(p.fill_height_mm));
    double last = 0;
    for (int i = 1; i <= 20; ++i) {
      const double h = Mould::height_for(p, p.volume_mm3 * i / 20);
      CHECK(h >= last);
      last = h;
    }
  }
}

TEST_CASE("turning the part turns nothing but the part", "[mould]") {
  const TriMesh mesh = shapes::bored_box({20, 15, 10}, 4, 2, 48);
  const auto a = mould_of(mesh, {0, 0, 1});
  // About the pull the smallest box follows the frame, so only quarter turns and flips leave it alike.
  Transform quarter = Transform::turn({1, 0, 0}, std::numbers::pi / 2);
  const auto b = mould_of(transformed(mesh, quarter), quarter.direction({0, 0, 1}));
  REQUIRE(a);
  REQUIRE(b);
  CHECK(b->rubber_mm3 == Approx(a->rubber_mm3).epsilon(1e-3));
  CHECK(b->pours[0].volume_mm3 == Approx(a->pours[0].volume_mm3).epsilon(5e-3));
}

TEST_CASE("the wall rule, the hold-down force, panels and findings", "[mould]") {
  CHECK(wall_by_rule_mm({50, 20, 10}, 40, {}) == 10);
  CHECK(wall_by_rule_mm({100, 20, 10}, 40, {}) == Approx(12));
  CHECK(wall_by_rule_mm({100, 20, 10}, 15, {}) == Approx(15));
  MouldOptions o;
  o.master_g = 0;
  o.rubber_density_g_cm3 = 1.1;
  const TriMesh cube = shapes::box({0, 0, 0}, {20, 20, 20}, 2);
  auto m = mould_of(cube, {0, 0, 1}, o);
  REQUIRE(m);
  CHECK(*m->hold_down_whole_n == Approx(8000e-3 * 1.1e-3 * 9.80665));
  CHECK(*m->hold_down_n == Approx(1.1e-6 * 9.80665 * m->sunk_mm3));
  CHECK(m->sunk_mm3 > 7800);  // all but a hair lies over the line  // (8 cm³ × 1.1 g/cm³)·g
  CHECK(mould_findings(*m, 10).size() == 1);
  o.master_g = 50;  // heavier than what it displaces: sinks
  m = mould_of(cube, {0, 0, 1}, o);
  CHECK(*m->hold_down_n == 0);
  CHECK(mould_findings(*m, 10).empty());
  CHECK(mould_findings(*m, 14)[0].code == "mould-wall-thin");
  CHECK(m->panels.size() == 5);
  CHECK(m->panels[0].width_mm == Approx(40 + 12));
  o.wall_mm = 0;
  CHECK_FALSE(mould_of(cube, {0, 0, 1}, o));
}

TEST_CASE("the picture's halves enclose about the volume that is poured", "[mould]") {
  const TriMesh mesh = shapes::icosphere(12, 5);
  const auto s = *split_along(mesh, pair_edges(mesh), **RayScene::build(mesh), {0, 0, 1});
  const auto m = *two_part_mould(mesh, s, {});
  for (const bool upper : {true, false}) {
    const TriMesh half = rubber_half(m, mesh, s, upper);
    CHECK(measure(half).volume_mm3 == Approx(m.pours[upper ? 0 : 1].volume_mm3).epsilon(0.02));
  }
}

}  // namespace tests_mould_mould
