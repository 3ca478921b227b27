// Which lots a mix is drawn from, what has to be bought.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "findings/mix.hpp"
#include "mix/shopping.hpp"

namespace tests_mix_shopping {

using namespace palinform;

namespace {
const std::vector<Lot> lots{{1, "r", "late", "", "2027-06-01", 1000, 500},
                            {2, "r", "soon", "2026-09-01", "2026-12-01", 1000, 120},
                            {3, "r", "old", "", "2026-01-01", 1000, 900},
                            {4, "s", "other", "", "", 1000, 900},
                            {5, "r", "no date", "2026-11-01", "", 1000, 60}};
bool has(const std::vector<Finding>& all, const std::string& code) {
  return std::any_of(all.begin(), all.end(), [&](const Finding& f) { return f.code == code; });
}
}  // namespace

TEST_CASE("lots are drawn first-expiring first, never out of date, and no gram twice", "[mix]") {
  const auto d = draw_lots(lots, "r", 300, "2026-11-26");
  REQUIRE(d.size() == 2);
  CHECK(d[0].label == "soon");
  CHECK(d[0].g == 120);
  CHECK(d[1].label == "late");
  CHECK(d[1].g == 180);
  const auto all = draw_lots(lots, "r", 5000, "2026-11-26");
  double sum = 0;
  for (const Draw& x : all) sum += x.g;
  CHECK(sum == 680);
  CHECK(all.back().label == "no date");
  CHECK(draw_lots(lots, "nobody", 10, "2026-11-26").empty());
  CHECK(draw_lots(lots, "r", 0, "2026-11-26").empty());
}

TEST_CASE("stock: two lots are told, too long open is told, short says how many packs", "[mix]") {
  Need n{"r", "Rubber", 300, 60, {1, 5}};
  auto f = stock_findings({n}, lots, "2026-11-26");
  CHECK(has(f, "lot-two"));
  CHECK(has(f, "lot-open-long"));  // "soon" has stood open for 86 days
  CHECK_FALSE(has(f, "lot-short"));
  n.life_open_days = 90;
  CHECK_FALSE(has(stock_findings({n}, lots, "2026-11-26"), "lot-open-long"));
  n.mass_g = 2900;
  f = stock_findings({n}, lots, "2026-11-26");
  CHECK_FALSE(has(f, "lot-two"));
  REQUIRE(has(f, "lot-short"));
  for (const Finding& x : f)
    if (x.code == "lot-short") CHECK(x.why.find("3 × 1 kg") != std::string::npos);
  CHECK(*days_open(lots[1], "2026-11-26") == 86);
  CHECK_FALSE(days_open(lots[0], "2026-11-26"));
  CHECK_FALSE(days_open({0, "r", "x", "soon", "", 1, 1}, "2026-11-26"));
}

TEST_CASE("packs cover what is short with the least over, then the fewest, as trying every way finds", "[mix]") {
  CHECK(packs_for(5400, {1, 5}).words() == "1 × 5 kg + 1 × 1 kg");
  CHECK(packs_for(4600, {1, 5}).words() == "1 × 5 kg");
  CHECK(packs_for(100, {0.5, 1}).words() == "1 × 0.5 kg");
  CHECK(packs_for(100, {}).of.empty());
  CHECK(packs_for(0, {1}).of.empty());
  CHECK(packs_for(1e6, {1, 5, 20}).kg == Approx(1000));
  std::mt19937_64 random(5);
  for (int round = 0; round < 200; ++round) {
    std::vector<double> sizes{0.25 * static_cast<double>(1 + random() % 4), 1.0 + static_cast<double>(random() % 3),
                              5.0 + static_cast<double>(random() % 5)};
    const double need = 0.01 * static_cast<double>(1 + random() % 2000);
    double best = 1e9;
    for (int a = 0; a <= 40; ++a)
      for (int b = 0; b <= 24; ++b)
        for (int c = 0; c <= 6; ++c) {
          const double kg = a * sizes[0] + b * sizes[1] + c * sizes[2];
          if (kg >= need - 1e-9) best = std::min(best, kg);
        }
    INFO(need << " of " << sizes[0] << ", " << sizes[1] << ", " << sizes[2]);
    const Packs p = packs_for(need * 1000, sizes);
    CHECK(p.kg >= need - 1e-9);
    CHECK(p.kg == Approx(best));
  }
}

TEST_CASE("the shopping list adds the jobs up against what is there", "[mix]") {
  const std::vector<JobNeeds> jobs{{"Latch", {{"r", "Rubber", 400}, {"s", "Resin", 40}}},
                                   {"Bracket", {{"r", "Rubber", 700}}}};
  const auto list = shopping_list(jobs, lots, {{"r", 30, {1, 5}}}, "2026-11-26");
  REQUIRE(list.size() == 1);  // of the resin there is enough
  CHECK(list[0].needed_g == 1100);
  CHECK(list[0].there_g == 680);  // the lot out of date does not count
  CHECK(list[0].short_g == 420);
  CHECK(list[0].packs.words() == "1 × 1 kg");
  CHECK(list[0].cost == Approx(30));
  CHECK(list[0].jobs == std::vector<std::string>{"Latch", "Bracket"});
  CHECK(shopping_csv(list).find("Latch; Bracket") != std::string::npos);
  CHECK(shopping_list({}, lots, {}, "2026-11-26").empty());
}

}  // namespace tests_mix_shopping
