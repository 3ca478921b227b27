// What single forms have of their own: bars along the sides, stacked rim, strips with struts and different parts,
// narrow places of an open face, the line in a cup.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "findings/mould.hpp"
#include "flow/strip_up.hpp"
#include "mesh/soundness.hpp"
#include "mould/cup_line.hpp"
#include "mould/grooves.hpp"
#include "mould/keys.hpp"
#include "mould/rim.hpp"
#include "mould/strip.hpp"
#include "shapes.hpp"
#include "solid/carve.hpp"
#include "solid/plan_distance.hpp"
#include "split/parting.hpp"

namespace tests_mould_forms_own {

using namespace palinform;

namespace {

Mould block_round(const TriMesh& m, double wall = 12) {
  const auto s = split_along(m, pair_edges(m), **RayScene::build(m), {0, 0, 1});
  REQUIRE(s);
  MouldOptions o;
  o.wall_mm = wall;
  const auto made = two_part_mould(m, *s, o);
  REQUIRE(made);
  return *made;
}

/// A comb: a back of 30 × 6 × 4 with teeth hanging down from it, each of its own length.
TriMesh comb(const std::vector<double>& teeth_mm) {
  const TriMesh m = shapes::box({0, 0, 20}, {10.0 * static_cast<double>(teeth_mm.size()), 6, 24}, 2);
  std::vector<TriMesh> bodies{m};
  for (size_t k = 0; k < teeth_mm.size(); ++k) {
    const double x = 10.0 * static_cast<double>(k) + 4;
    bodies.push_back(shapes::box({x, 2, 20 - teeth_mm[k]}, {x + 2, 4, 21}));
  }
  return *carved(bodies, {}, 0, 0.2);  // one skin
}

}  // namespace

TEST_CASE("distances in plan: by hand on a small grid, none marked is far", "[mould]") {
  std::vector<uint8_t> marked(35, 0);
  marked[2 * 7 + 3] = 1;
  const auto d = plan_distance2(marked, 7, 5);
  for (int j = 0; j < 5; ++j)
    for (int i = 0; i < 7; ++i)
      CHECK(d[static_cast<size_t>(j * 7 + i)] == Approx((i - 3) * (i - 3) + (j - 2) * (j - 2)));
  CHECK(plan_distance2(std::vector<uint8_t>(12, 0), 4, 3)[5] == 1e12);
  CHECK(plan_distance2({}, 0, 0).empty());
}

TEST_CASE("bars lie along every side, the longer the mould the more of them", "[mould]") {
  size_t before = 0;
  for (const double half : {30.0, 90.0, 200.0}) {
    const Mould m = block_round(shapes::box({-half, -20, -10}, {half, 20, 10}, 4));
    const KeyPlan plan = place_keys(m, KeyKind::bars);
    INFO(half);
    CHECK(plan.assembly_unique);
    CHECK(key_findings(plan, {}).empty());
    int low = 0, high = 0, left = 0, right = 0;
    for (const Key& k : plan.keys) {
      CHECK(k.half_length_mm > k.radius_mm);
      if (k.along_deg == 0)
        (k.at_mm.y < 0 ? low : high) += 1;
      else
        (k.at_mm.x < 0 ? left : right) += 1;
      // Nowhere along it does it come nearer to part or wall than the rule.
      for (const double t : {-1.0, -0.5, 0.0, 0.5, 1.0}) {
        const double x = k.at_mm.x + (k.along_deg == 0 ? t * k.half_length_mm : 0),
                     y = k.at_mm.y + (k.along_deg == 0 ? 0 : t * k.half_length_mm);
        const double to_part = std::max(std::abs(x) - half, std::abs(y) - 20),
                     to_wall = std::min(half + 12 - std::abs(x), 32 - std::abs(y));
        CHECK(std::min(to_part, to_wall) - k.radius_mm >= 1.4);
      }
      // Two bars keep apart.
      for (const Key& o : plan.keys)
        if (&o != &k && o.along_deg == k.along_deg && k.along_deg == 0 && (o.at_mm.y < 0) == (k.at_mm.y < 0))
          CHECK(std::abs(o.at_mm.x - k.at_mm.x) > k.half_length_mm + o.half_length_mm + k.radius_mm);
    }
    CHECK(low >= 1);
    CHECK(low == high);
    CHECK(left == 1);
    CHECK(right == 1);
    CHECK(plan.keys.size() > before);
    before = half > 100 ? 0 : plan.keys.size() - (half < 50 ? 0 : 1);
  }
}

TEST_CASE("a stacked rim: lip, play and hold by hand; two rubbers that shrink apart do not go together", "[mould]") {
  KeyPlan plan;
  plan.kind = KeyKind::rim;
  plan.step_mm = 4, plan.ring_mm = 5, plan.draft_deg = 15;
  const RimFit r = rim_fit(plan, {110, 60, 40}, 2, 0, 15);
  CHECK(r.layers == 2);
  CHECK(r.lip_mm == 4);
  CHECK(r.play_mm == Approx(4 * std::tan(15 * std::numbers::pi / 180)));
  CHECK(r.holds_n == Approx(15e-3 * 2 * (100 + 50) * 4 / std::cos(15 * std::numbers::pi / 180)));
  CHECK(r.enters());
  CHECK(rim_findings(r, 10).empty());
  CHECK(rim_findings(r, 40).front().code == "rim-bands");
  const RimFit apart = rim_fit(plan, {1110, 60, 40}, 2, 0.4, 15);
  CHECK(apart.misfit_mm == Approx(0.5 * 1100 * 0.004));
  CHECK_FALSE(apart.enters());
  CHECK(rim_findings(apart, 10).front().code == "rim-tight");
  // No layer is thinner than a sheet.
  CHECK(rim_fit(plan, {110, 60, 40}, 6, 0, 15).layers == 1);
}

TEST_CASE("low tips: a comb's teeth but the lowest, none of them hollows; turning it turns them", "[mould]") {
  const TriMesh m = comb({12, 18, 9});
  const auto tips = low_tips(m, 3);
  // Each tooth's four corners are one tip; the longest tooth is the nub's.
  REQUIRE(tips.size() == 2);
  CHECK(tips[0].z == Approx(8).margin(0.1));
  CHECK(tips[1].z == Approx(11).margin(0.1));
  CHECK(low_tips(m, 10).size() == 1);  // the shortest hangs 9 mm only
  CHECK(low_tips(shapes::icosphere(10, 3), 1).empty());
  // The floor of a bowl is lower than its rim, but it faces up.
  const TriMesh bowl = shapes::joined(shapes::box({0, 0, 0}, {30, 30, 20}, 3),
                                      shapes::turned_over(shapes::box({5, 5, 5}, {25, 25, 19}, 3)));
  CHECK(low_tips(bowl, 1).empty());
}

TEST_CASE("a strip's struts reach every limb from the bar, volumes with them; without the rule there are none",
          "[mould]") {
  const TriMesh m = comb({12, 18, 9});
  StripRules r;
  const std::vector<StripPart> hang{{&m, {0, 0, 1}, 2}};
  const auto s = plan_strip(hang, r);
  REQUIRE(s);
  CHECK(s->struts_mm.size() == 4);
  for (const Vec3& tip : s->struts_mm) {
    CHECK(tip.x > s->bar_mm.min.x);
    CHECK(tip.x < s->bar_mm.max.x);
    CHECK(tip.y > s->bar_mm.min.y);
    CHECK(tip.y < s->well_mm.max.y);
  }
  const auto bar = strip_bar(*s);
  REQUIRE(bar);
  CHECK(check_soundness(*bar)->sound());
  CHECK(measure(*bar).volume_mm3 == Approx(s->bar_mm3()).epsilon(0.01));
  r.strut_mm = 0;
  CHECK(plan_strip(hang, r)->struts_mm.empty());
  CHECK(strut_places({&m, {0, 0, 1}, 1}, {}).size() == 2);
}

TEST_CASE("different parts hang from one bar, each its own way up; rubber and well are of all", "[mould]") {
  const TriMesh a = shapes::box({-4, -1, 0}, {4, 1, 12}, 2), b = shapes::box({100, 0, 0}, {118, 5, 3}, 2);
  const std::vector<StripPart> hang{{&a, {0, 0, 1}, 3}, {&b, {1, 0, 0}, 2}};
  const auto s = plan_strip(hang);
  REQUIRE(s);
  REQUIRE(s->places.size() == 5);
  CHECK(s->parts_mm3 == Approx(3 * 8 * 2 * 12 + 2 * 18 * 5 * 3));
  CHECK(s->well_mm3() >= StripRules{}.foam_ratio * s->parts_mm3 * (1 - 1e-9));
  for (size_t k = 0; k < s->places.size(); ++k) {
    const StripPlace& p = s->places[k];
    CHECK(p.part == (k < 3 ? 0 : 1));
    const Vec3 up = p.place.direction(hang[p.part].up);
    CHECK(up.z == Approx(1));
    // All hang at one height over the bar, a wall inside the box.
    const Box3 box = measure(transformed(*hang[p.part].mesh, p.place)).box_mm;
    CHECK(box.min.z == Approx(s->bar_mm.max.z + StripRules{}.nub_long_mm));
    CHECK(box.min.y >= StripRules{}.wall_mm - 1e-9);
    CHECK(box.max.z <= s->inner_mm.max.z - StripRules{}.wall_mm + 1e-9);
    for (size_t o = 0; o < k; ++o) {
      const Box3 other = measure(transformed(*hang[s->places[o].part].mesh, s->places[o].place)).box_mm;
      CHECK(box.min.x >= other.max.x + StripRules{}.gap_mm - 1e-9);
    }
  }
  const auto bar = strip_bar(*s);
  REQUIRE(bar);
  const auto rubber = strip_rubber(hang, *s, *bar, 0.4);
  REQUIRE(rubber);
  CHECK(measure(*rubber).volume_mm3 == Approx(s->rubber_mm3()).epsilon(0.01));
  // What stands out of a part is taken out at each of its places.
  const Box3 own = measure(*hang[1].mesh).box_mm;
  const Vec3 top = own.centre() + Vec3{0, 0, 0.5 * own.size().z};
  const TriMesh stands_out = shapes::box(top - Vec3{1.5, 1.5, 3}, top + Vec3{1.5, 1.5, 3});
  const auto less = strip_rubber(hang, *s, *bar, 0.4, {{}, {&stands_out}});
  REQUIRE(less);
  const auto places =
      std::count_if(s->places.begin(), s->places.end(), [](const StripPlace& p) { return p.part == 1; });
  CHECK(measure(*rubber).volume_mm3 - measure(*less).volume_mm3 == Approx(places * 3 * 3 * 3).epsilon(0.15));
}

TEST_CASE("the straight cut goes in where the rubber is thinner, as deep as the part is widest", "[mould]") {
  // Widest at its upper end: a T. From the face over it 6 of wall and half a bin; from the side 6 and half of 20.
  const TriMesh t =
      shapes::joined(shapes::box({-2, -2, 0}, {2, 2, 20}), shapes::box({-2, -10, 20 - 1e-9}, {2, 10, 24}));
  const auto s = plan_strip({{&t, {0, 0, 1}, 3}});
  REQUIRE(s);
  CHECK(s->cut.from_face);
  CHECK(s->cut.deep_mm == Approx(6).margin(0.5));
  CHECK(s->cut.at_mm == Approx(6 + 10).margin(0.3));
  CHECK(s->cut.long_mm == Approx(s->inner_mm.size().x));
  // Widest at the bar, tall: from the side.
  const TriMesh foot = shapes::joined(shapes::box({-2, -4, 0}, {2, 4, 3}), shapes::box({-2, -2, 3 - 1e-9}, {2, 2, 30}));
  const auto low = plan_strip({{&foot, {0, 0, 1}, 3}});
  REQUIRE(low);
  CHECK_FALSE(low->cut.from_face);
  CHECK(low->cut.deep_mm == Approx(6 + 4).margin(0.3));
  CHECK(low->cut.at_mm == Approx(6 + 27).margin(0.5));
}

TEST_CASE("narrow places of an open face: a rib and a peg by hand, a block has none, corners do not count", "[mould]") {
  const TriMesh block = shapes::box({0, 0, 0}, {60, 40, 10}, 4);
  CHECK(grooves_of(block, {0, 0, 1}, 3)->empty());
  // The open face is z = 10; a rib 1.5 wide, 30 long and 8 deep, and a square peg of 2 by 2, 12 deep, hang below.
  const TriMesh part = shapes::joined(shapes::joined(block, shapes::box({10, 10, -8}, {40, 11.5, 1e-9})),
                                      shapes::box({50, 25, -12}, {52, 27, 1e-9}));
  for (const bool turn : {false, true}) {
    const Transform t = turn ? shapes::odd_turn() : Transform{};
    const auto g = grooves_of(transformed(part, t), t.direction({0, 0, 1}), 3);
    REQUIRE(g);
    REQUIRE(g->size() == 2);
    CHECK((*g)[0].deep_mm == Approx(22).margin(1));  // the peg, deepest first
    CHECK((*g)[0].volume_mm3 == Approx(2 * 2 * 12).epsilon(0.15));
    CHECK((*g)[1].deep_mm == Approx(18).margin(1));
    CHECK((*g)[1].volume_mm3 == Approx(1.5 * 30 * 8).epsilon(0.1));
    const Vec3 at = t.point_back((*g)[0].at_mm);
    CHECK(at.x == Approx(51).margin(1));
    CHECK(at.y == Approx(26).margin(1));
  }
  // Wider than asked for they are no grooves.
  CHECK(grooves_of(part, {0, 0, 1}, 1.2)->empty());
}

TEST_CASE("the line in a cup: by hand for a sleeve, to its brim for more than it holds", "[mould]") {
  // A sleeve 40 across and 30 high with a bore of 20 right through.
  const TriMesh sleeve = shapes::bored_box({20, 20, 15}, 10, 2, 96);
  const auto rays = RayScene::build(sleeve);
  REQUIRE(rays);
  Bore bore;
  bore.axis = {0, 0, 1};
  bore.diameter_mm = 20, bore.depth_mm = 30;
  bore.through = true;
  const double cup = 40 * 40 * 30, part = measure(sleeve).volume_mm3;
  REQUIRE(part == Approx(cup - std::numbers::pi * 100 * 30).epsilon(0.01));
  const auto line = cup_line_mm(sleeve, **rays, bore, part);
  REQUIRE(line);
  CHECK(*line == Approx(30 * part / cup).epsilon(0.02));
  CHECK(*cup_line_mm(sleeve, **rays, bore, 2 * cup) == Approx(30));
}

}  // namespace tests_mould_forms_own
