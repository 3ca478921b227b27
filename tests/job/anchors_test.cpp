// What is anchored on a mesh or a place: another mesh, another unit, answers that hold only where and as they were
// given.
#include <catch2/catch.hpp>

#include "job/other_mesh.hpp"
#include "overview/overview.hpp"

namespace tests_job_anchors {

using namespace palinform;

namespace {

Job marked() {
  Job j;
  j.id = "1";
  j.original.mesh = {"aa", "one.stl", LengthUnit::mm, 10};
  j.split.pull = Vec3{0, 0, 1};
  j.original.marks = {{FaceMark::Kind::show, {1, 2, 3}}};
  j.split.marks.to_a = {{{1, 1, 1}, 2}};
  j.split.bores = {{BoreTreatment::Kind::pin, {2, 2, 2}, 0}};
  j.split.piece_pulls = {{1, 0, 0}};
  j.split.pockets = {{{4, 4, 4}, {1, 0, 0}, {0, 0, 1}}};
  j.mould.key_places = {{5, 5, 5}};
  j.flow.gate = Vec3{1, 0, 0};
  j.flow.vents = {{0, 1, 0}, {0, 0, 1}};
  j.flow.no_vents = {{3, 3, 3}};
  j.flow.keep_gate = true;
  j.flow.tilt_deg = 10;
  j.original.master_steps = {{MasterStep::Kind::plug, 0, {1, 2, 3}, 1, "", ""}};
  j.answers = {{"safety/load", "tested by the museum's engineer", "2026-11-01T10:00:00", {}, 0}};
  return j;
}

}  // namespace

TEST_CASE("another mesh takes everything that lay on the old one with it, a safety answer first of all", "[job]") {
  const Job j = marked();
  CHECK(anchored_on_mesh(j) == 13);
  const Job other = with_other_mesh(j, {"bb", "two.stl", LengthUnit::mm, 20});
  CHECK(other.original.mesh.hash == "bb");
  CHECK(anchored_on_mesh(other) == 0);
  CHECK(other.answers.empty());
  CHECK_FALSE(other.flow.gate);
  CHECK(other.flow.vents.empty());
  CHECK_FALSE(other.flow.keep_gate);
  CHECK(other.flow.tilt_deg == 0);
  CHECK(other.mould.key_places.empty());
  CHECK(other.split.bores.empty());
}

TEST_CASE("the same mesh in another unit keeps its marks where they lie", "[job]") {
  const Job inch = with_rescaled_mesh(marked(), {"cc", "one.stl", LengthUnit::inch, 10}, 25.4);
  CHECK(inch.flow.gate->x == Approx(25.4));
  CHECK(inch.flow.vents[1].z == Approx(25.4));
  CHECK(inch.split.marks.to_a[0].radius_mm == Approx(50.8));
  CHECK(inch.original.marks[0].point_mm.z == Approx(76.2));
  CHECK(inch.original.master_steps[0].point_mm.y == Approx(50.8));
  CHECK(inch.answers.size() == 1);
}

TEST_CASE("an answer holds for its place and its size, not for a rank", "[job]") {
  Job j;
  j.id = "1";
  Finding small;
  small.code = "flow-air";
  small.what = "Air stays here";
  small.where.step = "pocket 1";
  small.where.point_mm = Vec3{10, 0, 5};
  small.magnitude = 3;
  j = *accept_finding(j, small, "too small to see");
  REQUIRE(j.answers.size() == 1);
  CHECK(answers(j.answers[0], small, 60));
  // A later first pocket elsewhere, or grown, asks again; so does the same one if it becomes second.
  Finding large = small;
  large.magnitude = 5000;
  CHECK_FALSE(answers(j.answers[0], large, 60));
  Finding elsewhere = small;
  elsewhere.where.point_mm = Vec3{40, 0, 5};
  CHECK_FALSE(answers(j.answers[0], elsewhere, 60));
  Finding second = small;
  second.where.step = "pocket 2";
  second.where.point_mm = Vec3{10.4, 0.3, 5};
  second.magnitude = 3.4;
  CHECK(answers(j.answers[0], second, 60));
  // Two accepted pockets stand side by side; each answer is kept through the file.
  j = *accept_finding(j, elsewhere, "inside, never seen");
  CHECK(j.answers.size() == 2);
  const auto back = job_from_json(job_to_json(j), "x");
  REQUIRE(back);
  CHECK(back->answers == j.answers);
  // Findings without a place go by their names, as ever.
  Finding plain;
  plain.code = "mix-ratio";
  plain.where.step = "pour a";
  j = *accept_finding(j, plain, "");
  CHECK(answers(j.answers.back(), plain, 60));
  plain.where.step = "pour b";
  CHECK_FALSE(answers(j.answers.back(), plain, 60));
}

}  // namespace tests_job_anchors
