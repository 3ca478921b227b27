// Judging (M12) against what it promises: limits themselves are inside, few scattered readings are not trusted too far.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "check/conformity.hpp"

namespace tests_check_judging {

using namespace palinform;

TEST_CASE("a reading equal to its limit conforms, whatever the last digit of the sum", "[check]") {
  CHECK(judge({3.1000000000000005}, 0.01, 0, 3.0, 3.1, DecisionRule::plain).verdict == Conformity::conforms);
  CHECK(judge({3.1, 3.1, 3.1}, 0.01, 0, 3.0, 3.1, DecisionRule::plain).verdict == Conformity::conforms);
  CHECK(judge({3.101}, 0.001, 0, 3.0, 3.1, DecisionRule::plain).verdict == Conformity::fails);
  // Guard band with nothing to guard against is the plain rule.
  CHECK(judge({3.1000000000000005}, 0, 0, 3.0, 3.1, DecisionRule::guard).verdict == Conformity::conforms);
  std::mt19937 rnd(8);
  for (int k = 0; k < 2000; ++k) {
    const double step = k % 2 ? 0.01 : 0.001;
    const double limit = step * static_cast<double>(500 + rnd() % 20'000);
    const int n = 1 + static_cast<int>(rnd() % 6);
    // Readings that spread about the limit, their mean on it exactly by hand.
    std::vector<double> v;
    for (int i = 0; i < n / 2; ++i) {
      const double off = step * static_cast<double>(rnd() % 9);
      v.push_back(limit + off), v.push_back(limit - off);
    }
    if (n % 2) v.push_back(limit);
    if (v.empty()) v.push_back(limit);
    CHECK(judge(v, step, 0.002, limit - 1, limit, DecisionRule::plain).verdict == Conformity::conforms);
    CHECK(judge(v, step, 0.002, limit, limit + 1, DecisionRule::plain).verdict == Conformity::conforms);
  }
}

TEST_CASE("coverage is Student's t by the effective degrees of freedom, 2 where nothing scatters", "[check]") {
  // t for 95.45 % two-sided: tables give 13.97, 4.53, 3.31, 2.87, 2.65 at 1 … 5 degrees of freedom, 2.28 at 10.
  const double table[] = {13.97, 4.53, 3.31, 2.87, 2.65};
  for (int dof = 1; dof <= 5; ++dof) CHECK(coverage_factor(dof) == Approx(table[dof - 1]).epsilon(0.002));
  CHECK(coverage_factor(10) == Approx(2.284).epsilon(0.002));
  CHECK(coverage_factor(1e9) == Approx(2));
  // M12's case: three equal readings.
  const Judgement j = judge({10.02, 10.02, 10.02}, 0.01, 0.005, 9.95, 10.05, DecisionRule::guard);
  CHECK(j.coverage == 2);
  CHECK(j.reading.u_mm == Approx(0.0058).margin(5e-5));
  CHECK(j.verdict == Conformity::conforms);
  // Welch–Satterthwaite by hand: s = 0.02 of 2 readings, u_A = 0.01414, others 0.01: u = 0.01732, ν = (u/u_A)⁴ = 2.25.
  const double s = 0.02 / std::sqrt(2.0);
  const Judgement w = judge({10 - s, 10 + s}, 0, 0.01, 9, 11, DecisionRule::guard);
  CHECK(w.dof == Approx(2.25).epsilon(1e-6));
  CHECK(w.expanded_mm == Approx(coverage_factor(2.25) * 0.0173205).epsilon(1e-5));
}

TEST_CASE("two or three scattered readings accept a part at its limit no oftener than promised", "[check]") {
  // The true size stands on the upper limit: accepting it is wrong; one-sided 2.3 % is what two standard deviations
  // mean.
  std::mt19937 rnd(77);
  for (const int n : {2, 3, 4}) {
    std::normal_distribution<double> scatter(10.1, 0.03);
    int accepted = 0;
    constexpr int trials = 40'000;
    for (int k = 0; k < trials; ++k) {
      std::vector<double> v;
      for (int i = 0; i < n; ++i) v.push_back(scatter(rnd));
      accepted += judge(v, 1e-4, 0, 9.0, 10.1, DecisionRule::guard).verdict == Conformity::conforms;
    }
    INFO(n << " readings: " << 100.0 * accepted / trials << " %");
    CHECK(static_cast<double>(accepted) / trials < 0.027);
  }
}

}  // namespace tests_check_judging
