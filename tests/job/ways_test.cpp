// Whole ways judged in one money (M22): what a moulder would choose for parts that were made for the purpose.
#include <catch2/catch.hpp>

#include "drawn/file.hpp"
#include "mesh/save.hpp"
#include "nodes/nodes.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"

namespace tests_job_ways {

using namespace palinform;

namespace {

struct Judged {
  WaysResult ways;
  FormsResult forms;
  Split split;
  const WholeWay& best() const { return ways.whole.front(); }
};

Judged judged(const TriMesh& mesh, const std::function<void(Job&)>& also = {}) {
  const auto shared = std::make_shared<const TriMesh>(mesh);
  Job job;
  job.original.mesh = {hash_of(mesh).hex(), "made.stl", LengthUnit::mm, mesh.triangles.size()};
  job.mix.silicone_id = "add-25-clear";  // a knife could be guided to the part
  job.mix.resin_id = "pu-rigid-ivory";
  job.copies = 6;
  if (also) also(job);
  Planner plan(up_to(job_nodes(starting_shop(),
                               [&](const std::string&) { return Result<std::shared_ptr<const TriMesh>>(shared); }),
                     results::ways.name),
               2, shared_results());
  plan.set(Subject{job, {}, rough_study()});
  plan.wait();
  const auto ways = plan.fresh(results::ways);
  REQUIRE(ways);
  return {*ways, *plan.fresh(results::forms), plan.fresh(results::split)->split};
}

/// What holds for every judgement.
void check_list(const Judged& j) {
  REQUIRE(j.ways.whole.size() == 13);
  size_t advised = 0;
  for (const WholeWay& w : j.ways.whole) {
    advised += w.advised;
    CHECK_FALSE(w.why.empty());
    CHECK((w.line == "none" || w.line == "plane" || w.line == "surface"));
  }
  CHECK(advised == 1);
  REQUIRE(j.best().advised);
  CHECK(j.ways.sketches.size() >= 1);
  CHECK_FALSE(j.ways.sketches.front().part.empty());
  // Forms and Split agree.
  for (const FormPlan& p : j.forms.plans)
    if (p.recommended) CHECK(p.form == j.best().form);
  for (const WayPlan& w : j.ways.ways) CHECK(w.recommended == (j.best().way == w.way));
}

}  // namespace

TEST_CASE("a slab, a disc, a badge and a knob with a flat back are advised the open face, unmarked", "[ways]") {
  const TriMesh disc = shapes::turned({{0, 0}, {25, 0}, {25, 8}, {0, 8}});
  const TriMesh knob = shapes::turned({{0, 0}, {15, 0}, {15, 4}, {10, 10}, {0, 12}});
  const TriMesh badge = shapes::turned({{0, 0}, {20, 0}, {20, 2}, {15, 3.5}, {0, 4}});
  for (const TriMesh& part : {shapes::box({0, 0, 0}, {60, 40, 8}, 3), disc, knob, badge})
    for (const Transform& t : {Transform{}, shapes::odd_turn()}) {
      const Judged j = judged(transformed(part, t));
      check_list(j);
      CHECK(j.best().form == Form::open);
      CHECK(j.best().line == "none");
    }
}

TEST_CASE("a spool and a dumbbell are advised two halves on a flat board", "[ways]") {
  const TriMesh spool = shapes::turned({{0, 0}, {15, 0}, {15, 4}, {8, 8}, {8, 22}, {15, 26}, {15, 30}, {0, 30}}, 97);
  const TriMesh dumbbell =
      shapes::turned({{0, 0}, {7, 2}, {10, 8}, {7, 14}, {4, 17}, {4, 33}, {7, 36}, {10, 42}, {7, 48}, {0, 50}}, 97);
  for (const TriMesh& part : {spool, dumbbell}) {
    const Judged j = judged(transformed(part, shapes::odd_turn()));
    check_list(j);
    CHECK(j.best().form == Form::two_part);
    CHECK(j.best().line == "plane");
    CHECK(j.best().climb_mm < 0.3);
    CHECK(j.best().way != Way::clay_bed);  // the flat line earns the flat board
  }
}

TEST_CASE("a face that shows is not offered as the open side; a marked one is said to be hidden", "[ways]") {
  const TriMesh disc = shapes::turned({{0, 0}, {25, 0}, {25, 8}, {15, 8}, {15, 9}, {0, 9}});
  const Judged plain = judged(disc);
  const auto open = [](const Judged& j) {
    for (const WholeWay& w : j.ways.whole)
      if (w.form == Form::open) return w;
    return WholeWay{};
  };
  CHECK(open(plain).works);
  const Judged hidden = judged(disc, [](Job& j) { j.original.marks = {{FaceMark::Kind::hidden, {5, 5, 0}}}; });
  CHECK(open(hidden).works);
  const auto says = [](const WholeWay& w, const char* words) {
    return std::any_of(w.why.begin(), w.why.end(),
                       [&](const std::string& s) { return s.find(words) != std::string::npos; });
  };
  CHECK(says(open(plain), "Nobody marked"));
  CHECK_FALSE(says(open(hidden), "Nobody marked"));
  const Judged shows = judged(disc, [](Job& j) { j.original.marks = {{FaceMark::Kind::show, {5, 5, 0}}}; });
  CHECK_FALSE(open(shows).works);
  CHECK(says(open(shows), "marked as showing"));
}

TEST_CASE("parts made up from measures are parted as they were looked at and found buildable", "[ways]") {
  // Each was drawn, its way looked at, and would be built so. The files stand beside the tests of the split.
  struct Looked {
    const char* part;
    Form form;
    LineKind line;  ///< of forms in halves
    Vec3 pull;      ///< of them, either way
  };
  constexpr Vec3 any{};
  for (const Looked& l : {Looked{"spool", Form::two_part, LineKind::plane, any},
                          {"o_ring", Form::two_part, LineKind::plane, {0, 0, 1}},
                          {"fan_hub", Form::two_part, LineKind::plane, {0, 0, 1}},
                          {"stepped_shaft", Form::two_part, LineKind::surface, {1, 0, 0}},
                          {"lever", Form::open, LineKind::plane, any},
                          {"large_panel", Form::open, LineKind::plane, any},
                          {"dial_pointer", Form::open, LineKind::plane, any},
                          {"badge", Form::open, LineKind::plane, any}}) {
    INFO(l.part);
    const auto text = read_file(std::string(SPLIT_PARTS) + "/" + l.part + ".json");
    REQUIRE(text);
    const auto drawn = read_drawing(*text, l.part);
    REQUIRE(drawn);
    const auto solid = draw_solid(*drawn);
    REQUIRE(solid);
    const Judged j = judged(solid->mesh);
    CHECK(j.best().form == l.form);
    if (!in_halves(l.form)) continue;
    CHECK(j.split.kind == l.line);
    CHECK(j.split.height_range_mm < 0.3);
    if (length(l.pull) > 0) CHECK(std::abs(dot(j.split.pull, l.pull)) > 0.9999);
  }
}

}  // namespace tests_job_ways
