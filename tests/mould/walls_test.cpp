// Walls apart, boxes that are given, several masters in one.
#include <catch2/catch.hpp>

#include "drawn/solid.hpp"
#include "mesh/lighter.hpp"
#include "mesh/smooth_face.hpp"
#include "mesh/soundness.hpp"
#include "mould/halves.hpp"
#include "mould/several.hpp"
#include "shapes.hpp"
#include "stages/own_boxes.hpp"

namespace tests_mould_walls {

using namespace palinform;

namespace {

struct Cut {
  TriMesh mesh;
  Split split;
};
Cut cut(TriMesh m, const Vec3& pull = {0, 0, 1}) {
  auto s = split_along(m, pair_edges(m), **RayScene::build(m), pull);
  REQUIRE(s);
  return {std::move(m), *std::move(s)};
}

}  // namespace

TEST_CASE("sides, floor and top each have their wall, and volumes add up", "[mould]") {
  const Cut c = cut(shapes::box({0, 0, 0}, {40, 30, 20}, 4));
  MouldOptions o;
  o.wall_mm = 12, o.floor_mm = 6, o.top_mm = 9;
  const auto m = two_part_mould(c.mesh, c.split, o);
  REQUIRE(m);
  const Vec3 in = m->inner_mm.size();
  CHECK(in.x == Approx(64));
  CHECK(in.y == Approx(54));
  CHECK(in.z == Approx(35));
  CHECK(m->rubber_mm3 == Approx(64 * 54 * 35 - 40 * 30 * 20).epsilon(1e-3));
  // A box that is given is filled, the part in its middle; turned where only that holds it.
  for (const Point2& inside : {Point2{100, 60}, Point2{60, 100}}) {
    o.inside_mm = inside;
    const auto given = two_part_mould(c.mesh, c.split, o);
    REQUIRE(given);
    CHECK(given->inner_mm.size().x == Approx(100));
    CHECK(given->rubber_mm3 == Approx(100 * 60 * 35 - 24'000).epsilon(1e-3));
    CHECK(given->inner_mm.centre().x == Approx(m->inner_mm.centre().x));
  }
  // One that does not hold part and walls is not taken.
  o.inside_mm = Point2{50, 50};
  CHECK_FALSE(box_fits(box_in(c.mesh, m->frame), o.walls(), *o.inside_mm));
  CHECK(two_part_mould(c.mesh, c.split, o)->inner_mm.size().x == Approx(64));
}

TEST_CASE("the wall's rule is capped", "[mould]") {
  const WallRule rule;
  CHECK(wall_by_rule_mm({2, 2, 1}, 40, rule) == rule.min_mm);
  CHECK(wall_by_rule_mm({100, 50, 20}, 40, rule) == Approx(12));
  CHECK(wall_by_rule_mm({600, 300, 20}, 40, rule) == rule.most_mm);
  CHECK(wall_by_rule_mm({600, 300, 20}, 15, rule) == rule.most_mm + rule.extra_soft_mm);
}

TEST_CASE("boxes of the shop: the least rubber first, L-boards as they would be set, a low one refused", "[mould]") {
  const Vec3 needed{90, 60, 40};
  const double part = 50'000;
  const std::vector<OwnBox> boxes{{"Tide box", 180, 120, 90},
                                  {"Low tray", 200, 150, 44},
                                  {"Tin", 95, 66, 80},
                                  {"Slim", 120, 55, 80},
                                  {"L-boards", 300, 200, 120, true}};
  const auto offers = box_offers(needed, part, boxes, 8);
  REQUIRE(offers.size() == 5);
  CHECK(offers[0].name == "L-boards");
  CHECK(offers[0].inside_mm.x == 90);
  CHECK(offers[0].more_mm3 == Approx(0).margin(1e-6));
  CHECK(offers[1].name == "Tin");
  CHECK(offers[1].rubber_mm3 == Approx(95 * 66 * 40 - part));
  CHECK(offers[1].below_brim_mm == Approx(40));
  CHECK(offers[2].name == "Tide box");
  CHECK(offers[2].more_mm3 == Approx((180 * 120 - 90 * 60) * 40));
  // Plates close off all of it but what the part needs.
  CHECK(offers[2].dammed_mm3 == Approx(offers[2].more_mm3));
  CHECK(offers[3].why_not == "4 mm too low");
  CHECK(offers[4].why_not == "5 mm too narrow");
  const auto plates = dam_plates(needed, {180, 120, 90}, 6);
  REQUIRE(plates.size() == 2);
  CHECK(plates[0].from_end_mm == 90);
  CHECK(plates[0].wide_mm == 120);
  CHECK(plates[0].high_mm == 40);
  CHECK(plates[1].wide_mm == 90);
  CHECK(dam_plates(needed, {95, 66, 80}, 6).empty());
}

TEST_CASE("several masters in one box: one pour round all of them", "[mould]") {
  const Cut c = cut(shapes::box({0, 0, 0}, {40, 30, 20}, 4));
  MouldOptions o;
  o.wall_mm = 10;
  for (const int count : {2, 3, 4, 6}) {
    const auto set = master_set({{&c.mesh, &c.split, count}}, o.wall_mm);
    REQUIRE(set);
    CHECK(set->masters.size() == static_cast<size_t>(count));
    CHECK(length(set->masters[0].place.shift) == 0);
    CHECK(set->split.side.size() == set->mesh->triangles.size());
    CHECK(set->split.loops.size() == static_cast<size_t>(count) * c.split.loops.size());
    const auto m = two_part_mould(*set->mesh, set->split, o);
    REQUIRE(m);
    const Vec3 in = m->inner_mm.size();
    CHECK(m->part_mm3 == Approx(count * 24'000.0));
    CHECK(m->rubber_mm3 == Approx(in.x * in.y * in.z - count * 24'000.0).epsilon(2e-3));
    // Less than as many boxes of their own: neighbours share a wall.
    CHECK(m->rubber_mm3 < count * two_part_mould(c.mesh, c.split, o)->rubber_mm3);
    if (count == 4) CHECK(in.x * in.y == Approx((2 * 40 + 30) * (2 * 30 + 30)));
    // No two nearer than the wall.
    for (size_t i = 0; i < set->masters.size(); ++i)
      for (size_t k = 0; k < i; ++k) {
        const Vec3 d = set->masters[i].place.shift - set->masters[k].place.shift;
        CHECK((std::abs(d.x) >= 50 - 1e-9 || std::abs(d.y) >= 40 - 1e-9));
      }
  }
  const TriMesh fine = shapes::icosphere(10, 7);
  const Cut coarse = cut(shapes::icosphere(10, 1));
  CHECK_FALSE(master_set({{&fine, &coarse.split, 24}}, 10));
}

TEST_CASE("halves of a box with two masters are sound and enclose its rubber", "[mould]") {
  const Cut c = cut(shapes::icosphere(9, 3));
  const auto set = master_set({{&c.mesh, &c.split, 2}}, 10);
  REQUIRE(set);
  MouldOptions o;
  const auto fine = fine_mould(*set->mesh, set->split, o, 0.6);
  REQUIRE(fine);
  const auto h = mould_halves(*set->mesh, *fine, place_keys(*fine, KeyKind::studs, {}, {}), {}, {0.6, 0.05});
  REQUIRE(h);
  double sum = 0;
  for (const HalfSolid& half : h->halves) {
    const auto sound = check_soundness(half.mesh, false);
    REQUIRE(sound);
    CHECK(sound->sound());
    sum += measure(half.mesh).volume_mm3;
  }
  CHECK(sum == Approx(fine->rubber_mm3).epsilon(0.02));
}

TEST_CASE("a mark takes the whole face it lies on, flat, round or free", "[mesh]") {
  // A ball has one face.
  const TriMesh ball = shapes::icosphere(12, 3);
  CHECK(smooth_face(ball, pair_edges(ball), 5).size() == ball.triangles.size());
  // A plate with rounded edges: its head is one face, its rounding another.
  Drawn d;
  DrawnBody plate = begun(BodyShape::plate);
  plate.corner_mm = 8, plate.edge_mm = 2;
  d.bodies = {plate};
  const auto solid = draw_solid(d);
  REQUIRE(solid);
  const TriMesh& m = solid->mesh;
  const EdgePairs pairs = pair_edges(m);
  const auto at = [&](auto&& is) {
    for (uint32_t t = 0; t < m.triangles.size(); ++t)
      if (is(m.normal(t), m.centre(t))) return t;
    FAIL("no such face");
    return 0u;
  };
  const auto area = [&](const std::vector<uint32_t>& face) {
    double sum = 0;
    for (const uint32_t t : face) sum += m.area_mm2(t);
    return sum;
  };
  const auto head = smooth_face(m, pairs, at([](const Vec3& n, const Vec3&) { return n.z > 0.9999; }));
  for (const uint32_t t : head) CHECK(m.normal(t).z > 0.999);
  CHECK(area(head) == Approx(56 * 36 - (4 - M_PI) * 36).epsilon(0.01));
  const auto rim =
      smooth_face(m, pairs, at([](const Vec3& n, const Vec3& c) { return n.z > 0.5 && n.z < 0.8 && c.z > 4; }));
  CHECK(std::none_of(rim.begin(), rim.end(), [&](uint32_t t) { return m.normal(t).z > 0.9999; }));
  // All round the head, not one facet of it.
  CHECK(rim.size() > 40);
}

TEST_CASE("a lighter copy stays on the surface, whole and closed", "[mesh]") {
  const TriMesh ball = shapes::icosphere(20, 6);  // 81,920
  const TriMesh copy = lighter(ball, 8'000, 0.05);
  CHECK(copy.triangles.size() < 12'000);
  const auto pairs = pair_edges(copy);
  CHECK(pairs.open_edges == 0);
  CHECK(measure(copy).volume_mm3 == Approx(measure(ball).volume_mm3).epsilon(0.005));
  for (const Vec3& p : copy.points) CHECK(length(p) == Approx(20).margin(0.05));
  CHECK(lighter(copy, 50'000, 0.05) == copy);
}

TEST_CASE("rows of different masters: by hand, the same for any order, nothing nearer than the wall", "[mould]") {
  // 40 × 30, and two of 18 × 10 that lie beside one another behind it as wide as it is.
  const std::vector<Footprint> prints{{40, 30}, {18, 10}, {12, 10}};
  const auto at = packed(prints, 10);
  const auto box = [](const std::vector<Footprint>& f, const std::vector<Point2>& p) {
    double u = 0, v = 0;
    for (size_t k = 0; k < f.size(); ++k) u = std::max(u, p[k].x + f[k].u_mm), v = std::max(v, p[k].y + f[k].v_mm);
    return (u + 20) * (v + 20);
  };
  // In one column of two rows: (40 + 20) × (30 + 10 + 10 + 20).
  CHECK(box(prints, at) == Approx(60 * 70));
  const std::vector<Footprint> turned{prints[2], prints[0], prints[1]};
  CHECK(box(turned, packed(turned, 10)) == Approx(60 * 70));
  for (size_t i = 0; i < prints.size(); ++i)
    for (size_t k = 0; k < i; ++k)
      CHECK((at[i].x + prints[i].u_mm + 10 <= at[k].x + 1e-9 || at[k].x + prints[k].u_mm + 10 <= at[i].x + 1e-9 ||
             at[i].y + prints[i].v_mm + 10 <= at[k].y + 1e-9 || at[k].y + prints[k].v_mm + 10 <= at[i].y + 1e-9));
}

TEST_CASE("dams and a second stage come off rubber, pours, curve and halves alike", "[mould]") {
  // An L with a tower at one end.
  const TriMesh part = shapes::joined(
      shapes::joined(shapes::box({0, 0, 0}, {70, 15, 12}, 2), shapes::box({0, 15 - 1e-9, 0}, {15, 70, 12}, 2)),
      shapes::box({0, 0, 12 - 1e-9}, {15, 15, 50}, 2));
  const Cut c = cut(part);
  MouldOptions o;
  o.wall_mm = 10;
  const auto plain = two_part_mould(c.mesh, c.split, o);
  o.dams = true;
  const auto dammed = two_part_mould(c.mesh, c.split, o);
  o.stage_a = true;
  const auto both = two_part_mould(c.mesh, c.split, o);
  REQUIRE((plain && dammed && both));
  REQUIRE(dammed->dams() >= 1);
  double blocks = 0;
  for (const KeptOut& k : dammed->kept_out) {
    const Vec3 s = k.box_mm.size();
    blocks += s.x * s.y * s.z;
  }
  CHECK(plain->rubber_mm3 - dammed->rubber_mm3 == Approx(blocks).epsilon(1e-3));
  for (const auto* m : {&*plain, &*dammed, &*both}) {
    CHECK(m->pours[0].volume_mm3 + m->pours[1].volume_mm3 == Approx(m->rubber_mm3).epsilon(1e-6));
    CHECK(m->box_mm3 - m->part_mm3 == Approx(m->rubber_mm3).margin(2e-3 * plain->rubber_mm3));
    for (const RubberPour& p : m->pours) {
      CHECK(p.curve.back().volume_mm3 == Approx(p.volume_mm3).epsilon(1e-3));
      for (size_t i = 1; i < p.curve.size(); ++i) CHECK(p.curve[i].volume_mm3 >= p.curve[i - 1].volume_mm3 - 1e-6);
    }
  }
  // No block comes nearer to the part than the wall.
  for (const KeptOut& k : both->kept_out)
    for (const Vec3& q : c.mesh.points) {
      const Vec3 p = both->frame.direction(q);
      const double dx = std::max({k.box_mm.min.x - p.x, p.x - k.box_mm.max.x, 0.0}),
                   dy = std::max({k.box_mm.min.y - p.y, p.y - k.box_mm.max.y, 0.0}),
                   dz = std::max({k.box_mm.min.z - p.z, p.z - k.box_mm.max.z, 0.0});
      CHECK(std::sqrt(dx * dx + dy * dy + dz * dz) > 10 - 2 * both->pitch_mm);
    }
  const RubberPour& a = both->pours[0];
  CHECK(a.stage_mm3 > 0);
  CHECK(a.stage_mm3 < a.volume_mm3);
  CHECK(a.stage_mm3 == Approx(Mould::volume_under(a, a.stage_fill_mm)));
  CHECK(both->rubber_mm3 < 0.8 * dammed->rubber_mm3);
  CHECK(both->pours[1].stage_mm3 == 0);
  // The halves as solids.
  const KeyPlan keys = place_keys(*both, KeyKind::studs);
  for (const Key& key : keys.keys)
    for (const KeptOut& k : both->kept_out) {
      if (!k.dam) continue;
      const double dx = std::max({k.box_mm.min.x - key.at_mm.x, key.at_mm.x - k.box_mm.max.x, 0.0}),
                   dy = std::max({k.box_mm.min.y - key.at_mm.y, key.at_mm.y - k.box_mm.max.y, 0.0});
      CHECK(std::hypot(dx, dy) >= key.radius_mm);
    }
  const auto h = mould_halves(c.mesh, *both, keys, {}, {0.6, 0.05});
  REQUIRE(h);
  double sum = 0;
  for (const HalfSolid& half : h->halves) sum += measure(half.mesh).volume_mm3;
  CHECK(sum == Approx(both->rubber_mm3).epsilon(0.02));
  // A block has nothing to stage and no empty corner.
  const Cut block = cut(shapes::box({0, 0, 0}, {40, 30, 20}, 4));
  const auto same = two_part_mould(block.mesh, block.split, o);
  o.dams = o.stage_a = false;
  CHECK(same->rubber_mm3 == Approx(two_part_mould(block.mesh, block.split, o)->rubber_mm3).epsilon(1e-9));
  CHECK(same->kept_out.empty());
}

}  // namespace tests_mould_walls
