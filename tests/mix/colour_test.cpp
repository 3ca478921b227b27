// Colours as the shop keeps them, and what is left in the cup.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "mix/left_over.hpp"
#include "mix/recipe.hpp"

namespace tests_mix_colour {

using namespace palinform;

TEST_CASE("M17: a recipe scales to any batch with its shares kept, and trials keep what was in them", "[mix]") {
  ColourRecipe r{"c1", "Harbour green", {{"green", "Green paste", 0.004}, {"black", "Black paste", 0.0006}}, {}};
  REQUIRE(check_recipe(r));
  for (const double batch : {40.0, 260.0, 5000.0}) {
    const auto doses = scaled_recipe(r, batch, 0.01, {{"green", 0.02}});
    REQUIRE(doses);
    REQUIRE(doses->size() == 2);
    for (size_t i = 0; i < 2; ++i) {
      CHECK((*doses)[i].g == Approx(r.tints[i].share * batch).margin(0.006));
      CHECK((*doses)[i].master_batch == (r.tints[i].share * batch < 20 * 0.01));
    }
  }
  CHECK_FALSE(scaled_recipe(r, 100, 0.01, {{"green", 0.003}}));  // over the sheet's limit
  const auto next = after_trial(r, {"2026-11-20", "Latch, casting 4", {}, "too dark", "less black", ""},
                                {{"green", "Green paste", 0.004}, {"black", "Black paste", 0.0003}});
  CHECK(next.trials.size() == 1);
  CHECK(next.trials[0].tints == r.tints);
  CHECK(next.tints[1].share == 0.0003);
  for (int i = 0; i < 4; ++i) {
    ColourRecipe bad = r;
    if (i == 0) bad.name = " ";
    if (i == 1) bad.tints.clear();
    if (i == 2) bad.tints[1].material_id = "green";
    if (i == 3) bad.tints[0].share = 0;
    INFO(i);
    CHECK_FALSE(check_recipe(bad));
  }
}

TEST_CASE("M14: left-overs go where they are worth most, as trying every choice finds", "[mix]") {
  std::mt19937_64 random(14);
  for (int round = 0; round < 300; ++round) {
    std::vector<StandingMould> moulds;
    const size_t n = 1 + random() % 9;
    for (size_t i = 0; i < n; ++i)
      moulds.push_back({"m" + std::to_string(i),
                        "M",
                        1.0 + static_cast<double>(random() % 60),
                        static_cast<double>(random() % 20),
                        {},
                        ""});
    if (random() % 3 == 0) moulds[0].kinds = {"casting-rubber"};
    const double left = static_cast<double>(random() % 120), density = 1.05;
    const auto got = fill_with_left_over(moulds, "casting-resin", left, density);
    REQUIRE(got);
    double best = 0;
    for (size_t bits = 0; bits < size_t{1} << n; ++bits) {
      double g = 0, worth = 0;
      bool may = true;
      for (size_t i = 0; i < n; ++i)
        if (bits >> i & 1) {
          g += std::ceil(moulds[i].volume_ml * density - 1e-9), worth += moulds[i].worth;
          may &= moulds[i].kinds.empty();
        }
      if (may && g <= left) best = std::max(best, worth);
    }
    CHECK(got->worth == best);
    double used = 0;
    for (const size_t i : got->moulds) used += moulds[i].volume_ml * density;
    CHECK(got->used_g == Approx(used));
    CHECK(got->used_g + got->wasted_g == Approx(left));
    CHECK(got->wasted_g >= -1e-9);
  }
  CHECK_FALSE(fill_with_left_over({}, "casting-resin", -1, 1));
  CHECK_FALSE(fill_with_left_over({}, "casting-resin", 1e6, 1));
  CHECK_FALSE(check_standing({"a", "", 4, 1, {}, ""}));
  CHECK_FALSE(check_standing({"a", "Coaster", 0, 1, {}, ""}));
}

}  // namespace tests_mix_colour
