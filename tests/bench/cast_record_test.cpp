// What a run's tape says of a casting: the evidence its causes are found by.
#include <catch2/catch.hpp>

#include "bench/cast_record.hpp"

namespace tests_bench_cast_record {

using namespace palinform;

namespace {

/// A of 50 g, B of half as much, poured, into the pot, out after its cure.
BenchRun run_of(double b_read_g, bool degassed) {
  const auto screen = [](Act act) {
    BenchScreen s;
    s.act = act;
    s.casting = 1;
    return s;
  };
  BenchScreen a = screen(Act::weigh), b = screen(Act::weigh), degas = screen(Act::degas), pour = screen(Act::pour),
              pot = screen(Act::into_pot), out = screen(Act::demould);
  a.part = "A", a.from_g = 10, a.target_g = 60, a.part_g = 50;
  b.part = "B", b.from_g = 60, b.target_g = 85, b.part_g = 25, b.ratio_to_last = 0.5, b.band_g = 0.5;
  b.pot_life_min = 8;
  pour.is_casting = pour.ends_pot_life = true;
  pot.wait_min = 120;
  out.demoulds = true;
  BenchRun run =
      begin_run("job", degassed ? std::vector{a, b, degas, pour, pot, out} : std::vector{a, b, pour, pot, out}, 1000);
  run = next_screen(run, 1060, 60.0, 20.0);
  run = next_screen(run, 1120, b_read_g, 22.0);
  if (degassed) run = next_screen(run, 1180);
  run = next_screen(run, 1360);
  note_gauge(run, 180, 1400);
  note_gauge(run, 310, 1500);
  run = next_screen(run, 1600);
  return run;
}

}  // namespace

TEST_CASE("the tape tells ratio, minutes, room, air, pressure and hours of a casting", "[bench]") {
  const BenchRun run = run_of(86.5, true);
  const int at = static_cast<int>(run.screens.size()) - 1;
  const CastRecord c = cast_record(run, at, 1360 + 3 * 3600);
  REQUIRE(c.ratio_off_pct);
  CHECK(*c.ratio_off_pct == Approx(100 * (26.5 / 25 - 1)));  // B 1.5 g over
  CHECK(*c.ratio_tolerance_pct == Approx(2));
  CHECK(*c.room_c == Approx(21));
  CHECK(c.degassed == std::optional(true));
  CHECK(*c.pressure_kpa == 310);
  CHECK(*c.pot_life_min == 8);
  // From where B began to be poured to the end of the pour.
  CHECK(*c.minutes_b_to_filled == Approx((1360 - 1060) / 60.0));
  CHECK(*c.demould_h == Approx(3));
  CHECK(*c.demould_needed_h == Approx(2));
  CHECK_FALSE(c.tilt_deg);  // nobody measured it
}

TEST_CASE("what the tape does not say is not there", "[bench]") {
  BenchRun run = run_of(85, false);
  CHECK(cast_record(run, static_cast<int>(run.screens.size()) - 1, 9000).degassed == std::optional(false));
  for (ScreenRecord& r : run.records) r.scale_g.reset(), r.room_c.reset(), r.gauge_kpa.clear();
  const CastRecord c = cast_record(run, static_cast<int>(run.screens.size()) - 1, 9000);
  CHECK_FALSE(c.ratio_off_pct);
  CHECK_FALSE(c.room_c);
  CHECK_FALSE(c.pressure_kpa);
  CHECK(cast_record(run, 99, 0) == CastRecord{});
  CHECK(cast_record(BenchRun{}, 0, 0) == CastRecord{});
}

}  // namespace tests_bench_cast_record
