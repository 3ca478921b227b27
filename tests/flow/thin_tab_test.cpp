// Features thinner and shallower than a cell are seen: cells are cut by the wall, not counted whole.
#include <catch2/catch.hpp>

#include "flow/sweep.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"

namespace tests_flow_thin_tab {

using namespace palinform;

namespace {

Sweep swept(const TriMesh& mesh, double voxel_mm, const Vec3& vent) {
  const auto cavity = fill_with_cells(mesh, voxel_mm);
  REQUIRE(cavity);
  CHECK(cavity->total_mm3() == Approx(measure(mesh).volume_mm3).epsilon(1e-5));
  auto s = sweep_air(*cavity, {0, 0, 1}, {{vent, 0}});
  REQUIRE(s);
  return *std::move(s);
}

}  // namespace

TEST_CASE("a tab of 0.5 mm on a large block keeps its air, in cells five times as thick", "[flow]") {
  const auto block = unite(shapes::box({0, 0, 0}, {60, 40, 20}), shapes::box({25, 19.75, 19.5}, {35, 20.25, 28}));
  REQUIRE(block);
  // 10 × 0.5 × 8 mm stand over the vent's level.
  for (const double voxel : {0.7, 1.3, 2.5}) {
    const Sweep s = swept(*block, voxel, {55, 5, 20});
    INFO("cells of " << voxel << " mm");
    REQUIRE(s.pockets.size() == 1);
    CHECK(s.pockets[0].apex_mm.z == Approx(28).margin(1e-3));
    CHECK(s.pockets[0].volume_mm3 > 39.5);
    CHECK(s.pockets[0].volume_mm3 < (voxel < 1 ? 41 : 52));
  }
}

TEST_CASE("a pocket shallower than half a cell is real, and is told", "[flow]") {
  const auto block = unite(shapes::box({0, 0, 0}, {60, 40, 20}), shapes::box({20, 10, 19}, {32, 26, 20.4}));
  REQUIRE(block);
  const Sweep s = swept(*block, 1.0, {55, 5, 20});
  REQUIRE(s.pockets.size() == 1);
  CHECK(s.pockets[0].depth_mm == Approx(0.4).margin(0.02));
  CHECK(s.pockets[0].volume_mm3 == Approx(12 * 16 * 0.4).epsilon(0.05));
}

}  // namespace tests_flow_thin_tab
