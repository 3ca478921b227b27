// A material's figures one by one: on the range of the family, changed, struck out, from nothing.
#include <catch2/catch.hpp>

#include "shelf/catalogue_view.hpp"
#include "shelf/figure_lines.hpp"

namespace tests_shelf_figure_lines {

using namespace palinform;

namespace {
const FigureLine* line(const std::vector<FigureLine>& all, std::string_view key) {
  for (const FigureLine& l : all)
    if (l.key == key) return &l;
  return nullptr;
}
}  // namespace

TEST_CASE("every figure of every material has its place on its scale", "[shelf]") {
  for (const Material& m : starting_shelf()) {
    INFO(m.id);
    const auto lines = figure_lines(m);
    CHECK(lines.size() >= m.figures.size());
    for (const FigureLine& l : lines) {
      INFO(l.key);
      CHECK(l.high > l.low);
      CHECK_FALSE(l.words.empty());
      if (l.by_tens) CHECK(l.low > 0);
      if (!l.figure) continue;
      CHECK(l.figure->value >= l.low - 1e-12);
      CHECK(l.figure->value <= l.high + 1e-12);
      // Dragged to where it stands it keeps its value, to three digits of the scale.
      const double back = l.value_at(l.place(l.figure->value));
      CHECK(std::abs(l.place(back) - l.place(l.figure->value)) < 0.01);
    }
  }
}

TEST_CASE("a figure is changed with its source, and struck out it is guessed again", "[shelf]") {
  const Material m = from_family(*family("condensation-catalyst-range"), "own-tin", "Own tin");
  const auto hard = with_figure(m, "shore_a", 24, FigureSource::sheet);
  REQUIRE(hard);
  CHECK(line(figure_lines(*hard), "shore_a")->figure->source == FigureSource::sheet);
  CHECK(hard->figure("shore_a") == 24.0);
  const auto again = without_figure(*hard, "shore_a");
  REQUIRE(again);
  CHECK(again->figures.at("shore_a").source == FigureSource::guess);
  CHECK(again->figure("shore_a") == m.figure("shore_a"));
  CHECK_FALSE(with_figure(m, "shore_a", 400, FigureSource::sheet));
  CHECK_FALSE(with_figure(m, "smell", 4, FigureSource::sheet));
  const auto slow = with_figure(m, "times.0.pot_life_min", m.times[0].pot_life_min + 1, FigureSource::sheet);
  REQUIRE(slow);
  CHECK(slow->times[0].pot_life_min == m.times[0].pot_life_min + 1);
  CHECK_FALSE(with_figure(m, "times.9.pot_life_min", 5, FigureSource::sheet));
  CHECK_FALSE(with_figure(m, "times.0.smell", 5, FigureSource::sheet));
  CHECK_FALSE(with_figure(m, "times.0.demould_h", 0.01, FigureSource::sheet));  // before it gels
  CHECK_FALSE(without_figure(m, "times.0.pot_life_min"));
}

TEST_CASE("ratios are read as they are written", "[shelf]") {
  const Material m = from_family(*family("condensation-catalyst-range"), "own-tin", "Own tin");
  for (const char* text : {"100 : 10 by weight", "1 : 1 by weight", "3 %", "4.5 % in drops", "100 : 90 by weight"}) {
    INFO(text);
    const auto with = with_ratio(m, text);
    REQUIRE(with);
    CHECK(ratio_words(with->mixing) == text);
  }
  CHECK(with_ratio(m, "100:10")->mixing.by == MixBy::weight);
  CHECK(with_ratio(m, " 2,5 % ")->mixing.percent == 2.5);
  for (const char* text : {"", "some", "0 : 4", "-1 : 4", "100", "%", "9 %", "1 : nan"}) {
    INFO(text);
    CHECK_FALSE(with_ratio(m, text));  // 9 % lies outside the sheet's range
  }
}

TEST_CASE("a material from nothing asks for what it needs, in turn", "[shelf]") {
  const auto shelf = starting_shelf();
  const std::string id = new_material_id(shelf, "Grey tin, 25 A!");
  CHECK(id == "grey-tin-25-a");
  CHECK(new_material_id({from_nothing(MaterialKind::putty, id, "x")}, "Grey tin, 25 A!") == id + "-2");
  const Material bare = from_nothing(MaterialKind::mould_rubber, id, "Grey tin, 25 A");
  CHECK_FALSE(check_material(bare));  // no ratio
  auto m = with_ratio(bare, "100 : 5");
  REQUIRE(m);
  CHECK_FALSE(rubber_of(*m));  // no pot life
  REQUIRE(line(figure_lines(*m), "times.0.pot_life_min"));
  CHECK(line(figure_lines(*m), "shore_a"));
  m = with_figure(*m, "times.0.pot_life_min", 45, FigureSource::measured);
  REQUIRE(m);
  CHECK(rubber_of(*m)->pot_life_min == 45);
  CHECK(check_material(from_nothing(MaterialKind::release, "soap", "Soap")));
  const Material copy = copy_of(*m, "another", "Another");
  CHECK(copy.version == 1);
  CHECK(copy.times == m->times);
}

TEST_CASE("the sheet's range of catalyst, the tolerance and a drop's mass are figures too", "[shelf]") {
  Material m = from_family(*family("condensation-catalyst-range"), "own-tin", "Own tin");
  REQUIRE(line(figure_lines(m), "percent.1.pot_life_min"));
  CHECK_FALSE(line(figure_lines(m), "mixing.drop_g"));
  const auto slow = with_figure(m, "percent.1.pot_life_min", 50, FigureSource::sheet);
  REQUIRE(slow);
  CHECK(slow->mixing.at_percent[1].pot_life_min == 50);
  CHECK(rubber_of(*slow)->pot_life_min == 50);  // it is mixed at that percentage
  CHECK(rubber_of(*with_ratio(*slow, "2 %"))->pot_life_min == slow->mixing.at_percent[0].pot_life_min);
  CHECK_FALSE(with_figure(m, "percent.1.pot_life_min", 500, FigureSource::sheet));  // longer than with less
  CHECK_FALSE(with_figure(m, "percent.7.pot_life_min", 50, FigureSource::sheet));
  CHECK_FALSE(with_figure(m, "percent.0.smell", 50, FigureSource::sheet));
  CHECK(with_figure(m, "mixing.tolerance_pct", 8, FigureSource::sheet)->mixing.tolerance_pct == 8);
  CHECK_FALSE(without_figure(m, "mixing.tolerance_pct"));
  m = *with_ratio(m, "4 % in drops");
  const FigureLine* drop = nullptr;
  const auto lines = figure_lines(m);
  REQUIRE((drop = line(lines, "mixing.drop_g")));
  CHECK_FALSE(drop->figure);  // nobody has weighed one
  m = *with_figure(m, "mixing.drop_g", 0.026, FigureSource::measured);
  CHECK(m.mixing.drop_u_g > 0);
  CHECK(rubber_of(m)->in_drops);
  CHECK(rubber_of(m)->drop_g == 0.026);
}

}  // namespace tests_shelf_figure_lines
