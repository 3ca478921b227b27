// Originals drawn from measures and from a volume: against what the measures say by themselves.
#include <catch2/catch.hpp>
#include <numbers>

#include "drawn/solid.hpp"
#include "drawn/stand_in.hpp"
#include "mesh/soundness.hpp"
#include "mesh/topology.hpp"

namespace tests_drawn_solid {

using namespace palinform;
using std::numbers::pi;

namespace {

DrawnBody body(BodyShape shape, std::initializer_list<std::pair<double DrawnBody::*, double>> measures) {
  DrawnBody b = begun(shape);
  for (const auto& [field, v] : measures) b.*field = v;
  return b;
}
DrawnSolid drawn(std::vector<DrawnBody> bodies) {
  Drawn d;
  d.bodies = std::move(bodies);
  auto s = draw_solid(d);
  INFO((s ? std::string() : s.error().text()));
  REQUIRE(s);
  const auto sound = check_soundness(s->mesh, true);
  REQUIRE(sound);
  CHECK(sound->sound());
  return *std::move(s);
}
double volume(const DrawnSolid& s) { return measure(s.mesh).volume_mm3; }
using B = DrawnBody;

}  // namespace

TEST_CASE("each body encloses what its measures say, and lies in their box", "[drawn]") {
  struct Case {
    DrawnBody body;
    double mm3;
    Vec3 box;
  };
  const double r = 5, side = 4 * r * r - pi * r * r;  // what a corner radius takes off a section
  const std::vector<Case> cases{
      {body(BodyShape::plate, {{&B::length_mm, 60}, {&B::width_mm, 40}, {&B::height_mm, 6}}), 60 * 40 * 6, {60, 40, 6}},
      {body(BodyShape::plate, {{&B::corner_mm, r}}), (60 * 40 - side) * 6, {60, 40, 6}},
      {body(BodyShape::disc, {{&B::diameter_mm, 30}, {&B::height_mm, 5}}), pi * 225 * 5, {30, 30, 5}},
      {body(BodyShape::tube, {{&B::diameter_mm, 30}, {&B::inner_mm, 20}, {&B::height_mm, 12}}),
       pi * 125 * 12,
       {30, 30, 12}},
      {body(BodyShape::ring, {{&B::diameter_mm, 40}, {&B::wall_mm, 6}}), 2 * pi * pi * 17 * 9, {40, 40, 6}},
      {body(BodyShape::dome, {{&B::diameter_mm, 20}, {&B::height_mm, 10}}), 2.0 / 3 * pi * 1000, {20, 20, 10}},
      {body(BodyShape::dome, {{&B::diameter_mm, 30}, {&B::height_mm, 4}}), pi * 4 / 6 * (3 * 225 + 16), {30, 30, 4}},
      {body(BodyShape::cone, {{&B::diameter_mm, 30}, {&B::top_mm, 10}, {&B::height_mm, 20}}),
       pi * 20 / 3 * (225 + 75 + 25),
       {30, 30, 20}},
      {body(BodyShape::cone, {{&B::top_mm, 0}}), pi * 225 * 20 / 3, {30, 30, 20}},
      {body(BodyShape::shell, {}), 60 * 40 * 25 - 54 * 34 * 22, {60, 40, 25}},
      {body(BodyShape::shell, {{&B::diameter_mm, 40}, {&B::wall_mm, 2}, {&B::floor_mm, 4}}),
       pi * (400 * 25 - 324 * 21),
       {40, 40, 25}},
      {body(BodyShape::angle, {}), (30 * 4 + 26 * 4) * 40, {30, 30, 40}},
      {body(BodyShape::channel, {}), (30 * 4 + 2 * 16 * 4) * 40, {30, 20, 40}},
      {body(BodyShape::bar, {}), 12 * 12 * 80, {12, 12, 80}},
  };
  for (const Case& c : cases) {
    INFO(words_of(c.body.shape));
    const DrawnSolid s = drawn({c.body});
    CHECK(volume(s) == Approx(c.mm3).epsilon(2e-3));
    const Vec3 size = measure(s.mesh).box_mm.size();
    for (int k = 0; k < 3; ++k) CHECK(size[k] == Approx(c.box[k]).margin(0.03));
    CHECK(s.apart == 1);
    // Its volume is the same wherever it stands.
    DrawnBody lying = c.body;
    lying.axis = {0.3, -0.8, 0.5}, lying.at_mm = {40, -7, 12}, lying.turn_deg = 33;
    CHECK(volume(drawn({lying})) == Approx(volume(s)).epsilon(1e-9));
  }
}

TEST_CASE("a rounded edge takes off what a fillet does", "[drawn]") {
  // A disc of radius R with both edges rounded by r: Pappus on the corner's rest.
  const double R = 15, r = 2, rest = r * r * (1 - pi / 4), out = R - r + r * (1 - (10 - 3 * pi) / (3 * (4 - pi)));
  const DrawnSolid s = drawn({body(BodyShape::disc, {{&B::diameter_mm, 30}, {&B::height_mm, 8}, {&B::edge_mm, r}})});
  CHECK(volume(s) == Approx(pi * R * R * 8 - 2 * rest * 2 * pi * out).epsilon(2e-3));
  CHECK(measure(s.mesh).box_mm.size().z == Approx(8));
}

TEST_CASE("a turned profile with fillets", "[drawn]") {
  DrawnBody b = begun(BodyShape::turned);
  b.profile = {{0, 0, 0}, {10, 0, 0}, {10, 20, 0}, {0, 20, 0}};
  CHECK(volume(drawn({b})) == Approx(pi * 100 * 20).epsilon(1e-9));
  b.profile = {{10, 0, 0}, {10, 20, 4}};  // the axis closes it, and the head's rim is rounded only where there is a rim
  const DrawnSolid sharp = drawn({b});
  CHECK(volume(sharp) < pi * 100 * 20);
  CHECK(volume(sharp) > 0.9 * pi * 100 * 20);
  // A square ring: the profile comes back to its first point.
  b.profile = {{10, 0, 0}, {14, 0, 0}, {14, 3, 0}, {10, 3, 0}, {10, 0, 0}};
  CHECK(volume(drawn({b})) == Approx(pi * (196 - 100) * 3).epsilon(1e-9));
  // The knob a new turned body begins with.
  CHECK(drawn({begun(BodyShape::turned)}).apart == 1);
}

TEST_CASE("put on and cut away: volumes add up, in any place", "[drawn]") {
  DrawnBody plate = body(BodyShape::plate, {{&B::height_mm, 6}});
  DrawnBody boss = body(BodyShape::disc, {{&B::diameter_mm, 16}, {&B::height_mm, 10}});
  boss.at_mm = {12, 4, 6};  // stands on the plate's face: they share it
  DrawnBody bore = body(BodyShape::disc, {{&B::diameter_mm, 8}, {&B::height_mm, 16}});
  bore.cut = true, bore.at_mm = {12, 4, 0};
  DrawnBody slot = body(BodyShape::slot, {{&B::length_mm, 20}, {&B::width_mm, 6}, {&B::height_mm, 2}});
  slot.at_mm = {-14, 0, 4};
  const double by_hand = 60 * 40 * 6 + pi * 64 * 10 - pi * 16 * 16 - (14 * 6 + pi * 9) * 2;
  const DrawnSolid s = drawn({plate, boss, bore, slot});
  CHECK(volume(s) == Approx(by_hand).epsilon(1e-3));
  // The bore is there as it was typed.
  CHECK(std::any_of(s.exact.begin(), s.exact.end(), [](const ExactFace& e) {
    return e.kind == FaceKind::bore && std::abs(e.diameter_mm - 8) < 1e-12;
  }));
  CHECK(s.u_mm == 0.1);
  CHECK(s.u_volume_mm3 == Approx(measure(s.mesh).area_mm2 * 0.05));
  // Two bodies that do not touch are told as two.
  boss.at_mm = {100, 0, 0};
  CHECK(drawn({plate, boss}).apart == 2);
}

TEST_CASE("what makes no solid is refused in words with its name", "[drawn]") {
  const auto refused = [](std::vector<DrawnBody> bodies) {
    Drawn d;
    d.bodies = std::move(bodies);
    const auto s = draw_solid(d);
    REQUIRE_FALSE(s);
    return s.error().text();
  };
  using Catch::Matchers::Contains;
  DrawnBody tube = body(BodyShape::tube, {{&B::inner_mm, 30}});
  tube.name = "Sleeve";
  CHECK_THAT(refused({tube}), Contains("Sleeve: its hole is not smaller than its outside"));
  CHECK_THAT(refused({body(BodyShape::plate, {{&B::height_mm, 0}})}),
             Contains("Plate: thickness must be above nought"));
  CHECK_THAT(refused({body(BodyShape::plate, {{&B::corner_mm, 25}})}), Contains("has no room"));
  DrawnBody cut = begun(BodyShape::slot);
  CHECK_THAT(refused({cut}), Contains("nothing yet to cut it from"));
  DrawnBody all = body(BodyShape::plate, {{&B::length_mm, 100}, {&B::width_mm, 100}, {&B::height_mm, 50}});
  all.cut = true, all.at_mm = {0, 0, -10};
  CHECK_THAT(refused({begun(BodyShape::plate), all}), Contains("cuts everything away"));
  DrawnBody bow = begun(BodyShape::outline);
  bow.outline = {{-10, -10}, {10, 12}, {10, -10}, {-10, 10}};
  CHECK_THAT(refused({bow}), Contains("crosses or touches itself"));
  DrawnBody corner = begun(BodyShape::plate);
  corner.at_mm = {60, 40, 0};  // meets the first in one upright edge
  CHECK_THAT(refused({begun(BodyShape::plate), corner}), Contains("edge or a point only"));
  CHECK_THAT(refused({}), Contains("nothing to draw"));
  DrawnBody nan = begun(BodyShape::disc);
  nan.diameter_mm = std::nan("");
  CHECK_THAT(refused({nan}), Contains("diameter"));
}

TEST_CASE("an outline with holes, arcs and a smooth side", "[drawn]") {
  DrawnBody b = begun(BodyShape::outline);
  b.height_mm = 4;
  // A stadium by two arcs, with a round hole by three clicks.
  b.outline = {{-20, -8}, {20, -8}, {28, 0, NodeKind::arc}, {20, 8}, {-20, 8}, {-28, 0, NodeKind::arc}};
  b.holes = {{{3, 0, NodeKind::arc}, {0, 3, NodeKind::arc}, {-3, 0, NodeKind::arc}}};
  const DrawnSolid s = drawn({b});
  CHECK(volume(s) == Approx((40 * 16 + pi * 64 - pi * 9) * 4).epsilon(2e-3));
  // All smooth through the places of a circle: close to it, and without a bend.
  b.holes.clear(), b.outline.clear();
  for (int k = 0; k < 16; ++k)
    b.outline.push_back({20 * std::cos(pi * k / 8), 20 * std::sin(pi * k / 8), NodeKind::smooth});
  CHECK(volume(drawn({b})) == Approx(pi * 400 * 4).epsilon(3e-3));
}

TEST_CASE("a stand-in has the box and the volume that were measured", "[drawn]") {
  for (const auto& [extent, share, like] : {std::tuple{Vec3{58, 58, 16}, 0.33, StandIn::by_volume},
                                            {Vec3{58, 58, 16}, 0.33, StandIn::rounded},
                                            {Vec3{80, 20, 12}, 0.7, StandIn::by_volume},
                                            {Vec3{10, 10, 10}, 0.5236, StandIn::by_volume},
                                            {Vec3{600, 300, 40}, 0.05, StandIn::by_volume},
                                            {Vec3{2, 2, 1}, 0.98, StandIn::by_volume}}) {
    const double box = extent.x * extent.y * extent.z, wanted = share * box;
    const auto m = stand_in_mesh(extent, wanted, like);
    REQUIRE(m);
    const auto sound = check_soundness(*m, true);
    REQUIRE(sound);
    CHECK(sound->sound());
    CHECK(measure(*m).volume_mm3 == Approx(wanted).epsilon(1e-5));
    const Box3 b = measure(*m).box_mm;
    for (int k = 0; k < 3; ++k) CHECK(b.size()[k] == Approx(extent[k]).epsilon(1e-9));
    CHECK(b.min.z == Approx(0).margin(1e-9));
  }
  CHECK_FALSE(stand_in_mesh({10, 10, 10}, 1100, StandIn::by_volume));
  CHECK_FALSE(stand_in_mesh({10, 0, 10}, 1, StandIn::by_volume));
}

}  // namespace tests_drawn_solid
