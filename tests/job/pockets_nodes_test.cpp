// A slide for a pocket acts on everything after: what locks, pins, steps, and it is told.
#include <catch2/catch.hpp>

#include "job_bench.hpp"
#include "solid/unite.hpp"

namespace tests_job_pockets_nodes {

using namespace palinform;

namespace {

TriMesh pocketed() {
  auto out = subtract(shapes::box({0, 0, 0}, {40, 30, 24}), shapes::box({22, 10, 8}, {41, 20, 16}));
  REQUIRE(out);
  return *std::move(out);
}

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
