// A hard slide that forms a whole pocket: faces, draw and body by hand.
#include <catch2/catch.hpp>

#include "mesh/primitives.hpp"
#include "mould/halves.hpp"
#include "mould/pocket_body.hpp"
#include "ready_part.hpp"
#include "shapes.hpp"
#include "solid/columns.hpp"
#include "solid/unite.hpp"
#include "split/pocket_faces.hpp"

namespace tests_split_pocket_slide {

using namespace palinform;

namespace {

/// A block of 40 × 30 × 24 with a pocket of 10 × 8 across and 12 deep, let in from its +x side.
TriMesh pocketed() {
  auto out = subtract(shapes::box({0, 0, 0}, {40, 30, 24}), shapes::box({28, 10, 8}, {41, 20, 16}));
  REQUIRE(out);
  return *std::move(out);
}
const PocketSlide along_x{{28, 15, 12}, {1, 0, 0}, {0, 0, 1}};
constexpr double floor_mm2 = 10 * 8, walls_mm2 = 2 * (10 + 8) * 12;

PocketFaces faces_of(const ReadyPart& p, const PocketSlide& s) { return pocket_faces(p.mesh, p.pairs, *p.rays, s); }

Result<PinPlan> slide_of(const ReadyPart& p, const PocketSlide& s, double wall_mm, double voxel_mm) {
  ExtraPiece piece;
  piece.pull = s.draw, piece.triangles = faces_of(p, s).triangles;
  return plan_pocket_slide(p.mesh, piece, s.pull, wall_mm, "Slide 1", {}, voxel_mm);
}

}  // namespace

TEST_CASE("a slide forms the pocket's floor and walls; drawn askew it leaves what leans over it", "[split]") {
  const ReadyPart part(pocketed());
  const PocketFaces f = faces_of(part, along_x);
  CHECK(f.area_mm2 == Approx(floor_mm2 + walls_mm2).epsilon(1e-6));
  CHECK(f.held_mm2 == 0);
  CHECK(f.parallel_mm2 == Approx(walls_mm2).epsilon(1e-6));
  CHECK(f.deep_mm == Approx(12).epsilon(1e-6));
  CHECK(f.centroid_mm.y == Approx(15).margin(1e-6));
  PocketSlide raised = along_x;
  raised.draw = {1, 0, 0.4};
  const PocketFaces r = faces_of(part, raised);
  CHECK(r.held_mm2 >= 10 * 12 - 1e-6);  // its roof at least
  CHECK(r.area_mm2 + r.held_mm2 == Approx(floor_mm2 + walls_mm2).epsilon(1e-6));
  CHECK(dot(best_draw(part.mesh, part.pairs, *part.rays, raised), Vec3{1, 0, 0}) == Approx(1).margin(1e-9));
  // Clicked beside the mouth it is the same pocket, far off none.
  PocketSlide beside = along_x;
  beside.at_mm = {40, 15, 16.4};
  CHECK(faces_of(part, beside).area_mm2 == Approx(f.area_mm2));
  beside.at_mm = {0, 15, 12};
  CHECK(faces_of(part, beside).triangles.empty());
}

TEST_CASE("turning the part with its slide changes nothing", "[split]") {
  const Transform turn = frame_along(unit(Vec3{0.3, -0.5, 0.8}));
  const ReadyPart part(transformed(pocketed(), turn));
  const PocketSlide turned{turn.point(along_x.at_mm), turn.direction(along_x.draw), turn.direction(along_x.pull)};
  const PocketFaces f = faces_of(part, turned);
  CHECK(f.area_mm2 == Approx(floor_mm2 + walls_mm2).epsilon(1e-6));
  CHECK(f.held_mm2 == 0);
  CHECK(f.deep_mm == Approx(12).epsilon(1e-6));
}

TEST_CASE("a draw is told and given by two angles", "[split]") {
  for (const Vec3 pull : {Vec3{0, 0, 1}, Vec3{1, 0, 0}, unit(Vec3{0.2, 0.7, -0.4})})
    for (const Vec3 draw : {Vec3{1, 0, 0}, unit(Vec3{-1, 2, 0.5}), unit(Vec3{0.1, -0.3, -0.9})}) {
      const DrawAngles a = angles_of(draw, pull);
      CHECK(length(draw_of(a, pull) - draw) < 1e-9);
    }
  CHECK(angles_of({0, 1, 0}, {0, 0, 1}).turned_deg == Approx(90));
  CHECK(angles_of({0, 0, 2}, {0, 0, 1}).raised_deg == Approx(90));
}

TEST_CASE("the slide is the pocket and straight out to its grip", "[split]") {
  const ReadyPart part(pocketed());
  const auto p = slide_of(part, along_x, 10, 0.2);
  REQUIRE(p);
  const PinRules rules;
  CHECK(p->forms_mm == Approx(12).epsilon(1e-6));
  CHECK(p->head_mm == Approx(10).epsilon(1e-6));  // the wall of rubber
  CHECK(p->across_mm().x * p->across_mm().y == Approx(80).epsilon(0.03));
  CHECK(p->volume_mm3 == Approx(80 * (12 + 10 + rules.grip_mm)).epsilon(0.02));
  Box3 box;
  for (const Vec3& q : p->body->points) box.add(q);
  CHECK(box.min.x == Approx(28).margin(0.03));
  CHECK(box.max.x == Approx(50 + rules.grip_mm).margin(0.3));
  CHECK(box.min.z == Approx(8).margin(0.03));  // it lies on the pocket's walls
  CHECK(box.max.z == Approx(16).margin(0.03));
  // Its socket has play all round, but for the floor that is the part's.
  REQUIRE(p->socket);
  Box3 seat;
  for (const Vec3& q : p->socket->points) seat.add(q);
  CHECK(seat.size().y - box.size().y == Approx(2 * pin_slack_mm).margin(0.05));
  CHECK(measure(*p->socket).volume_mm3 > p->volume_mm3);
  // Longer, it has so much more of its own section, and ends so much farther out.
  const PinPlan longer = lengthened(*p, 7);
  CHECK(longer.length_mm() == Approx(p->length_mm() + 7));
  CHECK(measure(*longer.body).volume_mm3 == Approx(p->volume_mm3 + 7 * p->section_mm2()).epsilon(1e-3));
  CHECK(longer.volume_mm3 == Approx(measure(*longer.body).volume_mm3).epsilon(1e-3));
  CHECK(measure(*longer.body).box_mm.max.x == Approx(box.max.x + 7));
  CHECK(measure(*longer.socket).box_mm.max.x == Approx(seat.max.x + 7));
  // No pocket, no slide.
  PocketSlide none = along_x;
  none.at_mm = {0, 15, 12};
  CHECK_FALSE(slide_of(part, none, 10, 0.2));
}

TEST_CASE("box, part, halves and slide add up, and the pocket holds no rubber", "[split]") {
  const ReadyPart part(pocketed());
  const auto p = slide_of(part, along_x, 10, 0.3);
  REQUIRE(p);
  FaceWishes wishes;
  wishes.flags.assign(part.mesh.triangles.size(), 0);
  for (const uint32_t t : faces_of(part, along_x).triangles) wishes.flags[t] |= FaceWishes::ignored;
  const auto releases = releases_along(part.mesh, *part.rays, {0, 0, 1});
  REQUIRE(releases);
  const auto split = split_from(part.mesh, part.pairs, *part.rays, *releases, wishes, {});
  REQUIRE(split);
  CHECK(split->locked_area_mm2 < 1);
  MouldOptions how;
  how.wall_mm = 10;
  const auto mould = fine_mould(part.mesh, *split, how, 0.3);
  REQUIRE(mould);
  HalvesParts parts;
  parts.pins = {*p};
  const auto h = mould_halves(part.mesh, *mould, {}, parts);
  REQUIRE(h);
  const double in_box = 80 * (12 + 10);
  CHECK(h->pins_mm3 == Approx(in_box).epsilon(0.02));
  CHECK(std::abs(h->unaccounted_mm3()) < 0.003 * h->box_mm3);
  CHECK(h->halves[0].volume_mm3 + h->halves[1].volume_mm3 ==
        Approx(h->box_mm3 - (40 * 30 * 24 - 10 * 8 * 12) - in_box).epsilon(0.003));
}

}  // namespace tests_split_pocket_slide
