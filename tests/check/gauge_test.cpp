#include <catch2/catch.hpp>

#include <cmath>
#include <random>

#include "check/gauge_study.hpp"
#include "check/tolerance_interval.hpp"

namespace tests_check_gauge {

using namespace palinform;

TEST_CASE("a gauge study by hand: two people, two parts, two repeats", "[check]") {
  // Person 2 reads 0.02 more; repeats differ by 0.02: the mean square of error is 0.0002.
  const auto s = gauge_study({{{10.00, 10.02}, {11.00, 11.02}}, {{10.02, 10.04}, {11.02, 11.04}}});
  REQUIRE(s);
  CHECK_FALSE(s->interaction);
  // No interaction at all: its freedom joins the error's, 4 · 0.0002 over 5.
  CHECK(s->repeatability_mm == Approx(std::sqrt(0.0008 / 5)));
  // Between people: (0.0008 − 0.00016) / 4.
  CHECK(s->reproducibility_mm == Approx(std::sqrt((0.0008 - 0.00016) / 4)));
  CHECK(s->u_mm == Approx(std::hypot(s->repeatability_mm, s->reproducibility_mm)));
  CHECK(s->part_to_part_mm == Approx(std::sqrt((2.0 - 0.00016) / 4)));
}

TEST_CASE("what was put in is found again, on the average", "[check]") {
  std::mt19937 rng(3);
  std::normal_distribution<double> one(0, 1);
  double u2 = 0, part2 = 0;
  const int studies = 400;
  for (int k = 0; k < studies; ++k) {
    GaugeReadings x(3, std::vector<std::vector<double>>(5, std::vector<double>(2)));
    std::vector<double> parts(5);
    for (double& p : parts) p = 20 + 0.2 * one(rng);
    for (auto& person : x) {
      const double bias = 0.01 * one(rng);
      for (size_t j = 0; j < 5; ++j)
        for (double& v : person[j]) v = parts[j] + bias + 0.02 * one(rng);
    }
    const auto s = gauge_study(x);
    REQUIRE(s);
    u2 += s->u_mm * s->u_mm / studies;
    part2 += s->part_to_part_mm * s->part_to_part_mm / studies;
  }
  CHECK(std::sqrt(u2) == Approx(std::hypot(0.02, 0.01)).epsilon(0.06));
  CHECK(std::sqrt(part2) == Approx(0.2).epsilon(0.06));
}

TEST_CASE("a study that is none is refused", "[check]") {
  CHECK_FALSE(gauge_study({}));
  CHECK_FALSE(gauge_study({{{1, 2}, {1, 2}}}));
  CHECK_FALSE(gauge_study({{{1, 2}, {1, 2}}, {{1, 2}}}));
  CHECK_FALSE(gauge_study({{{1, 2}, {1, NAN}}, {{1, 2}, {1, 2}}}));
}

TEST_CASE("tolerance intervals against the tables: 95 % of all, 95 % sure", "[check]") {
  const auto k_of = [](size_t n) {
    std::vector<double> v(n, 10.0);
    v[0] = 10.1;
    return tolerance_interval(v)->k;
  };
  // Two-sided normal factors as tabled.
  CHECK(k_of(3) == Approx(9.916).epsilon(0.03));
  CHECK(k_of(5) == Approx(5.079).epsilon(0.02));
  CHECK(k_of(10) == Approx(3.379).epsilon(0.01));
  CHECK(k_of(30) == Approx(2.549).epsilon(0.005));
  const auto t = tolerance_interval({10.0, 10.2, 9.8, 10.0});
  REQUIRE(t);
  CHECK(t->mean_mm == Approx(10.0));
  CHECK(t->spread_mm == Approx(std::sqrt(0.08 / 3)));
  CHECK(t->upper_mm - t->mean_mm == Approx(t->mean_mm - t->lower_mm));
  CHECK_FALSE(tolerance_interval({10}));
  CHECK_FALSE(tolerance_interval({10, NAN}));
  CHECK_FALSE(tolerance_interval({10, 11}, 1.0, 0.95));
}

TEST_CASE("what measuring adds to the spread of several originals is taken off their limits", "[check]") {
  MeasuredSize s;
  s.resolution_mm = 0.01;
  CHECK_FALSE(spread_of_originals(s));
  // By hand: means 10.00, 10.10, 9.90, each of two readings 0.02 apart. Spread 0.1; pooled scatter² 2e-4, of a mean
  // half.
  s.readings_mm = {9.99, 10.01};
  s.further_originals_mm = {{10.09, 10.11}, {9.89, 9.91}};
  const auto spread = spread_of_originals(s);
  REQUIRE(spread);
  const double repeat2 = 2e-4 / 2 + 0.01 * 0.01 / 12;
  CHECK(spread->interval.n == 3);
  CHECK(spread->interval.mean_mm == Approx(10.0));
  CHECK(spread->interval.spread_mm == Approx(0.1));
  CHECK(spread->repeat_mm == Approx(std::sqrt(repeat2)));
  CHECK(spread->resolved);
  CHECK(spread->interval.upper_mm - 10 == Approx(spread->interval.k * std::sqrt(0.01 - repeat2)));
  take_limits(s, *spread);
  CHECK(s.lower_mm == Approx(spread->interval.lower_mm));
  CHECK(s.limits_from.find("3 originals") != std::string::npos);
  // One that nobody has read yet counts for none; readings as far apart as the originals say nothing.
  s.further_originals_mm.push_back({});
  CHECK(spread_of_originals(s)->interval.n == 3);
  s.readings_mm = {9.8, 10.2};
  s.further_originals_mm = {{9.81, 10.2}, {9.8, 10.21}};
  REQUIRE(spread_of_originals(s));
  CHECK_FALSE(spread_of_originals(s)->resolved);
}

}  // namespace tests_check_gauge
