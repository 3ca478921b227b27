#include <fstream>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "rules/rules.hpp"

namespace tests_rules_rules {

using namespace palinform;

namespace {

/// Every key of `a` is one of `b`, all the way down.
void all_in(const nlohmann::json& a, const nlohmann::json& b, const std::string& path) {
  for (const auto& [key, value] : a.items()) {
    INFO(path + "." + key);
    REQUIRE(b.contains(key));
    if (value.is_object()) all_in(value, b[key], path + "." + key);
  }
}

}  // namespace

TEST_CASE("the shop's rules are read whole, and written back the same", "[rules]") {
  const Rules& r = starting_shop().rules;
  const std::string text = write_rules(r);
  const auto again = read_rules(text);
  REQUIRE(again);
  CHECK(write_rules(*again) == text);
  // A rule misspelt in the data would be passed over without a word.
  std::ifstream file(RULES_JSON);
  all_in(nlohmann::json::parse(file), nlohmann::json::parse(text), "rules");
}

TEST_CASE("a rule out of reason is refused by its name; what is not said keeps its default", "[rules]") {
  const auto wall = read_rules(R"({"mould": {"wall": {"min_mm": 0}}})");
  REQUIRE_FALSE(wall);
  CHECK(wall.error().where == "rules.mould.wall.min_mm");
  const auto fit = read_rules(R"({"size": {"fits": {"slides": "H8"}}})");
  REQUIRE_FALSE(fit);
  CHECK(fit.error().what == "\"H8\" is no fit like H8/f7");
  CHECK_FALSE(read_rules(R"({"flow": {"passage_mm": "3"}})"));
  CHECK_FALSE(read_rules("[]"));
  const auto price = read_rules(R"({"days": {"hand_price_per_h": 55}})");
  REQUIRE(price);
  CHECK(price->split.ways.hand_price_per_h == 55);  // one price of an hour, wherever it counts
  CHECK(price->mould.forms.hand_price_per_h == 55);
  CHECK(price->mix.mix_min == MixRules{}.mix_min);
}

}  // namespace tests_rules_rules
