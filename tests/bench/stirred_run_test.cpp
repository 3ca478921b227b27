// A cup with colour and filler in it: B follows A whatever was stirred in between, and each gram goes to its own line.
#include <catch2/catch.hpp>

#include "bench/run.hpp"

namespace tests_bench_stirred_run {

using namespace palinform;

namespace {

/// Cup, pigment, A, filler, B, pour: 100 : 10 with 2 g of pigment and 40 g of filler.
BenchRun one_cup() {
  std::vector<BenchScreen> s(6);
  s[0].title = "Cup", s[0].target_g = 20, s[0].from_g = 0, s[0].band_g = 5;
  s[1].title = "Pigment", s[1].target_g = 22, s[1].from_g = 20, s[1].part_g = 2, s[1].adds_id = "paste";
  s[1].adds_name = "Paste", s[1].adds_share = 0.5;  // half of the master batch is A
  s[2].title = "A", s[2].target_g = 122, s[2].from_g = 22, s[2].part_g = 100, s[2].part = "A";
  s[3].title = "Filler", s[3].target_g = 162, s[3].from_g = 122, s[3].part_g = 40, s[3].adds_id = "powder";
  s[3].adds_name = "Powder";
  s[4].title = "B", s[4].target_g = 172, s[4].from_g = 162, s[4].part_g = 10, s[4].part = "B", s[4].ratio_to_last = 0.1;
  for (BenchScreen& x : s) x.step_id = "weigh", x.band_g = 1;
  s[5].step_id = "pour", s[5].material_id = "m", s[5].poured_g = 110, s[5].ends_pot_life = true;
  return begin_run("j", s, 1000);
}

}  // namespace

TEST_CASE("seven grams of A too much call for 0.7 g of B, filler or not", "[bench]") {
  BenchRun r = one_cup();
  for (const double g : {20.0, 22.0, 129.0}) r = next_screen(r, 1010, g);
  CHECK(*r.screens[3].target_g == Approx(169));  // the filler keeps its grams
  CHECK(r.screens[3].told.empty());
  r = next_screen(r, 1020, 169.5);
  CHECK(*r.screens[4].target_g == Approx(169.5 + 10.7));
  CHECK(r.screens[4].told == "A is 7.0 g over: pour B to 180.2 instead of 172.5 g.");
  r = next_screen(r, 1030, 180.2);
  REQUIRE(weighed_g(r, 5));
  CHECK(*weighed_g(r, 5) == Approx(107 + 10.7));
  const auto added = added_to(r, 5);
  REQUIRE(added.size() == 2);
  CHECK(added[0] == Added{"paste", "Paste", 1.0});
  CHECK(added[1].material_id == "powder");
  CHECK(added[1].g == Approx(40.5));
  CHECK(*run_from_json(run_to_json(r)) == r);
}

TEST_CASE("what was not read counts as planned, and the pour before has its own", "[bench]") {
  BenchRun r = one_cup();
  for (int k = 0; k < 5; ++k) r = next_screen(r, 1010 + k);
  CHECK_FALSE(weighed_g(r, 5));
  const auto added = added_to(r, 5);
  REQUIRE(added.size() == 2);
  CHECK(added[0].g == Approx(1));
  CHECK(added[1].g == Approx(40));
  std::vector<BenchScreen> twice = r.screens;
  twice.insert(twice.end(), r.screens.begin(), r.screens.end());
  CHECK(added_to(begin_run("j", twice, 0), 11).size() == 2);
  CHECK(added_to(begin_run("j", twice, 0), 11)[1].g == Approx(40));
}

}  // namespace tests_bench_stirred_run
