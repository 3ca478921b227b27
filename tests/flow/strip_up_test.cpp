// Which way up a part hangs from its bar.
#include <catch2/catch.hpp>

#include "flow/strip_up.hpp"
#include "flow/sweep.hpp"
#include "mould/strip.hpp"
#include "shapes.hpp"

namespace tests_flow_strip_up {

using namespace palinform;

namespace {
double trapped(const TriMesh& mesh, const Vec3& up) {
  const auto cavity = fill_with_cells(mesh, 0.3);
  REQUIRE(cavity);
  const auto rays = RayScene::build(mesh);
  REQUIRE(rays);
  Vec3 at;
  double top = -1e300;
  for (const Vec3& p : mesh.points)
    if (dot(p, -up) > top) top = dot(p, -up), at = p;
  return sweep_air(*cavity, -up, {{at, 0}})->trapped_mm3;
}
}  // namespace

TEST_CASE("a strip's parts hang the way that keeps least air, however they lie in their file", "[flow]") {
  // An L lying down: hung by its foot's end it keeps air in the arm that points up again.
  const TriMesh hook = shapes::extruded({{0, 0}, {12, 0}, {12, 9}, {9, 9}, {9, 3}, {3, 3}, {3, 9}, {0, 9}}, 4);
  for (const bool turn : {false, true}) {
    const TriMesh mesh = turn ? transformed(hook, shapes::odd_turn()) : hook;
    const Vec3 pull = turn ? shapes::odd_turn().direction({0, 1, 0}) : Vec3{0, 1, 0};
    const auto rays = RayScene::build(mesh);
    REQUIRE(rays);
    const auto up = strip_up(mesh, **rays, pull);
    REQUIRE(up);
    CHECK(trapped(mesh, *up) < 3);
  }
  // Where nothing is gained the pull stands.
  const TriMesh plain = shapes::box({0, 0, 0}, {6, 4, 3}, 2);
  const auto rays = RayScene::build(plain);
  CHECK(*strip_up(plain, **rays, {0, 0, 1}) == Vec3{0, 0, 1});
  // A strut more costs more than it frees of a part that keeps no air: the way that needs none is taken.
  const auto up_needs = [](const Vec3& up) {
    return up.z > 0.9 ? std::vector<Vec3>(3, Vec3{1, 1, 0}) : std::vector<Vec3>{};
  };
  CHECK(strip_up(plain, **rays, {0, 0, 1}, up_needs)->z < 0.9);
}

TEST_CASE("a strip's well holds the foam of all parts; what would need too wide a one is refused", "[flow]") {
  const TriMesh part = shapes::box({0, 0, 0}, {14, 10, 12}, 2);
  StripRules r;
  for (const int many : {1, 6, 12}) {
    const auto s = plan_strip({{&part, {0, 0, 1}, many}}, r);
    REQUIRE(s);
    CHECK(s->well_mm3() >= r.foam_ratio * s->parts_mm3 * (1 - 1e-9));
  }
  r.foam_ratio = 20;
  const auto no = plan_strip({{&part, {0, 0, 1}, 6}}, r);
  REQUIRE_FALSE(no);
  CHECK(no.error().what.find("foam of 6 parts") != std::string::npos);
}

}  // namespace tests_flow_strip_up
