#include <catch2/catch.hpp>
#include <numbers>

#include "shapes.hpp"
#include "split/open_face.hpp"

namespace tests_split_open_face {

using namespace palinform;

namespace {

std::vector<OpenFace> faces(const TriMesh& m, std::optional<Vec3> only = std::nullopt, double shore = 30) {
  OpenFaceOptions o;
  o.shore_a = shore;
  const auto rays = RayScene::build(m);
  REQUIRE(rays);
  const auto r = open_faces(m, **rays, o, only);
  REQUIRE(r);
  return *r;
}

const TriMesh mushroom = shapes::turned({{0, 0}, {4, 0}, {4, 10}, {15, 10}, {15, 16}, {0, 16}});

}  // namespace

TEST_CASE("a slab, and a knob with a flat back, are open by themselves: nobody needs to mark them", "[split]") {
  const auto slab = faces(shapes::box({0, 0, 0}, {40, 30, 8}, 4));
  REQUIRE_FALSE(slab.empty());
  CHECK(slab.front().verdict == LetsGo::draws);
  CHECK(std::abs(slab.front().normal.z) == Approx(1));  // the largest of them
  CHECK(slab.front().area_mm2 == Approx(1200));
  CHECK(slab.front().share == Approx(1).margin(0.03));
  const auto knob = faces(shapes::turned({{0, 0}, {15, 0}, {15, 4}, {10, 10}, {0, 12}}));
  REQUIRE_FALSE(knob.empty());
  CHECK(knob.front().verdict == LetsGo::draws);
  CHECK(knob.front().normal.z == Approx(-1));
  CHECK(knob.front().holds == 0);
  // Round all over: no flat face, nothing to propose.
  CHECK(faces(shapes::icosphere(15, 3)).empty());
}

TEST_CASE("what hangs over is judged by reach and mouth: peels, slit, no; a rounded edge is none", "[split]") {
  const Vec3 down{0, 0, -1};
  // An overhang of 2 mm, 6 mm high: it flexes in 30 A, not in 60 A.
  const TriMesh hat = shapes::turned({{0, 0}, {10, 0}, {10, 6}, {12, 6}, {12, 10}, {0, 10}});
  auto f = faces(hat, down).front();
  CHECK(f.verdict == LetsGo::peels);
  CHECK(f.reach_mm == Approx(2).margin(0.5));
  CHECK(f.mouth_mm == Approx(6).margin(0.7));
  REQUIRE(f.at_mm);
  // The mushroom on its stem: 11 mm through 10.
  f = faces(mushroom, down).front();
  CHECK(f.verdict == LetsGo::slit);
  CHECK(f.reach_mm == Approx(11).margin(0.8));
  CHECK(f.slit_mm == Approx(10).margin(0.5));
  CHECK(faces(mushroom, down, 15).front().verdict == LetsGo::peels);  // 15 A bears a ratio of 1.5
  // … but upside down, on its cap, it draws, and that is what is proposed.
  const auto best = faces(mushroom).front();
  CHECK(best.verdict == LetsGo::draws);
  CHECK(best.normal.z == Approx(1));
  // A broken edge of 0.2 mm beside the flat face is a lip, 2 mm of it is an undercut.
  CHECK(faces(shapes::turned({{0, 0}, {14.8, 0}, {15, 0.2}, {15, 8}, {0, 8}}), down).front().verdict == LetsGo::draws);
  CHECK(faces(shapes::turned({{0, 0}, {13, 0}, {15, 2}, {15, 8}, {0, 8}}), down).front().holds == 1);
  // Rubber through a hole along the bench never comes out.
  const TriMesh arch = shapes::bored_box({12, 12, 20}, 6, 1, 64);
  f = faces(arch, Vec3{0, 0, -1}).front();
  CHECK(f.verdict == LetsGo::no);
  CHECK(f.why.find("right through") != std::string::npos);
}

TEST_CASE("turning the part turns the open face with it", "[split]") {
  const Transform turn = shapes::odd_turn();
  const auto plain = faces(mushroom), there = faces(transformed(mushroom, turn));
  REQUIRE(plain.size() == there.size());
  const Vec3 n = turn.direction(plain.front().normal);
  CHECK(dot(n, there.front().normal) == Approx(1).margin(1e-6));
  CHECK(there.front().verdict == plain.front().verdict);
  CHECK(there.front().share == Approx(plain.front().share).margin(0.03));
  const auto stem = faces(transformed(mushroom, turn), turn.direction({0, 0, -1})).front();
  CHECK(stem.verdict == LetsGo::slit);
  CHECK(stem.reach_mm == Approx(11).margin(0.9));
}

}  // namespace tests_split_open_face
