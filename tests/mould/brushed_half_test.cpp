// One half of a block brushed on and backed: amounts by hand, solids that fill the half, what is hidden from the
// backing.
#include <catch2/catch.hpp>
#include <numbers>

#include "mesh/soundness.hpp"
#include "mould/brushed_half.hpp"
#include "mould/halves.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"
#include "split/parting.hpp"

namespace tests_mould_brushed_half {

using namespace palinform;

namespace {

constexpr double pi = std::numbers::pi;

struct Part {
  TriMesh mesh;
  EdgePairs pairs;
  std::shared_ptr<const RayScene> rays;
  Split split;
  Mould mould;
  explicit Part(TriMesh m, const Vec3& pull = {0, 0, 1}, double wall = 15)
      : mesh(std::move(m)),
        pairs(pair_edges(mesh)),
        rays(*RayScene::build(mesh)),
        split(*split_along(mesh, pairs, *rays, pull)) {
    MouldOptions o;
    o.wall_mm = wall;
    mould = *two_part_mould(mesh, split, o);
  }
};

BrushedHalfAsked asked(bool upper, std::vector<double> outer, int keys = 0) {
  BrushedHalfAsked a;
  a.upper = upper;
  a.outer_mm = std::move(outer);
  a.rules.keys_a_shell = keys;
  return a;
}

bool sound(const TriMesh& m) {
  const auto s = check_soundness(m);
  return s && s->sound();
}

/// Of a ball's upper half lying on its bed: all within t of it or of the bed, over a box of that ground.
double ball_layer_mm3(double r, double t, double ground_mm2) {
  const double out = r + t;
  const auto cap = [&](double from) {  // of the outer ball, over that height
    return pi * (out * out * (out - from) - (out * out * out - from * from * from) / 3);
  };
  return ground_mm2 * t + cap(t) - 2.0 / 3 * pi * r * r * r;
}

}  // namespace

TEST_CASE("coats over half a ball and its bed by hand, either side, turned or not", "[mould]") {
  const double r = 20;
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const Part p(transformed(shapes::icosphere(r, 5), t), t.direction({0, 0, 1}));
    const Vec3 size = p.mould.inner_mm.size();
    for (const bool upper : {true, false}) {
      INFO((turn ? "turned, " : "") << (upper ? "a" : "b"));
      const auto h = brushed_half(p.mesh, p.mould, asked(upper, {1.5, 3, 5}));
      REQUIRE(h);
      REQUIRE(h->coats_mm3.size() == 3);
      double under = 0, sum = 0;
      for (size_t k = 0; k < 3; ++k) {
        const double all = ball_layer_mm3(r, std::vector{1.5, 3.0, 5.0}[k], size.x * size.y);
        CHECK(h->coats_mm3[k] == Approx(all - under).epsilon(0.015));
        under = all;
        sum += h->coats_mm3[k];
      }
      // A ball hides nothing from what is drawn off it.
      CHECK(h->filler_mm3 < 0.01 * sum);
      CHECK(h->rubber_mm3() + h->backing_mm3 == Approx(p.mould.pours[upper ? 0 : 1].volume_mm3));
      for (const TriMesh* m : {&h->rubber, &h->backing, &h->covered}) CHECK(sound(*m));
      CHECK(measure(h->rubber).volume_mm3 == Approx(h->rubber_mm3()).epsilon(0.01));
      CHECK(measure(h->backing).volume_mm3 == Approx(h->backing_mm3).epsilon(0.01));
    }
  }
}

TEST_CASE("what hides from the backing is filled with rubber, and the backing draws off", "[mould]") {
  // A mushroom: a stem of 10 under a head of 30 across; the ring under the head would hold a stiff backing.
  const auto with = [](double head) {
    TriMesh m = shapes::cylinder(5, 16, 64);
    TriMesh top = shapes::cylinder(0.5 * head, 6, 64);
    for (Vec3& q : top.points) q.z += 15;
    return std::pair{m, top};
  };
  const auto [stem, head] = with(30);
  const auto one = unite(stem, head);
  REQUIRE(one);
  Part p(*one);
  // The line lies round the head: the bed reaches up to it. Brushed is the upper side; of a bed round the stem's foot
  // the lower side is the one with the ring in it.
  const auto upper = brushed_half(p.mesh, p.mould, asked(true, {2, 4}));
  const auto lower = brushed_half(p.mesh, p.mould, asked(false, {2, 4}));
  REQUIRE((upper && lower));
  for (const auto* h : {&*upper, &*lower}) {
    CHECK(sound(h->rubber));
    CHECK(sound(h->backing));
    // Moved off along its way, the backing nowhere runs into rubber, master or bed.
    const bool is_upper = h == &*upper;
    const auto covered = RayScene::build(h->covered);
    REQUIRE(covered);
    const Vec3 way = p.mould.frame.rows[2] * (is_upper ? 1.0 : -1.0);
    size_t inside = 0;
    for (size_t k = 0; k < h->backing.points.size(); k += 37)
      for (const double by : {2.0, 6.0}) {
        const Vec3 q = h->backing.points[k] + way * by;
        const bool in = (*covered)->all_hits(q, unit(Vec3{0.31, 0.52, 0.79})).size() % 2 == 1;
        if (in && (*covered)->closest(q).distance_mm > 0.7) ++inside;
      }
    CHECK(inside == 0);
  }
}

TEST_CASE("loose keys are rubber more and backing less; blocks in the box hold neither", "[mould]") {
  Part p(shapes::box({0, 0, 0}, {60, 40, 16}));
  const auto plain = brushed_half(p.mesh, p.mould, asked(true, {2, 4}));
  const auto keyed = brushed_half(p.mesh, p.mould, asked(true, {2, 4}, 3));
  REQUIRE((plain && keyed));
  const JacketRules r;
  const double a = r.key_radius_mm, high = r.key_high_mm, cap = pi * high * (3 * a * a + high * high) / 6;
  // Their feet stand on the voxel under the skin: up to half a one lower.
  CHECK(keyed->rubber_mm3() - plain->rubber_mm3() == Approx(3 * cap).epsilon(0.15));
  CHECK(keyed->backing_mm3 < plain->backing_mm3);
  Mould with_block = p.mould;
  Box3 corner;
  corner.add(p.mould.inner_mm.min);
  corner.add(p.mould.inner_mm.min + Vec3{10, 10, p.mould.inner_mm.size().z});
  with_block.kept_out.push_back({corner, true});
  const auto less = brushed_half(p.mesh, with_block, asked(true, {2, 4}));
  REQUIRE(less);
  CHECK(plain->rubber_mm3() - less->rubber_mm3() == Approx(100 * 4).epsilon(0.02));
}

TEST_CASE("a half that cannot be brushed is refused in words", "[mould]") {
  Part p(shapes::box({0, 0, 0}, {30, 30, 10}), {0, 0, 1}, 6);
  CHECK_FALSE(brushed_half(p.mesh, p.mould, asked(true, {})));
  const auto thick = brushed_half(p.mesh, p.mould, asked(true, {10, 20}));
  REQUIRE_FALSE(thick);
  CHECK(thick.error().text().find("the coats fill the box") != std::string::npos);
}

}  // namespace tests_mould_brushed_half
