// What gate and vents run into on their way out, and the way round it.
#include <catch2/catch.hpp>
#include <cmath>

#include "flow/crossings.hpp"
#include "shapes.hpp"
#include "split/parting.hpp"
#include "stages/flowing.hpp"
#include "stages/preparation.hpp"

namespace tests_flow_crossings {

using namespace palinform;

namespace {

struct Ball {
  TriMesh mesh = shapes::icosphere(15, 4);
  std::shared_ptr<const RayScene> rays = *RayScene::build(mesh);
  Mould mould;
  Ball() {
    const auto s = split_along(mesh, pair_edges(mesh), *rays, {0, 0, 1});
    REQUIRE(s);
    MouldOptions o;
    o.wall_mm = 12;
    mould = *two_part_mould(mesh, *s, o);
  }
  Channel channel(const Vec3& at, const Vec3& up) const {
    const SurfacePoint on = rays->closest(at);
    return plan_channel(*rays, measure(mesh).box_mm, on.point_mm, mesh.normal(on.triangle), up, 27, true, "gate");
  }
};

bool with(const std::vector<Crossing>& all, Crossing::With w) {
  return std::any_of(all.begin(), all.end(), [&](const Crossing& c) { return c.with == w; });
}

}  // namespace

TEST_CASE("a gate on the upper half goes straight out; one from under the line crosses it", "[flow]") {
  const Ball b;
  CHECK(crossings_of(b.channel({0, 0, 15}, {0, 0, 1}), b.mould, {}, {}, 1).empty());
  const Channel low = b.channel({11, 0, -11}, {0, 0, 1});
  const auto crossed = crossings_of(low, b.mould, {}, {}, 1);
  REQUIRE(crossed.size() == 1);
  CHECK(crossed[0].with == Crossing::With::parting);
  CHECK(std::abs(crossed[0].at_mm.z) < 4);
  // Standing the other way up it is the other way round.
  CHECK(crossings_of(b.channel({0, 0, -15}, {0, 0, -1}), b.mould, {}, {}, 1).empty());
  // The way round: near enough a place over the line is found, and it is clear.
  const auto to = clear_foot(low, *b.rays, b.mesh, {0, 0, 1}, 27, b.mould, {}, {}, 1, 25, {});
  REQUIRE(to);
  CHECK(length(*to - low.path_mm.front()) <= 25);
  CHECK(crossings_of(b.channel(*to, {0, 0, 1}), b.mould, {}, {}, 1).empty());
  CHECK_FALSE(clear_foot(low, *b.rays, b.mesh, {0, 0, 1}, 27, b.mould, {}, {}, 1, 2, {}));
}

TEST_CASE("a channel that runs along the line, half in each half, crosses nothing", "[flow]") {
  const Ball b;
  Channel c;
  c.gate = true, c.diameter_mm = 5;
  c.path_mm = {{15, 0, 0}, {27, 0, 0}};
  CHECK(crossings_of(c, b.mould, {}, {}, 1).empty());
  c.path_mm = {{15, 0, -2}, {27, 0, 2}};
  CHECK(crossings_of(c, b.mould, {}, {}, 1).empty());
  c.path_mm = {{15, 0, -8}, {27, 0, 8}};
  CHECK(with(crossings_of(c, b.mould, {}, {}, 1), Crossing::With::parting));
}

TEST_CASE("pins and keys in the way: by hand, as near as the rubber between allows", "[flow]") {
  const Ball b;
  Channel c;
  c.diameter_mm = 4;
  c.path_mm = {{0, 0, 15}, {0, 0, 30}};
  PinPlan pin;
  pin.name = "Pin 1", pin.draw = {1, 0, 0}, pin.diameter_mm = 6;
  pin.tail_mm = 10, pin.forms_mm = 10, pin.head_mm = 10;
  for (const double apart : {5.5, 6.5}) {  // 2 + 3 of radii and 1 of rubber
    pin.foot_mm = {-15, apart, 20};
    CHECK(with(crossings_of(c, b.mould, {}, {pin}, 1), Crossing::With::pin) == (apart < 6));
  }
  // Past its end it is out of the way.
  pin.foot_mm = {8, 0, 20};
  CHECK_FALSE(with(crossings_of(c, b.mould, {}, {pin}, 1), Crossing::With::pin));
  Key bar;
  bar.radius_mm = 3, bar.half_length_mm = 10, bar.along_deg = 90;
  for (const double apart : {5.5, 6.5}) {
    bar.at_mm = b.mould.frame.direction({apart, 0, 20});
    const double turn = std::atan2(b.mould.frame.direction({0, 1, 0}).y, b.mould.frame.direction({0, 1, 0}).x);
    bar.along_deg = turn * 180 / 3.14159265358979;
    CHECK(with(crossings_of(c, b.mould, {bar}, {}, 1), Crossing::With::key) == (apart < 6));
  }
}

TEST_CASE("the reservoir is as wide and deep as the job says, by the rule where it says nothing", "[flow]") {
  const auto master = ready_mesh(std::make_shared<const TriMesh>(shapes::icosphere(15, 4)), Progress::none());
  REQUIRE(master);
  FlowSetup f;
  f.gate = Vec3{0, 0, 15};
  f.sprue_mm = 5;
  const auto by_rule = channels_to(*master, {0, 0, 1}, 30, f);
  REQUIRE(by_rule.size() == 1);
  CHECK(by_rule[0].cup_mm == Approx(5 * ChannelRules{}.cup_ratio));
  f.cup_mm = 24, f.cup_deep_mm = 20;
  const auto own = channels_to(*master, {0, 0, 1}, 30, f);
  CHECK(own[0].cup_mm == Approx(24));
  CHECK(own[0].cup_deep_mm == Approx(20));
  // A frustum in place of the sprue's last 20 mm.
  const auto frustum = [](double high, double r0, double r1) {
    return 3.14159265358979 / 3 * high * (r0 * r0 + r0 * r1 + r1 * r1);
  };
  Channel plain = own[0];
  plain.cup_mm = 0;
  CHECK(own[0].volume_mm3() - plain.volume_mm3() == Approx(frustum(20, 2.5, 12) - frustum(20, 2.5, 2.5)).epsilon(0.01));
}

}  // namespace tests_flow_crossings
