// What the shop owns against what a job asks: told only of what was entered.
#include <catch2/catch.hpp>

#include "findings/vessels.hpp"

namespace tests_mould_vessels {

using namespace palinform;

namespace {

VesselsAsked asked() {
  VesselsAsked a;
  a.mould_mm = {120, 90, 60};
  a.sheet_mm = 6, a.box_mm = 81;
  a.gate = a.closed = a.degas_in_box = true;
  a.flow.sprue_mm = 5, a.flow.vent_mm = 2;
  a.flow.vents = {{0, 0, 1}};
  return a;
}
bool has(const std::vector<Finding>& list, std::string_view code) {
  return std::any_of(list.begin(), list.end(), [&](const Finding& f) { return f.code == code; });
}

}  // namespace

TEST_CASE("a shop that entered nothing hears nothing", "[mould]") {
  VesselsAsked a = asked();
  for (const FillAid aid : {FillAid::gravity, FillAid::pressure, FillAid::vacuum, FillAid::vacuum_then_pressure}) {
    a.flow.aid = aid, a.flow.pressure_kpa = 900, a.post_cure_c = 200;
    const auto f = vessel_findings(a, {});
    CHECK(f.mould.empty());
    CHECK(f.flow.empty());
  }
}

TEST_CASE("chamber, pot and oven: too low, too narrow, not made for it", "[mould]") {
  Equipment shop;
  shop.chamber = {160, 100, 2.5};  // the box is 165 mm corner to corner
  shop.pot = {155, 58, 400};
  shop.oven = {400, 300, 80};
  VesselsAsked a = asked();
  CHECK(has(vessel_findings(a, shop).mould, "box-tall"));
  shop.chamber.across_mm = 170;
  CHECK_FALSE(has(vessel_findings(a, shop).mould, "box-tall"));
  shop.chamber.high_mm = 80;
  CHECK(has(vessel_findings(a, shop).mould, "box-tall"));
  // A height that the job itself gives goes before the shop's.
  a.chamber_mm = 90;
  CHECK_FALSE(has(vessel_findings(a, shop).mould, "box-tall"));
  a.flow.aid = FillAid::pressure, a.flow.pressure_kpa = 300;
  CHECK(has(vessel_findings(a, shop).mould, "box-pot"));
  CHECK_FALSE(has(vessel_findings(a, shop).flow, "pot-plate"));
  a.flow.pressure_kpa = 500;
  const auto over = vessel_findings(a, shop).flow;
  REQUIRE(has(over, "pot-plate"));
  CHECK(over.front().severity == Severity::stop);
  CHECK_FALSE(over.front().answerable);
  CHECK(over.front().remedies.front().edit == Edit(edits::SetPressure{400}));
  a.flow.aid = FillAid::vacuum, a.flow.vacuum_kpa = 1;
  CHECK(has(vessel_findings(a, shop).flow, "chamber-best"));
  // On its wedge it stands higher: 50 mm high and level it goes in, tilted it does not.
  VesselsAsked wedge = asked();
  wedge.flow.aid = FillAid::pressure, wedge.flow.pressure_kpa = 300;
  Equipment tall = shop;
  tall.pot = {400, wedge.mould_mm.z + 5, 400};
  CHECK_FALSE(has(vessel_findings(wedge, tall).mould, "box-pot"));
  wedge.flow.tilt_deg = 20;
  CHECK(has(vessel_findings(wedge, tall).mould, "box-pot"));
  // One after the other: both have to take it.
  a.flow.aid = FillAid::vacuum_then_pressure;
  CHECK(has(vessel_findings(a, shop).flow, "chamber-best"));
  CHECK(has(vessel_findings(a, shop).flow, "pot-plate"));
  a.post_cure_c = 100;
  CHECK(has(vessel_findings(a, shop).mould, "oven-cool"));
  a.post_cure_c = 80;
  CHECK_FALSE(has(vessel_findings(a, shop).mould, "oven-cool"));
}

TEST_CASE("gate and vents go by the shop's drills, where it drills them", "[mould]") {
  Equipment shop;
  shop.drills_mm = {1.5, 4, 6};
  VesselsAsked a = asked();
  a.flow.sprue_mm = 4.8;
  auto f = vessel_findings(a, shop).flow;
  REQUIRE(has(f, "drill-gate"));
  CHECK(f[0].remedies.front().edit == Edit(edits::SetSprue{4}));
  REQUIRE(has(f, "drill-vent"));
  CHECK(f[1].remedies.front().edit == Edit(edits::SetVentSize{1.5}));
  a.flow.vents.clear(), a.flow.sprue_mm = 6;
  CHECK(vessel_findings(a, shop).flow.empty());
  a.flow.sprue_mm = 5, a.gate = false;
  CHECK(vessel_findings(a, shop).flow.empty());
}

}  // namespace tests_mould_vessels
