#include <catch2/catch.hpp>

#include <cmath>
#include <random>

#include "check/weibull.hpp"

namespace tests_check_weibull {

using namespace palinform;

TEST_CASE("a Weibull law is found again from lives drawn by it, some of them cut off", "[check]") {
  std::mt19937 rng(5);
  std::weibull_distribution<double> draw(2.5, 30);
  std::vector<Life> lives;
  for (int i = 0; i < 4000; ++i) {
    const double t = draw(rng), stop = 10 + static_cast<double>(rng() % 60);
    lives.push_back({std::min(t, stop), t <= stop});
  }
  const auto law = fit_weibull(lives);
  REQUIRE(law);
  CHECK(law->shape == Approx(2.5).epsilon(0.05));
  CHECK(law->scale == Approx(30).epsilon(0.03));
  CHECK(law->low < law->mean);
  CHECK(law->high > law->mean);
  CHECK(law->high - law->low < 2);
}

TEST_CASE("lives all alike that ended at random: shape 1 and the mean of the pulls over those that ended", "[check]") {
  // With shape 1 the likelihood is known: all pulls over all that ended.
  std::mt19937 rng(9);
  std::exponential_distribution<double> draw(1 / 20.0);
  std::vector<Life> lives;
  double all = 0;
  for (int i = 0; i < 5000; ++i) {
    lives.push_back({draw(rng), true});
    all += lives.back().pulls;
  }
  const auto law = fit_weibull(lives);
  REQUIRE(law);
  CHECK(law->shape == Approx(1).epsilon(0.06));
  CHECK(law->mean == Approx(all / 5000).epsilon(0.02));
}

TEST_CASE("before five have ended the sheet counts, moved by those that are there", "[check]") {
  const LifeLaw none = life_law({}, 30);
  CHECK(none.by_sheet);
  CHECK(none.mean == Approx(30));
  CHECK(none.low < 30);
  CHECK(none.high > 30);
  // One that ended at once moves it down, one that goes on after sixty moves it up.
  CHECK(life_law({{2, true}}, 30).mean == Approx((90 + 2) / 4.0));
  CHECK(life_law({{60, false}}, 30).mean == Approx((90 + 60) / 3.0));
  CHECK_FALSE(life_law({{20, true}, {22, true}, {25, true}, {19, true}, {24, true}}, 30).by_sheet);
  CHECK(life_law({{20, true}, {22, true}, {25, true}, {19, true}, {24, true}}, 30).mean == Approx(22).epsilon(0.05));
}

TEST_CASE("chances fall with wear, and what is to come falls with them", "[check]") {
  LifeLaw law;
  law.shape = 3, law.scale = 20;
  CHECK(chance_of(law, 0, 0) == 1);
  CHECK(chance_of(law, 0, 20) == Approx(std::exp(-1.0)));
  CHECK(chance_of(law, 25, 1) < chance_of(law, 5, 1));
  CHECK(pulls_to_come(law, 0) == Approx(20 * std::tgamma(1 + 1 / 3.0)).epsilon(0.01));
  CHECK(pulls_to_come(law, 20) < pulls_to_come(law, 5));
  law.shape = 1;  // it forgets how old it is
  CHECK(pulls_to_come(law, 0) == Approx(20).epsilon(0.01));
  CHECK(pulls_to_come(law, 50) == Approx(20).epsilon(0.01));
}

TEST_CASE("lives that say nothing are refused", "[check]") {
  CHECK_FALSE(fit_weibull({}));
  CHECK_FALSE(fit_weibull({{5, true}}));
  CHECK_FALSE(fit_weibull({{NAN, true}, {5, true}}));
  CHECK_FALSE(fit_weibull({{-1, true}, {5, true}}));
}

}  // namespace tests_check_weibull
