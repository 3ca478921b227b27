// Closing a squeeze mould: known answers on hollows whose shape can be written down.
#include <catch2/catch.hpp>
#include <functional>
#include <numbers>

#include "flow/closing.hpp"
#include "shapes.hpp"
#include "stages/wall.hpp"

namespace tests_flow_closing {

using namespace palinform;

namespace {

/// A land 60 × 60 at height 0; over the disc of radius `r` the part from −below(d) to over(d).
ClosingGrid disc(double radius, const std::function<double(double)>& below, const std::function<double(double)>& over,
                 double pitch = 0.75) {
  ClosingGrid g;
  g.pitch_mm = pitch;
  g.u0_mm = g.v0_mm = -30;
  g.nu = g.nv = static_cast<int>(60 / pitch);
  g.floor_mm.assign(g.count(), 0), g.roof_mm.assign(g.count(), 0), g.part.assign(g.count(), 0);
  for (size_t c = 0; c < g.count(); ++c) {
    const Point2 p = g.middle(c);
    const double d = std::hypot(p.x, p.y);
    if (d >= radius) continue;
    g.part[c] = 1;
    g.floor_mm[c] = static_cast<float>(-below(d));
    g.roof_mm[c] = static_cast<float>(over(d));
  }
  return g;
}
double flat(double) { return 4; }
double none(double) { return 0; }
double dome(double d) { return 8 * (1 - d * d / 400); }  // a paraboloid on the disc of 20

ClosingHow with(const ClosingGrid& g, double over_share, double heap_high) {
  ClosingHow how;
  how.resin_mm3 = g.part_mm3() * (1 + over_share);
  how.heap_high_mm = heap_high;
  how.flash_mm = 0.02;
  return how;
}
double dome_mm3(const ClosingGrid& g) {
  double sum = 0;
  for (size_t c = 0; c < g.count(); ++c) sum += static_cast<double>(g.roof_mm[c]) * g.pitch_mm * g.pitch_mm;
  return sum;
}

}  // namespace

TEST_CASE("a flat plate closes without air and runs over by its surplus", "[flow]") {
  const ClosingGrid g = disc(20, flat, none);
  const ClosingHow how = with(g, 0.12, 4);
  const Closing c = close_squeeze(g, how);
  CHECK(c.trapped_mm3 < 1e-3 * g.part_mm3());
  CHECK(c.short_mm3 < 1e-3 * g.part_mm3());
  // What is not in the plate lies on the land as flash, or has run out.
  const double flash = how.flash_mm * 60 * 60;
  CHECK(c.ran_over_mm3 <= 0.12 * g.part_mm3() + 1e-6);
  CHECK(c.ran_over_mm3 >= 0.12 * g.part_mm3() - flash - 1e-3 * g.part_mm3());
}

TEST_CASE("a dome in the upper half over level resin stays full of air; heaped to its top, none", "[flow]") {
  const ClosingGrid g = disc(20, flat, dome);
  // Level: just side b's hollow is full.
  ClosingHow level = with(g, 0, 0.001);
  level.resin_mm3 = g.part_mm3() - dome_mm3(g);
  const Closing dry = close_squeeze(g, level);
  CHECK(dry.trapped_mm3 + dry.short_mm3 == Approx(dome_mm3(g)).epsilon(0.03));
  // As much as the whole needs, but spread as a layer: the land shuts the line before the dome is full.
  const Closing flooded = close_squeeze(g, with(g, 0.12, 0.5));
  REQUIRE(flooded.pockets.size() == 1);
  CHECK(flooded.pockets[0].volume_mm3 > 0.7 * dome_mm3(g));
  CHECK(std::abs(flooded.pockets[0].apex_mm.x) < 1);
  CHECK(std::abs(flooded.pockets[0].apex_mm.y) < 1);
  CHECK(flooded.pockets[0].apex_mm.z == Approx(8).margin(0.1));
  // Heaped as high as the dome.
  const Closing heaped = close_squeeze(g, with(g, 0.12, 9));
  CHECK(heaped.trapped_mm3 < 0.01 * dome_mm3(g));
  CHECK(heaped.short_mm3 < 0.01 * dome_mm3(g));
}

TEST_CASE("too little resin is told as short, by what it lacks", "[flow]") {
  const ClosingGrid g = disc(20, flat, dome);
  ClosingHow how = with(g, -0.15, 9);
  const Closing c = close_squeeze(g, how);
  CHECK(c.short_mm3 + c.trapped_mm3 == Approx(0.15 * g.part_mm3()).epsilon(0.12));
  // A plate lies level under its roof and is never reached.
  const ClosingGrid plate = disc(20, flat, none);
  const Closing low = close_squeeze(plate, with(plate, -0.15, 4));
  CHECK(low.short_mm3 == Approx(0.15 * plate.part_mm3()).epsilon(0.01));
  CHECK(low.trapped_mm3 == 0);
}

TEST_CASE("resin is kept: what was poured is in the mould, on the land or over the edge", "[flow]") {
  const ClosingGrid g = disc(20, flat, dome);
  for (const double high : {1.0, 4.0, 9.0})
    for (const double over : {-0.1, 0.0, 0.12, 0.4}) {
      const ClosingHow how = with(g, over, high);
      const Closing c = close_squeeze(g, how);
      const double in_it = g.part_mm3() - c.short_mm3 - c.trapped_mm3;
      const double flash = how.flash_mm * 60 * 60;
      CHECK(how.resin_mm3 - c.ran_over_mm3 >= in_it - 0.01 * g.part_mm3());
      CHECK(how.resin_mm3 - c.ran_over_mm3 <= in_it + flash + 0.01 * g.part_mm3());
    }
}

TEST_CASE("the plan heaps it under the hollow of the roof, wherever that lies", "[flow]") {
  for (const Point2 at : {Point2{0, 0}, Point2{11, 0}, Point2{-6, 9}}) {
    ClosingGrid g = disc(24, flat, none);
    for (size_t c = 0; c < g.count(); ++c) {
      const Point2 p = g.middle(c);
      const double d = std::hypot(p.x - at.x, p.y - at.y);
      if (d < 8) g.roof_mm[c] = static_cast<float>(5 * (1 - d * d / 64));
    }
    const ClosingHow how = plan_closing(g, with(g, 0.12, 7), false, false);
    CHECK(std::hypot(how.heap_mm.x - at.x, how.heap_mm.y - at.y) < 4);
    CHECK(close_squeeze(g, how).trapped_mm3 < 2);
    // Far from it, air stays in the hollow.
    ClosingHow wrong = with(g, 0.12, 2);
    wrong.heap_mm = {-at.x - 14, -at.y - 8};
    CHECK(close_squeeze(g, wrong).trapped_mm3 > 50);
  }
}

TEST_CASE("the front comes from the end that is set down first", "[flow]") {
  const ClosingGrid g = disc(20, flat, none);
  ClosingHow how = with(g, 0.12, 3);
  how.hinge_deg = 180;
  const Closing c = close_squeeze(g, how);
  double near = 0, far = 0;
  int n = 0, m = 0;
  for (size_t k = 0; k < g.count(); ++k) {
    if (!g.part[k] || !std::isfinite(c.reached_mm[k])) continue;
    if (g.middle(k).x < -12) near += static_cast<double>(c.reached_mm[k]), ++n;
    if (g.middle(k).x > 12) far += static_cast<double>(c.reached_mm[k]), ++m;
  }
  REQUIRE(n > 0);
  REQUIRE(m > 0);
  CHECK(near / n > far / m);  // reached while the other end stood wider open
}

TEST_CASE("turning the part turns the closing with it", "[flow]") {
  // A stud off the middle of a plate: built as a solid, through the real mould.
  const TriMesh part = shapes::box({-20, -12, -4}, {20, 12, 0}, 4);
  double least[2] = {0, 0};
  for (const bool turn : {false, true}) {
    const TriMesh mesh = turn ? transformed(part, shapes::odd_turn()) : part;
    const auto pairs = pair_edges(mesh);
    const auto rays = RayScene::build(mesh);
    REQUIRE(rays);
    const Vec3 pull = turn ? shapes::odd_turn().direction({0, 0, 1}) : Vec3{0, 0, 1};
    const auto split = split_along(mesh, pairs, **rays, pull);
    REQUIRE(split);
    MouldOptions o;
    o.wall_mm = 10;
    const auto mould = two_part_mould(mesh, *split, o);
    REQUIRE(mould);
    // All of it lies on one side of the line: that side has to hold the resin.
    double air[2];
    for (const bool over : {false, true}) {
      const auto g = closing_grid(mesh, *mould, over, 80);
      REQUIRE(g);
      CHECK(g->part_mm3() == Approx(40 * 24 * 4).epsilon(0.03));
      const ClosingHow how = plan_closing(*g, with(*g, 0.12, 4), false, false);
      air[over] = close_squeeze(*g, how).trapped_mm3;
    }
    least[turn] = std::min(air[0], air[1]);
    CHECK(least[turn] < 40);
    CHECK(std::max(air[0], air[1]) > 500);
  }
  CHECK(least[1] == Approx(least[0]).margin(20));
}

TEST_CASE("the force on a land strip follows its width cubed and the gap squared", "[flow]") {
  // μ = 0.5 Pa·s, 200 mm of line, 10 mm wide, 0.05 mm in 60 s: 0.5·0.2·1e-6 / (2·60·2.5e-9) = 0.333 N.
  CHECK(land_force_n(0.5, 200, 10, 0.05, 60) == Approx(1.0 / 3).epsilon(1e-3));
  CHECK(land_force_n(0.5, 200, 20, 0.05, 60) == Approx(8.0 / 3).epsilon(1e-3));
  CHECK(land_force_n(0.5, 200, 10, 0.1, 60) == Approx(1.0 / 12).epsilon(1e-3));
  CHECK(land_force_n(0.5, 200, 10, 0, 60) == 0);
}

}  // namespace tests_flow_closing
