// What is said of openings acts on everything after: solid, undercuts, resin, pins, steps.
#include <catch2/catch.hpp>
#include <map>

#include "job_bench.hpp"
#include "solid/unite.hpp"
#include "stages/openings.hpp"

namespace tests_job_openings_nodes {

using namespace palinform;

namespace {

/// A plate of 60 × 40 × 8 with a window of 15 × 10 through it, and a slot of 12 × 3 across it from side to side.
TriMesh housing() {
  TriMesh out = shapes::box({0, 0, 0}, {60, 40, 8});
  for (const TriMesh& tool : {shapes::box({12, 14, -1}, {27, 24, 9}), shapes::box({40, -1, 2.5}, {52, 41, 5.5})}) {
    auto cut = subtract(out, tool);
    REQUIRE(cut);
    out = *std::move(cut);
  }
  return out;
}

struct Bench : JobBench {
  explicit Bench(const TriMesh& part = housing()) : JobBench(part, "housing.stl") {}
  const Openings& openings() { return planner.fresh(results::openings)->found; }
  /// The window is the larger; the slot lies across.
  const Opening& window() { return openings().openings[0]; }
  const Opening& slot() { return openings().openings[1]; }
  void say(OpeningChoice::Kind kind, const Opening& o, double share = 0.5) {
    take(edits::SettleOpening{std::string(name_of(kind)), o.at_mm(), 1, share});
  }
  double part_mm3() { return planner.fresh(results::master)->measure.volume_mm3; }
  double cast_mm3() { return planner.fresh(results::mix)->pours.back().volume_mm3; }
  std::string steps() {
    for (const SlotState& s : planner.states()) {
      INFO(s.name << ": " << s.error.text());
      CHECK(s.state != Freshness::failed);
    }
    REQUIRE(planner.fresh(results::procedure));
    std::string all;
    for (const ProcedureStep& s : planner.fresh(results::procedure)->procedure.steps)
      all += s.name + ": " + s.what + "\n";
    return all;
  }
};

constexpr double plate_mm3 = 60 * 40 * 8, window_mm3 = 15 * 10 * 8, slot_mm3 = 12 * 40 * 3;

}  // namespace

TEST_CASE("openings are listed by themselves; what runs across the pull asks what is to become of it", "[job]") {
  Bench b;
  REQUIRE(b.openings().openings.size() == 2);
  CHECK(b.window().area_mm2 == Approx(150).epsilon(1e-3));
  CHECK(b.slot().area_mm2 == Approx(36).epsilon(1e-3));
  CHECK(b.slot().length_mm() == Approx(40).epsilon(1e-3));
  CHECK(b.part_mm3() == Approx(plate_mm3 - window_mm3 - slot_mm3).epsilon(1e-6));
  const Finding* across = b.finding("opening-across");
  REQUIRE(across);
  CHECK(across->what.find("Opening 2") != std::string::npos);
  // One press settles it, and what was told is told no more.
  REQUIRE(across->remedies.size() >= 3);
  const auto fill = std::find_if(across->remedies.begin(), across->remedies.end(),
                                 [](const Remedy& r) { return r.label.find("Fill") != std::string::npos; });
  REQUIRE(fill != across->remedies.end());
  auto next = edited(b.job, fill->edit);
  REQUIRE(next);
  b.job = *next;
  b.run();
  CHECK_FALSE(b.finding("opening-across"));
  CHECK(b.part_mm3() == Approx(plate_mm3 - window_mm3).epsilon(1e-3));
}

TEST_CASE("a filled opening: no undercut, more resin, tape before and a cut after", "[job]") {
  Bench b;
  const double before = b.cast_mm3(), rubber = b.planner.fresh(results::mould)->mould.rubber_mm3;
  CHECK(b.planner.fresh(results::undercuts)->undercuts.size() >= 1);
  b.say(OpeningChoice::Kind::fill, b.slot());
  CHECK(b.planner.fresh(results::undercuts)->undercuts.empty());
  CHECK(b.cast_mm3() > before + 0.98 * slot_mm3);
  CHECK(b.planner.fresh(results::mould)->mould.rubber_mm3 < rubber - 0.95 * slot_mm3);
  CHECK(b.steps().find("every mouth of Opening 2") != std::string::npos);
  CHECK(b.steps().find("Open Opening 2, 12.0 × 3.0 mm") != std::string::npos);
  // The opening is still listed, with what was said of it, so that it can be taken back.
  REQUIRE(b.openings().openings.size() == 2);
  CHECK(choice_for(b.openings(), 1, b.job.split.openings)->kind == OpeningChoice::Kind::fill);
}

TEST_CASE("rubber that meets half-way halves the peg; its film is resin and is cut out", "[job]") {
  Bench b;
  const double before = b.cast_mm3(), part = b.part_mm3();
  b.say(OpeningChoice::Kind::meet, b.slot());
  const auto& u = b.planner.fresh(results::undercuts)->undercuts;
  REQUIRE_FALSE(u.empty());
  CHECK_FALSE(u.front().tunnel());
  CHECK(u.front().reach_mm == Approx(20).epsilon(0.01));
  CHECK(b.part_mm3() == part);
  CHECK(b.cast_mm3() > before);
  CHECK(films_mm3(b.openings(), b.job.split.openings) == Approx(36 * 0.15).epsilon(1e-3));
  // 20 mm of peg, 3 mm wide: that bends out of no rubber.
  CHECK(b.finding("opening-peg"));
  CHECK(b.steps().find("Stop Opening 2 half-way with clay") != std::string::npos);
  CHECK(b.steps().find("Cut the film of 0.15 mm out of Opening 2") != std::string::npos);
}

TEST_CASE("rubber that meets across the pull is parted in the solids by the gap of its film", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::meet, b.slot());
  const auto master = b.planner.fresh(results::master);
  const Vec3 pull = b.planner.fresh(results::split)->split.pull;
  const auto gaps = film_gaps(*master, b.openings(), b.job.split.openings, pull, true, 0.4);
  REQUIRE(gaps.size() == 1);
  CHECK(gaps[0].in_rubber_mm3 == Approx(36 * 0.4).epsilon(1e-3));
  const Box3 gap = measure(*gaps[0].body).box_mm;
  CHECK(gap.size().y == Approx(0.4).margin(1e-6));  // across the slot's way, half-way along it
  CHECK(gap.centre().y == Approx(20).margin(0.05));
  CHECK(gap.size().x == Approx(12).margin(0.4));
  // In the solids no rubber is there, and beside it there is.
  const auto solids = b.planner.fresh(results::solids);
  REQUIRE(solids);
  const auto holds = [&](const Vec3& p) {
    size_t n = 0;
    for (const auto& m : solids->meshes)
      n += (*RayScene::build(*m))->all_hits(p, unit(Vec3{0.3, 0.5, 0.81})).size() % 2;
    return n > 0;
  };
  CHECK_FALSE(holds({46, 20, 4}));
  CHECK(holds({46, 16, 4}));
  CHECK(holds({46, 24, 4}));
  // Along the pull it is the line that parts it; a mould without a line has that gap too.
  b.say(OpeningChoice::Kind::meet, b.window());
  CHECK(film_gaps(*master, b.openings(), b.job.split.openings, pull, true, 0.4).size() == 1);
  CHECK(film_gaps(*master, b.openings(), b.job.split.openings, pull, false, 0.4).size() == 2);
}

TEST_CASE("a slit: where, how long, how deep, with a step; its stubs bend out as pegs do", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::slit, b.slot(), 0.25);
  SlitCut cut = slit_of(b.slot(), b.job.split.openings[0]);
  CHECK(cut.from_mouth_1_mm == Approx(10).epsilon(0.01));
  CHECK(cut.long_mm == Approx(12).epsilon(0.01));
  CHECK(cut.deep_mm == Approx(3).epsilon(0.01));
  REQUIRE(cut.line_mm.size() == 3);  // its ends and its middle
  CHECK(length(cut.line_mm.back() - cut.line_mm.front()) == Approx(cut.long_mm).epsilon(1e-6));
  // Square to the way through, a quarter along it.
  for (const Vec3& p : cut.line_mm)
    CHECK(std::abs(dot(p - b.slot().cuts.front().plane.point_mm, b.slot().axis())) == Approx(10).margin(0.1));
  // The longer stub is 30 of the 40 mm and 3 wide: no rubber bends so far out; half-way is less.
  const auto longest = [&] {
    const auto& u = b.planner.fresh(results::undercuts)->undercuts;
    REQUIRE_FALSE(u.empty());
    return u.front().reach_mm;
  };
  CHECK(longest() == Approx(30).epsilon(0.01));
  const Finding* peg = b.finding("opening-peg");
  REQUIRE(peg);
  REQUIRE_FALSE(peg->remedies.empty());
  CHECK(peg->remedies[0].label == "Slit it half-way");
  CHECK(b.steps().find("Cut right through the rubber in Opening 2 (10.0 mm from mouth 1") != std::string::npos);
  // Slit, the casting has no film there.
  CHECK(films_mm3(b.openings(), b.job.split.openings) == 0);
  auto next = edited(b.job, peg->remedies[0].edit);
  REQUIRE(next);
  b.job = *next;
  b.run();
  CHECK(longest() == Approx(20).epsilon(0.01));
  // A step that has room, and one that runs out.
  b.job.split.openings[0].step_mm = 4;
  b.run();
  cut = slit_of(b.slot(), b.job.split.openings[0]);
  CHECK(cut.step_mm == 4);
  CHECK(cut.line_mm.size() == 4);
  CHECK_FALSE(b.finding("opening-slit"));
  CHECK(b.steps().find("its second half 4.0 mm farther in, so that it closes true") != std::string::npos);
  b.job.split.openings[0].step_mm = 18;
  b.run();
  const Finding* out = b.finding("opening-slit");
  REQUIRE(out);
  next = edited(b.job, out->remedies.at(0).edit);
  REQUIRE(next);
  CHECK(next->split.openings.at(0).step_mm == 0);
  b.job.split.openings[0].step_mm = 200;
  CHECK_FALSE(check_job(b.job));
}

TEST_CASE("a round opening that something was said of is told once, and not as a bore as well", "[job]") {
  // A block with a bore of 4 mm across the pull from side to side, 40 mm long.
  auto part = subtract(shapes::box({0, 0, 0}, {40, 40, 20}), [] {
    TriMesh rod = shapes::cylinder(2, 60, 48);  // upright
    for (Vec3& p : rod.points) p = {20 + p.x, 50 - p.z, 10 + p.y};
    return rod;
  }());
  REQUIRE(part);
  Bench b(*part);
  const auto told = [&] {
    std::map<std::string, int> codes;
    for (const OpenFinding& f : findings_of(b.job, b.planner))
      if (f.finding.code == "split-bore" || f.finding.code == "split-locked" || f.finding.code == "split-thin" ||
          f.finding.code == "opening-peg" || f.finding.code == "opening-across")
        ++codes[f.finding.code];
    return codes;
  };
  REQUIRE(b.openings().openings.size() == 1);
  REQUIRE(b.openings().openings[0].round_mm);
  // Nothing is said of it: it is told as the bore it is.
  CHECK(told() == std::map<std::string, int>{{"split-bore", 1}});
  // Rubber that meets half-way, or is slit, is 20 mm of peg: told with the opening, and there only.
  for (const auto kind : {OpeningChoice::Kind::meet, OpeningChoice::Kind::slit}) {
    INFO(name_of(kind));
    b.say(kind, b.openings().openings[0]);
    CHECK(told() == std::map<std::string, int>{{"opening-peg", 1}});
  }
}

TEST_CASE("the shut-off of a window lies where rubber is to meet", "[job]") {
  Bench b;
  const auto height = [&] {
    for (const PartingLoop& l : b.planner.fresh(results::split)->split.loops)
      if (!l.outer && opening_at(b.openings(), l.points_mm[0]) == 0u) return l.points_mm[0].z;
    return -1.0;
  };
  // Mouth 1 is the lower one: toward −x−y−z the axis turns round.
  for (const double share : {0.25, 0.75}) {
    b.say(OpeningChoice::Kind::meet, b.window(), share);
    const double up = b.window().axis().z > 0 ? share : 1 - share;
    CHECK(height() == Approx(8 * up).margin(0.02));
    // The parting surface follows it there.
    const Mould& m = b.planner.fresh(results::mould)->mould;
    CHECK(m.parting_at(19.5, 19) == Approx(8 * up).margin(0.4));
  }
  CHECK(b.job.split.openings.size() == 1);
}

TEST_CASE("a slide forms an opening of any outline: nothing locks, it is set and drawn", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::slide, b.slot());
  const auto pins = b.planner.fresh(results::pins);
  REQUIRE(pins);
  REQUIRE(pins->pins.size() == 1);
  const PinPlan& p = pins->pins[0];
  CHECK(p.section_mm2() == Approx(36).epsilon(1e-3));
  CHECK(p.forms_mm == Approx(40).epsilon(1e-3));
  CHECK(std::max(p.across_mm().x, p.across_mm().y) == Approx(12).epsilon(1e-3));
  const TriMesh solid = pin_mesh(p);
  const EdgePairs pairs = pair_edges(solid);
  CHECK(pairs.open_edges + pairs.non_manifold_edges + pairs.turned_pairs == 0);
  CHECK(measure(solid).volume_mm3 == Approx(36 * p.length_mm()).epsilon(1e-6));
  CHECK(measure(pin_socket(p, 0.05)).volume_mm3 == Approx(12.1 * 3.1 * p.length_mm()).epsilon(1e-3));
  CHECK_FALSE(b.finding("opening-across"));
  CHECK_FALSE(b.finding("split-locked"));
  CHECK(b.planner.fresh(results::split)->split.locked_area_mm2 < 1);
  CHECK(b.steps().find("Slide 1 (") != std::string::npos);
  // The halves leave room for it: box less part, slide and rubber is nothing.
  const auto solids = b.planner.fresh(results::solids);
  (void)solids;
}

TEST_CASE("a plug leaves a recess and a dimple; what is said twice counts once; figures are checked", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::meet, b.window());
  b.say(OpeningChoice::Kind::plug, b.window());
  REQUIRE(b.job.split.openings.size() == 1);
  b.job.split.openings[0].deep_mm = 2, b.job.split.openings[0].thick_mm = 3;
  b.run();
  CHECK(b.part_mm3() == Approx(plate_mm3 - window_mm3 - slot_mm3 + 150 * 3).epsilon(1e-3));
  b.job.split.openings[0].dimple_mm = 2;
  b.run();
  CHECK(b.part_mm3() == Approx(plate_mm3 - window_mm3 - slot_mm3 + 150 * 3 - M_PI / 3).epsilon(1e-4));
  CHECK(check_job(b.job));
  b.job.split.openings[0].share = 2;
  CHECK_FALSE(check_job(b.job));
  b.job.split.openings[0].share = 0.5;
  const auto again = job_from_json(job_to_json(b.job), "test");
  REQUIRE(again);
  CHECK(again->split.openings == b.job.split.openings);
}

TEST_CASE("a plate over a window: its drawing, its steps, the shut-off at its mouth", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::plate, b.window());
  const auto master = b.planner.fresh(results::master);
  const auto sheets = plate_drawings(*master, b.openings(), b.job.split.openings, "job");
  REQUIRE(sheets.size() == 1);
  CHECK(sheets[0].title.find("Opening 1") != std::string::npos);
  CHECK(plate_step_mm(*master, b.window(), 1) < 0.01);
  CHECK(b.steps().find("over Opening 1, edges sealed") != std::string::npos);
  CHECK(b.steps().find("The plate off Opening 1.") != std::string::npos);
  CHECK_FALSE(b.finding("opening-plate"));
}

TEST_CASE("what was said of an opening that is there no more is told, and taken back by a press", "[job]") {
  Bench b;
  b.say(OpeningChoice::Kind::fill, b.slot());
  // The other hand: the slot lies on the other side now.
  MasterStep mirror;
  mirror.axis = 0;
  b.job.original.master_steps = {mirror};
  b.run();
  REQUIRE(b.openings().openings.size() == 2);
  const Finding* gone = b.finding("opening-gone");
  REQUIRE(gone);
  REQUIRE(gone->remedies.size() == 1);
  const auto next = edited(b.job, gone->remedies[0].edit);
  REQUIRE(next);
  CHECK(next->split.openings.empty());
  CHECK_FALSE(edited(*next, gone->remedies[0].edit));
}

}  // namespace tests_job_openings_nodes
