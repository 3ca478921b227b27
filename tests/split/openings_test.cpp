// Openings: found by themselves, followed from mouth to mouth, closed exactly (M4).
#include "split/openings.hpp"

#include <catch2/catch.hpp>

#include <cmath>

#include "mesh/fill_between.hpp"
#include "mesh/handles.hpp"
#include "mesh/load.hpp"
#include "mesh/primitives.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"
#include "stages/openings.hpp"

namespace tests_split_openings {

using namespace palinform;

namespace {

struct Body : ReadyPart {
  using ReadyPart::ReadyPart;
  Openings openings() const {
    auto o = find_openings(mesh, pairs, *rays);
    REQUIRE(o);
    return *std::move(o);
  }
  double volume() const { return measure(mesh).volume_mm3; }
  /// Filled from `from` to `to`, shares of its length.
  Result<TriMesh> filled(const Opening& o, double from = 0, double to = 1, double dimple = 0) const {
    FillBetween f{o.cut_at(from * o.length_mm()), o.cut_at(to * o.length_mm()), dimple, 0, o.name};
    return filled_between(mesh, pairs, *rays, {f});
  }
};

TriMesh less(const TriMesh& a, const std::vector<TriMesh>& away) {
  TriMesh out = a;
  for (const TriMesh& b : away) {
    auto cut = subtract(out, b);
    REQUIRE(cut);
    out = *std::move(cut);
  }
  return out;
}

TriMesh windowed() { return less(shapes::box({0, 0, 0}, {40, 40, 40}), {shapes::box({12, 14, -1}, {27, 24, 41})}); }

bool sound(const TriMesh& m) {
  const EdgePairs p = pair_edges(m);
  return p.open_edges + p.non_manifold_edges + p.turned_pairs == 0;
}

}  // namespace

TEST_CASE("handles: a ball has none, a ring one, a windowed cube one", "[split]") {
  const auto count = [](const TriMesh& m) { return handles_of(m, pair_edges(m)); };
  CHECK(count(shapes::icosphere(5, 3)) == 0);
  CHECK(count(shapes::torus(10, 3, 40, 20)) == 1);
  CHECK(count(windowed()) == 1);
  CHECK(count(shapes::joined(shapes::torus(10, 3, 40, 20),
                             transformed(shapes::torus(10, 3, 40, 20), Transform::move({50, 0, 0})))) == 2);
  const TriMesh ring = shapes::torus(10, 3, 40, 20);
  CHECK(handle_loops(ring, pair_edges(ring)).size() == 2);
}

TEST_CASE("a square window is found by itself, followed through, and filled exactly", "[split]") {
  const Body b(windowed());
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  CHECK(all.unseen == 0);
  CHECK(o.area_mm2 == Approx(150).epsilon(1e-3));
  CHECK(o.width_mm == Approx(10).epsilon(0.02));
  CHECK(o.long_mm == Approx(std::hypot(15, 10)).epsilon(0.02));
  CHECK(o.length_mm() == Approx(40).epsilon(1e-3));
  CHECK(std::abs(o.axis().z) == Approx(1).epsilon(1e-4));
  CHECK(o.straight);
  CHECK_FALSE(o.round_mm);
  CHECK(o.steps_mm2().size() == 1);
  CHECK(o.volume_mm3 == Approx(6000).epsilon(2e-3));

  const auto whole = b.filled(o);
  REQUIRE(whole);
  CHECK(sound(*whole));
  CHECK(measure(*whole).volume_mm3 == Approx(64000).epsilon(1e-3));
  CHECK(handles_of(*whole, pair_edges(*whole)) == 0);

  // A membrane half-way; a plug that leaves a recess of 10 mm, with a dimple.
  const auto film = b.filled(o, 0.5 - 0.1 / 40, 0.5 + 0.1 / 40);
  REQUIRE(film);
  CHECK(sound(*film));
  CHECK(measure(*film).volume_mm3 - b.volume() == Approx(0.2 * 150).epsilon(2e-3));
  const auto plug = b.filled(o, 0.25, 1, 3);
  REQUIRE(plug);
  CHECK(sound(*plug));
  CHECK(measure(*plug).volume_mm3 - b.volume() == Approx(30 * 150 - M_PI / 3 * 1.5 * 1.5 * 1.5).epsilon(2e-3));
}

TEST_CASE("an opening is the same however the part is turned", "[split]") {
  const Body straight(windowed()), turned(transformed(windowed(), shapes::odd_turn()));
  const Openings a = straight.openings(), b = turned.openings();
  REQUIRE(b.openings.size() == 1);
  CHECK(b.openings[0].area_mm2 == Approx(a.openings[0].area_mm2).epsilon(2e-3));
  CHECK(b.openings[0].length_mm() == Approx(a.openings[0].length_mm()).epsilon(2e-3));
  const auto whole = turned.filled(b.openings[0]);
  REQUIRE(whole);
  CHECK(measure(*whole).volume_mm3 == Approx(64000).epsilon(1e-3));
}

TEST_CASE("a bent tunnel is followed round its corner", "[split]") {
  // In at the top, out at the side: 10 × 10 throughout.
  const auto l = unite(shapes::box({15, 15, 15}, {25, 25, 41}), shapes::box({15, 15, 15}, {41, 25, 25}));
  REQUIRE(l);
  const Body b(less(shapes::box({0, 0, 0}, {40, 40, 40}), {*l}));
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  CHECK(o.area_mm2 == Approx(100).epsilon(0.01));
  CHECK_FALSE(o.straight);
  const auto whole = b.filled(o);
  REQUIRE(whole);
  CHECK(sound(*whole));
  CHECK(measure(*whole).volume_mm3 == Approx(64000).epsilon(1e-3));
}

TEST_CASE("crossing bores are two openings; they fill together or not at all", "[split]") {
  const TriMesh rod = transformed(shapes::cylinder(4, 44, 96), Transform::move({0, 0, -22}));
  const Body b(
      less(shapes::box({-20, -20, -20}, {20, 20, 20}), {rod, transformed(rod, Transform::turn({1, 0, 0}, M_PI / 2))}));
  CHECK(handles_of(b.mesh, b.pairs) == 3);
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 2);
  for (const Opening& o : all.openings) {
    REQUIRE(o.round_mm);
    CHECK(*o.round_mm == Approx(8).epsilon(0.01));
    CHECK(o.length_mm() == Approx(40).epsilon(2e-3));
    CHECK(o.straight);
    const auto alone = b.filled(o);
    REQUIRE_FALSE(alone);
    CHECK(alone.error().what.find("crosses") != std::string::npos);
  }
  std::vector<FillBetween> both;
  for (const Opening& o : all.openings) both.push_back({o.cut_at(0), o.cut_at(o.length_mm()), 0, 0, o.name});
  const auto whole = filled_between(b.mesh, b.pairs, *b.rays, both);
  REQUIRE(whole);
  CHECK(sound(*whole));
  CHECK(measure(*whole).volume_mm3 == Approx(64000).epsilon(1e-3));
}

TEST_CASE("a blind slot is no opening; a stepped bore is one, with its steps", "[split]") {
  CHECK(Body(less(shapes::box({0, 0, 0}, {40, 40, 40}), {shapes::box({10, 18, 20}, {30, 20, 41})}))
            .openings()
            .openings.empty());
  const Body b(shapes::drilled_cube(40, {{14, 10}, {8, 40}}, 96));
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  CHECK(o.length_mm() == Approx(40).epsilon(2e-3));
  REQUIRE(o.round_mm);
  CHECK(*o.round_mm == Approx(8).epsilon(0.01));
  const auto steps = o.steps_mm2();
  REQUIRE(steps.size() == 2);
  CHECK(std::max(steps[0], steps[1]) == Approx(M_PI * 49).epsilon(0.01));
  CHECK(std::min(steps[0], steps[1]) == Approx(M_PI * 16).epsilon(0.01));
  const auto whole = b.filled(o);
  REQUIRE(whole);
  CHECK(measure(*whole).volume_mm3 == Approx(64000).epsilon(1e-3));
}

TEST_CASE("a box with six windows shows all six, the way into it among them", "[split]") {
  // Walls of 3 mm round a hollow, a window in each.
  std::vector<TriMesh> away{shapes::box({3, 3, 3}, {57, 47, 37})};
  away.push_back(shapes::box({10, 10, -1}, {22, 18, 4}));
  away.push_back(shapes::box({30, 20, 36}, {40, 36, 41}));
  away.push_back(shapes::box({-1, 12, 10}, {4, 20, 30}));
  away.push_back(shapes::box({56, 20, 15}, {61, 30, 21}));
  away.push_back(shapes::box({20, -1, 10}, {50, 4, 16}));
  away.push_back(shapes::box({12, 46, 12}, {20, 51, 20}));
  TriMesh tools = away[0];
  for (size_t k = 1; k < away.size(); ++k) {
    auto u = unite(tools, away[k]);
    REQUIRE(u);
    tools = *std::move(u);
  }
  const Body b(less(shapes::box({0, 0, 0}, {60, 50, 40}), {tools}));
  CHECK(handles_of(b.mesh, b.pairs) == 5);
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 6);
  std::vector<double> areas;
  for (const Opening& o : all.openings) {
    areas.push_back(o.area_mm2);
    CHECK(o.length_mm() == Approx(3).epsilon(0.01));
  }
  const std::vector<double> true_areas{180, 160, 160, 96, 64, 60};
  for (size_t k = 0; k < 6; ++k) CHECK(areas[k] == Approx(true_areas[k]).epsilon(0.01));
  // A point on a window's wall names it.
  const auto at = opening_at(all, {35, 20, 38.5});
  REQUIRE(at);
  CHECK(all.openings[*at].area_mm2 == Approx(160).epsilon(0.01));
}

TEST_CASE("a solid part has no openings, a mesh with holes in its skin is refused", "[split]") {
  CHECK(Body(shapes::icosphere(10, 3)).openings().openings.empty());
  TriMesh torn = windowed();
  torn.triangles.pop_back();
  const EdgePairs pairs = pair_edges(torn);
  CHECK_FALSE(find_openings(torn, pairs, **RayScene::build(torn)));
}

TEST_CASE("the demo's timer housing: its six openings, each as thick as its wall, however rounded the edges",
          "[split]") {
  const auto loaded = load_mesh(PALINFORM_DEMO_MESHES "/timer_housing.stl", LengthUnit::mm);
  REQUIRE(loaded);
  const Openings all = Body(loaded->mesh).openings();
  CHECK(all.unseen == 0);
  REQUIRE(all.openings.size() == 6);
  const double areas[6] = {22 * 14, 14 * 9, 38.1, 38.1, 38.1, M_PI * 9};
  for (size_t k = 0; k < 6; ++k) {
    const Opening& o = all.openings[k];
    CHECK(o.area_mm2 == Approx(areas[k]).epsilon(0.01));
    CHECK(o.length_mm() == Approx(2.4).epsilon(0.02));
    CHECK(o.straight);
    CHECK(o.round_mm.has_value() == (k == 5));
  }
}

namespace {

OriginalResult as_result(const Body& b) {
  OriginalResult r;
  r.mesh = std::make_shared<const TriMesh>(b.mesh);
  r.pairs = std::make_shared<const EdgePairs>(b.pairs);
  r.rays = b.rays;
  return r;
}

OpeningChoice a_slide(const Opening& o, int mouth, bool two = false) {
  OpeningChoice c;
  c.kind = OpeningChoice::Kind::slide, c.at_mm = o.at_mm(), c.mouth = mouth, c.two = two;
  return c;
}

}  // namespace

TEST_CASE("a slide of a stepped bore follows its steps, and is held where it would be drawn through the narrow end",
          "[split]") {
  // Ø12 for 14 mm, then Ø8 for 26 mm, through a block of 40.
  const auto rod = [](double r, double z0, double z1) {
    return transformed(shapes::cylinder(r, z1 - z0, 96), Transform::move({20, 20, z0}));
  };
  const Body b(less(shapes::box({0, 0, 0}, {40, 40, 40}), {rod(4, -1, 41), rod(6, 26, 41)}));
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  CHECK_FALSE(is_prism(o));
  const OriginalResult r = as_result(b);
  const PinRules rules;
  const double wall = 12, head = slide_head_mm(wall, rules) + rules.grip_mm, tail = slide_tail_mm(wall, rules);
  const auto area = [&](double radius) { return 0.5 * 96 * std::sin(2 * M_PI / 96) * radius * radius; };
  const int wide = dot(o.axis(), Vec3{0, 0, 1}) > 0 ? 2 : 1;  // the mouth at the top
  const auto out_of_wide = slides_of(r, all, {a_slide(o, wide)}, {}, wall, rules);
  REQUIRE(out_of_wide.size() == 1);
  const PinPlan& p = out_of_wide[0];
  REQUIRE(p.body);
  CHECK(sound(pin_mesh(p)));
  CHECK(p.locked_mm2 < 0.01);
  CHECK(measure(pin_mesh(p)).volume_mm3 == Approx(area(4) * (26 + tail) + area(6) * (14 + head)).epsilon(2e-3));
  CHECK(p.draw.z == Approx(1).margin(1e-3));
  // Its seat in the rubber: a hole for the tail, one for the head, nothing between.
  CHECK(p.tail_section_mm2() == Approx(area(4)).epsilon(2e-3));
  CHECK(p.section_mm2() == Approx(area(6)).epsilon(2e-3));
  const auto other_way = slides_of(r, all, {a_slide(o, 3 - wide)}, {}, wall, rules);
  REQUIRE(other_way.size() == 1);
  CHECK(other_way[0].locked_mm2 == Approx(area(6) - area(4)).epsilon(0.01));  // the shoulder
  // A size that asks for a wider pin moves its wall out, steps and all.
  MeasuredSize bore;
  bore.id = "s1", bore.kind = SizeKind::bore, bore.nominal_mm = 8, bore.formed = FormedBy::pin, bore.pin_mm = 8.1;
  bore.from_mm = {16, 20, 10}, bore.to_mm = {24, 20, 10};
  const auto asked = slides_of(r, all, {a_slide(o, wide)}, {bore}, wall, rules);
  REQUIRE(asked.size() == 1);
  REQUIRE(asked[0].body);
  CHECK(asked[0].tail_section_mm2() == Approx(area(4.05)).epsilon(2e-3));
  CHECK(asked[0].section_mm2() == Approx(area(6.05)).epsilon(2e-3));
}

TEST_CASE("a slide is not held by the broken edge of the far mouth: rubber forms that, and it goes straight on",
          "[split]") {
  // Ø8 through a plate of 6, both edges broken by 0.8 at 45°.
  const auto away = [](const Vec3& foot, double up, double length_mm, double r0, double r1) {
    return rod(foot, {0, 0, up}, length_mm, r0, r1, 96);
  };
  const Body b(
      less(shapes::box({0, 0, 0}, {40, 40, 6}),
           {away({20, 20, -1}, 1, 8, 4, 4), away({20, 20, -1}, 1, 1.8, 5.8, 4), away({20, 20, 7}, -1, 1.8, 5.8, 4)}));
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  CHECK_FALSE(is_prism(o));
  const OriginalResult r = as_result(b);
  const PinRules rules;
  const double wall = 12, head = slide_head_mm(wall, rules) + rules.grip_mm, tail = slide_tail_mm(wall, rules);
  const auto area = [&](double radius) { return 0.5 * 96 * std::sin(2 * M_PI / 96) * radius * radius; };
  for (const int mouth : {1, 2}) {
    INFO("out of mouth " << mouth);
    const auto slides = slides_of(r, all, {a_slide(o, mouth)}, {}, wall, rules);
    REQUIRE(slides.size() == 1);
    const PinPlan& p = slides[0];
    REQUIRE(p.body);
    CHECK(sound(pin_mesh(p)));
    CHECK(p.locked_mm2 < 0.01 * o.outline_length_mm * o.length_mm());
    CHECK(p.section_mm2() == Approx(area(4.8)).epsilon(0.02));
    CHECK(p.tail_section_mm2() == Approx(area(4)).epsilon(0.01));
    const double cone = 0.8 / 3 * (area(4) + area(4.8) + std::sqrt(area(4) * area(4.8)));
    CHECK(measure(pin_mesh(p)).volume_mm3 == Approx(area(4) * (5.2 + tail) + cone + area(4.8) * head).epsilon(0.01));
  }
}

TEST_CASE("two slides meet at the waist of an opening that neither passes, tip in dimple", "[split]") {
  // Ø9 from either side, Ø6 for 8 mm in the middle: 16 + 8 + 16.
  const auto rod = [](double r, double z0, double z1) {
    return transformed(shapes::cylinder(r, z1 - z0, 96), Transform::move({20, 20, z0}));
  };
  const Body b(less(shapes::box({0, 0, 0}, {40, 40, 40}), {rod(3, -1, 41), rod(4.5, -1, 16), rod(4.5, 24, 41)}));
  const Openings all = b.openings();
  REQUIRE(all.openings.size() == 1);
  const Opening& o = all.openings[0];
  const OriginalResult r = as_result(b);
  const PinRules rules;
  const double wall = 10, head = slide_head_mm(wall, rules) + rules.grip_mm;
  for (const int mouth : {1, 2}) {
    const auto one = slides_of(r, all, {a_slide(o, mouth)}, {}, wall, rules);
    REQUIRE(one.size() == 1);
    CHECK(one[0].locked_mm2 > 30);
  }
  const auto both = slides_of(r, all, {a_slide(o, 1, true)}, {}, wall, rules);
  REQUIRE(both.size() == 2);
  double volume = 0;
  for (const PinPlan& p : both) {
    REQUIRE(p.body);
    CHECK(sound(pin_mesh(p)));
    CHECK(p.locked_mm2 < 0.01);
    CHECK(p.tail_mm == 0);
    volume += measure(pin_mesh(p)).volume_mm3;
  }
  CHECK(both[0].meets == both[1].name);
  CHECK(both[1].meets == both[0].name);
  CHECK(dot(both[0].draw, both[1].draw) == Approx(-1).margin(1e-6));
  CHECK(both[0].forms_mm + both[1].forms_mm == Approx(o.length_mm()).epsilon(1e-6));
  // Together they are the opening and both heads; the dimple is a little wider than the tip.
  const auto area = [](double radius) { return 0.5 * 96 * std::sin(2 * M_PI / 96) * radius * radius; };
  const double opening = area(4.5) * 32 + area(3) * 8;
  CHECK(o.volume_mm3 == Approx(opening).epsilon(0.02));
  CHECK(volume == Approx(opening + 2 * head * area(4.5)).epsilon(2e-3));
  // Moved, a slide stays itself.
  const Transform turn = Transform::turn({0, 0, 1}, 0.7);
  const PinPlan there = moved(both[0], turn);
  CHECK(measure(pin_mesh(there)).volume_mm3 == Approx(measure(pin_mesh(both[0])).volume_mm3).epsilon(1e-9));
  CHECK(measure(pin_socket(there, 0)).volume_mm3 == Approx(measure(pin_socket(both[0], 0)).volume_mm3).epsilon(1e-9));
}

TEST_CASE("a prism takes a bar of the shop: the smallest that holds its outline", "[split]") {
  const Body b(windowed());
  const Openings all = b.openings();
  PinRules rules;
  rules.bars_mm = {{20, 12}, {16, 10}, {15, 8}};
  const auto p = slides_of(as_result(b), all, {a_slide(all.openings[0], 1)}, {}, 10, rules);
  REQUIRE(p.size() == 1);
  CHECK_FALSE(p[0].body);
  REQUIRE(p[0].bar_mm);
  CHECK((*p[0].bar_mm)[0] == 16);
}

}  // namespace tests_split_openings
