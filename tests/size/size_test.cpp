#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "original/size.hpp"
#include "size/draws.hpp"
#include "size/learn.hpp"
#include "size/scale_choice.hpp"

namespace tests_size_size {

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

std::vector<ChainInput> inputs(const std::vector<MeasuredSize>& sizes, const ChainMaterials& m) {
  std::vector<ChainInput> in;
  for (const MeasuredSize& s : sizes) in.push_back({s, m});
  return in;
}
double best_one(const std::vector<MeasuredSize>& sizes, const ChainMaterials& m) {
  return best_scale(inputs(sizes, m), ScaleFreedom::one).x;
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
    m.generations = 1 + i % 2;
    const Prediction p2 = predict(s, m, 1);
    const std::vector<ChainInput> in{{s, m}};
    const DrawnSize d = draw_sizes(in, {}, 100'000, 7)->front();
    CHECK(d.u_mm == Approx(p2.u_mm).epsilon(0.02));
    CHECK(std::abs(d.mean_mm - p2.predicted_mm) < 0.02 * p2.u_mm + 4 * p2.u_mm / std::sqrt(1e5));
    CHECK(compare_draws({p2}, {d}).agrees());
    const auto again = draw_sizes(in, {}, 1000, 7), third = draw_sizes(in, {}, 1000, 7);
    CHECK(again->front().mean_mm == third->front().mean_mm);
    if (m.generations == 2) CHECK(p2.u_mm > p.u_mm);
  }
  CHECK_FALSE(draw_sizes({}, {}, 1, 1));
}

TEST_CASE("wide inputs break the first-order sum, and the draws say so", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 60, m.sil_shrink_u_pct = 25;  // absurd on purpose: the product of two wide factors is not linear
  m.res_shrink_pct = 60, m.res_shrink_u_pct = 25;
  const MeasuredSize s = sized(50, 1, 60);
  const auto c = compare_draws({predict(s, m, 1)}, *draw_sizes({{s, m}}, {}, 50'000, 3));
  CHECK(c.worst_ratio > 0.05);
  CHECK_FALSE(c.agrees());
}

TEST_CASE("the best scale undoes the shrinkage and compromises between sizes", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.sil_shrink_u_pct = 0.02;
  m.res_shrink_pct = 0.4, m.res_shrink_u_pct = 0.05;
  const double undo = 1 / (0.999 * 0.996);
  CHECK(best_one({sized(50, 49.9, 50.1)}, m) == Approx(undo).margin(2e-6));
  // Two sizes that pull apart: the worse of both must be no worse than at either one's own best.
  const std::vector<MeasuredSize> both = {sized(50, 50.00, 50.08), sized(20, 19.95, 20.01)};
  const double s = best_one(both, m);
  const auto worst = [&](double scale) {
    return std::min(predict(both[0], m, scale).p_in_limits, predict(both[1], m, scale).p_in_limits);
  };
  for (int i = 0; i <= 800; ++i) CHECK(worst(0.97 + i * 1e-4) <= worst(s) + 1e-6);
  // All limits far away: the scale with the least error, not the first of a plateau.
  CHECK(best_one({sized(50, 45, 55)}, m) == Approx(undo).margin(1e-5));
  MeasuredSize pin = sized(8, 8, 8.1, FormedBy::pin);
  pin.pin_mm = 8.05;
  CHECK(best_one({pin}, m) == 1);
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
  for (int k = 0; k < count_of<SizeKind>(); ++k)
    CHECK(named<SizeKind>(name_of(static_cast<SizeKind>(k))) == static_cast<SizeKind>(k));
  for (int k = 0; k < 4; ++k) CHECK(named<FormedBy>(name_of(static_cast<FormedBy>(k))) == static_cast<FormedBy>(k));
  CHECK_FALSE(named<SizeKind>("hole"));
}

TEST_CASE("a copy of a copy shrinks twice; an angle does not shrink", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.res_shrink_pct = 0.4;
  m.generations = 2;
  const Prediction p = predict(sized(50, 49, 51), m, 1);
  CHECK(p.predicted_mm == Approx(50 * std::pow(0.999 * 0.996, 2)).epsilon(1e-12));
  double sum = p.steps.front().after_mm;
  for (size_t i = 1; i < p.steps.size(); ++i) sum += p.steps[i].change_mm;
  CHECK(sum == Approx(p.predicted_mm));
  MeasuredSize angle = sized(30, 29, 31);
  angle.kind = SizeKind::angle;
  CHECK(predict(angle, m, 1.02).predicted_mm == 30);
}

TEST_CASE("reaming, skimming and shimming bring a size in while there is stock", "[size]") {
  ChainMaterials m;
  m.res_shrink_pct = 1, m.res_shrink_u_pct = 0.05;
  m.finish_u_mm = 0.004, m.finish_allowance_mm = 0.05;
  MeasuredSize bore = sized(8, 8, 8.015);
  CHECK(predict(bore, m, 1).verdict == Verdict::misses);  // comes out at 7.92
  bore.finish = Finishing::ream;
  const Prediction reamed = predict(bore, m, 1);
  CHECK(reamed.cast_mm == Approx(7.92));
  CHECK(reamed.predicted_mm == Approx(8.0075));
  CHECK(reamed.verdict != Verdict::misses);
  CHECK(reamed.steps.back().kind == ChainStep::Kind::finish);
  CHECK(predict(bore, m, 1.02).p_in_limits < 0.01);  // already larger than the reamer
  MeasuredSize outer = sized(50, 49.9, 50.1);
  outer.finish = Finishing::skim;
  CHECK(predict(outer, m, 1).p_in_limits < 0.01);  // nothing to take off
  CHECK(predict(outer, m, 1.02).verdict == Verdict::holds);
  outer.finish = Finishing::shim;
  CHECK(predict(outer, m, 1).verdict == Verdict::holds);
  CHECK(predict(outer, m, 1.02).p_in_limits < 0.01);
}

TEST_CASE("a scale for each axis meets what one scale cannot", "[size]") {
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.sil_shrink_u_pct = 0.01;
  m.res_shrink_pct = 0.4, m.res_shrink_u_pct = 0.02;
  const auto along = [&](int axis, double nominal, double want) {
    MeasuredSize s = sized(nominal, want - 0.03, want + 0.03);
    s.scale_share[axis] = 1;
    return ChainInput{s, m};
  };
  const std::vector<ChainInput> in{along(0, 50, 50.2), along(1, 40, 39.9), along(2, 30, 30)};
  const MasterScale s = best_scale(in, ScaleFreedom::per_axis);
  const double undo = 1 / (0.999 * 0.996);
  CHECK(s.x == Approx(undo * 50.2 / 50).margin(3e-6));
  CHECK(s.y == Approx(undo * 39.9 / 40).margin(3e-6));
  CHECK(s.z == Approx(undo).margin(3e-6));
  for (const ChainInput& c : in) CHECK(predict(c.size, c.materials, s).verdict == Verdict::holds);
  const double one = best_scale(in, ScaleFreedom::one).x;
  double worst = 1;
  for (const ChainInput& c : in) worst = std::min(worst, predict(c.size, c.materials, one).p_in_limits);
  CHECK(worst < 0.5);
  // Never worse than one figure, whatever the sizes.
  std::mt19937 rnd(5);
  std::uniform_real_distribution<double> u(0, 1);
  for (int k = 0; k < 30; ++k) {
    std::vector<ChainInput> many;
    for (int i = 0; i < 6; ++i) {
      const double n = 10 + 80 * u(rnd);
      ChainInput c{sized(n, n - 0.1, n + 0.1), m};
      if (i < 5) c.size.scale_share[i % 3] = 1;
      c.size.nominal_mm += 0.2 * (u(rnd) - 0.5);
      many.push_back(c);
    }
    const auto least = [&](const MasterScale& q) {
      double p = 1;
      for (const ChainInput& c : many) p = std::min(p, predict(c.size, c.materials, q).p_in_limits);
      return p;
    };
    CHECK(least(best_scale(many, ScaleFreedom::per_axis)) >= least(best_scale(many, ScaleFreedom::one)) - 1e-9);
  }
  // An axis nothing runs along takes the others' mean.
  const MasterScale two = best_scale({in[0], in[1]}, ScaleFreedom::per_axis);
  CHECK(two.z == Approx(0.5 * (two.x + two.y)));
}

TEST_CASE("sizes that no scale meets together are named", "[size]") {
  ChainMaterials m;
  m.res_shrink_pct = 0.4, m.res_shrink_u_pct = 0.02;
  auto in =
      inputs({sized(50, 50.10, 50.20), sized(50, 49.80, 49.90), sized(20, 19.8, 20.2), sized(10, 9.9999, 10.0001)}, m);
  const auto l = scale_limits(in, ScaleFreedom::one);
  REQUIRE(l.conflicts.size() == 1);
  CHECK(l.conflicts[0].wants_more == 0);
  CHECK(l.conflicts[0].wants_less == 1);
  CHECK(l.conflicts[0].low > l.conflicts[0].high);
  CHECK(predict(in[0].size, m, l.conflicts[0].low).p_in_limits == Approx(0.95).margin(1e-6));
  REQUIRE(l.never.size() == 1);
  CHECK(l.never[0] == 3);
  in[0].size.scale_share = {1, 0, 0};
  in[1].size.scale_share = {0, 1, 0};
  CHECK(scale_limits(in, ScaleFreedom::per_axis).conflicts.empty());
  in[1].size.scale_share = {1, 0, 0};
  CHECK(scale_limits(in, ScaleFreedom::per_axis).conflicts.size() == 1);
}

TEST_CASE("learning: exact data gives the figures back", "[size]") {
  std::vector<LearnRow> rows;
  for (int c = 1; c <= 2; ++c)
    for (const double x : {12.0, 50.0, 92.0}) {
      rows.push_back({c, "plain", FormedBy::rubber, x, x * (1 - 0.0062), 0.01, 0, 0});
      rows.push_back({c, "across", FormedBy::across_line, x, x * (1 - 0.0062) + 0.09, 0.01, 0, 0});
      rows.push_back({c, "open", FormedBy::open_face, x, x * (1 - 0.0062) + 0.5, 0.01, 0.5, 0});
      rows.push_back({c, "pin", FormedBy::pin, x, x + 1, 0.01, 0, 0});
    }
  const auto l = learn(rows, {0.5, 0.1});
  REQUIRE(l);
  CHECK(l->used == 18);
  CHECK(l->total_shrink_pct.value == Approx(0.62));
  CHECK(l->flash_mm->value == Approx(0.09));
  CHECK_FALSE(l->heat_per_k);
  CHECK(l->scatter_ratio == Approx(0).margin(1e-9));
  // The posterior lies between prior and data and is surer than both.
  CHECK(l->posterior_pct.value > 0.5);
  CHECK(l->posterior_pct.value < 0.62 + 1e-12);
  CHECK(l->posterior_pct.u < std::min(0.1, l->total_shrink_pct.u));
  for (const LearnResidual& r : l->residuals) CHECK(std::abs(r.residual_mm) < 1e-9);
}

TEST_CASE("learning: by hand, one size and a prior", "[size]") {
  // One size of 100 mm measured at 99.4 ±0.05: s = 0.6 %, u = 0.05 %. Prior 0.5 ±0.05: equal weights.
  const auto l = learn({{1, "A", FormedBy::rubber, 100, 99.4, 0.05, 0, 0}}, {0.5, 0.05});
  REQUIRE(l);
  CHECK(l->total_shrink_pct.value == Approx(0.6));
  CHECK(l->total_shrink_pct.u == Approx(0.05));
  CHECK(l->posterior_pct.value == Approx(0.55));
  CHECK(l->posterior_pct.u == Approx(0.05 / std::sqrt(2.0)));
}

TEST_CASE("learning: heat is told apart where castings gelled at different warmth", "[size]") {
  std::vector<LearnRow> rows;
  for (int c = 0; c < 3; ++c)
    for (const double x : {20.0, 80.0})
      rows.push_back({c + 1, "A", FormedBy::rubber, x, x * (1 - 0.005 + 0.00028 * 10 * c), 0.01, 0, 10.0 * c});
  const auto l = learn(rows, {0.5, 0.2});
  REQUIRE(l);
  CHECK(l->heat_per_k->value == Approx(0.00028));
  CHECK(l->total_shrink_pct.value == Approx(0.5));
}

TEST_CASE("learning: estimates scatter about the truth as their uncertainty says", "[size]") {
  std::mt19937 rnd(11);
  std::normal_distribution<double> noise(0, 1);
  double chi = 0;
  const int times = 400;
  for (int k = 0; k < times; ++k) {
    std::vector<LearnRow> rows;
    for (const double x : {10.0, 30.0, 60.0, 90.0})
      for (const auto f : {FormedBy::rubber, FormedBy::across_line})
        rows.push_back(
            {1, "A", f, x, x * 0.994 + (f == FormedBy::across_line ? 0.08 : 0) + 0.02 * noise(rnd), 0.02, 0, 0});
    const auto l = learn(rows, {0.5, 10});
    chi += std::pow((l->total_shrink_pct.value - 0.6) / l->total_shrink_pct.u, 2) / times;
  }
  CHECK(chi == Approx(1).margin(0.25));
}

TEST_CASE("learning: what cannot be learnt is refused in words", "[size]") {
  const LearnRow good{1, "A", FormedBy::rubber, 50, 49.7, 0.02, 0, 0};
  CHECK(learn({good}, {0.5, 0.1}));
  CHECK_FALSE(learn({}, {0.5, 0.1}));
  CHECK_FALSE(learn({good}, {0.5, 0}));
  LearnRow r = good;
  r.u_mm = 0;
  CHECK_FALSE(learn({r}, {0.5, 0.1}));
  r = good;
  r.measured_mm = NAN;
  CHECK_FALSE(learn({r}, {0.5, 0.1}));
  r = good;
  r.formed = FormedBy::pin;
  CHECK_FALSE(learn({r}, {0.5, 0.1}));
  r = good;
  r.formed = FormedBy::across_line;
  CHECK_FALSE(learn({r}, {0.5, 0.1}));  // flash and shrinkage cannot be told apart from one size
  // A figure, or a refusal; never one that is no number, however wild the uncertainties.
  for (const double prior_u : {1e-300, 1e-160, 0.1, 20.0})
    for (const double u : {1e-300, 1e-160, 0.02, 1e12, 1e300}) {
      r = good;
      r.u_mm = u;
      const auto l = learn({r}, {0.5, prior_u});
      INFO(prior_u << ", " << u);
      if (l) CHECK((std::isfinite(l->posterior_pct.value) && std::isfinite(l->posterior_pct.u)));
    }
}

TEST_CASE("one size that contradicts the others does not take them down with it", "[size]") {
  // Two sizes want the scale 1.0040, the third 1.02: a scale between would let all three miss.
  ChainMaterials m;
  m.sil_shrink_pct = 0.1, m.res_shrink_pct = 0.3, m.res_shrink_u_pct = 0.02, m.sil_shrink_u_pct = 0.01;
  std::vector<MeasuredSize> three;
  for (const auto& [name, middle] : {std::pair{"a", 50.0}, {"b", 30.0}, {"c", 40.0 * 1.016}}) {
    MeasuredSize s;
    s.name = name;
    s.nominal_mm = std::string(name) == "c" ? 40 : middle;
    s.lower_mm = middle - 0.1, s.upper_mm = middle + 0.1;
    three.push_back(s);
  }
  std::vector<ChainInput> in;
  for (const MeasuredSize& s : three) in.push_back({s, m});
  const MasterScale best = best_scale(in, ScaleFreedom::one);
  CHECK(best.x == Approx(1.004).margin(0.0012));
  int held = 0;
  for (const ChainInput& i : in) held += predict(i.size, i.materials, best).p_in_limits > 0.9;
  CHECK(held == 2);
  // And it is named, with those it contradicts.
  const ScaleLimits limits = scale_limits(in, ScaleFreedom::one);
  REQUIRE_FALSE(limits.conflicts.empty());
  for (const ScaleConflict& c : limits.conflicts) CHECK(c.wants_more == 2);
}

}  // namespace tests_size_size
