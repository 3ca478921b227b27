#include <catch2/catch.hpp>
#include <sstream>

#include "original/fits.hpp"
#include "original/iso_limits.hpp"

namespace tests_original_limits {

using namespace palinform;

namespace {

/// "25 H7 21 0": nominal, class, upper and lower deviation in µm as the standard's own limit tables print them
/// (ISO 286-2), copied line by line, not computed.
void check_table(const char* table, bool hole) {
  std::istringstream in(table);
  std::string name;
  double nominal = 0, upper = 0, lower = 0;
  int rows = 0;
  while (in >> nominal >> name >> upper >> lower) {
    const auto c = tolerance_class(name);
    REQUIRE(c);
    CHECK(c->hole == hole);
    const auto d = iso286(nominal, *c);
    REQUIRE(d);
    INFO(nominal << " " << name);
    CHECK(1000 * d->upper_mm == Approx(upper).margin(1e-6));
    CHECK(1000 * d->lower_mm == Approx(lower).margin(1e-6));
    ++rows;
  }
  CHECK(rows >= 60);
}

}  // namespace

TEST_CASE("ISO 286: holes as published", "[original]") {
  check_table(R"(
    25 D9 117 65    40 D10 180 80   15 D8 77 50     60 D11 290 100  5 D9 60 30      100 D10 260 120
    8 D9 76 40      200 D9 285 170  450 D10 480 230 150 D11 395 145
    25 E7 61 40     25 E8 73 40     25 E9 92 40     10 E8 47 25     60 E9 134 60    100 E8 126 72
    40 E7 75 50     3 E9 39 14      300 E8 191 110  15 E6 43 32     100 E10 212 72
    25 F6 33 20     25 F7 41 20     25 F8 53 20     25 F9 72 20     10 F7 28 13     15 F8 43 16
    60 F7 60 30     100 F8 90 36    5 F6 18 10      3 F8 20 6       200 F7 96 50    350 F8 151 62  450 F9 223 68
    25 G6 20 7      25 G7 28 7      10 G7 20 5      15 G6 17 6      60 G7 40 10     100 G7 47 12
    100 G6 34 12    5 G7 16 4       3 G7 12 2       150 G7 54 14    40 G8 48 9      450 G7 83 20
    25 H5 9 0       25 H6 13 0      25 H7 21 0      25 H8 33 0      25 H9 52 0      25 H10 84 0
    25 H11 130 0    25 H12 210 0    25 H13 330 0    8 H7 15 0       3 H7 10 0       12 H7 18 0
    60 H8 46 0      50 H7 25 0      100 H7 35 0     3 H8 14 0       5 H11 75 0      100 H9 87 0
    180 H7 40 0     200 H7 46 0     400 H8 89 0     500 H7 63 0     500 H6 40 0     315 H11 320 0
    25 JS7 10.5 -10.5  25 JS9 26 -26  10 JS6 4.5 -4.5  40 JS8 19.5 -19.5  60 JS7 15 -15)",
              true);
}

TEST_CASE("ISO 286: shafts as published", "[original]") {
  check_table(R"(
    25 d8 -65 -98   25 d9 -65 -117  25 d10 -65 -149 10 d9 -40 -76   60 d10 -100 -220 100 d11 -120 -340
    40 d8 -80 -119  3 d9 -20 -45    300 d9 -190 -320
    25 e7 -40 -61   25 e8 -40 -73   25 e9 -40 -92   10 e8 -25 -47   60 e7 -60 -90   100 e8 -72 -126
    15 e6 -32 -43   450 e9 -135 -290
    25 f6 -20 -33   25 f7 -20 -41   25 f8 -20 -53   8 f7 -13 -28    40 f6 -25 -41   60 f7 -30 -60
    100 f8 -36 -90  3 f7 -6 -16     12 f7 -16 -34   25 f9 -20 -72   200 f7 -50 -96
    25 g5 -7 -16    25 g6 -7 -20    10 g6 -5 -14    15 g6 -6 -17    60 g6 -10 -29   100 g6 -12 -34
    5 g6 -4 -12     40 g5 -9 -20    3 g6 -2 -8      25 g7 -7 -28    450 g6 -20 -60
    25 h5 0 -9      25 h6 0 -13     25 h7 0 -21     25 h8 0 -33     25 h9 0 -52     25 h11 0 -130
    8 h6 0 -9       60 h7 0 -30     100 h9 0 -87    3 h6 0 -6       15 h11 0 -110   40 h13 0 -390
    25 js6 6.5 -6.5 25 js5 4.5 -4.5 60 js7 15 -15   10 js6 4.5 -4.5
    25 k5 11 2      25 k6 15 2      25 k7 23 2      10 k6 10 1      60 k6 21 2      3 k6 6 0
    100 k5 18 3     200 k6 33 4     450 k6 45 5     5 k6 9 1        25 k8 33 0
    25 n5 24 15     25 n6 28 15     10 n6 19 10     40 n6 33 17     60 n6 39 20     100 n7 58 23
    5 n6 16 8       3 n6 10 4       300 n6 66 34
    25 p6 35 22     25 p5 31 22     10 p6 24 15     15 p6 29 18     60 p6 51 32     100 p6 59 37
    3 p6 12 6       25 p7 43 22     200 p6 79 50    450 p6 108 68
    25 s6 48 35     25 s7 56 35     10 s6 32 23     15 s6 39 28     40 s6 59 43     60 s6 72 53
    70 s6 78 59     90 s6 93 71     110 s6 101 79   130 s7 132 92   150 s6 125 100  25 s5 44 35
    5 s6 27 19      3 s6 20 14      200 s7 168 122  350 s7 247 190  500 s6 292 252)",
              false);
}

TEST_CASE("ISO 286: widths never fall with the grade or the size, and every class has its grade's width",
          "[original]") {
  for (int grade = 5; grade <= 13; ++grade) {
    double last = 0;
    for (double d = 0.5; d <= 500; d += 0.5) {
      const double w = *it_grade_mm(d, grade);
      CHECK(w >= last);
      last = w;
      if (grade > 5) CHECK(w > *it_grade_mm(d, grade - 1));
    }
    for (const char* letters : {"D", "E", "F", "G", "H", "JS", "d", "e", "f", "g", "h", "js", "k", "n", "p", "s"}) {
      const auto c = tolerance_class(letters + std::to_string(grade));
      REQUIRE(c);
      const auto d = iso286(77, *c);
      REQUIRE(d);
      CHECK(d->upper_mm - d->lower_mm == Approx(*it_grade_mm(77, grade)));
    }
  }
}

TEST_CASE("ISO 286: what is not there is refused in words", "[original]") {
  for (const char* wrong : {"", "7", "H", "H4", "H14", "X7", "zc9", "H7.5", "Hh7", "H-7"}) {
    INFO(wrong);
    const auto c = tolerance_class(wrong);
    REQUIRE_FALSE(c);
    CHECK(c.error().text().size() > 20);
  }
  CHECK_FALSE(iso286(0, *tolerance_class("H7")));
  CHECK_FALSE(iso286(-3, *tolerance_class("H7")));
  CHECK_FALSE(iso286(500.01, *tolerance_class("H7")));
  CHECK_FALSE(iso286(std::nan(""), *tolerance_class("H7")));
}

TEST_CASE("ISO 2768-1", "[original]") {
  const auto half = [](double d, char g) { return iso2768(d, g)->upper_mm; };
  CHECK(half(2, 'f') == 0.05);
  CHECK(half(6, 'm') == 0.1);
  CHECK(half(6.01, 'm') == 0.2);
  CHECK(half(92, 'm') == 0.3);
  CHECK(half(120, 'c') == 0.8);
  CHECK(half(300, 'v') == 2.5);
  CHECK(half(1500, 'm') == 1.2);
  CHECK(half(3000, 'v') == 8);
  CHECK_FALSE(iso2768(2, 'v'));  // the standard has none
  CHECK_FALSE(iso2768(3000, 'f'));
  CHECK_FALSE(iso2768(0.4, 'm'));
  CHECK_FALSE(iso2768(10, 'x'));
  CHECK(iso2768_radius(2, 'm')->upper_mm == 0.2);
  CHECK(iso2768_radius(5, 'c')->lower_mm == -1);
  CHECK(iso2768_radius(10, 'v')->upper_mm == 2);
  CHECK(*iso2768_angle_deg(8, 'm') == 1);
  CHECK(*iso2768_angle_deg(30, 'c') == 1);
  CHECK(*iso2768_angle_deg(100, 'f') == Approx(1.0 / 3));
  CHECK(*iso2768_angle_deg(500, 'v') == Approx(1.0 / 3));
}

TEST_CASE("fits", "[original]") {
  const auto f = read_fit("25H7/g6");
  REQUIRE(f);
  CHECK(f->hole == Limits{25, 25.021});
  CHECK(f->shaft.lower_mm == Approx(24.980));
  CHECK(f->shaft.upper_mm == Approx(24.993));
  CHECK(f->clearance_min_mm == Approx(0.007));
  CHECK(f->clearance_max_mm == Approx(0.041));
  CHECK(f->nature() == "always clears");
  CHECK(read_fit("Ø40 H7/s6")->nature() == "always grips");
  CHECK(read_fit("40H7/k6")->nature() == "may clear or grip");
  CHECK(read_fit("25,5 H8 / 25.5 f7"));  // the shaft may repeat the size
  for (const char* wrong : {"25H7", "25g6/H7", "H7/g6", "25H7/26g6", "25H7/", "/g6", "-25H7/g6", "25H99/g6"}) {
    INFO(wrong);
    CHECK_FALSE(read_fit(wrong));
  }
}

TEST_CASE("limits from the mate keep the wished clearance whatever the mate measures", "[original]") {
  for (const auto wish : {FitWish::slides, FitWish::turns, FitWish::presses, FitWish::snaps})
    for (const bool hole : {true, false}) {
      const Limits mate{24.995, 25.000};
      const auto r = limits_for_mate(mate, hole, wish);
      REQUIRE(r);
      for (const double own : {r->limits.lower_mm, r->limits.upper_mm})
        for (const double other : {mate.lower_mm, mate.upper_mm}) {
          const double clearance = hole ? own - other : other - own;
          CHECK(clearance >= r->clearance_min_mm - 1e-12);
          CHECK(clearance <= r->clearance_max_mm + 1e-12);
        }
      CHECK((wish == FitWish::slides || wish == FitWish::turns) == (r->clearance_min_mm >= 0));
      CHECK(r->how.find(name_of(wish)) != std::string::npos);
    }
  // Known: slides is H8/f7, at 25 mm a clearance of 20 to 74 µm.
  const auto r = limits_for_mate({25, 25}, true, FitWish::slides);
  CHECK(r->limits.lower_mm == Approx(25.020));
  CHECK(r->limits.upper_mm == Approx(25.074));
  const auto wild = limits_for_mate({24.5, 25.5}, true, FitWish::slides);
  REQUIRE_FALSE(wild);
  CHECK(wild.error().text().find("1.000 mm") != std::string::npos);
  CHECK_FALSE(limits_for_mate({25, 24}, true, FitWish::slides));
  CHECK_FALSE(limits_for_mate({0, 0}, true, FitWish::slides));
  CHECK(named<FitWish>("turns") == FitWish::turns);
  CHECK_FALSE(named<FitWish>("wobbles"));
}

TEST_CASE("limits as people write them", "[original]") {
  const auto both = [](const char* text, double nominal) {
    const auto r = read_limits(text, nominal);
    REQUIRE(r);
    return r->limits;
  };
  const auto near = [](const Limits& l, double low, double high) {
    CHECK(l.lower_mm == Approx(low).margin(1e-9));
    CHECK(l.upper_mm == Approx(high).margin(1e-9));
  };
  near(both("±0.1", 25), 24.9, 25.1);
  near(both("+-0,1", 25), 24.9, 25.1);
  near(both("+/- 0.1", 25), 24.9, 25.1);
  near(both("+0.1 0", 6), 6, 6.1);
  near(both("0 +0.1", 6), 6, 6.1);
  near(both("+0.1/-0.2", 6), 5.8, 6.1);
  near(both("−0.1 −0.2", 6), 5.8, 5.9);
  near(both("7.9..8.1", 8), 7.9, 8.1);
  near(both("7.9 – 8.1", 8), 7.9, 8.1);
  near(both("7.9 8.1", 8), 7.9, 8.1);
  near(both("H7", 25), 25, 25.021);
  near(both("g6", 25), 24.98, 24.993);
  near(both("m", 25), 24.8, 25.2);
  near(both("ISO 2768-f", 25), 24.9, 25.1);
  CHECK(read_limits("H7", 25)->source == "H7");
  CHECK(read_limits("ISO 2768 m", 25)->source == "ISO 2768-m");
  near(read_limits("m", 2, LimitsOf::radius)->limits, 1.8, 2.2);
  near(read_limits("m", 30, LimitsOf::angle, 8)->limits, 29, 31);
  near(read_limits("±0.5", 30, LimitsOf::angle)->limits, 29.5, 30.5);
  CHECK_FALSE(read_limits("H7", 30, LimitsOf::angle));
  for (const char* wrong : {"", "nan", "±", "±x", "8.1..7.9", "8.1 7.9", "1 2 3", "H", "q7", "H7 g6", "±-1", "tight"}) {
    INFO(wrong);
    CHECK_FALSE(read_limits(wrong, 8));
  }
  CHECK_FALSE(read_limits("H7", 0));
}

}  // namespace tests_original_limits
