// A slide for a pocket acts on everything after: what locks, pins, steps, and it is told.
#include <catch2/catch.hpp>

#include "job_bench.hpp"
#include "mesh/topology.hpp"
#include "mould/ways_out.hpp"
#include "solid/unite.hpp"
#include "split/bores.hpp"
#include "split/parting.hpp"

namespace tests_job_pockets_nodes {

using namespace palinform;

namespace {

TriMesh pocketed() {
  auto out = subtract(shapes::box({0, 0, 0}, {40, 30, 24}), shapes::box({22, 10, 8}, {41, 20, 16}));
  REQUIRE(out);
  return *std::move(out);
}

Split split_of(const TriMesh& m) { return *split_along(m, pair_edges(m), **RayScene::build(m), {0, 0, 1}); }

struct Bench : JobBench {
  Bench() : JobBench(pocketed(), "pocketed.stl") {}
};

}  // namespace

TEST_CASE("a place that locks is offered a hard slide; taken, it locks no more and the steps set the slide", "[job]") {
  Bench b;
  const Finding* locks = b.finding("split-locked");
  REQUIRE(locks);
  const auto slide = std::find_if(locks->remedies.begin(), locks->remedies.end(),
                                  [](const Remedy& r) { return r.code() == "pocket-slide"; });
  REQUIRE(slide != locks->remedies.end());
  CHECK(slide->label.find("+x") != std::string::npos);
  b.take(slide->edit);
  REQUIRE(b.job.split.pockets.size() == 1);
  CHECK_FALSE(b.finding("split-locked"));
  CHECK(b.planner.fresh(results::split)->split.locked_area_mm2 < 1);
  const auto pins = b.planner.fresh(results::pins);
  REQUIRE(pins);
  REQUIRE(pins->pins.size() == 1);
  CHECK(pins->pins[0].name == "Slide 1");
  const Finding* formed = b.finding("pocket-formed");
  REQUIRE(formed);
  CHECK(formed->what.find("+x") != std::string::npos);
  CHECK(formed->why.find("without taper") != std::string::npos);
  const auto procedure = b.planner.fresh(results::procedure);
  REQUIRE(procedure);
  std::string steps;
  for (const ProcedureStep& s : procedure->procedure.steps) steps += s.what + "\n";
  CHECK(steps.find("Slide 1") != std::string::npos);
  // Turned askew it leaves the roof locked, and is offered the way back.
  PocketSlide said = b.job.split.pockets[0];
  b.take(edits::SlidePocket{said.at_mm, {1, 0, 0.5}, said.pull});
  REQUIRE(b.job.split.pockets.size() == 1);
  const Finding* held = b.finding("pocket-held");
  REQUIRE(held);
  REQUIRE(held->remedies.size() >= 2);
  b.take(held->remedies.front().edit);
  CHECK_FALSE(b.finding("pocket-held"));
  CHECK(b.finding("pocket-formed"));
  // Taken back, all is as before.
  b.take(edits::SlidePocket{said.at_mm, said.draw, said.pull, false});
  CHECK(b.job.split.pockets.empty());
  CHECK(b.finding("split-locked"));
}

TEST_CASE("two slides that stand in each other are told, and either is taken back by a press", "[job]") {
  Bench b;
  b.job.split.pockets = {{{22, 15, 12}, {1, 0, 0}, {0, 0, 1}}, {{30, 15, 8}, {1, 0, 0.2}, {0, 0, 1}}};
  b.run();
  const Finding* meet = b.finding("pocket-slides-meet");
  REQUIRE(meet);
  CHECK(meet->severity == Severity::stop);
  REQUIRE(meet->remedies.size() == 2);
  b.take(meet->remedies.front().edit);
  CHECK(b.job.split.pockets.size() == 1);
  CHECK_FALSE(b.finding("pocket-slides-meet"));
}

TEST_CASE("in a box of the shop's own a slide and a pin reach out past its wall, not past the wall asked for",
          "[job]") {
  Bench b;
  const Finding* locks = b.finding("split-locked");
  REQUIRE(locks);
  b.take(std::find_if(locks->remedies.begin(), locks->remedies.end(), [](const Remedy& r) {
           return r.code() == "pocket-slide";
         })->edit);
  const auto tip_x = [&] {
    const PinPlan& p = b.planner.fresh(results::pins)->pins.at(0);
    return (p.foot_mm + p.draw * p.length_mm()).x;
  };
  const double measured = tip_x();
  b.job.mould.own_box.name = "Long tub", b.job.mould.own_box.inside_mm = Vec3{160, 100, 90};
  b.run();
  const auto mould = b.planner.fresh(results::mould);
  REQUIRE(mould);
  const Mould& m = mould->block();
  // The part stands in the middle of it: 160 long, along x.
  const double wall_x = 20 + 0.5 * m.inner_mm.size().x;
  REQUIRE(wall_x > measured);
  const PinRules rules;
  CHECK(tip_x() == Approx(wall_x + rules.grip_mm).margin(0.2));
  REQUIRE(b.planner.fresh(results::solids));
}

TEST_CASE("several masters in one box: a pin that is drawn into its neighbour is told, one that leaves freely is not",
          "[job]") {
  // Narrower along y: two of them stand side by side along it.
  for (const int along : {0, 1}) {
    JobBench b(shapes::bored_box({24, 12, 8}, 3, along, 48), "bored.stl");
    b.job.split.bores = {{BoreTreatment::Kind::pin, along == 0 ? Vec3{0, 3, 0} : Vec3{3, 0, 0}, 0}};
    b.job.mould.masters = 2, b.job.copies = 2;
    b.run();
    const auto pins = b.planner.fresh(results::pins);
    REQUIRE(pins);
    REQUIRE(pins->pins.size() == 1);
    REQUIRE(std::abs(pins->pins[0].draw[along]) == Approx(1).margin(1e-3));
    const auto mould = b.planner.fresh(results::mould);
    REQUIRE(mould);
    REQUIRE(mould->set);
    const Vec3 beside = mould->set->masters[1].place.point({0, 0, 0}) - mould->set->masters[0].place.point({0, 0, 0});
    REQUIRE(std::abs(beside.y) > 24);
    REQUIRE(std::abs(beside.x) < 1);
    const Finding* meets = b.finding("pin-meets-master");
    CHECK((meets != nullptr) == (along == 1));
    CHECK_FALSE(b.finding("pin-short"));
    if (!meets) continue;
    CHECK(meets->severity == Severity::stop);
    // Where it runs into the other: on that one's near face.
    CHECK(std::abs(std::abs(meets->where.point_mm->y) - (std::abs(beside.y) - 12)) < 12.1);
    REQUIRE(meets->remedies.size() == 1);
    b.take(meets->remedies.front().edit);
    CHECK(b.job.mould.masters == 1);
    CHECK_FALSE(b.finding("pin-meets-master"));
  }
}

TEST_CASE("beside a longer part a pin ends in the rubber, and how far off is told", "[job]") {
  // A narrow one beside a square one, in a row along x: its pin leaves along y.
  const TriMesh small = shapes::bored_box({8, 12, 8}, 3, 1, 48), wide = shapes::box({-30, -30, -8}, {30, 30, 8}, 4);
  const auto solo = split_of(small), other = split_of(wide);
  const std::vector<SetPart> parts{{&wide, &other, 1}, {&small, &solo, 1}};
  const MasterSet set = *master_set(parts, 12);
  MouldOptions how;
  how.wall_mm = 12;
  const Mould block = *two_part_mould(*set.mesh, set.split, how);
  const auto rays = *RayScene::build(small);
  const auto bores = *find_bores(small, pair_edges(small), *rays);
  REQUIRE(bores.size() == 1);
  const PinRules rules;
  PinPlan pin = plan_pin(*rays, bores[0], 12, std::nullopt, "Pin 1", rules);
  const auto stuck = no_ways_out(set, block, {{}, {pin}});
  REQUIRE(stuck.size() == 1);
  CHECK(stuck[0].master == 1);
  CHECK_FALSE(stuck[0].meets);
  // By hand: from where its head ends to the box's face.
  const Transform& place = set.masters[1].place;
  const Vec3 end = place.point(pin.foot_mm + pin.draw * (pin.length_mm() - pin.grip_mm));
  const Vec3 draw = block.frame.direction(place.direction(pin.draw)), at = block.frame.direction(end);
  const int k = std::abs(draw.x) > 0.5 ? 0 : 1;
  REQUIRE(std::abs(draw[k]) > 0.99);
  const double face = draw[k] > 0 ? block.inner_mm.max[k] - at[k] : at[k] - block.inner_mm.min[k];
  CHECK(stuck[0].short_mm == Approx(face).margin(0.01));
  CHECK(face > 1);
  // So much longer it leaves.
  CHECK(no_ways_out(set, block, {{}, {lengthened(pin, stuck[0].short_mm)}}).empty());
  CHECK(no_ways_out(set, block, {{}, {}}).empty());
}

TEST_CASE("a pocket that is gone is told, and its slide taken back by one press", "[job]") {
  Bench b;
  b.job.split.pockets = {{{0, 15, 12}, {1, 0, 0}, {0, 0, 1}}};
  b.run();
  const Finding* gone = b.finding("pocket-gone");
  REQUIRE(gone);
  b.take(gone->remedies.front().edit);
  CHECK(b.job.split.pockets.empty());
  CHECK_FALSE(b.finding("pocket-gone"));
}

}  // namespace tests_job_pockets_nodes
