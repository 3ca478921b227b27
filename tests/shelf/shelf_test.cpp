// Materials of one's own: families, checks, files, and the shelf as the analyses read it.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>
#include <set>

#include "shelf/catalogue_view.hpp"
#include "shelf/family.hpp"
#include "shelf/shelf_file.hpp"

namespace tests_shelf_shelf {

using namespace palinform;

namespace {

/// A tin-cured rubber as its bottle says it: 2 to 6 % of catalyst.
Material tin() {
  Material m;
  m.id = "white-tin", m.name = "White tin rubber", m.family = "condensation-catalyst-range";
  m.mixing.by = MixBy::percent;
  m.mixing.percent = 3;
  m.mixing.at_percent = {{2, 100, 24}, {3, 60, 16}, {5, 25, 8}};
  m.mixing.tolerance_pct = 10;
  m.figures["density_g_cm3"] = {1.18, {}, FigureSource::measured};
  m.figures["shore_a"] = {22, 2.0, FigureSource::sheet};
  return m;
}
std::string refusal(const Material& m) {
  const auto ok = check_material(m);
  return ok ? "" : ok.error().text();
}
bool has(const std::vector<std::string>& list, const char* word) {
  return std::find(list.begin(), list.end(), word) != list.end();
}

}  // namespace

TEST_CASE("families: every usual figure lies in its range and gives a material that can be", "[shelf]") {
  CHECK(families().size() >= 20);
  std::set<MaterialKind> kinds;
  for (const Family& f : families()) {
    INFO(f.id);
    kinds.insert(f.kind);
    CHECK(check_material(from_family(f, f.id, f.name)));
    for (const auto& [key, range] : f.ranges) {
      INFO(key);
      CHECK(range.low <= range.usual);
      CHECK(range.usual <= range.high);
      REQUIRE(figure_rule(key));
      CHECK(range.low >= figure_rule(key)->low);
      CHECK(range.high <= figure_rule(key)->high);
    }
    for (const std::string& h : f.usual.hazards) {
      INFO(h);
      CHECK(starting_catalogue().hazards.contains(h));
    }
    CHECK(guesses(f.usual).size() == f.ranges.size());  // nobody has read a sheet yet
  }
  CHECK(static_cast<int>(kinds.size()) == count_of<MaterialKind>());
}

TEST_CASE("what is missing is inherited and marked a guess; what is given stays", "[shelf]") {
  const Material m = with_guesses(tin());
  CHECK(check_material(m));
  CHECK(*m.figure("density_g_cm3") == 1.18);
  CHECK(m.figures.at("density_g_cm3").source == FigureSource::measured);
  CHECK(*m.figure("shrink_thin_pct") == Approx(0.4));
  CHECK(m.figures.at("shrink_thin_pct").source == FigureSource::guess);
  CHECK(has(guesses(m), "shrink_thin_pct"));
  CHECK_FALSE(has(guesses(m), "shore_a"));
  CHECK(m.moisture_part == "B");
  CHECK(has(m.hazards, "tin-catalyst"));
  Material alone = tin();
  alone.family = "nobody's";
  CHECK(with_guesses(alone) == alone);
}

TEST_CASE("impossible figures are refused in one clear sentence", "[shelf]") {
  CHECK(refusal(tin()).empty());
  const auto with = [](auto change) {
    Material m = tin();
    change(m);
    return refusal(m);
  };
  const auto says = [](const std::string& text, const char* words) {
    INFO(text);
    CHECK(text.find(words) != std::string::npos);
  };
  says(with([](Material& m) { m.name = "  "; }), "no name");
  says(with([](Material& m) { m.id = "white tin"; }), "without spaces");
  says(with([](Material& m) { m.figures["shore_a"].value = 250; }), "hardness, Shore A: 250 is out of reason");
  says(with([](Material& m) { m.figures["shore_b"] = {3, {}, FigureSource::sheet}; }), "no figure \"shore_b\"");
  says(with([](Material& m) { m.mixing.percent = 0; }), "no percentage");
  says(with([](Material& m) { m.mixing.percent = 7; }), "outside the sheet's range");
  says(with([](Material& m) {
         m.mixing.at_percent.push_back({6, 40, 4});
       }),
       "more catalyst cannot give a longer pot life");
  says(with([](Material& m) { m.mixing.by = MixBy::weight, m.mixing.a = 0; }), "two figures above nought");
  says(with([](Material& m) { m.mixing.by = MixBy::volume; }), "densities of both parts");
  says(with([](Material& m) {
         m.mixing = {MixBy::weight, 1, 1, 0, {}, 0, 0, 3};
         m.figures["density_a_g_cm3"] = {1.1, {}, FigureSource::sheet};
         m.figures["density_b_g_cm3"] = {1.1, {}, FigureSource::sheet};
         m.figures["density_g_cm3"] = {1.4, {}, FigureSource::sheet};
       }),
       "the parts give 1.10 g/cm³ mixed, the sheet says 1.40");
  says(with([](Material& m) { m.times = {{23, 40, 30.0, {}, {}, {}}}; }), "out of order");
  says(with([](Material& m) { m.times = {{23, 40, {}, {}, {}, {}}, {23, 50, {}, {}, {}, {}}}; }), "stand twice");
  says(with([](Material& m) {
         m.figures["thin_mm"] = {9, {}, {}}, m.figures["thick_mm"] = {3, {}, {}};
       }),
       "thinner than thick");
  says(with([](Material& m) { m.clarity = "milky"; }), "clear, translucent or opaque");
  says(with([](Material& m) { m.figures["density_g_cm3"].value = NAN; }), "");
  CHECK_FALSE(with([](Material& m) { m.figures["density_g_cm3"].value = NAN; }).empty());
}

TEST_CASE("ratios and times of a material", "[shelf]") {
  CHECK(*weight_ratio(tin()) == Approx(0.03));
  Material m = from_family(*family("putty-addition"), "p", "Putty");
  CHECK(*weight_ratio(m) == Approx(1));
  m.figures["density_b_g_cm3"].value = 1.8;
  CHECK(*weight_ratio(m) == Approx(1.8 / 1.6));  // equal lumps by volume
  Material t = tin();
  CHECK_FALSE(times_at(t, 23));
  t.times = {{23, 40, {}, {}, 12.0, {}}};
  CHECK(times_at(t, 23)->pot_life_min == 40);
  CHECK(times_at(t, 33)->pot_life_min == Approx(20));
  CHECK(*times_at(t, 13)->demould_h == Approx(24));
  // With a warm cure on the sheet, nothing gets shorter than that.
  t.times.push_back({60, 4, {}, {}, 1.0, {}});
  CHECK(*times_at(t, 60)->demould_h == 1);
  CHECK(*times_at(t, 80)->demould_h == Approx(1));
  CHECK(times_at(t, 25)->pot_life_min == Approx(40 * std::pow(2, -0.2)));
}

TEST_CASE("the shelf as JSON and as CSV comes back as it went", "[shelf]") {
  std::vector<Material> shelf = starting_shelf();
  shelf.push_back(with_guesses(tin()));
  shelf.back().times = {{23, 60, 80.0, 200.0, 16.0, 72.0}, {40, 20, {}, {}, 5.0, {}}};
  const auto again = shelf_from_json(shelf_to_json(shelf), "x.json");
  REQUIRE(again);
  CHECK(*again == shelf);
  CHECK(shelf_from_json(shelf_to_json({tin()}), "x.json")->front() == with_guesses(tin()));
  // CSV leaves out what a row cannot hold; the figures come back, guesses as guesses.
  const auto rows = shelf_from_csv(shelf_to_csv(shelf), "x.csv");
  REQUIRE(rows);
  REQUIRE(rows->size() == shelf.size());
  for (size_t i = 0; i < shelf.size(); ++i) {
    INFO(shelf[i].name);
    CHECK((*rows)[i].id == shelf[i].id);
    CHECK((*rows)[i].kind == shelf[i].kind);
    for (const auto& [key, f] : shelf[i].figures) {
      INFO(key);
      CHECK(*(*rows)[i].figure(key) == Approx(f.value));
      CHECK(((*rows)[i].figures.at(key).source == FigureSource::guess) == (f.source == FigureSource::guess));
    }
    CHECK(guesses((*rows)[i]) == guesses(shelf[i]));
  }
}

TEST_CASE("files with faults are refused with line and reason", "[shelf]") {
  const auto csv = [](const std::string& text) {
    const auto r = shelf_from_csv(text, "x.csv");
    return r ? std::string() : r.error().text();
  };
  const std::string heads = "id,kind,name,family,shore_a\n";
  CHECK(csv(heads + "r1,mould-rubber,Rubber,addition,30\n").empty());
  CHECK(csv("id,kind,name,colour_of_lid\n").find("line 1: there is no column \"colour_of_lid\"") != std::string::npos);
  CHECK(csv("id,name\n").find("\"kind\" is missing") != std::string::npos);
  CHECK(csv(heads + "r1,mould-rubber,Rubber,addition,soft\n").find("line 2: \"soft\" under shore_a is no number") !=
        std::string::npos);
  CHECK(csv(heads + "r1,glue,Rubber,addition,30\n").find("line 2: \"glue\" is no kind") != std::string::npos);
  CHECK(csv(heads + "r1,mould-rubber,Rubber,addition,30\nr2,mould-rubber,Rubber,addition,300\n").find("line 3") !=
        std::string::npos);
  CHECK(csv(heads + "r1,mould-rubber,Rubber,addition,30,5\n").find("more cells than heads") != std::string::npos);
  CHECK(csv(heads + "r1,mould-rubber,Rubber,addition,30\nr1,putty,Putty,putty-addition,40\n").find("stands twice") !=
        std::string::npos);
  CHECK_FALSE(csv("").empty());
  const auto json = [](const std::string& text) {
    const auto r = shelf_from_json(text, "x.json");
    return r ? std::string() : r.error().text();
  };
  CHECK(json("{").find("does not read as JSON") != std::string::npos);
  CHECK(json("7").find("no list of materials") != std::string::npos);
  CHECK(json(R"({"schema": 9, "materials": []})").find("another version") != std::string::npos);
  CHECK(json(R"([{"id":"x","name":"X","kind":"glue"}])").find("material 1, kind") != std::string::npos);
  CHECK(json(R"([{"id":"x","name":"X","mixing":{"a":"ten"}}])").find("mixing.a") != std::string::npos);
  // Mutated, it is read or refused, and what is read can be kept.
  const std::string good = shelf_to_json({with_guesses(tin())});
  std::mt19937 rnd(4);
  for (int i = 0; i < 3000; ++i) {
    std::string bad = good;
    for (int k = 0; k < 3; ++k) bad[rnd() % bad.size()] = static_cast<char>(32 + rnd() % 95);
    if (const auto r = shelf_from_json(bad, "x.json"))
      for (const Material& m : *r) CHECK(check_material(m));
  }
}

TEST_CASE("the starting shelf has every kind, and gives the analyses what they had", "[shelf]") {
  const std::vector<Material> shelf = starting_shelf();
  std::set<MaterialKind> kinds;
  std::set<std::string> ids;
  for (const Material& m : shelf) {
    INFO(m.name);
    CHECK(check_material(m));
    kinds.insert(m.kind);
    CHECK(ids.insert(m.id).second);
  }
  CHECK(static_cast<int>(kinds.size()) == count_of<MaterialKind>());
  std::vector<std::string> lost;
  const Catalogue c = catalogue_of(shelf, starting_catalogue(), &lost);
  CHECK(lost.empty());
  for (const Silicone& was : starting_catalogue().silicones) {
    INFO(was.name);
    const Silicone* is = c.silicone(was.id);
    REQUIRE(is);
    CHECK(is->weight_ratio() == Approx(was.weight_ratio()));
    CHECK(is->ratio_text() == was.ratio_text());
    CHECK(is->addition_cure == was.addition_cure);
    CHECK(is->see_through() == was.see_through());
    for (const auto& [a, b] : {std::pair{is->density_g_cm3, was.density_g_cm3},
                               {is->viscosity_mpa_s, was.viscosity_mpa_s},
                               {is->pot_life_min, was.pot_life_min},
                               {is->demould_h, was.demould_h},
                               {is->shore_a, was.shore_a},
                               {is->shrink_pct, was.shrink_pct},
                               {is->expansion_per_k, was.expansion_per_k},
                               {is->price_per_kg, was.price_per_kg},
                               {is->tear_kn_m, was.tear_kn_m}})
      CHECK(a == Approx(b));
    CHECK(is->usual_pulls_undercut == was.usual_pulls_undercut);
  }
  for (const Resin& was : starting_catalogue().resins) {
    INFO(was.name);
    const Resin* is = c.resin(was.id);
    REQUIRE(is);
    CHECK(is->family == was.family);
    CHECK(is->shore_a == was.shore_a);
    CHECK(is->shore_d == was.shore_d);
    for (const auto& [a, b] : {std::pair{is->shrink_thin_pct, was.shrink_thin_pct},
                               {is->shrink_thick_pct, was.shrink_thick_pct},
                               {is->thick_mm, was.thick_mm},
                               {is->heat_of_reaction_j_g, was.heat_of_reaction_j_g},
                               {is->pot_life_min, was.pot_life_min},
                               {is->ratio_tolerance_pct, was.ratio_tolerance_pct}})
      CHECK(a == Approx(b));
  }
  // Retired, it is no longer offered.
  std::vector<Material> fewer = shelf;
  fewer.front().retired = true;
  CHECK_FALSE(catalogue_of(fewer, starting_catalogue()).silicone(fewer.front().id));
}

}  // namespace tests_shelf_shelf
