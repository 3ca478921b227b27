#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "original/size.hpp"
#include "size/chain.hpp"

using namespace palinform;

namespace {

MeasuredSize sized(double nominal, double low, double high, FormedBy formed = FormedBy::rubber) {
  MeasuredSize s;
  s.id = "s1";
  s.name = "Size";
  s.nominal_mm = nominal;
  s.lower_mm = low;
  s.upper_mm = high;
  s.formed = formed;
  s.resolution_mm = 0;
  s.instrument_u_mm = 0;
  return s;
}

}  // namespace

TEST_CASE("the case of M10: 50 mm through rubber and resin", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1;
  m.res_shrink_pct = 0.4;
  const Prediction p = predict(sized(50, 49.5, 50.5), m, 1);
  CHECK(p.predicted_mm == Approx(49.7502).margin(5e-5));
  double sum = p.steps.front().after_mm;
  for (size_t i = 1; i < p.steps.size(); ++i) sum += p.steps[i].change_mm;
  CHECK(sum == Approx(p.predicted_mm));  // the ladder's rungs add up
}

TEST_CASE("heat, scale, flash, stock and pins act as stated", "[size]") {
  ChainMaterials m;
  m.sil_expansion_per_k = 3e-4;
  m.gel_c = 31, m.room_c = 21;
  CHECK(predict(sized(100, 99, 101), m, 1).predicted_mm == Approx(100.3));
  CHECK(predict(sized(100, 99, 101), m, 1.01).predicted_mm == Approx(101.303));
  m.flash_mm = 0.08;
  CHECK(predict(sized(100, 99, 101, FormedBy::across_line), m, 1).predicted_mm == Approx(100.38));
  MeasuredSize open = sized(100, 99, 101, FormedBy::open_face);
  open.stock_mm = 0.5;
  CHECK(predict(open, m, 1).predicted_mm == Approx(100.8));
  MeasuredSize bore = sized(8, 8, 8.015, FormedBy::pin);
  bore.pin_mm = 8.007;
  m.pin_u_mm = 0.004;
  const auto p = predict(bore, m, 1.05);  // neither heat nor scale move a pin
  CHECK(p.predicted_mm == Approx(8.007));
  CHECK(p.u_mm == Approx(0.004));
  CHECK(p.p_in_limits == Approx(normal_cdf(2) - normal_cdf(-1.75)).epsilon(1e-9));
}

TEST_CASE("probability, verdicts and sharp limits", "[size]") {
  CHECK(normal_cdf(0) == Approx(0.5));
  CHECK(normal_cdf(1.959964) == Approx(0.975).epsilon(1e-6));
  ChainMaterials m;
  CHECK(predict(sized(10, 9.9, 10.1), m, 1).p_in_limits == 1);  // no uncertainty at all: in or out
  CHECK(predict(sized(10, 10.05, 10.1), m, 1).p_in_limits == 0);
  m.res_shrink_u_pct = 1;
  const auto on_limit = predict(sized(10, 10, 99), m, 1);
  CHECK(on_limit.p_in_limits == Approx(0.5).epsilon(1e-3));
  CHECK(on_limit.verdict == Verdict::risk);
  CHECK(predict(sized(10, 10.2, 99), m, 1).verdict == Verdict::misses);
  CHECK(predict(sized(10, 9, 11), m, 1).verdict == Verdict::holds);
}

TEST_CASE("first order agrees with draws within 2 %", "[size]") {
  std::mt19937 rnd(1);
  std::uniform_real_distribution<double> u(0, 1);
  for (int i = 0; i < 20; ++i) {
    ChainMaterials m;
    m.sil_shrink_pct = u(rnd), m.sil_shrink_u_pct = 0.1 * u(rnd) + 0.01;
    m.sil_expansion_per_k = 3e-4, m.gel_c = 21 + 20 * u(rnd), m.gel_u_c = 2;
    m.res_shrink_pct = 2 * u(rnd), m.res_shrink_u_pct = 0.2 * u(rnd) + 0.01;
    m.flash_mm = 0.1, m.flash_u_mm = 0.05;
    MeasuredSize s = sized(5 + 100 * u(rnd), 0, 200, i % 3 == 0 ? FormedBy::across_line : FormedBy::rubber);
    s.resolution_mm = 0.01, s.instrument_u_mm = 0.02;
    const Prediction p = predict(s, m, 1);
    const DrawnSize d = predict_by_draws(s, m, 1, 100'000, 7);
    CHECK(d.u_mm == Approx(p.u_mm).epsilon(0.02));
    CHECK(std::abs(d.mean_mm - p.predicted_mm) < 0.02 * p.u_mm + 4 * p.u_mm / std::sqrt(1e5));
    const DrawnSize again = predict_by_draws(s, m, 1, 1000, 7);
    CHECK(again.mean_mm == predict_by_draws(s, m, 1, 1000, 7).mean_mm);
  }
}

TEST_CASE("the best scale undoes the shrinkage and compromises between sizes", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.sil_shrink_u_pct = 0.02;
  m.res_shrink_pct = 0.4, m.res_shrink_u_pct = 0.05;
  const double undo = 1 / (0.999 * 0.996);
  CHECK(best_scale({sized(50, 49.9, 50.1)}, m) == Approx(undo).margin(2e-6));
  // Two sizes that pull apart: the worse of both must be no worse than at either one's own best.
  const std::vector<MeasuredSize> both = {sized(50, 50.00, 50.08), sized(20, 19.95, 20.01)};
  const double s = best_scale(both, m);
  const auto worst = [&](double scale) {
    return std::min(predict(both[0], m, scale).p_in_limits, predict(both[1], m, scale).p_in_limits);
  };
  for (int i = 0; i <= 800; ++i) CHECK(worst(0.97 + i * 1e-4) <= worst(s) + 1e-6);
  // All limits far away: the scale with the least error, not the first of a plateau.
  CHECK(best_scale({sized(50, 45, 55)}, m) == Approx(undo).margin(1e-5));
  MeasuredSize pin = sized(8, 8, 8.1, FormedBy::pin);
  pin.pin_mm = 8.05;
  CHECK(best_scale({pin}, m) == 1);
}

TEST_CASE("shrinkage follows the section between thin and thick", "[size]") {
  CHECK(shrink_at_section_pct(3, 3, 0.2, 15, 0.8) == Approx(0.2));
  CHECK(shrink_at_section_pct(9, 3, 0.2, 15, 0.8) == Approx(0.5));
  CHECK(shrink_at_section_pct(1, 3, 0.2, 15, 0.8) == Approx(0.2));
  CHECK(shrink_at_section_pct(50, 3, 0.2, 15, 0.8) == Approx(0.8));
}

TEST_CASE("readings: mean, spread, uncertainty", "[size]") {
  const auto one = mean_of_readings({10.02}, 0.01, 0.005);
  CHECK_FALSE(one.type_a);
  CHECK(one.u_mm == Approx(std::sqrt(0.01 * 0.01 / 12 + 0.005 * 0.005)));
  const auto three = mean_of_readings({10.0, 10.1, 10.2}, 0, 0);
  CHECK(three.mean_mm == Approx(10.1));
  CHECK(three.spread_mm == Approx(0.1));
  CHECK(three.u_mm == Approx(0.1 / std::sqrt(3.0)));
  CHECK(mean_of_readings({}, 0.01, 0.01).n == 0);
}

TEST_CASE("sizes that make no sense are refused in words", "[size]") {
  const auto refused = [](MeasuredSize s, const char* word) {
    const auto r = check_size(s);
    REQUIRE_FALSE(r);
    INFO(r.error().text());
    CHECK(r.error().text().find(word) != std::string::npos);
  };
  CHECK(check_size(sized(10, 9, 11)));
  refused(sized(10, 11, 9), "above the upper");
  refused(sized(0, -1, 1), "above zero");
  refused(sized(-3, -4, -2), "above zero");
  MeasuredSize s = sized(25.4, 25, 26);
  s.readings_mm = {1.0};
  refused(s, "another unit");
  s.readings_mm = {NAN};
  refused(s, "reading");
  s = sized(10, 9, 11);
  s.nominal_mm = NAN;
  refused(s, "no number");
}

TEST_CASE("limits read as the trade writes them", "[size]") {
  CHECK(limits_text(sized(92, 91.75, 92.25)) == "92 ±0.25");
  CHECK(limits_text(sized(6, 6, 6.1)) == "6 +0.1 0");
  MeasuredSize b = sized(8, 8, 8.015);
  b.kind = SizeKind::bore;
  CHECK(limits_text(b) == "Ø8 +0.015 0");
  CHECK(limits_text(sized(25, 24.98, 24.993)) == "25 −0.007 −0.02");
  for (int k = 0; k < 6; ++k) CHECK(size_kind(name_of(static_cast<SizeKind>(k))) == static_cast<SizeKind>(k));
  for (int k = 0; k < 4; ++k) CHECK(formed_by(name_of(static_cast<FormedBy>(k))) == static_cast<FormedBy>(k));
  CHECK_FALSE(size_kind("hole"));
}
