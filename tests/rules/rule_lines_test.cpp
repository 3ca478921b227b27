// The rules one by one, and the shop's equipment.
#include <catch2/catch.hpp>
#include <set>

#include "rules/equipment.hpp"
#include "rules/equipment_lines.hpp"
#include "rules/rule_lines.hpp"

namespace tests_rules_rule_lines {

using namespace palinform;

TEST_CASE("every rule has a line of its own, with a stage, a range it lies in and what it changes", "[rules]") {
  const Rules& standard = starting_shop().rules;
  const auto lines = rule_lines(standard, standard);
  CHECK(lines.size() > 140);
  std::set<std::string> paths;
  for (const RuleLine& r : lines) {
    INFO(r.path);
    CHECK(paths.insert(r.path).second);
    CHECK_FALSE(r.stage.empty());
    CHECK_FALSE(r.name.empty());
    CHECK(r.affects != "the plan");
    CHECK(r.low < r.high);
    CHECK(r.value >= r.low);
    CHECK(r.value <= r.high);
    CHECK_FALSE(r.own());
  }
}

TEST_CASE("one rule changed changes one line, and back to default is as before", "[rules]") {
  const Rules& standard = starting_shop().rules;
  int tried = 0;
  for (const RuleLine& r : rule_lines(standard, standard)) {
    INFO(r.path);
    const double other = r.value + 0.5 * ((r.value - r.low > r.high - r.value ? r.low : r.high) - r.value);
    const auto next = with_rule(standard, r.path, other);
    if (!next) continue;  // a whole number, or rules that hang together
    ++tried;
    int own = 0;
    for (const RuleLine& now : rule_lines(*next, standard)) own += now.own();
    // The price of an hour stands in three places.
    CHECK((own == 1 || r.path.ends_with("hand_price_per_h")));
    const auto back = with_rule(*next, r.path, r.value);
    REQUIRE(back);
    CHECK(write_rules(*back) == write_rules(standard));
  }
  CHECK(tried > 120);
  CHECK_FALSE(with_rule(standard, "mix.cup_loss_pct", 400));
  CHECK_FALSE(with_rule(standard, "mix.cup_loss_pct", std::numeric_limits<double>::quiet_NaN()));
  CHECK_FALSE(with_rule(standard, "mix.nothing", 4));
  CHECK_FALSE(with_rule(standard, "mix", 4));
  CHECK_FALSE(with_rule(standard, "", 4));
  CHECK_FALSE(with_rule(standard, "mix.cup_loss_pct.deeper", 4));
}

TEST_CASE("the shop's equipment reads back as it was written, and what cannot be is refused by name", "[rules]") {
  Equipment e;
  e.scales = {{"bench", 1, 5000}, {"fine", 0.01, 300}};
  e.cups = {{"small", 300, 8.2, {}, {}, {}}, {"large", 1000, 31, 80.0, 110.0, 140.0}};
  e.chamber = {250, 300, 3};
  e.drills_mm = {1.5, 2, 2.5};
  e.money = "kr";
  const auto back = equipment_from_json(equipment_to_json(e), "shop");
  REQUIRE(back);
  CHECK(*back == e);
  CHECK(scale_for(e, 200)->name == "fine");
  CHECK(scale_for(e, 2000)->name == "bench");
  CHECK_FALSE(scale_for(e, 9000));
  CHECK(cup_for(e, 300)->name == "small");
  CHECK(cup_for(e, 301)->name == "large");
  CHECK_FALSE(cup_for(e, 4000));
  CHECK(wetted_mm2(e.cups[1].cup(), 500) > wetted_mm2(e.cups[1].cup(), 100));
  for (int i = 0; i < 6; ++i) {
    Equipment bad = e;
    if (i == 0) bad.scales[1].name = "bench";
    if (i == 1) bad.cups[0].name = " ";
    if (i == 2) bad.drills_mm.push_back(-1);
    if (i == 3) bad.scales[0].division_g = 500;
    if (i == 4) bad.hours.to_min = bad.hours.from_min;
    if (i == 5) bad.altitude_m = std::numeric_limits<double>::quiet_NaN();
    INFO(i);
    CHECK_FALSE(check_equipment(bad));
  }
  for (const char* text : {"", "[]", "{\"scales\": 4}", "{\"people\": 0}"})
    CHECK_FALSE(equipment_from_json(text, "shop"));
}

TEST_CASE("the shop's lines read as they are written, and what does not read changes nothing", "[rules]") {
  Equipment e;
  e.scales = {{"bench", 0.1, 5000}, {"fine: old", 0.01, 300}};
  e.cups = {{"small", 300, 8.2, {}, {}, {}}, {"large", 1000, 31, 80.0, 110.0, 140.0}};
  e.gauges = {{"calipers", 0.01, 0.012, "", "2026-03-01", 12}};
  e.causes = {{Fault::tacky, Cause::ratio, 2}, {Fault::hollow, Cause::no_way_out, 1}};
  e.chamber = {250, 300, 2.5};
  e.boxes = {{"box", 180, 120, 90}};
  e.drills_mm = {1.5, 2, 2.5};
  e.altitude_m = 40;
  e.money = "kr";
  e.people = 3;
  e.hours.days = {true, true, false, true, true, true, false};
  e.hours.from_min = 7 * 60 + 30;
  for (const EquipmentLine& l : equipment_lines(e)) {
    INFO(l.key << ": " << l.text);
    const auto again = with_equipment_line(e, l.key, l.text);
    REQUIRE(again);
    CHECK(*again == e);
    // The hint itself can be written.
    CHECK(with_equipment_line(e, l.key, l.hint));
  }
  CHECK(with_equipment_line(e, "rods", "1,5, 2 mm")->rods_mm == std::vector<double>{1.5, 2});
  CHECK_FALSE(with_equipment_line(e, "chamber", "")->chamber.there());
  // Counts can be corrected, and taken back; a finer reading keeps the day of the check.
  CHECK(with_equipment_line(e, "causes", "tacky, ratio: 0; void, no-way-out: 4")->causes ==
        std::vector<ConfirmedCause>{{Fault::hollow, Cause::no_way_out, 4}});
  CHECK_FALSE(with_equipment_line(e, "causes", "tacky: 2"));
  CHECK_FALSE(with_equipment_line(e, "causes", "tacky, moon: 2"));
  CHECK_FALSE(with_equipment_line(e, "causes", "tacky, ratio: 1.5"));
  CHECK(with_equipment_line(e, "gauges", "calipers: 0.01 mm, 0.008 mm")->gauges.at(0).checked_on == "2026-03-01");
  CHECK(with_equipment_line(e, "hours", "mon-fri 8:00-17:00")->hours.to_min == 17 * 60);
  for (const auto& [key, text] :
       {std::pair{"scales", "bench 0.1 g"}, std::pair{"scales", "bench: 0.1 g"},
        std::pair{"scales", "a: 0.1, 300; a: 1, 900"}, std::pair{"cups", "cup: 300 ml, 8 g, 40 mm"},
        std::pair{"cups", ": 300 ml"}, std::pair{"chamber", "large"}, std::pair{"chamber", "250 300"},
        std::pair{"people", "0"}, std::pair{"people", "two"}, std::pair{"people", "1.5"}, std::pair{"hours", "mon-fri"},
        std::pair{"hours", "mon-fri 17:00-8:00"}, std::pair{"hours", "funday 8:00-17:00"},
        std::pair{"hours", "mon-fri 8:00-17:00x"}, std::pair{"altitude", "40 50"}, std::pair{"boxes", "box: 10 × 20"},
        std::pair{"drills", "-3"}, std::pair{"drills", "large ones"}, std::pair{"nothing", "1"}}) {
    INFO(key << " = " << text);
    CHECK_FALSE(with_equipment_line(e, key, text));
  }
}

}  // namespace tests_rules_rule_lines
