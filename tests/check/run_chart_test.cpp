// Run charts: M26 by hand.
#include <catch2/catch.hpp>
#include <cmath>
#include <limits>
#include <random>

#include "check/run_chart.hpp"
#include "findings/check.hpp"
#include "stages/judging.hpp"

namespace tests_check_run_chart {

using namespace palinform;

TEST_CASE("sigma by the moving range, and the four signals", "[check]") {
  // Moving ranges 0.1 throughout: sigma = 0.1 / 1.128.
  std::vector<RunPoint> p;
  for (int i = 1; i <= 10; ++i) p.push_back({i, i % 2 ? 8.0 : 8.1});
  RunChart r = run_chart(p, 7.5, 8.5);
  CHECK(r.mean_mm == Approx(8.05));
  CHECK(r.sigma_mm == Approx(0.1 / 1.128));
  CHECK(r.signs.empty());
  // One far off.
  std::vector<RunPoint> far = p;
  far.push_back({11, 8.9});
  const auto has = [](const RunChart& c, SignalKind k) {
    return std::any_of(c.signs.begin(), c.signs.end(), [&](const Signal& s) { return s.kind == k; });
  };
  CHECK(has(run_chart(far, 7, 9), SignalKind::beyond_three));
  // Eight on one side of the mean.
  std::vector<RunPoint> shift;
  for (int i = 1; i <= 8; ++i) shift.push_back({i, 8.00 + 0.01 * (i % 2)});
  for (int i = 9; i <= 16; ++i) shift.push_back({i, 8.03 + 0.01 * (i % 2)});
  CHECK(has(run_chart(shift, 7, 9), SignalKind::eight_on_one_side));
  // Nothing to say of one point, or of none.
  CHECK(run_chart({}, 7, 9).signs.empty());
  CHECK(run_chart({{1, 8}}, 7, 9).sigma_mm == 0);
}

TEST_CASE("a drift is found with its interval, and says before which pull the size holds", "[check]") {
  std::mt19937 dice(7);
  std::normal_distribution<double> noise(0, 0.004);
  std::vector<RunPoint> p;
  for (int i = 1; i <= 12; ++i) p.push_back({i, 8.00 + 0.003 * i + noise(dice)});
  const RunChart r = run_chart(p, 7.95, 8.08);
  REQUIRE(r.drift);
  CHECK(r.drift->sure);
  CHECK(std::abs(r.drift->mm_a_pull - 0.003) < 3 * r.drift->u_mm_a_pull);
  // The line meets 8.08 at pull 26.7: the band holds it between.
  REQUIRE(r.leaves_from);
  REQUIRE(r.leaves_to);
  CHECK(*r.leaves_from < 27);
  CHECK(*r.leaves_to > 26);
  CHECK(*r.leaves_from > 12);
  // Level scatter has no sure drift.
  std::vector<RunPoint> level;
  for (int i = 1; i <= 12; ++i) level.push_back({i, 8.00 + noise(dice)});
  CHECK_FALSE(run_chart(level, 7.95, 8.08).drift->sure);
  // A limit that is none is no limit.
  const double none = std::numeric_limits<double>::infinity();
  CHECK_FALSE(run_chart(p, -none, none).leaves_from);
}

TEST_CASE("capability from five castings on, with its interval", "[check]") {
  std::vector<RunPoint> p{{1, 9.98}, {2, 10.01}, {3, 10.00}, {4, 10.02}};
  CHECK_FALSE(run_chart(p, 9.9, 10.1).capability);
  p.push_back({5, 9.99});
  const auto c = run_chart(p, 9.9, 10.1).capability;
  REQUIRE(c);
  // s = sqrt(0.001 / 4) = 0.015811: Cp = 0.2 / (6 s); the mean is in the middle.
  CHECK(c->cp == Approx(0.2 / (6 * 0.0158114)).epsilon(1e-4));
  CHECK(c->cpk == Approx(c->cp).epsilon(1e-6));
  // Chi-square with four degrees of freedom: 0.4844 and 11.1433.
  CHECK(c->cp_low == Approx(c->cp * std::sqrt(0.484419 / 4)).epsilon(1e-4));
  CHECK(c->cp_high == Approx(c->cp * std::sqrt(11.143287 / 4)).epsilon(1e-4));
  CHECK(c->cpk_low < c->cpk);
}

TEST_CASE("a mould that wears is told: a size on its way out, the same wear again and again", "[check]") {
  MeasuredSize size;
  size.id = "s1", size.name = "Bore", size.nominal_mm = 8, size.lower_mm = 7.9, size.upper_mm = 8.1;
  std::vector<Casting> castings;
  for (int n = 1; n <= 6; ++n) {
    Casting c;
    c.number = n;
    c.record.pull = n;
    c.readings = {{"s1", {8.0 + 0.001 * (n % 2) + 0.0145 * n}}};
    castings.push_back(c);
  }
  auto told = wear_findings({size}, castings);
  REQUIRE(told.size() == 1);
  CHECK(told[0].code == "wear-size");
  CHECK(told[0].where.size == "s1");
  // A new mould: what the one before did is no wear of this one.
  for (int n = 1; n <= 3; ++n) {
    Casting c;
    c.number = 6 + n;
    c.record.pull = n;
    c.readings = {{"s1", {8.0}}};
    castings.push_back(c);
  }
  CHECK(mould_numbers(castings) == std::vector<int>{1, 1, 1, 1, 1, 1, 2, 2, 2});
  CHECK(wear_findings({size}, castings).empty());
  FaultSeen torn;
  torn.fault = Fault::torn;
  for (size_t i = 7; i < 9; ++i) castings[i].faults = {torn};
  told = wear_findings({size}, castings);
  REQUIRE(told.size() == 1);
  CHECK(told[0].code == "wear-seen");
}

TEST_CASE("a gauge whose check is overdue is told, to the month", "[check]") {
  OwnGauge g;
  g.name = "Caliper", g.checked_on = "2025-11-20", g.good_months = 12;
  CHECK_FALSE(overdue_months(g, "2026-11-20"));
  CHECK(overdue_months(g, "2026-11-21") == 1);
  CHECK(overdue_months(g, "2027-02-21") == 3);
  g.checked_on.clear();
  CHECK(overdue_months(g, "2026-11-20") == 1);
  CHECK_FALSE(overdue_months(g, ""));
  CHECK(gauge_findings({g}, "2026-11-20").size() == 1);
}

}  // namespace tests_check_run_chart
