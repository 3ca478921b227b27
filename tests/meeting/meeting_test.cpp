// What stops or sticks to what: the table is whole, and each job meets just what it brings together.
#include <catch2/catch.hpp>
#include <optional>
#include <set>

#include "findings/meeting.hpp"
#include "shelf/catalogue_view.hpp"
#include "stages/materials.hpp"
#include "stages/touching.hpp"

namespace tests_meeting_meeting {

using namespace palinform;

namespace {

Job job_with(const char* rubber, const char* resin) {
  Job j;
  j.mix.silicone_id = rubber;
  j.mix.resin_id = resin;
  j.mix = with_copies(j.mix, starting_shop());
  REQUIRE(j.mix.rubber);
  REQUIRE(j.mix.resin);
  j.original.finish.master_material = "metal";
  j.original.finish.contacts.gloves = Gloves::nitrile;
  j.original.finish.contacts.clay = Clay::sulphur_free;
  return j;
}
std::string resin_of_family(const char* family) {
  for (const Material& m : starting_shop().bottles)
    if (m.family == family && (m.kind == MaterialKind::casting_resin || m.kind == MaterialKind::casting_rubber))
      return m.id;
  FAIL("the starting shelf has nothing of family " << family);
  return {};
}
const Met* met(const MeetingsResult& r, std::string_view rule) {
  for (const Met& m : r.met)
    if (m.rule->id == rule) return &m;
  return nullptr;
}
std::optional<Finding> finding(const std::vector<Finding>& all, std::string_view step) {
  for (const Finding& f : all)
    if (f.where.step == step) return f;
  return std::nullopt;
}
std::vector<Finding> told(const Job& j, const std::vector<Lot>& lots = {}, const std::vector<Trial>& trials = {}) {
  return meeting_findings(meetings_of(j, starting_shop(), lots, trials), j, starting_shop(), lots, trials);
}

}  // namespace

TEST_CASE("every rule has its words, its ids stand once, and every master's surface is in the table", "[meeting]") {
  std::set<std::string> ids;
  for (const MeetingRule& r : meeting_rules()) {
    INFO(r.id);
    CHECK(ids.insert(r.id).second);
    CHECK(r.why.back() == '.');
    CHECK(r.remedy.back() == '.');
  }
  CHECK(ids.size() >= 20);
  const auto known = known_surfaces();
  for (const MasterMaterial& m : starting_catalogue().masters) {
    INFO(m.id);
    CHECK(std::find(known.begin(), known.end(), m.id) != known.end());
    // What the catalogue says of a surface and what the table says agree.
    const auto& traits = traits_of_surface(m.id);
    Party master{"master", m.name, traits};
    const std::vector<Party> two{{"rubber", "r", {"silicone", "addition"}}, master};
    bool wet = false, bonds = false;
    for (const Met& x : meetings(two, {}))
      wet |= x.rule->does == Does::stays_wet, bonds |= x.rule->does == Does::grows_together;
    CHECK(wet == m.inhibits_addition);
    CHECK(bonds == m.bonds);
  }
}

TEST_CASE("every rule is met by a pair that has its traits, either way round, and settled by what it names",
          "[meeting]") {
  for (const MeetingRule& r : meeting_rules()) {
    INFO(r.id);
    const Party a{"a", "A", {r.a}}, b{"b", "B", {r.b}};
    for (const auto& two : {std::vector<Party>{a, b}, std::vector<Party>{b, a}}) {
      const auto m = meetings(two, {});
      const auto at = std::find_if(m.begin(), m.end(), [&](const Met& x) { return x.rule->id == r.id; });
      REQUIRE(at != m.end());
      CHECK(two[at->a].id == "a");
      CHECK(at->settled.empty());
    }
    for (const Settles s : r.settled_by) {
      Between between;
      if (s == Settles::release) between.released = true;
      if (s == Settles::barrier) between.barrier = true;
      if (s == Settles::sealed) between.sealed = true;
      if (s == Settles::patch_test) between.patch = TestResult{true, "tried"};
      const std::vector<Party> two{a, b};
      for (const Met& x : meetings(two, between))
        if (x.rule->id == r.id) CHECK_FALSE(x.settled.empty());
    }
  }
  CHECK(meetings(std::vector<Party>{{"a", "A", {"addition"}}}, {}).empty());
}

TEST_CASE("sulphur stops addition rubber and not tin; nitrile and clean clay settle it", "[meeting]") {
  Job j = job_with("add-40-translucent", "pu-rigid-ivory");
  CHECK_FALSE(finding(told(j), "sulphur-gloves"));
  j.original.finish.contacts.gloves = Gloves::latex;
  j.original.finish.contacts.clay = Clay::sulphur;
  const auto f = told(j);
  const auto gloves = finding(f, "sulphur-gloves"), clay = finding(f, "sulphur-clay");
  REQUIRE((gloves && clay));
  CHECK(gloves->severity == Severity::stop);
  CHECK(std::holds_alternative<edits::SetContact>(gloves->remedies.at(0).edit));
  // Clay stands only where there is a bed of it.
  Job board = j;
  board.split.way = "printed-board";
  CHECK_FALSE(finding(told(board), "sulphur-clay"));
  Job open = j;
  open.mould.form = "open";
  CHECK_FALSE(finding(told(open), "sulphur-clay"));
  CHECK_FALSE(finding(told(open), "first-half"));
  Job tin = job_with("con-25-white", "pu-rigid-ivory");
  tin.original.finish.contacts = j.original.finish.contacts;
  CHECK_FALSE(finding(told(tin), "sulphur-gloves"));
  CHECK_FALSE(finding(told(tin), "sulphur-clay"));
}

TEST_CASE("a casting of one's own is no master before its full cure", "[meeting]") {
  Job j = job_with("add-40-translucent", "pu-rigid-ivory");
  j.size.generations = 2;
  auto all = told(j);
  const auto f = finding(all, "green-casting");
  REQUIRE(f);
  CHECK(f->severity == Severity::stop);
  CHECK_FALSE(f->answerable);
  const double hours = full_cure_h(j, *planned_resin(j.mix, starting_shop()));
  j.original.finish.contacts.cured_h = 0.9 * hours;
  all = told(j);
  CHECK(finding(all, "green-casting"));
  j.original.finish.contacts.cured_h = std::ceil(hours);
  all = told(j);
  CHECK_FALSE(finding(all, "green-casting"));
  // Colder, the same casting takes longer.
  j.size.room_c = 10;
  all = told(j);
  CHECK(finding(all, "green-casting"));
}

TEST_CASE("silicone parts: grow into an addition mould, stay wet in a tin one", "[meeting]") {
  const std::string soft = resin_of_family("casting-silicone");
  Job j = job_with("add-40-translucent", soft.c_str());
  CHECK(finding(told(j), "silicone-in-silicone"));
  j.original.finish.contacts.released = true;
  CHECK_FALSE(finding(told(j), "silicone-in-silicone"));
  Job tin = job_with("con-25-white", soft.c_str());
  CHECK(finding(told(tin), "tin-mould-silicone")->severity == Severity::stop);
  // A printed cup and core meets no mould rubber, but its photopolymer stops a silicone part all the same.
  Job cup = job_with("add-40-translucent", soft.c_str());
  cup.mould.form = "cup-core";
  cup.original.finish.master_material = "printed-photopolymer";
  CHECK_FALSE(finding(told(cup), "silicone-in-silicone"));
  CHECK(finding(told(cup), "photopolymer"));
}

TEST_CASE("a patch test settles what it was made on or hardens it, and says nothing of the rest", "[meeting]") {
  Job j = job_with("add-40-translucent", "pu-rigid-ivory");
  j.original.finish.master_material = "printed-photopolymer";
  j.original.finish.contacts.clay = Clay::sulphur;
  const std::vector<Lot> lots{{7, "add-40-translucent", "4411", "", "", 1000, 400},
                              {8, "add-40-translucent", "old", "", "", 100, 0}};
  CHECK(finding(told(j, lots), "photopolymer")->severity == Severity::caution);
  const Trial good{"t1", 7, TrialKind::patch, "printed-photopolymer", true, "2026-11-20", ""};
  CHECK_FALSE(finding(told(j, lots, {good}), "photopolymer"));
  CHECK(finding(told(j, lots, {good}), "sulphur-clay"));  // tried on the master, not on the clay
  const MeetingsResult r = meetings_of(j, starting_shop(), lots, {good});
  CHECK(met(r, "photopolymer")->settled.find("4411") != std::string::npos);
  // The newest counts; of one day the later.
  const Trial wet{"t2", 7, TrialKind::patch, "printed-photopolymer", false, "2026-11-20", ""};
  const auto hard = told(j, lots, {good, wet});
  const auto f = finding(hard, "photopolymer");
  REQUIRE(f);
  CHECK(f->severity == Severity::stop);
  CHECK_FALSE(f->answerable);
  CHECK_FALSE(finding(told(j, lots, {wet, good}), "photopolymer"));
  // Another surface, another rubber, a lot that is used up: no test of this.
  for (const Trial& other : {Trial{"x", 7, TrialKind::patch, "wood", true, "2026-11-20", ""},
                             Trial{"x", 9, TrialKind::patch, "printed-photopolymer", true, "2026-11-20", ""},
                             Trial{"x", 8, TrialKind::patch, "printed-photopolymer", true, "2026-11-20", ""},
                             Trial{"x", 7, TrialKind::cup, "", true, "2026-11-20", ""}})
    CHECK(finding(told(j, lots, {other}), "photopolymer"));
  const Trial cup{"c", 7, TrialKind::cup, "", false, "2026-11-21", ""};
  const auto with_cup = told(j, lots, {cup});
  CHECK(std::any_of(with_cup.begin(), with_cup.end(), [](const Finding& x) {
    return x.code == "cup-test-wet" && x.severity == Severity::stop && !x.answerable;
  }));
}

TEST_CASE("urethane and what holds water; polyester and the mould's life; release and paint", "[meeting]") {
  Job j = job_with("con-25-white", "pu-rigid-ivory");
  j.original.finish.contacts.stick = Stick::wood;
  j.original.finish.contacts.barrier = true;
  j.original.finish.later = Later::paint;
  const auto f = told(j);
  CHECK(finding(f, "wooden-stick"));
  CHECK(finding(f, "water-barrier"));
  CHECK(finding(f, "fresh-tin-mould"));
  CHECK_FALSE(finding(f, "release-and-paint"));
  j.original.finish.contacts.released = true;
  CHECK(finding(told(j), "release-and-paint"));
  const Job p = job_with("con-25-white", resin_of_family("polyester").c_str());
  CHECK(finding(told(p), "styrene-swells"));
  CHECK_FALSE(finding(told(p), "wooden-stick"));
}

TEST_CASE("what is open is proposed as a test: a patch on the master's surface, a cup of an old lot", "[meeting]") {
  Job j = job_with("add-40-translucent", "pu-rigid-ivory");
  j.original.finish.master_material = "printed-photopolymer";
  const std::vector<Lot> lots{{7, "add-40-translucent", "4411", "", "", 1000, 400}};
  const auto wanted = [&](const std::vector<Trial>& trials) {
    return tests_wanted(meetings_of(j, starting_shop(), lots, trials), j, starting_shop());
  };
  REQUIRE(wanted({}).size() == 1);
  CHECK(wanted({})[0].wanted == TestWanted{TrialKind::patch, "printed-photopolymer", "add-40-translucent", 0});
  CHECK(wanted({})[0].cure_min > 60);
  // Tried, either way, or kept apart by a barrier: nothing is left to try.
  for (const bool cured : {true, false})
    CHECK(wanted({{"t", 7, TrialKind::patch, "printed-photopolymer", cured, "2026-11-20", ""}}).empty());
  j.original.finish.master_material = "glass";
  CHECK(wanted({}).empty());
  CHECK(lot_in_use(lots, "add-40-translucent", "2026-11-27") == 7);
  CHECK(lot_in_use(lots, "pu-rigid-ivory", "2026-11-27") == 0);
  // Cups: only where the books have none but old lots.
  const auto cups = [&](const std::vector<Lot>& l, const std::vector<Trial>& t, const char* today = "2026-11-27") {
    return cups_wanted(j, starting_shop(), l, t, today);
  };
  const Lot old{5, "pu-rigid-ivory", "A-1", "2026-01-01", "2026-06-01", 1000, 300},
      fresh{6, "pu-rigid-ivory", "A-2", "", "2027-06-01", 1000, 900};
  REQUIRE(cups({old}, {}).size() == 1);
  CHECK(cups({old}, {})[0].wanted == TestWanted{TrialKind::cup, "", "pu-rigid-ivory", 5});
  CHECK(cups({old}, {})[0].on == "lot A-1");
  CHECK(cups({old, fresh}, {}).empty());
  CHECK(cups({}, {}).empty());
  CHECK(cups({old}, {}, "").empty());
  CHECK(cups({old}, {{"c", 5, TrialKind::cup, "", true, "2026-11-20", ""}}).empty());
  Lot gone = old;
  gone.left_g = 0;
  CHECK(cups({gone}, {}).empty());
  j.days.ends = Ends::mould;  // nothing is cast
  CHECK(cups({old}, {}).empty());
}

}  // namespace tests_meeting_meeting
