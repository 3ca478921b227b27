#include <catch2/catch.hpp>
#include <cstdlib>
#include <numbers>

#include "mesh/feature.hpp"
#include "mesh/load.hpp"
#include "mesh/rays.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"
#include "shapes.hpp"

namespace tests_mesh_step {

using namespace palinform;

namespace {
int count(const std::vector<ExactFace>& list, FaceKind kind) {
  int n = 0;
  for (const ExactFace& e : list) n += e.kind == kind;
  return n;
}
}  // namespace

TEST_CASE("STEP: tessellated sound, with its cylinders and planes as stated", "[mesh]") {
  shapes::TempDir dir;
  REQUIRE(std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) == 0);
  for (const char* file : {"plate.step", "inch.stp"}) {  // units in the file are minded
    INFO(file);
    const auto loaded = load_mesh(dir / file);
    REQUIRE(loaded);
    CHECK(loaded->unit_from_file);
    CHECK_FALSE(loaded->unit_guess);
    REQUIRE(loaded->deflection_mm);
    CHECK(*loaded->deflection_mm < 0.004);
    CHECK(check_soundness(loaded->mesh)->sound());
    const double true_volume = 60 * 40 * 12 - std::numbers::pi * (16 * 12 + 9 * 5) + std::numbers::pi * 25 * 7;
    CHECK(measure(loaded->mesh).volume_mm3 == Approx(true_volume).epsilon(2e-4));
    CHECK(count(loaded->exact, FaceKind::bore) == 2);
    CHECK(count(loaded->exact, FaceKind::boss) == 1);
    CHECK(count(loaded->exact, FaceKind::plane) >= 8);
    const ExactFace* through = nullptr;
    for (const ExactFace& e : loaded->exact)
      if (e.kind == FaceKind::bore && std::abs(e.diameter_mm - 8) < 1e-6) through = &e;
    REQUIRE(through);
    CHECK(through->depth_mm == Approx(12).margin(1e-6));
    CHECK(through->point_mm.x == Approx(15).margin(1e-6));
    CHECK(through->point_mm.z == Approx(6).margin(1e-6));
    CHECK(std::abs(through->direction.z) == Approx(1));
    // Every stated plane's outward normal agrees with the triangles there.
    const auto rays = RayScene::build(loaded->mesh);
    for (const ExactFace& e : loaded->exact)
      if (e.kind == FaceKind::plane) {
        const SurfacePoint p = (*rays)->closest(e.point_mm);
        if (p.distance_mm < 0.01) CHECK(dot(loaded->mesh.normal(p.triangle), e.direction) > 0.999);
      }
    // A click on the bore takes the stated diameter instead of the polygon's.
    const EdgePairs pairs = pair_edges(loaded->mesh);
    const SurfacePoint wall = (*rays)->closest({15 + 3.99, 20, 6});
    const FaceFit fit = fit_face(loaded->mesh, pairs, wall.triangle), exact = snapped(fit, loaded->exact);
    CHECK(fit.kind == FaceKind::bore);
    CHECK_FALSE(fit.exact);
    CHECK(exact.exact);
    CHECK(exact.diameter_mm == Approx(8).margin(1e-9));
    CHECK(exact.depth_mm == Approx(12).margin(1e-6));
  }
}

TEST_CASE("STEP: bad files are refused in words", "[mesh]") {
  shapes::TempDir dir;
  REQUIRE(std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) == 0);
  const auto bytes = read_file(dir / "plate.step");
  REQUIRE(bytes);
  CHECK_FALSE(read_mesh("", "a.step"));
  CHECK_FALSE(read_mesh("hello", "a.step"));
  CHECK_FALSE(read_mesh(bytes->substr(0, bytes->size() / 3), "a.step"));
  const auto r = read_mesh("ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n", "empty.stp");
  REQUIRE_FALSE(r);
  CHECK(r.error().where == "empty.stp");
  Progress stop;
  stop.cancel();
  const auto stopped = read_mesh(*bytes, "a.step", std::nullopt, stop);
  REQUIRE_FALSE(stopped);
  CHECK(stopped.error().cancelled);
}

}  // namespace tests_mesh_step
