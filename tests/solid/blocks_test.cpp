// Level sets by themselves: a lattice of distances, a block cut in two.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "mesh/soundness.hpp"
#include "shapes.hpp"
#include "solid/cut_block.hpp"
#include "solid/laplace.hpp"
#include "solid/lattice.hpp"

namespace tests_solid_blocks {

using namespace palinform;

namespace {

bool sound(const TriMesh& m) {
  const auto s = check_soundness(m);
  return s && s->sound();
}
double volume(const TriMesh& m) { return m.triangles.empty() ? 0 : measure(m).volume_mm3; }

}  // namespace

TEST_CASE("a lattice: distances to a ball are its radius less the way to its middle", "[solid]") {
  const double radius = 10, voxel = 0.5;
  const TriMesh ball = shapes::icosphere(radius, 5);
  const auto field = distance_lattice(ball, measure(ball).box_mm, voxel, 2);
  REQUIRE(field);
  double near = 0, worst = 0;  // within a voxel of the skin; in the whole band
  for (int k = 0; k < field->nk; ++k)
    for (int j = 0; j < field->nj; ++j)
      for (int i = 0; i < field->ni; ++i) {
        const double exact = length(field->place_mm(i, j, k)) - radius;
        const double given = static_cast<double>(field->at(i, j, k));
        if (std::abs(exact) < voxel) near = std::max(near, std::abs(given - exact));
        if (std::abs(exact) < 1.5) worst = std::max(worst, std::abs(given - exact));
        if (exact < -2.5) CHECK(given == Approx(-2));  // cut off at the band
        if (exact > 2.5) CHECK(given == Approx(2));
      }
  CHECK(near < 0.02 * voxel);  // the ball's facets lie a little inside
  CHECK(worst < 0.3 * voxel);
  const auto back = lattice_surface(*field);
  REQUIRE(back);
  CHECK(sound(*back));
  CHECK(volume(*back) == Approx(volume(ball)).epsilon(0.005));
}

TEST_CASE("a lattice's surface: what touches the border is closed there, specks are dropped", "[solid]") {
  auto field = lattice_over(
      [] {
        Box3 b;
        b.add({0, 0, 0});
        b.add({10, 10, 10});
        return b;
      }(),
      0.5, 1.0f);
  REQUIRE(field);
  // Half of the lattice, up to its border.
  for (int k = 0; k < field->nk; ++k)
    for (int j = 0; j < field->nj; ++j)
      for (int i = 0; i < field->ni; ++i) field->at(i, j, k) = static_cast<float>(field->place_mm(i, j, k).z - 5);
  const auto half = lattice_surface(*field);
  REQUIRE(half);
  CHECK(sound(*half));
  const Vec3 size = measure(*half).box_mm.size();
  CHECK(size.x == Approx(11).margin(1.1));
  CHECK(measure(*half).box_mm.max.z == Approx(5).margin(0.05));
  // One value alone over it is a speck.
  auto speck = *field;
  speck.at(10, 10, 17) = -0.4f;
  const auto without = lattice_surface(speck);
  REQUIRE(without);
  CHECK(check_soundness(*without)->components == 1);
  CHECK(volume(*without) == Approx(volume(*half)).epsilon(1e-6));
  CHECK_FALSE(lattice_over(measure(shapes::box({0, 0, 0}, {1000, 1000, 1000})).box_mm, 0.1, 0));
  CHECK_FALSE(lattice_over(measure(shapes::box({0, 0, 0}, {1, 1, 1})).box_mm, 0, 0));
}

TEST_CASE("a block cut in two by a surface: halves, what is taken out and pieces add up to it", "[solid]") {
  Box3 block;
  block.add({-20, -15, -12});
  block.add({20, 15, 12});
  const double all = 40 * 30 * 24;
  const TriMesh ball = shapes::icosphere(7, 4);
  for (const bool wavy : {false, true}) {
    const HeightField surface = sample_heights(-22, -17, 22, 17, 0.5, [&](double u, double v) {
      return wavy ? 2 * std::sin(0.3 * u) + std::cos(0.25 * v) : 1.5;
    });
    const auto cut = cut_block(block, surface, {ball}, {}, 0.4);
    REQUIRE(cut);
    for (const TriMesh* half : {&cut->upper, &cut->lower}) CHECK(sound(*half));
    CHECK(volume(cut->upper) + volume(cut->lower) == Approx(all - volume(ball)).epsilon(0.004));
    if (!wavy) {
      // The ball's middle lies 1.5 under the cut: the upper half loses a cap of 5.5.
      const double cap = std::numbers::pi * 5.5 * 5.5 * (3 * 7 - 5.5) / 3;
      CHECK(volume(cut->upper) == Approx(40 * 30 * 10.5 - cap).epsilon(0.006));
    }
    // A piece is cut out of both halves and given by itself.
    const TriMesh peg = shapes::box({10, -4, -6}, {16, 4, 6});
    // Its space is told in a frame of its own, askew to the block's.
    const auto space = [](const TriMesh& m) {
      const Transform into = Transform::turn(unit(Vec3{1, 2, 3}), 0.7);
      const TriMesh there = transformed(m, into);
      Box3 region = measure(there).box_mm;
      region.add(region.min - Vec3{2, 2, 2}), region.add(region.max + Vec3{2, 2, 2});
      return PieceSpace{*distance_lattice(there, region, 0.3, 1.2), into};
    };
    const auto with = cut_block(block, surface, {ball}, {space(peg)}, 0.4);
    REQUIRE(with);
    REQUIRE(with->pieces.size() == 1);
    CHECK(sound(with->pieces[0]));
    CHECK(volume(with->pieces[0]) == Approx(6 * 8 * 12).epsilon(0.02));
    CHECK(volume(with->upper) + volume(with->lower) + volume(with->pieces[0]) ==
          Approx(all - volume(ball)).epsilon(0.006));
    // One that lies outside the block is nothing.
    const auto none = cut_block(block, surface, {}, {space(shapes::box({30, 0, 0}, {35, 5, 5}))}, 0.8);
    REQUIRE(none);
    CHECK(none->pieces.at(0).triangles.empty());
  }
  const HeightField level = sample_heights(-22, -17, 22, 17, 1, [](double, double) { return 0.0; });
  CHECK_FALSE(cut_block(block, level, {}, {}, 0));
  CHECK_FALSE(cut_block(block, level, {}, {}, 0.01));  // half a thousand million voxels
  Progress stop;
  stop.cancel();
  CHECK_FALSE(cut_block(block, level, {ball}, {}, 0.4, stop));
}

TEST_CASE("Laplace on a grid with holes: a plane held at its rim is that plane, islands keep what they had",
          "[solid]") {
  std::mt19937 rnd(7);
  for (const auto& [nu, nv] : {std::pair{9, 7}, {61, 40}, {240, 170}}) {
    // Known in the rim and in scattered cells, a quarter of a larger grid in one block; the rest is sought.
    const auto plane = [](int i, int j) { return 3 + 0.2 * i - 0.07 * j; };
    std::vector<bool> sought(static_cast<size_t>(nu * nv), false);
    const auto cell = [w = nu](int i, int j) { return static_cast<size_t>(j * w + i); };
    for (int j = 1; j + 1 < nv; ++j)
      for (int i = 1; i + 1 < nu; ++i) sought[cell(i, j)] = rnd() % 40 != 0 && !(i > nu / 2 && j > nv / 2);
    GridLaplace<double> g(nu, nv);
    std::vector<double> right = g.none(), x = g.none();
    for (int j = 0; j < nv; ++j)
      for (int i = 0; i < nu; ++i) {
        if (!sought[cell(i, j)]) continue;
        const size_t k = g.at(i, j);
        g.diagonal[k] = 4;
        for (const auto& [u, v] : {std::pair{i + 1, j}, {i - 1, j}, {i, j + 1}, {i, j - 1}})
          if (!sought[cell(u, v)])
            right[k] += plane(u, v);
          else if (u > i)
            g.east[k] = 1;
          else if (v > j)
            g.north[k] = 1;
      }
    REQUIRE(solve_laplace(g, right, x, 1e-12, 80));  // within eighty cycles, whatever the grid
    double worst = 0;
    for (int j = 0; j < nv; ++j)
      for (int i = 0; i < nu; ++i)
        if (sought[cell(i, j)]) worst = std::max(worst, std::abs(x[g.at(i, j)] - plane(i, j)));
    CHECK(worst < 1e-8);
  }
  // Two cells that touch nothing known, but for a breath toward 5.
  GridLaplace<double> island(2, 1);
  std::vector<double> right = island.none(), x = island.none();
  island.east[island.at(0, 0)] = 1;
  for (int i = 0; i < 2; ++i) {
    const size_t k = island.at(i, 0);
    island.diagonal[k] = 1 + 1e-9, right[k] = 5e-9, x[k] = 5;
  }
  REQUIRE(solve_laplace(island, right, x));
  CHECK(x[island.at(0, 0)] == Approx(5));
  CHECK(x[island.at(1, 0)] == Approx(5));
}

}  // namespace tests_solid_blocks
