// The first-article sheet: what it says of a casting, page by page.
#include <catch2/catch.hpp>
#include <filesystem>

#include "mesh/save.hpp"
#include "overview/first_article.hpp"
#include "shapes.hpp"
#include "stages/judging.hpp"

namespace tests_check_first_article {

using namespace palinform;

TEST_CASE("a first article lists every size with its verdict, what is seen, and its worth", "[check]") {
  Job j;
  j.name = "Bracket", j.client = "Office";
  for (int k = 0; k < 40; ++k) {
    MeasuredSize s;
    s.id = "s" + std::to_string(k), s.name = "Size " + std::to_string(k);
    s.nominal_mm = 10 + k, s.lower_mm = s.nominal_mm - 0.1, s.upper_mm = s.nominal_mm + 0.1;
    j.original.sizes.push_back(s);
  }
  j.original.duties = {Duty::load};
  Casting c;
  c.number = 3, c.made_on = "2026-11-28";
  c.readings = {{"s0", {10.0, 10.01, 10.0}}, {"s1", {11.4, 11.41}}};
  FaultSeen f;
  f.size_mm = 2, f.confirmed = true, f.cause = "tilt";
  c.faults = {f};
  c.worth = Worth::repaired, c.repair_min = 12;
  c.record.room_c = 20;
  j.check.castings = {c};
  const CheckResult check = check_result(j.original.sizes, j.check);
  const FirstArticle a = first_article(j, 0, &check, nullptr, nullptr, "Ivory");
  REQUIRE(a.rows.size() == 40);
  CHECK(a.rows[0].verdict == "conforms");
  CHECK(a.rows[0].readings == 3);
  CHECK(a.rows[1].verdict == "fails");
  CHECK(a.rows[2].verdict == "not measured");
  CHECK(a.overall == "fails");
  CHECK(a.worth == "good after repair, 12 min");
  REQUIRE(a.faults.size() == 1);
  CHECK(a.faults[0] == "Void, 2.0 mm: Tilted otherwise than planned");
  CHECK(a.how == std::vector<std::string>{"room 20 °C"});
  CHECK(a.cautions.size() == 1);
  // Forty sizes take two pages; what is seen and the lines to sign stand on the last.
  const auto pages = first_article_pages(a, {});
  REQUIRE(pages.size() == 2);
  const auto says = [](const Drawing& d, const std::string& words) {
    return std::any_of(d.labels.begin(), d.labels.end(),
                       [&](const Label& l) { return l.text.find(words) != std::string::npos; });
  };
  CHECK(says(pages[0], "Size 0"));
  CHECK_FALSE(says(pages[0], "Released by"));
  CHECK(says(pages[1], "Released by"));
  CHECK(says(pages[1], "Tilted otherwise"));
  CHECK(says(pages[1], "safety depends"));
  shapes::TempDir dir;
  REQUIRE(write_first_article_xlsx(a, dir / "a.xlsx"));
  CHECK(read_file(dir / "a.xlsx")->substr(0, 2) == "PK");
  CHECK_FALSE(write_first_article_xlsx(a, "/proc/no/such/a.xlsx"));
  // A casting that is not there says nothing.
  CHECK(first_article(j, 7, nullptr, nullptr, nullptr, "").rows.empty());
}

}  // namespace tests_check_first_article
