// From what is seen to why: M23's cases, five spoilt runs written down before, and what a shop teaches.
#include <catch2/catch.hpp>

#include "check/cause.hpp"
#include "stages/judging.hpp"

namespace tests_check_cause {

using namespace palinform;

namespace {

/// A run in which nothing went otherwise than planned.
CastRecord in_order() {
  CastRecord r;
  r.ratio_off_pct = 0.3, r.ratio_tolerance_pct = 2;
  r.minutes_b_to_filled = 3, r.pot_life_min = 6, r.room_c = 22, r.reference_c = 23;
  r.degassed = true, r.rubber_degassed = true, r.pressure_kpa = 0;
  r.lot_days_past = -200, r.opened_days = 5;
  r.demould_h = 3, r.demould_needed_h = 2, r.pull = 2;
  r.clamp_n = 60, r.clamp_needed_n = 50, r.tilt_deg = 12, r.tilt_planned_deg = 12;
  r.sealed = true, r.released = true, r.patch_cured = true;
  return r;
}

Cause first(const Why& w) { return w.causes.front().cause; }

}  // namespace

TEST_CASE("shares add up to one, and without evidence the trade's own order stands", "[check]") {
  for (const std::string_view name : names<Fault>) {
    const Fault f = *named<Fault>(name);
    const auto usual = usual_causes(f);
    REQUIRE_FALSE(usual.empty());
    double sum = 0;
    for (const auto& [c, p] : usual) sum += p;
    CHECK(sum == Approx(1));
    const Why w = why_of({f, {}, {}}, {});
    REQUIRE(w.causes.size() == usual.size());
    sum = 0;
    for (size_t k = 0; k < usual.size(); ++k) {
      CHECK(w.causes[k].cause == usual[k].first);
      CHECK(w.causes[k].p == Approx(usual[k].second));
      sum += w.causes[k].p;
    }
    CHECK(sum == Approx(1));
    REQUIRE(w.change);
    CHECK_FALSE(w.change->what.empty());
    CHECK_FALSE(w.unknown.empty());  // nothing is known, so something would decide
    const Why known = why_of({f, {}, {}}, in_order());
    sum = 0;
    for (const CauseFound& c : known.causes) sum += c.p;
    CHECK(sum == Approx(1));
  }
}

TEST_CASE("a void at a foreseen pocket's apex with all else in order: no way out for the air", "[check]") {
  const Why w = why_of({Fault::hollow, 0.5, 20.0}, in_order());
  CHECK(first(w) == Cause::no_way_out);
  CHECK(w.causes[0].p > 0.8);
  REQUIRE_FALSE(w.causes[0].speaks_for.empty());
  CHECK(w.causes[0].speaks_for[0].find("0.50 mm from a pocket") != std::string::npos);
  // Far from every pocket it is something else.
  CHECK(why_of({Fault::hollow, 40.0, {}}, in_order()).causes[0].cause != Cause::no_way_out);
}

TEST_CASE("tacky patches with the ratio off by three tolerances: the ratio", "[check]") {
  CastRecord r = in_order();
  r.ratio_off_pct = -6;
  const Why w = why_of({Fault::tacky, {}, {}}, r);
  CHECK(first(w) == Cause::ratio);
  CHECK(w.causes[0].p > 0.8);
  CHECK(w.causes[0].speaks_for[0].find("short") != std::string::npos);
}

TEST_CASE("five spoilt runs, written down before: the true cause comes first", "[check]") {
  struct Spoilt {
    const char* what;
    Seen seen;
    CastRecord record;
    Cause truth;
  };
  std::vector<Spoilt> runs;
  {
    CastRecord r = in_order();
    r.ratio_off_pct = 5;
    runs.push_back({"ratio off by 5 % of a tolerance of 2", {Fault::tacky, {}, {}}, r, Cause::ratio});
  }
  runs.push_back(
      {"a vent left out over a pocket of 60 mm³", {Fault::hollow, 1.8, 60.0}, in_order(), Cause::no_way_out});
  {
    CastRecord r = in_order();
    r.demould_h = 1.3;
    runs.push_back({"out after 1.3 of 2 h", {Fault::warped, {}, {}}, r, Cause::early_demould});
  }
  {
    CastRecord r = in_order();
    r.room_c = 14;
    runs.push_back({"a room of 14 °C", {Fault::tacky, {}, {}}, r, Cause::cold});
  }
  {
    CastRecord r = in_order();
    r.lot_days_past = 90;
    runs.push_back({"a lot 90 days past its date", {Fault::tacky, {}, {}}, r, Cause::old_lot});
  }
  for (const Spoilt& s : runs) {
    INFO(s.what);
    const Why w = why_of(s.seen, s.record);
    CHECK(first(w) == s.truth);
    CHECK_FALSE(w.causes[0].speaks_for.empty());
  }
}

TEST_CASE("a warm room shortens the pot life that the pour is held against", "[check]") {
  CastRecord r;
  r.minutes_b_to_filled = 4.5, r.pot_life_min = 6, r.reference_c = 23, r.room_c = 23;
  const double cool = why_of({Fault::not_full, {}, {}}, r).causes[0].p;
  r.room_c = 33;  // three minutes are left of six
  const Why warm = why_of({Fault::not_full, {}, {}}, r);
  CHECK(warm.causes[0].cause == Cause::gelled_early);
  CHECK(warm.causes[0].p > cool);
  CHECK(warm.causes[0].speaks_for[0].find("3.0 min") != std::string::npos);
}

TEST_CASE("what is not known does not count, and is asked for only where it would decide", "[check]") {
  CastRecord r = in_order();
  r.ratio_off_pct.reset();
  const Why w = why_of({Fault::tacky, {}, {}}, r);
  REQUIRE(w.unknown.size() == 1);
  CHECK(w.unknown[0].find("weigh") != std::string::npos);
}

TEST_CASE("what a shop confirms moves its causes, by counts", "[check]") {
  const Why before = why_of({Fault::pinholes, {}, {}}, {});
  const Why after = why_of({Fault::pinholes, {}, {}}, {}, {{Fault::pinholes, Cause::moisture, 6}});
  CHECK(first(before) == Cause::air_stirred_in);
  CHECK(first(after) == Cause::moisture);
  // Of another fault it says nothing; a cause the trade does not name can be taught.
  CHECK(first(why_of({Fault::pinholes, {}, {}}, {}, {{Fault::tacky, Cause::moisture, 6}})) == Cause::air_stirred_in);
  const Why odd = why_of({Fault::step, {}, {}}, {}, {{Fault::step, Cause::heat, 40}});
  CHECK(first(odd) == Cause::heat);
}

TEST_CASE("the causes of castings: the pocket is found by place, the change is an edit, and it helped or not",
          "[check]") {
  FlowResult flow;
  PocketSeen p;
  p.pocket = {{10, 0, 20}, 40, 0, Vec3{10, 0, 18}};
  p.vent_mm = {10, 0, 20.5};
  flow.pockets.push_back(p);
  Casting bad;
  bad.number = 1;
  FaultSeen seen;
  seen.at_mm = Vec3{11, 0.5, 20}, seen.size_mm = 2;
  bad.faults.push_back(seen);
  bad.looked_at = true;
  WhyGround g;
  g.flow = &flow;
  WhysResult r = whys_of({bad}, g, {}, {});
  REQUIRE(r.castings.size() == 1);
  const Why& w = r.castings[0].whys.at(0);
  CHECK(first(w) == Cause::no_way_out);
  REQUIRE(w.change);
  REQUIRE(w.change->edit);
  CHECK(code_of(*w.change->edit) == "vent");
  CHECK(std::get<edits::AddVent>(*w.change->edit).at_mm == p.vent_mm);
  REQUIRE(r.findings.size() == 1);
  CHECK(r.findings[0].what.find("Void: No way out for the air") != std::string::npos);
  // The next casting is looked at and has none: it helped, and nothing is told any more.
  ChangeMade change{1, Fault::hollow, "no-way-out", "a vent", ""};
  CHECK_FALSE(helped(change, {bad}));
  Casting good;
  good.number = 2;
  CHECK_FALSE(helped(change, {bad, good}));  // nobody has looked at it yet
  good.looked_at = true;
  CHECK(helped(change, {bad, good}) == std::optional(true));
  CHECK(whys_of({bad, good}, g, {}, {}).findings.empty());
  good.faults = bad.faults;
  CHECK(helped(change, {bad, good}) == std::optional(false));
}

}  // namespace tests_check_cause
