// Figures of Split against closed forms: holes and their floors, mouths, the line of convex bodies.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "shapes.hpp"
#include "split/bores.hpp"
#include "split/undercuts.hpp"

namespace tests_split_true_figures {

using namespace palinform;

namespace {

struct Found {
  std::vector<Undercut> undercuts;
  std::vector<Bore> bores;
  Split split;
};
Found look(const TriMesh& m, const Vec3& pull) {
  const EdgePairs pairs = pair_edges(m);
  REQUIRE(pairs.open_edges == 0);
  REQUIRE(pairs.turned_pairs == 0);
  const auto rays = *RayScene::build(m);
  Found f;
  f.split = *split_along(m, pairs, *rays, pull);
  f.undercuts = *find_undercuts(m, f.split, {0, 30, {}});
  f.bores = *find_bores(m, pairs, *rays);
  return f;
}

Transform any_turn(std::mt19937& rnd) {
  std::uniform_real_distribution<double> u(-1, 1);
  return Transform::turn(unit(Vec3{u(rnd), u(rnd), u(rnd)}), 3 * u(rnd));
}

}  // namespace

TEST_CASE("a blind bore across the pull has one mouth and its depth as reach, floor on the grid or off it", "[split]") {
  std::mt19937 rnd(3);
  for (const double depth : {15.0, 20.0, 25.0, 24.3, 30.0})
    for (const double d : {4.0, 6.0, 8.0, 11.0}) {
      const TriMesh m = shapes::drilled_cube(40, {{d, depth}}, 48);
      CHECK(measure(m).volume_mm3 == Approx(64'000 - 24 * d * d / 4 * std::sin(2 * std::numbers::pi / 48) * depth));
      for (int turn = 0; turn < 2; ++turn) {
        const Transform t = turn ? any_turn(rnd) : Transform{};
        const Found f = look(transformed(m, t), t.direction({0, 0, 1}));
        INFO("depth " << depth << " diameter " << d << " turn " << turn);
        REQUIRE(f.undercuts.size() == 1);
        CHECK_FALSE(f.undercuts[0].tunnel());
        // The cells' staircase along a turned rim costs up to two cells of 0.3 mm.
        CHECK(f.undercuts[0].reach_mm == Approx(depth).margin(0.7));
        CHECK(f.undercuts[0].mouth_mm == Approx(d).margin(0.7));
        REQUIRE(f.bores.size() == 1);
        CHECK_FALSE(f.bores[0].through);
        CHECK(f.bores[0].depth_mm == Approx(depth).margin(0.05));
      }
    }
}

TEST_CASE("stepped bores: reach to the last floor, a tunnel's whole length, blind where the narrow part ends",
          "[split]") {
  std::mt19937 rnd(4);
  for (int turn = 0; turn < 4; ++turn) {
    const Transform t = turn ? any_turn(rnd) : Transform{};
    const Vec3 pull = t.direction({0, 0, 1});
    INFO("turn " << turn);
    const Found blind = look(transformed(shapes::drilled_cube(40, {{10, 8}, {6, 20}}, 48), t), pull);
    REQUIRE(blind.undercuts.size() == 1);
    CHECK_FALSE(blind.undercuts[0].tunnel());
    CHECK(blind.undercuts[0].reach_mm == Approx(20).margin(0.8));
    REQUIRE(blind.bores.size() == 2);
    for (const Bore& b : blind.bores) CHECK_FALSE(b.through);
    const Found through = look(transformed(shapes::drilled_cube(40, {{12, 15}, {7, 40}}, 48), t), pull);
    REQUIRE(through.undercuts.size() == 1);
    CHECK(through.undercuts[0].tunnel());
    CHECK(through.undercuts[0].length_mm == Approx(40).margin(0.8));
    REQUIRE(through.bores.size() == 2);
    for (const Bore& b : through.bores) CHECK(b.through);
  }
}

TEST_CASE("a shallow lip under a wide mouth flexes: reach over the mouth's own width", "[split]") {
  std::mt19937 rnd(5);
  for (const double lip : {0.7, 1.0, 2.0})
    for (const double mouth : {6.0, 10.0})
      for (int turn = 0; turn < 3; ++turn) {
        // A C in section, 60 wide: the upper arm stands out by `lip` over a recess `mouth` high.
        const TriMesh m = shapes::extruded({{0, 0},
                                            {20, 0},
                                            {20, 5},
                                            {20 - lip, 5},
                                            {20 - lip, 5 + mouth},
                                            {20, 5 + mouth},
                                            {20, 10 + mouth},
                                            {0, 10 + mouth}},
                                           60);
        const Transform t = turn ? any_turn(rnd) : Transform{};
        UndercutOptions o;
        o.pitch_mm = 0.2;
        const TriMesh placed = transformed(m, t);
        const EdgePairs pairs = pair_edges(placed);
        const auto s = *split_along(placed, pairs, **RayScene::build(placed), t.direction({0, 0, 1}));
        const auto u = *find_undercuts(placed, s, o);
        INFO("lip " << lip << " mouth " << mouth << " turn " << turn);
        REQUIRE(u.size() == 1);
        CHECK(u[0].mouth_mm == Approx(mouth).margin(0.6));
        CHECK(u[0].reach_mm == Approx(lip).margin(0.3));
        CHECK(u[0].flexes);
      }
}

TEST_CASE("convex bodies: the line is the silhouette, and what it gives to a side leaves toward it", "[split]") {
  std::mt19937 rnd(6);
  std::uniform_real_distribution<double> u(-1, 1);
  int judged = 0;
  for (int round = 0; round < 300; ++round) {
    std::vector<Vec3> points;
    const int n = 6 + static_cast<int>(rnd() % 20);
    for (int k = 0; k < n; ++k) {
      Vec3 p;
      do p = {u(rnd), u(rnd), u(rnd)};
      while (length(p) > 1 || length(p) < 0.2);
      const Vec3 d = unit(p);
      points.push_back({30 * d.x, 20 * d.y, 12 * d.z});
    }
    const TriMesh m = transformed(shapes::hull_of(points), any_turn(rnd));
    const EdgePairs pairs = pair_edges(m);
    if (pairs.open_edges || pairs.turned_pairs) continue;
    const Vec3 pull = unit(Vec3{u(rnd), u(rnd), u(rnd)});
    double silhouette = 0;
    for (uint32_t h = 0; h < pairs.twin.size(); ++h)
      if (dot(m.normal(h / 3), pull) > 0 && dot(m.normal(pairs.twin[h] / 3), pull) <= 0)
        silhouette += length(m.points[edge_to(m, h)] - m.points[edge_from(m, h)]);
    const auto s = *split_along(m, pairs, **RayScene::build(m), pull);
    ++judged;
    INFO("round " << round << " points " << n);
    // Faces within a whisker of standing upright may go either way.
    double upright = 0;
    for (size_t t = 0; t < m.triangles.size(); ++t) {
      const double lean = dot(m.normal(t), pull);
      if (std::abs(lean) < 0.01) upright += std::sqrt(m.area_mm2(t));
      if (std::abs(lean) > 0.01) CHECK((s.side[t] == 0) == (lean > 0));
    }
    CHECK(s.line_mm == Approx(silhouette).margin(0.03 * silhouette + 4 * upright));
    // Every point of the finished line lies where both sides may meet: on the silhouette to within the width of a hair.
    for (const auto& loop : s.loops)
      for (const Vec3& p : loop.points_mm) {
        double near = 1e300;
        for (uint32_t h = 0; h < pairs.twin.size(); ++h) {
          const double a = dot(m.normal(h / 3), pull), b = dot(m.normal(pairs.twin[h] / 3), pull);
          if (a < -0.01 || b > 0.01) continue;
          const Vec3 e0 = m.points[edge_from(m, h)], e = m.points[edge_to(m, h)] - e0;
          const double along = std::clamp(dot(p - e0, e) / dot(e, e), 0.0, 1.0);
          near = std::min(near, length(p - e0 - e * along));
        }
        if (upright == 0) CHECK(near < 2.5);
      }
  }
  CHECK(judged > 280);
}

}  // namespace tests_split_true_figures
