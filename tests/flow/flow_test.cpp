#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>
#include <random>
#include <set>

#include "flow/cavity.hpp"
#include "flow/sweep.hpp"
#include "shapes.hpp"

using namespace palinform;

namespace {

Sweep sweep(const Cavity& c, const Vec3& up, const std::vector<Opening>& vents) { return *sweep_air(c, up, vents); }

/// The same by brute force: for every level, flood the cells above it from the vents that are still clear; air that
/// cannot be reached when its own level floods is trapped. Whole cells only, so it must be asked at axis-up.
double flooded_by_hand(const Cavity& c, const std::set<uint32_t>& vents) {
  // Layers of k from low to high: the liquid stands below layer k; cells at or above k are still air.
  std::vector<bool> trapped(c.grid_size(), false);
  for (int k = 0; k <= c.nz; ++k) {
    std::vector<bool> seen(c.grid_size(), false);
    std::vector<uint32_t> stack;
    const auto layer = [&](uint32_t g) { return static_cast<int>(g / static_cast<uint32_t>(c.nx * c.ny)); };
    for (const uint32_t v : vents)
      if (layer(v) >= k && !trapped[v] && !seen[v]) seen[v] = true, stack.push_back(v);
    while (!stack.empty()) {
      const uint32_t g = stack.back();
      stack.pop_back();
      for (const int s : {1, -1, c.nx, -c.nx, c.nx * c.ny, -c.nx * c.ny}) {
        const uint32_t o = static_cast<uint32_t>(static_cast<int>(g) + s);
        if (c.number[o] == Cavity::outside || layer(o) < k || seen[o] || trapped[o]) continue;
        seen[o] = true;
        stack.push_back(o);
      }
    }
    for (const uint32_t g : c.cells)
      if (layer(g) >= k && !seen[g]) trapped[g] = true;
  }
  double n = 0;
  for (const bool t : trapped) n += t;
  return n;
}

}  // namespace

TEST_CASE("M6: a box vented in the middle of its roof keeps nothing", "[flow]") {
  const auto c = fill_with_cells(shapes::box({0, 0, 0}, {40, 40, 20}), 1);
  REQUIRE(c);
  CHECK(c->volume_mm3() == Approx(32000));
  const Sweep s = sweep(*c, {0, 0, 1}, {{{20, 20, 20}, 0}});
  CHECK(s.trapped_mm3 == Approx(0).margin(1e-6));
  CHECK(s.pockets.empty());
  // Vent half-way up a wall: all above it stays.
  CHECK(sweep(*c, {0, 0, 1}, {{{0, 20, 10}, 0}}).trapped_mm3 == Approx(16000).epsilon(0.01));
  // No vent at all: nothing can come in.
  const Sweep shut = sweep(*c, {0, 0, 1}, {});
  CHECK(shut.trapped_mm3 == Approx(32000));
  CHECK_FALSE(shut.pockets[0].saddle_mm);
}

TEST_CASE("M6: a sloped roof traps just the wedge above the vent's level", "[flow]") {
  // Box tilted about y: the roof's middle vent leaves the triangular prism above its level.
  for (const double tilt : {5.0, 12.0, 25.0}) {
    const double t = tilt * std::numbers::pi / 180;
    const Vec3 up{std::sin(t), 0, std::cos(t)};
    // Vent at the roof's middle line x = 20 (all along y it is one level): wedge of legs 20·cos, 20·sin over 40 wide,
    // cut by the end wall: triangle with base 20 along the roof and height 20·tan t down the wall.
    const double wedge = 0.5 * 20 * 20 * std::tan(t) * 40;
    double last = 1e300;
    for (const double h : {2.0, 1.0, 0.5}) {
      const auto c = fill_with_cells(shapes::box({0, 0, 0}, {40, 40, 20}), h);
      const double off = std::abs(sweep(*c, up, {{{20, 20, 20}, 0}}).trapped_mm3 - wedge);
      INFO("tilt " << tilt << " voxel " << h << " off " << off << " of " << wedge);
      CHECK(off < 0.10 * wedge * h + 40 * h * 3);  // first order in the voxel
      CHECK(off <= last * 1.2 + 1);
      last = off;
    }
  }
}

TEST_CASE("M6: of two towers joined at the bottom, the one without a vent keeps its air above the joint", "[flow]") {
  const int n = 30;
  std::vector<uint8_t> in(static_cast<size_t>(n * 10 * 40), 0);
  const auto put = [&](int x0, int x1, int z0, int z1) {
    for (int z = z0; z < z1; ++z)
      for (int y = 0; y < 10; ++y)
        for (int x = x0; x < x1; ++x) in[static_cast<size_t>((z * 10 + y) * n + x)] = 1;
  };
  put(0, 10, 0, 40);
  put(20, 30, 0, 30);
  put(10, 20, 0, 8);
  const Cavity c = cavity_of(n, 10, 40, 1, in);
  const Sweep s = sweep(c, {0, 0, 1}, {{{5, 5, 40}, 0}});
  REQUIRE(s.pockets.size() == 1);
  CHECK(s.trapped_mm3 == Approx(10 * 10 * (30 - 8)));
  CHECK(s.pockets[0].apex_mm.z == Approx(29.5));
  CHECK(s.pockets[0].saddle_mm->z == Approx(7.5));
  CHECK(sweep(c, {0, 0, 1}, {{{5, 5, 40}, 0}, {{25, 5, 30}, 0}}).trapped_mm3 == Approx(0).margin(1e-9));
  // Upside down it is a fork: both ends fill from what is now the top, the long arm's foot is deepest.
  CHECK(sweep(c, {0, 0, -1}, {{{15, 5, 0}, 0}}).trapped_mm3 == Approx(0).margin(1e-9));
}

TEST_CASE("the sweep agrees with flooding by hand on 1,000 random cavities", "[flow]") {
  std::mt19937 rnd(77);
  for (int round = 0; round < 1000; ++round) {
    const int nx = 3 + static_cast<int>(rnd() % 5), ny = 2 + static_cast<int>(rnd() % 4),
              nz = 3 + static_cast<int>(rnd() % 6);
    std::vector<uint8_t> in(static_cast<size_t>(nx * ny * nz));
    for (auto& v : in) v = rnd() % 100 < 62;
    const Cavity c = cavity_of(nx, ny, nz, 1, in);
    if (c.cells.empty()) continue;
    std::vector<Opening> vents;
    std::set<uint32_t> cells;
    for (uint32_t k = 0; k < 1 + rnd() % 3; ++k) {
      const uint32_t g = c.cells[rnd() % c.cells.size()];
      cells.insert(g);
      vents.push_back({c.centre(g) + Vec3{0, 0, 0.5}, 0});  // mouth at the cell's top: the whole cell lets air out
    }
    const Sweep s = sweep(c, {0, 0, 1}, vents);
    CHECK(s.trapped_mm3 == Approx(flooded_by_hand(c, cells)).margin(1e-9));
    double sum = 0;
    for (const Pocket& p : s.pockets) sum += p.volume_mm3;
    CHECK(sum == Approx(s.trapped_mm3));
  }
}

TEST_CASE("a vent more never traps more; turning part and up together changes nothing", "[flow]") {
  const TriMesh m = shapes::torus(20, 6, 64, 32);
  const auto c = fill_with_cells(m, 0.8);
  std::mt19937 rnd(5);
  std::uniform_real_distribution<double> u(-1, 1);
  for (int i = 0; i < 20; ++i) {
    const Vec3 up = unit(Vec3{u(rnd), u(rnd), u(rnd)});
    std::vector<Opening> vents;
    double last = 1e300;
    for (int k = 0; k < 5; ++k) {
      const double a = 3 * u(rnd);
      vents.push_back({{26 * std::cos(a), 26 * std::sin(a), 0}, 0});
      const double now = sweep(*c, up, vents).trapped_mm3;
      CHECK(now <= last + 0.8 * 0.8 * 0.8);  // to within one cell: levels are told below the voxel, passages are not
      last = now;
    }
  }
  // Ring on edge, vent at the very top: nothing stays; vent on the side: all above it on the far... both sides.
  const Transform t = shapes::odd_turn();
  const auto turned = fill_with_cells(transformed(m, t), 0.8);
  const double a = sweep(*c, {1, 0, 0}, {{{0, 26, 0}, 0}}).trapped_mm3;
  const double b = sweep(*turned, t.direction({1, 0, 0}), {{t.point({0, 26, 0}), 0}}).trapped_mm3;
  CHECK(a > 1000);
  CHECK(b == Approx(a).epsilon(0.03));
  CHECK(sweep(*c, {1, 0, 0}, {{{26, 0, 0}, 0}}).trapped_mm3 < 20);
  CHECK(sweep(*turned, t.direction({1, 0, 0}), {{t.point({26, 0, 0}), 0}}).trapped_mm3 < 30);
}

TEST_CASE("a stepped roof, a bell and a comb keep what they must", "[flow]") {
  // Comb: five teeth upwards from a common base, vent on the middle one.
  std::vector<uint8_t> in(static_cast<size_t>(25 * 4 * 20), 0);
  for (int z = 0; z < 20; ++z)
    for (int y = 0; y < 4; ++y)
      for (int x = 0; x < 25; ++x)
        if (z < 6 || (x / 5 % 1 == 0 && x % 5 < 3 && z < 12 + x / 5)) in[static_cast<size_t>((z * 4 + y) * 25 + x)] = 1;
  const Cavity comb = cavity_of(25, 4, 20, 1, in);
  const Sweep s = sweep(comb, {0, 0, 1}, {{{11.5, 2, 14}, 0}});
  REQUIRE(s.pockets.size() == 4);
  double expected = 0;
  for (const int tooth : {0, 1, 3, 4}) expected += 3 * 4 * (12 + tooth - 6);
  CHECK(s.trapped_mm3 == Approx(expected));
  CHECK(s.pockets[0].volume_mm3 >= s.pockets[3].volume_mm3);
  CHECK_FALSE(sweep_air(comb, {0, 0, 0}, {}));
  Progress p;
  p.cancel();
  CHECK(sweep_air(comb, {0, 0, 1}, {}, p).error().cancelled);
}

TEST_CASE("an open disc lets out what lies beneath it", "[flow]") {
  const auto c = fill_with_cells(shapes::cylinder(10, 20, 64), 0.5);
  CHECK(sweep(*c, {0, 0, 1}, {{{0, 0, 20}, 9}}).trapped_mm3 == Approx(0).margin(0.5));
  CHECK_FALSE(fill_with_cells(shapes::cylinder(10, 20, 64), 0));
  CHECK_FALSE(fill_with_cells(shapes::cylinder(10, 20, 64), 0.001));
}

TEST_CASE("cells count the solid to first order", "[flow]") {
  const TriMesh ball = shapes::icosphere(10, 4);
  const double v = measure(ball).volume_mm3;
  for (const double h : {1.0, 0.5, 0.25}) CHECK(fill_with_cells(ball, h)->volume_mm3() == Approx(v).epsilon(0.03 * h));
  const auto c = fill_with_cells(ball, 0.5);
  CHECK(length(c->centre(c->nearest_cell({0, 0, 10})) - Vec3{0, 0, 10}) < 1);
  CHECK(length(c->centre(c->nearest_cell({0, 0, 50})) - Vec3{0, 0, 10}) < 1);
  CHECK(voxel_for(1000, 1000) == Approx(1));
}

TEST_CASE("M7: pressure, vacuum, altitude", "[flow]") {
  CHECK(air_pressure_kpa(0) == Approx(101.325));
  CHECK(air_pressure_kpa(1500) == Approx(84.556).epsilon(1e-3));
  CHECK(under_pressure_mm3(1, 400, 0) == Approx(0.202).margin(5e-4));
  CHECK(under_pressure_mm3(1, 0, 0) == 1);
  CHECK(pressure_for_kpa(1, 0.202, 0) == Approx(400).epsilon(0.01));
  CHECK(under_pressure_mm3(7, pressure_for_kpa(7, 0.1, 800), 800) == Approx(0.1));
  CHECK(pressure_for_kpa(0.05, 0.1, 0) == 0);
  CHECK(after_vacuum_mm3(84, 4, 0) == Approx(84 * 4 / 101.325));
  CHECK(after_vacuum_mm3(84, 4, 2000) > after_vacuum_mm3(84, 4, 0));
  CHECK(vacuum_gauge_kpa(4, 0) == Approx(97.325));
  CHECK(vacuum_gauge_kpa(0, 2000) == Approx(air_pressure_kpa(2000)));  // a gauge never reads more
  CHECK(ball_diameter_mm(84) == Approx(5.43).margin(0.01));
}

TEST_CASE("tilting is about the pull, by azimuth", "[flow]") {
  CHECK(length(tilted_up({0, 0, 1}, 0, 123) - Vec3{0, 0, 1}) < 1e-12);
  for (double a = 0; a < 360; a += 37) {
    const Vec3 u = tilted_up({0, 1, 0}, 30, a);
    CHECK(dot(u, Vec3{0, 1, 0}) == Approx(std::cos(30 * std::numbers::pi / 180)));
    CHECK(length(u) == Approx(1));
  }
}
