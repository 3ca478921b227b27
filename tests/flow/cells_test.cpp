// Cells cut by the wall: what they hold adds up to the mesh, whichever way it lies; level roofs keep nothing; walls
// thinner than a cell hold.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "flow/plan.hpp"
#include "flow/roofs.hpp"
#include "flow/sweep.hpp"
#include "shapes.hpp"

namespace tests_flow_cells {

using namespace palinform;

namespace {

Transform any_turn(std::mt19937& rnd) {
  std::uniform_real_distribution<double> u(-1, 1);
  Transform t = Transform::turn(unit(Vec3{u(rnd), u(rnd), u(rnd)}), 3 * u(rnd));
  t.shift = {17 * u(rnd), 90 * u(rnd), 5 * u(rnd)};
  return t;
}

/// A plate with a roof leaning by `degrees` about y over `length`, walls round it, 20 deep at the low end.
TriMesh leaning_roof(double length, double degrees) {
  const double rise = length * std::tan(degrees * std::numbers::pi / 180);
  return shapes::extruded({{0, 0}, {length, 0}, {length, 20 + rise}, {0, 20}}, length);
}

}  // namespace

TEST_CASE("cells add up to the mesh's volume in any turn and at any size", "[flow]") {
  std::mt19937 rnd(11);
  const std::vector<TriMesh> parts{
      shapes::box({0, 0, 0}, {40, 65, 10}),
      shapes::torus(20, 6, 64, 32),
      shapes::cylinder(7, 31, 40),
      shapes::bored_box({20, 15, 10}, 4, 2, 48),
      shapes::icosphere(9, 3),
      shapes::stepped_channel(40, 4, 40, 2, 20),
      shapes::joined(shapes::box({0, 0, 0}, {30, 30, 30}), shapes::turned_over(shapes::box({1, 1, 1}, {29, 29, 29})))};
  for (size_t k = 0; k < parts.size(); ++k)
    for (int round = 0; round < 40; ++round) {
      const TriMesh m = round < 2 ? parts[k] : transformed(parts[k], any_turn(rnd));
      const double v = measure(m).volume_mm3;
      const auto c = fill_with_cells(m, voxel_for(v, 300 + 400.0 * round));
      REQUIRE(c);
      INFO("part " << k << " round " << round);
      CHECK(c->total_mm3() == Approx(v).epsilon(1e-6));
      // Everything hangs together but what does not.
      std::vector<bool> seen(c->size(), false);
      std::vector<uint32_t> stack{0};
      seen[0] = true;
      double reached = 0;
      while (!stack.empty()) {
        const uint32_t n = stack.back();
        stack.pop_back();
        reached += static_cast<double>(c->cell[n].volume_mm3);
        c->each_neighbour(n, [&](uint32_t o, float area, int) {
          CHECK(area > 0);
          if (!seen[o]) seen[o] = true, stack.push_back(o);
        });
      }
      CHECK(reached == Approx(v).epsilon(1e-4));
    }
}

TEST_CASE("a level roof keeps nothing at any height and in any turn; a leaning one its wedge", "[flow]") {
  std::mt19937 rnd(5);
  std::uniform_real_distribution<double> u(0, 1);
  for (int round = 0; round < 60; ++round) {
    const double high = 8 + 5 * u(rnd), h = 0.6 + u(rnd);
    const Transform t = round % 3 == 0 ? Transform{} : any_turn(rnd);
    const TriMesh m = transformed(shapes::box({0, 0, 0}, {40, 65, high}), t);
    const Vec3 up = t.direction({0, 0, 1});
    const auto c = fill_with_cells(m, h);
    const auto s = sweep_air(*c, up, {{t.point({40 * u(rnd), 65 * u(rnd), high}), 0}});
    INFO("round " << round << " high " << high << " voxel " << h);
    CHECK(s->trapped_mm3 == Approx(0).margin(1e-6));
    RoofMemory memory;
    CHECK(find_roofs(*c, up, {}, 1e-3, memory).size() == 1);
  }
}

TEST_CASE("a large shallow pocket is told: a roof of 200 × 200 leaning 1.9°, vent in its middle", "[flow]") {
  std::mt19937 rnd(9);
  for (int round = 0; round < 6; ++round) {
    const Transform t = round == 0 ? Transform{} : any_turn(rnd);
    const double degrees = 1.9, slope = std::tan(degrees * std::numbers::pi / 180);
    const TriMesh m = transformed(leaning_roof(200, degrees), t);
    const Vec3 up = t.direction({0, 0, 1});
    const double wedge = 0.5 * 100 * 100 * slope * 200;  // 33,174 mm³
    for (const double cells : {40'000.0, 300'000.0}) {
      const auto c = fill_with_cells(m, voxel_for(measure(m).volume_mm3, cells));
      const auto s = sweep_air(*c, up, {{t.point({100, 100, 20 + 100 * slope}), 0}});
      REQUIRE(s->pockets.size() == 1);
      CHECK(s->pockets[0].volume_mm3 == Approx(wedge).epsilon(0.02));
      CHECK(s->pockets[0].depth_mm == Approx(100 * slope).margin(0.01));
      CHECK(pocket_seen(s->pockets[0], 0.5));
    }
  }
  // And the plan does not say that nothing is left.
  const TriMesh m = leaning_roof(200, 1.9);
  FlowPlanOptions o;
  o.max_tilt_deg = 0;
  o.vents = {{100, 100, 20 + 100 * std::tan(1.9 * std::numbers::pi / 180)}};
  o.max_vents = 1;
  const auto p = plan_flow(m, **RayScene::build(m), *fill_with_cells(m, 2), o);
  REQUIRE(p);
  CHECK(p->left_mm3 == Approx(33'174).epsilon(0.02));
}

TEST_CASE("wedges by hand over many leans, turns and sizes", "[flow]") {
  std::mt19937 rnd(21);
  std::uniform_real_distribution<double> u(0, 1);
  for (int round = 0; round < 120; ++round) {
    // A box tilted about an axis of its own: the wedge over the vent's level by hand, as a prism.
    const double degrees = 1 + 25 * u(rnd), at = 10 + 20 * u(rnd), deep = 18;
    const double lean = degrees * std::numbers::pi / 180;
    const Transform t = round % 4 == 0 ? Transform{} : any_turn(rnd);
    const TriMesh m = transformed(shapes::box({0, 0, 0}, {40, 15, deep}, 2), t);
    const Vec3 up = t.direction({std::sin(lean), 0, std::cos(lean)});
    const double run = 40 - at, drop = run * std::tan(lean);
    if (drop > deep) continue;
    const double wedge = 0.5 * run * drop * 15;
    const double v = 40 * 15 * deep;
    const auto c = fill_with_cells(m, voxel_for(v, 20'000));
    const auto s = sweep_air(*c, up, {{t.point({at, 7, deep}), 0}});
    INFO("round " << round << " leaning " << degrees << " at " << at);
    CHECK(s->trapped_mm3 == Approx(wedge).epsilon(0.04).margin(2));
  }
}

TEST_CASE("a wall thinner than a cell parts what stands on either side", "[flow]") {
  std::mt19937 rnd(31);
  for (int round = 0; round < 40; ++round) {
    // Two rooms side by side, 0.2 mm of wall between, joined along the bottom; the vent is on one.
    const TriMesh rooms =
        shapes::extruded({{0, 0}, {20.2, 0}, {20.2, 20}, {10.2, 20}, {10.2, 5}, {10, 5}, {10, 20}, {0, 20}}, 12);
    const Transform t = round == 0 ? Transform{} : any_turn(rnd);
    const TriMesh m = transformed(rooms, t);
    const Vec3 up = t.direction({0, 0, 1});
    const auto c = fill_with_cells(m, 0.7 + 0.01 * round);
    REQUIRE(c);
    CHECK(c->total_mm3() == Approx(measure(m).volume_mm3).epsilon(1e-5));
    const auto s = sweep_air(*c, up, {{t.point({4, 6, 20}), 0}});
    INFO("round " << round);
    // The cell that holds the wall's lower edge is one: its top counts as the saddle, up to a cell over the edge.
    const double cell = 10 * 12 * c->voxel_mm * std::sqrt(3.0);
    CHECK(s->trapped_mm3 > 10 * 15 * 12 - cell);
    CHECK(s->trapped_mm3 < 1.03 * 10 * 15 * 12);
  }
}

TEST_CASE("a thin shell in a large box is filled, not refused", "[flow]") {
  const TriMesh shell = shapes::joined(shapes::icosphere(150, 5), shapes::turned_over(shapes::icosphere(149, 5)));
  const double v = measure(shell).volume_mm3;
  const auto c = fill_with_cells(shell, 0.75);  // a box of 400³ = 64 million cubes
  REQUIRE(c);
  CHECK(c->total_mm3() == Approx(v).epsilon(2e-3));
  CHECK(c->size() < 3'000'000);
  CHECK_FALSE(fill_with_cells(shell, 0.01));
}

}  // namespace tests_flow_cells
