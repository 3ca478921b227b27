// The shelf in the workshop: versions, retiring, damage, kills between.
#include <catch2/catch.hpp>

#include "ledger/workshop.hpp"
#include "mesh/save.hpp"
#include "shapes.hpp"
#include "shelf/catalogue_view.hpp"
#include "shelf/family.hpp"

namespace tests_ledger_shelf {

using namespace palinform;

TEST_CASE("a new workshop has a shelf of every kind; a changed figure is a further version", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  CHECK(*w->shelf() == starting_shelf());
  Material own = from_family(*family("condensation-catalyst-range"), "own-tin", "Own tin rubber");
  own.figures["shore_a"] = {22, {}, FigureSource::sheet};
  CHECK(*w->keep_material(own) == 1);
  CHECK(*w->keep_material(own) == 1);  // the same again is no other version
  own.figures["shore_a"] = {24, {}, FigureSource::measured};
  CHECK(*w->keep_material(own) == 2);
  CHECK(*w->material("own-tin")->figure("shore_a") == 24);
  CHECK(*w->material("own-tin", 1)->figure("shore_a") == 22);
  CHECK(w->material("own-tin")->version == 2);
  CHECK_FALSE(w->material("own-tin", 3));
  CHECK_FALSE(w->material("nobody"));
  CHECK(w->shelf()->size() == starting_shelf().size() + 1);
  CHECK(w->shelf()->back().version == 2);
  // What cannot be is refused and changes nothing.
  Material bad = own;
  bad.mixing.percent = 0;
  CHECK_FALSE(w->keep_material(bad));
  CHECK(w->material("own-tin")->version == 2);
  // Retired, it stays in the books and is offered no more.
  CHECK(w->retire_material("own-tin"));
  CHECK(w->material("own-tin")->retired);
  CHECK(*w->material("own-tin", 2)->figure("shore_a") == 24);
  CHECK_FALSE(catalogue_of(*w->shelf(), starting_catalogue()).silicone("own-tin"));
  w.reset();
  w = *Workshop::open(dir / "w.sqlite");
  CHECK(w->material("own-tin")->retired);
  CHECK(w->damaged().empty());
}

TEST_CASE("several materials together are kept all or not at all", "[ledger]") {
  shapes::TempDir dir;
  auto w = *Workshop::open(dir / "w.sqlite");
  const Material one = from_family(*family("addition"), "one", "One");
  Material bad = one;
  bad.id = "two", bad.name = "";
  const auto kept = w->together([&]() -> Status {
    for (const Material* m : {&one, static_cast<const Material*>(&bad)})
      if (const auto v = w->keep_material(*m); !v) return v.error();
    return {};
  });
  CHECK_FALSE(kept);
  CHECK_FALSE(w->material("one"));
}

TEST_CASE("a flipped bit on the shelf is named, and the rest goes on", "[ledger]") {
  shapes::TempDir dir;
  {
    auto w = *Workshop::open(dir / "w.sqlite");
    CHECK(w->keep_material(from_family(*family("addition"), "bit", "Flipped rubber")));
  }
  std::string bytes = *read_file(dir / "w.sqlite");
  const size_t at = bytes.rfind("Flipped rubber");
  REQUIRE(at != std::string::npos);
  bytes[at + 1] = 'L';
  shapes::write_text(dir / "w.sqlite", bytes);
  auto w = *Workshop::open(dir / "w.sqlite");
  REQUIRE(w->damaged().size() == 1);
  CHECK(w->damaged()[0].find("material") != std::string::npos);
  CHECK_FALSE(w->material("bit"));
  CHECK(w->shelf()->size() == starting_shelf().size());
}

TEST_CASE("the shop's rules, equipment, tests, colours and standing moulds are kept, and only what can be",
          "[ledger]") {
  shapes::TempDir dir;
  const std::string path = dir / "w.sqlite";
  {
    auto w = *Workshop::open(path);
    CHECK(write_rules(*w->rules()) == write_rules(starting_shop().rules));
    Rules rules = starting_shop().rules;
    rules.mix.cup_loss_pct = 4.5;
    REQUIRE(w->keep_rules(rules));
    rules.mix.cup_loss_pct = 400;
    CHECK_FALSE(w->keep_rules(rules));
    Equipment e;
    e.scales = {{"fine", 0.01, 300}};
    REQUIRE(w->keep_equipment(e));
    const int64_t lot = *w->save_lot({0, "add-40-translucent", "4411", "", "", 1000, 900});
    REQUIRE(w->keep_trial({"", lot, TrialKind::patch, "wood", true, "2026-11-20", ""}));
    CHECK_FALSE(w->keep_trial({"", 0, TrialKind::patch, "wood", true, "2026-11-20", ""}));
    CHECK_FALSE(w->keep_trial({"", lot, TrialKind::patch, "", true, "2026-11-20", ""}));
    CHECK_FALSE(w->keep_trial({"", lot, TrialKind::cup, "", true, "", ""}));
    REQUIRE(w->keep_recipe({"c1", "Green", {{"green", "Green paste", 0.004}}, {}}));
    REQUIRE(w->keep_recipe({"c1", "Green, lighter", {{"green", "Green paste", 0.003}}, {}}));
    CHECK_FALSE(w->keep_recipe({"c2", "Nothing", {}, {}}));
    REQUIRE(w->keep_standing_mould({"s1", "Coaster", 42, 3, {}, "top shelf"}));
    REQUIRE(w->keep_standing_mould({"s2", "Knob", 12, 2, {}, ""}));
    REQUIRE(w->drop_standing_mould("s2"));
  }
  auto w = *Workshop::open(path);
  CHECK(w->rules()->mix.cup_loss_pct == 4.5);
  CHECK(w->equipment()->scales.at(0).name == "fine");
  REQUIRE(w->trials()->size() == 1);
  CHECK(w->trials()->at(0).surface == "wood");
  CHECK_FALSE(w->trials()->at(0).id.empty());
  REQUIRE(w->recipes()->size() == 1);
  CHECK(w->recipes()->at(0).name == "Green, lighter");
  REQUIRE(w->standing_moulds()->size() == 1);
  CHECK(w->damaged().empty());
}

}  // namespace tests_ledger_shelf
