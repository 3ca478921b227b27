#include <catch2/catch.hpp>

#include "check/conformity.hpp"

namespace tests_check_check {

using namespace palinform;

TEST_CASE("the case of M12", "[check]") {
  const Judgement j = judge({10.02, 10.02, 10.02}, 0.01, 0.005, 9.95, 10.05, DecisionRule::guard);
  CHECK(j.reading.u_mm == Approx(0.0058).margin(5e-5));
  CHECK(j.expanded_mm == Approx(2 * j.reading.u_mm));
  CHECK(j.verdict == Conformity::conforms);
}

TEST_CASE("guard band: sure inside, sure outside, and what the calipers cannot tell", "[check]") {
  const auto at = [](double y, DecisionRule rule) {
    return judge({y}, 0, 0.005, 9.95, 10.05, rule).verdict;
  };  // U = 0.010
  CHECK(at(10.0399, DecisionRule::guard) == Conformity::conforms);
  CHECK(at(10.0401, DecisionRule::guard) == Conformity::undecided);
  CHECK(at(10.0599, DecisionRule::guard) == Conformity::undecided);
  CHECK(at(10.0601, DecisionRule::guard) == Conformity::fails);
  CHECK(at(9.9601, DecisionRule::guard) == Conformity::conforms);
  CHECK(at(9.9599, DecisionRule::guard) == Conformity::undecided);
  CHECK(at(9.9399, DecisionRule::guard) == Conformity::fails);
  CHECK(at(10.0499, DecisionRule::plain) == Conformity::conforms);
  CHECK(at(10.0501, DecisionRule::plain) == Conformity::fails);
  // Limits closer together than the uncertainty: nothing can conform.
  for (const double y : {9.99, 10.0, 10.01})
    CHECK(judge({y}, 0, 0.02, 9.99, 10.01, DecisionRule::guard).verdict == Conformity::undecided);
}

TEST_CASE("a verdict does not depend on where nought lies or which way is up", "[check]") {
  for (double y = 9.9; y < 10.1; y += 0.003) {
    const auto v = judge({y}, 0.01, 0.005, 9.95, 10.05, DecisionRule::guard).verdict;
    CHECK(judge({y + 100}, 0.01, 0.005, 109.95, 110.05, DecisionRule::guard).verdict == v);
    CHECK(judge({20 - y}, 0.01, 0.005, 9.95, 10.05, DecisionRule::guard).verdict == v);
  }
}

TEST_CASE("the casting as a whole", "[check]") {
  using C = Conformity;
  CHECK(overall({C::conforms, C::conforms}) == C::conforms);
  CHECK(overall({C::conforms, C::undecided}) == C::undecided);
  CHECK(overall({C::undecided, C::fails}) == C::fails);
  CHECK(overall({}) == C::undecided);
  CHECK(judge({}, 0.01, 0.01, 1, 2, DecisionRule::guard).verdict == C::undecided);
}

}  // namespace tests_check_check
