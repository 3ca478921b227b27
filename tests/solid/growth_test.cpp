// How much lies round a solid, and distances in a wide band, against what is known by hand.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "shapes.hpp"
#include "solid/carve.hpp"
#include "solid/lattice.hpp"

namespace tests_solid_growth {

using namespace palinform;

namespace {

Box3 wider(const Box3& box, double by) {
  Box3 out = box;
  out.add(box.min - Vec3{by, by, by});
  out.add(box.max + Vec3{by, by, by});
  return out;
}

}  // namespace

TEST_CASE("distances in a wide band: a box's and a ball's, outside and in, to a third of a voxel", "[solid]") {
  const double voxel = 0.7, band = 15;
  const Vec3 half{11, 7, 9};
  const TriMesh box = shapes::box(-half, half, 4);
  const auto field = distance_lattice(box, wider(measure(box).box_mm, band), voxel, band);
  REQUIRE(field);
  double worst = 0;
  size_t looked = 0;
  for (int k = 0; k < field->nk; ++k)
    for (int j = 0; j < field->nj; ++j)
      for (int i = 0; i < field->ni; ++i) {
        const Vec3 p = field->place_mm(i, j, k);
        const Vec3 q{std::abs(p.x) - half.x, std::abs(p.y) - half.y, std::abs(p.z) - half.z};
        const double out = length(Vec3{std::max(q.x, 0.0), std::max(q.y, 0.0), std::max(q.z, 0.0)});
        const double exact = out > 0 ? out : std::max({q.x, q.y, q.z});
        worst = std::max(worst, std::abs(static_cast<double>(field->at(i, j, k)) - std::clamp(exact, -band, band)));
        ++looked;
      }
  CHECK(looked > 100'000);
  CHECK(worst < voxel / 3);
  const TriMesh ball = transformed(shapes::icosphere(8, 5), Transform::move({120.3, -40.1, 7.7}));
  const auto round = distance_lattice(ball, wider(measure(ball).box_mm, band), voxel, band);
  REQUIRE(round);
  worst = 0;
  for (int k = 0; k < round->nk; ++k)
    for (int j = 0; j < round->nj; ++j)
      for (int i = 0; i < round->ni; ++i) {
        const double exact = length(round->place_mm(i, j, k) - Vec3{120.3, -40.1, 7.7}) - 8;
        worst = std::max(worst, std::abs(static_cast<double>(round->at(i, j, k)) - std::clamp(exact, -band, band)));
      }
  CHECK(worst < voxel / 3);
}

TEST_CASE("distances in a wide band: what stands out of the lattice counts too", "[solid]") {
  // A rod that runs through the lattice and ends far out of it.
  const TriMesh rod = shapes::box({-40, -2, -2}, {40, 2, 2}, 8);
  Box3 window;
  window.add({-5, -12, -12});
  window.add({5, 12, 12});
  const auto field = distance_lattice(rod, window, 0.5, 8);
  REQUIRE(field);
  for (int j = 0; j < field->nj; ++j) {
    const Vec3 p = field->place_mm(0, j, field->nk / 2);
    const double exact = std::max(std::abs(p.y), std::abs(p.z)) - 2;
    if (std::abs(p.z) < 1.5 && exact < 8)
      CHECK(static_cast<double>(field->at(0, j, field->nk / 2)) == Approx(exact).margin(0.2));
  }
}

TEST_CASE("what lies round a box and a ball within each distance, by hand", "[solid]") {
  const double pi = std::numbers::pi;
  const Vec3 s{30, 20, 12};
  const auto by_hand = [&](double d) {
    return 2 * (s.x * s.y + s.y * s.z + s.z * s.x) * d + pi * (s.x + s.y + s.z) * d * d + 4.0 / 3 * pi * d * d * d;
  };
  const TriMesh box = shapes::box({0, 0, 0}, s, 3);
  for (const TriMesh& m : {box, transformed(box, shapes::odd_turn())}) {
    const auto curve = growth_curve(m, 10, 0.5);
    REQUIRE(curve);
    CHECK(curve->at_mm3(0) == 0);
    double before = 0;
    for (const double d : {0.8, 1.2, 2.4, 5.0, 7.3, 9.9}) {
      INFO(d);
      CHECK(curve->at_mm3(d) == Approx(by_hand(d)).epsilon(0.01));
      CHECK(curve->at_mm3(d) > before);
      before = curve->at_mm3(d);
    }
    CHECK(curve->at_mm3(50) == curve->within_mm3.back());
    CHECK(curve->at_mm3(-1) == 0);
  }
  const auto round = growth_curve(shapes::icosphere(9, 5), 6, 0.5);
  REQUIRE(round);
  for (const double d : {1.0, 3.0, 6.0})
    CHECK(round->at_mm3(d) == Approx(4.0 / 3 * pi * (std::pow(9 + d, 3) - 729)).epsilon(0.01));
  CHECK_FALSE(growth_curve(box, 10, 0));
  CHECK_FALSE(growth_curve(box, 10, 0.01));
}

}  // namespace tests_solid_growth
