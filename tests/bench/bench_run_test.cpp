#include <catch2/catch.hpp>
#include <random>

#include "bench/run.hpp"
#include "bench/tape.hpp"

namespace tests_bench_bench_run {

using namespace palinform;

namespace {

std::vector<BenchScreen> screens() {
  std::vector<BenchScreen> s(5);
  s[0].title = "Prepare";
  s[1].title = "Weigh A", s[1].target_g = 250.5, s[1].band_g = 1, s[1].from_g = 31, s[1].starts_pot_life = true,
  s[1].pot_life_min = 20;
  s[2].title = "Weigh B", s[2].target_g = 275, s[2].pot_life_min = 20,
  s[2].pot_life_pieces = {{"stir", 3}, {"pour", 2}};
  s[3].title = "Pour", s[3].pot_life_min = 20, s[3].ends_pot_life = true, s[3].wait_min = 90,
  s[3].clock_label = "Half a cures", s[3].material_id = "r", s[3].poured_g = 244;
  s[4].title = "Open", s[4].demoulds = true, s[4].caution = "Knives slip: \"mind\" your hands";
  return s;
}

}  // namespace

TEST_CASE("a run goes on, back, and to its end; clocks and pot life go by the wall", "[bench]") {
  BenchRun r = begin_run("job", screens(), 1000);
  CHECK(r.at == 0);
  CHECK_FALSE(pot_life_left_min(r, 1000));
  r = next_screen(r, 1060);
  r = next_screen(r, 1120, 250.4, 21.0);
  CHECK(r.pot_life_started == 1120);
  CHECK(*pot_life_left_min(r, 1120 + 300) == Approx(15));
  CHECK(*pot_life_left_min(r, 1120 + 1500) == Approx(-5));
  r = previous_screen(r, 1130);
  CHECK(r.at == 1);
  r = next_screen(r, 1140, 250.6);
  r = note_screen(r, "bubbles", false, 1150);
  r = note_screen(r, "spilt", true, 1151);
  r = next_screen(r, 1160, 275.1);
  r = next_screen(r, 1200);
  CHECK_FALSE(r.pot_life_started);
  REQUIRE(r.clocks.size() == 1);
  CHECK(r.clocks[0].ends == 1200 + 5400);
  CHECK(ring_clocks(r, 1200 + 5399).empty());
  CHECK(ring_clocks(r, 1200 + 5400) == std::vector<std::string>{"Half a cures"});
  CHECK(ring_clocks(r, 1200 + 9999).empty());
  r = next_screen(r, 9000);
  CHECK(finished(r));
  CHECK(next_screen(r, 9001) == r);
  int masses = 0;
  for (const ScreenRecord& s : r.records) {
    CHECK(s.done >= s.started);
    masses += s.scale_g.has_value();
    if (s.screen == 1) CHECK(s.scale_g == 250.6);
    if (s.screen == 2) {
      CHECK(s.note == "bubbles / spilt");
      CHECK(s.went_wrong);
    }
  }
  CHECK(masses == 2);
}

TEST_CASE("a run goes through JSON unchanged; damage is refused", "[bench]") {
  BenchRun r = begin_run("job", screens(), 1000);
  r = next_screen(r, 1060);
  r = next_screen(r, 1120, 250.4, 21.0);
  r = note_screen(r, "line\nbreak – ü", true, 1130);
  r = next_screen(r, 1140);
  r = next_screen(r, 1150);
  const std::string text = run_to_json(r);
  CHECK(*run_from_json(text) == r);
  CHECK_FALSE(run_from_json(""));
  CHECK_FALSE(run_from_json("{}"));
  CHECK_FALSE(run_from_json("[]"));
  std::mt19937 rnd(3);
  for (int i = 0; i < 500; ++i) {
    std::string b = text;
    b[rnd() % b.size()] = static_cast<char>(rnd());
    if (i % 4 == 0) b.resize(rnd() % b.size());
    (void)run_from_json(b);  // must not crash
  }
  CHECK(ratio_band_g(22.5, 2, 0.1) == Approx(0.45));
  CHECK(ratio_band_g(1, 2, 0.1) == Approx(0.1));
}

TEST_CASE("back and on again: one clock, and what was booked stays booked", "[bench]") {
  BenchScreen pour, wait;
  pour.step_id = "pour-a", pour.title = "Pour", pour.material_id = "m", pour.poured_g = 100;
  pour.wait_min = 60, pour.clock_label = "cure";
  wait.step_id = "demould-1", wait.title = "Demould", wait.demoulds = true;
  BenchRun run = begin_run("j", {pour, wait}, 1000);
  run = next_screen(run, 1100);
  run.records[0].booked = true;
  REQUIRE(run.clocks.size() == 1);
  run = previous_screen(run, 1200);
  run = next_screen(run, 1300);
  REQUIRE(run.clocks.size() == 1);
  CHECK(run.clocks[0].started == 1300);
  CHECK(run.records[0].booked);
  const auto back = run_from_json(run_to_json(run));
  REQUIRE(back);
  CHECK(*back == run);
}

TEST_CASE("what is weighed next follows the scale: the cup's own tare, and B after too much of A", "[bench]") {
  const auto weigh = [](const char* step, double from, double part, double ratio) {
    BenchScreen s;
    s.step_id = step;
    s.from_g = from, s.target_g = from + part, s.part_g = part, s.ratio_to_last = ratio, s.band_g = 1;
    return s;
  };
  BenchScreen cup;
  cup.step_id = "mix-a";
  cup.from_g = 0, cup.target_g = 30, cup.band_g = 6;
  BenchScreen stir;
  stir.step_id = "mix-a";
  const std::vector<BenchScreen> screens{cup, weigh("mix-a", 30, 200, 0), weigh("mix-a", 230, 20, 0.1), stir};
  BenchRun run = begin_run("j", screens, 0);
  CHECK(*next_target_g(run, 31.4) == Approx(231.4));
  run = next_screen(run, 10, 31.4);
  CHECK(*run.screens[1].from_g == Approx(31.4));
  CHECK(*run.screens[1].target_g == Approx(231.4));
  CHECK(run.screens[1].told.empty());
  // M16: A' = 207.0 where 200.0 were wanted gives B' = 20.7.
  const BenchRun before = run;
  run = next_screen(run, 20, 31.4 + 207);
  CHECK(*run.screens[2].target_g == Approx(31.4 + 207 + 20.7));
  CHECK(run.screens[2].told == "A is 7.0 g over: pour B to 259.1 instead of 251.4 g.");
  // Back, weighed anew and on again: as if it had been so the first time.
  BenchRun again = next_screen(previous_screen(run, 25), 30, 31.4 + 199);
  CHECK(*again.screens[2].target_g == Approx(31.4 + 199 + 19.9));
  CHECK(again.screens[2].told == "A is 1.0 g short: pour B to 250.3 instead of 251.4 g.");
  again = next_screen(previous_screen(again, 35), 40, 31.4 + 200);
  CHECK(again.screens[2].told.empty());
  // Without a reading nothing moves; the run comes back from its document as it was.
  CHECK(*next_screen(before, 20).screens[2].target_g == Approx(250));
  CHECK(*run_from_json(run_to_json(run)) == run);
  // Stirring weighs nothing.
  CHECK_FALSE(next_target_g(run, 259.1));
}

TEST_CASE("what is booked is what the scale showed, batch by batch; what nobody weighed is not invented", "[bench]") {
  const auto weighs = [](double from, double part, double ratio) {
    BenchScreen s;
    s.step_id = "mix-a";
    s.from_g = from, s.target_g = from + part, s.part_g = part, s.ratio_to_last = ratio, s.band_g = 1;
    return s;
  };
  BenchScreen cup, stir, pour;
  cup.step_id = stir.step_id = "mix-a";
  cup.from_g = 0, cup.target_g = 10, cup.band_g = 5;
  pour.step_id = "pour-a";
  pour.ends_pot_life = true;
  pour.poured_g = 440;
  std::vector<BenchScreen> screens;
  for (int batch = 0; batch < 2; ++batch)
    for (const BenchScreen& s : {cup, weighs(10, 200, 0), weighs(210, 20, 0.1), stir}) screens.push_back(s);
  screens.push_back(pour);
  BenchRun run = begin_run("job", screens, 1000);
  CHECK_FALSE(weighed_g(run, 8));
  // 7 g too much of A in the first cup, so 20.7 g of B; the second as planned, in a cup 2 g lighter.
  for (const auto& reads : std::vector<std::optional<double>>{10.0, 217.0, 237.7, std::nullopt, 8.0, 208.0})
    run = next_screen(run, 1010, reads);
  CHECK_FALSE(weighed_g(run, 8));  // B of the second cup is still to come
  run = next_screen(run, 1040, 228.0);
  REQUIRE(weighed_g(run, 8));
  CHECK(*weighed_g(run, 8) == Approx(227.7 + 220));
  // One of them by eye: the plan's figure has to do.
  BenchRun blind = begin_run("job", screens, 1000);
  for (const auto& reads :
       std::vector<std::optional<double>>{10.0, 210.0, 230.0, std::nullopt, 10.0, std::nullopt, 230.0})
    blind = next_screen(blind, 1010, reads);
  CHECK_FALSE(weighed_g(blind, 8));
}

namespace {

/// One cup of 100 : 10 over a tare of 20 g, and its pour.
BenchRun one_cup() {
  std::vector<BenchScreen> s(4);
  s[0].title = "Cup", s[0].target_g = 20, s[0].from_g = 0, s[0].band_g = 5;
  s[1].title = "A", s[1].target_g = 120, s[1].from_g = 20, s[1].part_g = 100, s[1].band_g = 3, s[1].part = "A",
  s[1].starts_pot_life = true, s[1].pot_life_min = 20;
  s[2].title = "B", s[2].target_g = 130, s[2].from_g = 120, s[2].part_g = 10, s[2].band_g = 0.3, s[2].part = "B",
  s[2].ratio_to_last = 0.1, s[2].pot_life_min = 20;
  s[3].title = "Pour", s[3].poured_g = 110, s[3].material_id = "m", s[3].ends_pot_life = true, s[3].pot_life_min = 20;
  for (BenchScreen& x : s) x.step_id = "weigh-a";
  s[3].step_id = "pour-a";
  return begin_run("j", s, 1000);
}

}  // namespace

TEST_CASE("the pot life counts from the moment the scale sees B touch A", "[bench]") {
  BenchRun r = next_screen(next_screen(one_cup(), 1010, 20.0), 1100, 120.0);
  CHECK(r.pot_life_started == 1100);        // till then from where A was left
  CHECK_FALSE(note_touch(r, 120.1, 1130));  // a draught on the pan
  CHECK(r.pot_life_started == 1100);
  CHECK(note_touch(r, 120.4, 1160));
  CHECK(r.pot_life_started == 1160);
  CHECK_FALSE(note_touch(r, 126, 1170));  // once a cup
  CHECK(r.pot_life_started == 1160);
  CHECK(*pot_life_left_min(r, 1160 + 300) == Approx(15));
}

TEST_CASE("out of the band; drops counted by the scale's steps; a gauge's curve", "[bench]") {
  BenchRun r = next_screen(next_screen(one_cup(), 1010, 20.0), 1100, 120.0);
  CHECK_FALSE(out_of_band(r, 130.3));
  CHECK(out_of_band(r, 130.4));
  CHECK(out_of_band(r, 129.6));
  BenchScreen s = r.screens[2];
  CHECK_FALSE(drops_fallen(s, 121));
  s.drops = 23, s.drop_g = 0.026;
  CHECK(drops_fallen(s, 120.13) == 5);
  CHECK(drops_fallen(s, 119.9) == 0);
  for (int k = 0; k < 300; ++k) note_gauge(r, k < 100 ? 3.0 * k : 300 + 0.3 * (k % 2), 1100 + k);
  const auto& curve = r.records.back().gauge_kpa;
  CHECK(curve.size() > 90);   // the rise
  CHECK(curve.size() < 110);  // not every flutter of the hold
  CHECK(curve.back().second == Approx(300).margin(4));
  const auto back = run_from_json(run_to_json(r));
  REQUIRE(back);
  CHECK(*back == r);
}

TEST_CASE("the minutes of stirring run down from when the screen came up", "[bench]") {
  BenchRun r = one_cup();
  CHECK_FALSE(act_left_s(r, 1000));
  r.screens[1].figure = 3, r.screens[1].figure_unit = "min";
  r = next_screen(r, 1100, 20.0);
  CHECK(act_left_s(r, 1100) == 180);
  CHECK(act_left_s(r, 1160) == 120);
  CHECK(act_left_s(r, 1300) == -20);
}

TEST_CASE("a lump of seven grams too much: the new figure is told at once", "[bench]") {
  BenchRun r = next_screen(one_cup(), 1010, 20.0);
  CHECK(next_target_g(r, 127.0) == 127.0 + 10.7);  // 7 g over: B follows A
  r = next_screen(r, 1100, 127.0);
  CHECK(r.screens[2].target_g == 137.7);
  CHECK(r.screens[2].told == "A is 7.0 g over: pour B to 137.7 instead of 130.0 g.");
}

TEST_CASE("the tape: planned beside done, what took too long, what went wrong", "[bench]") {
  BenchRun r = next_screen(one_cup(), 1010, 20.0);
  r = next_screen(r, 1100, 127.0, 21.5);
  r = note_screen(r, "slow", false, 1150);
  r = next_screen(r, 1200, 137.6);
  r = next_screen(r, 1100 + 25 * 60);
  const auto tape = tape_of(r);
  REQUIRE(tape.size() == 4);
  CHECK(tape[0].what == "cup");
  CHECK(tape[1].planned_g == 100.0);
  CHECK(*tape[1].weighed_g == Approx(107));
  CHECK(*tape[1].off_pct == Approx(7));
  CHECK(tape[1].out_of_band);
  CHECK(tape[1].room_c == 21.5);
  CHECK_FALSE(tape[2].out_of_band);  // its band went with its target
  CHECK(tape[2].note == "slow");
  CHECK(*tape[3].weighed_g == Approx(117.6));
  CHECK(*tape[3].took_min == Approx(25));
  CHECK(tape[3].planned_min == 20.0);
  // What rings next, over several runs.
  BenchRun other = one_cup();
  other.job_id = "k";
  other.clocks = {{"late", 0, 5000, false, 0, ""}, {"soon", 0, 3000, false, 1, ""}, {"rung", 0, 2000, true, 1, ""}};
  r.clocks = {{"between", 0, 4000, false, 0, ""}};
  const auto next = next_rings({{"J", r}, {"K", other}});
  REQUIRE(next.size() == 3);
  CHECK(next[0].label == "soon");
  CHECK(next[1].job_name == "J");
  CHECK(next[2].label == "late");
}

}  // namespace tests_bench_bench_run
