// How much of each coat goes on which side of a brushed skin.
#include <catch2/catch.hpp>
#include <numbers>

#include "mould/coat_sides.hpp"
#include "shapes.hpp"

namespace tests_mould_coat_sides {

using namespace palinform;

namespace {
constexpr double pi = std::numbers::pi;

std::vector<double> shares(const TriMesh& mesh, const Vec3& pull, const std::vector<double>& outer) {
  const auto pairs = pair_edges(mesh);
  const auto rays = *RayScene::build(mesh);
  const auto split = split_along(mesh, pairs, *rays, pull);
  REQUIRE(split);
  const auto mould = two_part_mould(mesh, *split, MouldOptions());
  REQUIRE(mould);
  return coat_shares_a(skin_samples(mesh, *rays, *split, *mould, outer.back()), outer);
}

/// Half a ball of `r`, flat side down on z = 0.
TriMesh dome(double r) {
  std::vector<std::array<double, 2>> profile{{0, 0}, {r, 0}};
  for (int k = 1; k < 24; ++k) {
    const double t = 0.5 * pi * k / 24;
    profile.push_back({r * std::cos(t), r * std::sin(t)});
  }
  profile.push_back({0, r});
  return shapes::turned(profile, 96);
}
}  // namespace

TEST_CASE("a ball's coats are halved by its equator, all of them", "[mould]") {
  for (const double a : shares(shapes::icosphere(15, 4), {0, 0, 1}, {1, 2, 3.5})) CHECK(a == Approx(0.5).margin(0.01));
}

TEST_CASE("a dome's coats: the shell over the line, the flat and the rounding under it, by hand", "[mould]") {
  const double r = 20;
  const std::vector<double> outer{1.5, 3, 6};
  // The line runs on the flat's edge: half a shell of ball over it; under it a disc and a quarter of a torus.
  const auto ball = [&](double t) { return 2.0 / 3 * pi * std::pow(r + t, 3); };
  const auto under = [&](double t) { return pi * r * r * t + 2 * pi * (r * pi * t * t / 4 + t * t * t / 3); };
  const Transform turn = shapes::odd_turn();
  for (const bool turned : {false, true}) {
    const TriMesh part = turned ? transformed(dome(r), turn) : dome(r);
    const Vec3 pull = turned ? turn.direction({0, 0, 1}) : Vec3{0, 0, 1};
    const auto got = shares(part, pull, outer);
    double from = 0;
    for (size_t k = 0; k < outer.size(); ++k) {
      const double a = ball(outer[k]) - ball(from), b = under(outer[k]) - under(from);
      INFO("coat " << k + 1 << (turned ? ", turned" : ""));
      CHECK(got[k] == Approx(a / (a + b)).margin(0.015));
      from = outer[k];
    }
  }
}

TEST_CASE("coats of any thickness are counted on the same places", "[mould]") {
  const TriMesh mesh = dome(20);
  const auto pairs = pair_edges(mesh);
  const auto rays = *RayScene::build(mesh);
  const auto split = split_along(mesh, pairs, *rays, {0, 0, 1});
  REQUIRE(split);
  const auto mould = two_part_mould(mesh, *split, MouldOptions());
  REQUIRE(mould);
  const SkinSamples wide = skin_samples(mesh, *rays, *split, *mould, 9);
  CHECK(wide.off_mm.size() == wide.on_b.size());
  for (const double t : {2.0, 3.5, 6.0}) {
    INFO(t << " mm");
    CHECK(coat_shares_a(wide, {t})[0] == Approx(shares(mesh, {0, 0, 1}, {t})[0]).margin(0.01));
  }
  CHECK(coat_shares_a(wide, {}).empty());
}

TEST_CASE("flat faces that lie along the lattice take each coat evenly", "[mould]") {
  // A plate parted at its middle: both sides the same, coat by coat, wherever the lattice falls.
  const auto got = shares(shapes::box({-25, -15, -2}, {25, 15, 2}, 4), {0, 0, 1}, {1, 2, 3, 4, 5});
  for (size_t k = 1; k < got.size(); ++k) CHECK(got[k] == Approx(got[0]).margin(0.06));
}

}  // namespace tests_mould_coat_sides
