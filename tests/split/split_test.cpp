#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "shapes.hpp"
#include "split/accessibility.hpp"
#include "split/parting.hpp"
#include "split/pull_search.hpp"

namespace tests_split_split {

using namespace palinform;

namespace {

double locked_area(const TriMesh& m, const Vec3& d) {
  const auto rays = *RayScene::build(m);
  const auto up = *releasable_share(m, *rays, d), down = *releasable_share(m, *rays, -d);
  double sum = 0;
  for (size_t t = 0; t < m.triangles.size(); ++t) sum += m.area_mm2(t) * (1 - std::max(up[t], down[t]));
  return sum;
}

Result<Split> split(const TriMesh& m, const Vec3& d) { return split_along(m, pair_edges(m), **RayScene::build(m), d); }
Result<PullSearch> search(const TriMesh& m) {
  const EdgePairs pairs = pair_edges(m);
  const auto rays = *RayScene::build(m);
  const auto bores = find_bores(m, pairs, *rays);
  return search_pull(m, pairs, *rays, *bores);
}

}  // namespace

TEST_CASE("M2: a sphere locks nowhere, whatever the pull", "[split]") {
  const TriMesh m = shapes::icosphere(10, 4);
  for (const Vec3 d : {Vec3{0, 0, 1}, Vec3{1, 0, 0}, unit(Vec3{1, 2, 3}), unit(Vec3{-0.2, 0.9, 0.1})})
    CHECK(locked_area(m, d) == Approx(0).margin(1e-9));
}

TEST_CASE("M2: a torus along its axis locks nowhere; across it, its inside does", "[split]") {
  const TriMesh m = shapes::torus(20, 6, 120, 60);
  CHECK(locked_area(m, {0, 0, 1}) == Approx(0).margin(1e-6));
  CHECK(locked_area(m, {1, 0, 0}) > 100);
}

TEST_CASE("M2: a through bore across the pull is an undercut, along it is none", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const TriMesh m = transformed(shapes::bored_box({20, 15, 10}, 4, 1, 96), t);
    CHECK(locked_area(m, t.direction({0, 1, 0})) == Approx(0).margin(1e-6));
    // All of the wall: half faces up, half down, and each sees the other.
    const double wall = 2 * std::numbers::pi * 4 * 30;
    CHECK(locked_area(m, t.direction({0, 0, 1})) == Approx(wall).epsilon(0.02));
  }
}

TEST_CASE("shares grow with the opening: a face half under a roof releases half", "[split]") {
  // A slab with a lower slab whose top is covered over half its length.
  const TriMesh m = shapes::joined(shapes::box({0, 0, 0}, {20, 10, 5}), shapes::box({10, -1, 8}, {21, 11, 10}));
  const auto rays = *RayScene::build(m);
  const auto up = *releasable_share(m, *rays, {0, 0, 1});
  double open = 0, whole = 0;
  for (size_t t = 0; t < m.triangles.size(); ++t)
    if (m.normal(t).z > 0.99 && std::abs(m.centre(t).z - 5) < 0.01)
      open += up[t] * m.area_mm2(t), whole += m.area_mm2(t);
  CHECK(whole == Approx(200));
  CHECK(open == Approx(100).epsilon(0.02));
}

TEST_CASE("M3: the line round a sphere is 2πr, one loop", "[split]") {
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const auto s = split(transformed(shapes::icosphere(10, 5), t), t.direction({0, 0, 1}));
    REQUIRE(s);
    REQUIRE(s->loops.size() == 1);
    CHECK(s->loops[0].outer);
    CHECK(s->line_mm == Approx(2 * std::numbers::pi * 10).epsilon(0.01));
  }
}

TEST_CASE("M3: the torus has an outer and an inner loop, 4πR together", "[split]") {
  const auto s = split(shapes::torus(20, 6, 160, 80), {0, 0, 1});
  REQUIRE(s);
  REQUIRE(s->loops.size() == 2);
  CHECK(s->loops[0].outer);
  CHECK_FALSE(s->loops[1].outer);
  CHECK(s->line_mm == Approx(4 * std::numbers::pi * 20).epsilon(0.01));
  CHECK(s->loops[0].length_mm == Approx(2 * std::numbers::pi * 26).epsilon(0.01));
}

TEST_CASE("every face has a side, and the sides change places with the pull", "[split]") {
  const TriMesh m = shapes::bored_box({20, 15, 10}, 4, 2, 48);
  const auto up = *split(m, {0, 0, 1}), down = *split(m, {0, 0, -1});
  REQUIRE(up.side.size() == m.triangles.size());
  for (size_t t = 0; t < m.triangles.size(); ++t)
    if (std::abs(m.normal(t).z) > 0.5) {
      CHECK(up.side[t] == (m.normal(t).z < 0));
      CHECK(down.side[t] == (m.normal(t).z > 0));
    }
  // Walls go with side a, so the line lies on the lower edge: outline and bore.
  REQUIRE(up.loops.size() == 2);
  CHECK(up.loops[0].length_mm == Approx(140).epsilon(0.02));
  CHECK(up.height_range_mm < 0.5);
}

TEST_CASE("the search finds the pull a moulder would take, and ranks the rest", "[split]") {
  // A bore across: pull along it.
  CHECK(std::abs(search(shapes::bored_box({20, 15, 10}, 4, 1, 64))->best.pull.y) == Approx(1));
  CHECK(std::abs(search(shapes::bored_box({20, 15, 10}, 4, 0, 64))->best.pull.x) == Approx(1));
  // A torus comes apart along its axis, turned or not.
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const auto s = search(transformed(shapes::torus(20, 6, 90, 45), t));
    REQUIRE(s);
    CHECK(std::abs(dot(s->best.pull, t.direction({0, 0, 1}))) > 0.998);
    CHECK(s->best.locked_area_mm2 == Approx(0).margin(20));
    CHECK(s->rose.size() >= 520);
    CHECK(s->candidates.size() >= 5);
    CHECK(s->candidates.front().pull == s->best.pull);
    CHECK(s->candidates.front().exact);
    for (size_t i = 2; i < s->candidates.size(); ++i) CHECK(s->candidates[i - 1].score <= s->candidates[i].score);
  }
  const auto plate = search(shapes::box({0, 0, 0}, {30, 20, 5}, 4));
  CHECK(plate->best.locked_area_mm2 == Approx(0).margin(1e-6));
  const auto again = search(shapes::box({0, 0, 0}, {30, 20, 5}, 4));
  CHECK(again->best.pull == plate->best.pull);
  CHECK(again->best.loops[0].points_mm == plate->best.loops[0].points_mm);
  TriMesh open = shapes::box({0, 0, 0}, {1, 1, 1});
  open.triangles.pop_back();
  CHECK_FALSE(search_pull(open, pair_edges(open), **RayScene::build(open), {}));
}

TEST_CASE("locked places are told apart and put in order", "[split]") {
  TriMesh m = shapes::joined(shapes::bored_box({20, 15, 10}, 4, 1, 64),
                             transformed(shapes::bored_box({20, 15, 10}, 2, 1, 64), Transform::move({60, 0, 0})));
  const auto s = split(m, {0, 0, 1});
  REQUIRE(s);
  REQUIRE(s->regions.size() == 2);
  CHECK(s->regions[0].area_mm2 > s->regions[1].area_mm2);
  CHECK(s->regions[0].centroid_mm.x == Approx(0).margin(0.2));
  CHECK(s->regions[1].centroid_mm.x == Approx(60).margin(0.2));
}

TEST_CASE("no pull, and a cancel, are answered", "[split]") {
  const TriMesh m = shapes::icosphere(10, 3);
  CHECK_FALSE(split(m, {0, 0, 0}));
  CHECK_FALSE(split(m, {NAN, 0, 1}));
  Progress p;
  p.cancel();
  const auto r = split_along(m, pair_edges(m), **RayScene::build(m), {0, 0, 1}, p);
  REQUIRE_FALSE(r);
  CHECK(r.error().cancelled);
  CHECK(axis_name({0, 0, 1}) == "+z");
  CHECK(axis_name({-1, 0, 0}) == "−x");
}

}  // namespace tests_split_split
