#include <catch2/catch.hpp>
#include <random>

#include "original/size.hpp"
#include "original/size_csv.hpp"

namespace tests_original_size_table {

using namespace palinform;

namespace {

MeasuredSize full(int i) {
  MeasuredSize s;
  s.id = "s" + std::to_string(i + 1);
  s.name = i == 0 ? "Bore, \"upper\"; left" : "Size " + std::to_string(i);
  s.kind = static_cast<SizeKind>(i % count_of<SizeKind>());
  s.formed = static_cast<FormedBy>(i % 4);
  s.finish = static_cast<Finishing>(i % 4);
  s.nominal_mm = 8 + i;
  s.lower_mm = 7.9 + i;
  s.upper_mm = 8.125 + i;
  if (i % 2) s.readings_mm = {8.01 + i, 8.02 + i};
  if (s.formed == FormedBy::pin) s.pin_mm = 8.05;
  if (s.formed == FormedBy::open_face) s.stock_mm = 0.5;
  if (i % 3 == 0) s.section_mm = 4.5;
  if (i == 2) s.limits_from = "H7";
  return s;
}

}  // namespace

TEST_CASE("sizes go out as a table and come back the same", "[original]") {
  std::vector<MeasuredSize> sizes;
  for (int i = 0; i < 9; ++i) sizes.push_back(full(i));
  const std::string text = sizes_to_csv(sizes);
  const auto back = sizes_from_csv(text, "sizes.csv");
  REQUIRE(back);
  CHECK(*back == sizes);
  CHECK(sizes_to_csv(*back) == text);
}

TEST_CASE("tables as spreadsheets and people write them", "[original]") {
  const auto german = sizes_from_csv(
      "\xEF\xBB\xBFName;Nominal mm;Limits;Readings mm\r\nBohrung;8,0;H7;8,01 8,02\r\n\r\nBreite;20;;\r\n", "a.csv");
  REQUIRE(german);
  REQUIRE(german->size() == 2);
  CHECK((*german)[0].readings_mm == std::vector<double>{8.01, 8.02});
  CHECK((*german)[0].upper_mm == Approx(8.015));
  CHECK((*german)[0].limits_from == "H7");
  CHECK((*german)[1].limits_guessed);
  const auto tabs = sizes_from_csv("nominal_mm\tname\n5\t\"two\nlines\"\n6\tnext", "a.csv");
  REQUIRE(tabs);
  CHECK((*tabs)[0].name == "two\nlines");
  CHECK((*tabs)[1].name == "next");
}

TEST_CASE("a wrong table is refused with its line and reason", "[original]") {
  const auto says = [](const char* text, const char* line, const char* reason) {
    const auto r = sizes_from_csv(text, "sizes.csv");
    REQUIRE_FALSE(r);
    INFO(r.error().text());
    CHECK(r.error().text().find(line) != std::string::npos);
    CHECK(r.error().text().find(reason) != std::string::npos);
    CHECK(r.error().where == "sizes.csv");
  };
  says("", "", "empty");
  says("name,nominal_mm\n", "", "no sizes");
  says("name,size\nA,5\n", "line 1", "no column \"size\"");
  says("name,kind\nA,bore\n", "line 1", "\"nominal_mm\" is missing");
  says("name,name,nominal_mm\nA,B,5\n", "line 1", "twice");
  says("name,nominal_mm\nA,5\nB,abc\n", "line 3", "\"abc\"");
  says("name,nominal_mm\nA,nan\n", "line 2", "no number");
  says("name,nominal_mm\nA,-5\n", "line 2", "above zero");
  says("name,nominal_mm\nA,0\n", "line 2", "above zero");
  says("name,nominal_mm\nA,5,7\n", "line 2", "3 cells under 2 heads");
  says("name,nominal_mm\n,5\n", "line 2", "no name");
  says("name,nominal_mm,lower_mm,upper_mm\nA,5,5.1,4.9\n", "line 2", "above the upper limit");
  says("name,nominal_mm,lower_mm\nA,5,4.9\n", "line 2", "only one limit");
  says("name,nominal_mm,kind\n\nA,5,blob\n", "line 3", "no kind of size");
  says("name,nominal_mm,limits\nA,5,tight\n", "line 2", "no tolerance class");
  says("name,nominal_mm,readings_mm\nA,5,5.01 x\n", "line 2", "readings_mm");
}

TEST_CASE("random bytes never break the table reader", "[original]") {
  std::mt19937 rnd(7);
  const std::string good = sizes_to_csv({full(0), full(1), full(2)});
  for (int i = 0; i < 3000; ++i) {
    std::string text = good;
    for (unsigned k = 0; k < 1 + rnd() % 6; ++k) text[rnd() % text.size()] = static_cast<char>(rnd() % 256);
    const auto r = sizes_from_csv(text, "x.csv");
    if (r) {
      for (const MeasuredSize& s : *r) CHECK(check_size(s));
    } else {
      CHECK_FALSE(r.error().text().empty());
    }
  }
}

TEST_CASE("doubtful readings are asked about, with what was meant", "[original]") {
  MeasuredSize s = full(0);
  s.nominal_mm = 25;
  s.lower_mm = 24.9, s.upper_mm = 25.1;
  s.readings_mm = {25.01, 0.984, 2.501, 250.2, 24.2, 40};
  CHECK(check_size(s));  // nothing is lost: it is asked about, not refused
  const auto d = doubtful_readings(s);
  REQUIRE(d.size() == 4);
  CHECK(d[0].guess == "inches");
  CHECK(*d[0].meant_mm == Approx(24.9936));
  CHECK(d[1].guess == "centimetres");
  CHECK(d[2].guess == "a slipped decimal point");
  CHECK(*d[2].meant_mm == Approx(25.02));
  CHECK_FALSE(d[3].meant_mm);
  s.readings_mm = {24.99, 25.02};
  CHECK(doubtful_readings(s).empty());
}

TEST_CASE("how a scale stretches a size", "[original]") {
  MeasuredSize s = full(0);
  CHECK(scale_share_of(s).x == Approx(1.0 / 3));  // no line: a third each
  s.to_mm = {0, 3, 4};
  CHECK(scale_share_of(s).y == Approx(0.36));
  CHECK(scale_share_of(s).z == Approx(0.64));
  s.scale_share = {0.5, 0.5, 0};
  CHECK(scale_share_of(s).x == 0.5);
  s.kind = SizeKind::angle;
  CHECK(length(scale_share_of(s)) == 0);
  CHECK(unit_of(SizeKind::angle) == "°");
}

}  // namespace tests_original_size_table
