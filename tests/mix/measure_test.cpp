// M16 to M19: small doses, additives, what stays in the cup, cups in time.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "mix/additives.hpp"
#include "mix/cup_film.hpp"
#include "mix/cups.hpp"
#include "mix/dose.hpp"

namespace tests_mix_measure {

using namespace palinform;

TEST_CASE("drops: calibrated by weighing many, counted, and told how well", "[mix]") {
  const auto drop = weigh_drops(20, 0.52, 0.01);
  REQUIRE(drop);
  CHECK(drop->g == Approx(0.026));
  CHECK(drop->u_g == Approx(std::hypot(0.01 / std::sqrt(12.0) / 20, 0.05 * 0.026 / std::sqrt(20.0))));
  const Dose d = dose_in_drops(0.12, *drop);
  CHECK(d.count == 5);
  CHECK(d.g == Approx(0.13));
  CHECK(d.u_pct >= 5.77);
  CHECK(d.u_pct == Approx(100 * std::hypot(0.5 / std::sqrt(3.0) / 5, drop->u_g / drop->g)));
  CHECK(d.unsafe(5));
  CHECK_FALSE(d.unsafe(15));
  CHECK_FALSE(weigh_drops(19, 0.5, 0.01));
  CHECK_FALSE(weigh_drops(20, 0, 0.01));
  // What is counted scatters about what is wanted as told: many needs at random.
  std::mt19937 rnd(3);
  std::uniform_real_distribution<double> need(0.1, 2);
  double sum = 0;
  const int n = 4000;
  for (int k = 0; k < n; ++k) {
    const Dose r = dose_in_drops(need(rnd), stated_drop(0.03, 0));
    sum += std::pow((r.g - r.need_g) / (r.g * r.u_pct / 100), 2) / n;
  }
  CHECK(sum == Approx(1).margin(0.1));
}

TEST_CASE("a dose the scale cannot weigh is unsafe, and what would help is safe", "[mix]") {
  const Dose d = dose_in_divisions(8 * 0.015, 1);  // 8 g of base at 1.5 % on a 1 g scale
  CHECK(d.count == 0);
  CHECK(d.unsafe(50));
  const DoseHelp h = help_for_dose(8, 0.015, 1, 5, 1.1, stated_drop(0.026, 1));
  REQUIRE(h.division_g);
  CHECK_FALSE(dose_in_divisions(0.12, *h.division_g).unsafe(5));
  CHECK(*h.division_g == Approx(0.01));  // 12 divisions: 2 · 2.4 % = 4.8 %
  const double dose_g = h.batch_g * 0.015 / 1.015;
  CHECK(dose_g == Approx(12));
  CHECK_FALSE(dose_in_divisions(dose_g, 1).unsafe(5));
  CHECK(h.batch_waste_g == Approx(h.batch_g - 8 * 1.015));
  CHECK_FALSE(h.drops);                                              // five drops are off by 6 %
  CHECK_FALSE(help_for_dose(100, 0.1, 0.1, 5, 1.1, {}).division_g);  // this scale does already
  // Whatever the batch: each way that is offered is safe.
  std::mt19937 rnd(5);
  for (int k = 0; k < 500; ++k) {
    const double base = std::pow(10, std::uniform_real_distribution<double>(0.3, 3)(rnd)),
                 r = std::pow(10, std::uniform_real_distribution<double>(-2.3, 0)(rnd)),
                 tolerance = std::uniform_real_distribution<double>(1, 15)(rnd);
    const DoseHelp way = help_for_dose(base, r, 0.1, tolerance, 1.2, stated_drop(0.03, 0.4));
    CHECK_FALSE(dose_in_divisions(way.batch_g * r / (1 + r), 0.1).unsafe(tolerance * (1 + 1e-9)));
    CHECK(way.batch_g >= base * (1 + r) * (1 - 1e-9));
    if (way.division_g) CHECK_FALSE(dose_in_divisions(base * r, *way.division_g).unsafe(tolerance));
    if (way.drops) CHECK_FALSE(way.drops->unsafe(tolerance));
    if (way.syringe_ml) CHECK_FALSE(dose_in_divisions(base * r, *way.syringe_ml * 1.2).unsafe(tolerance));
  }
}

TEST_CASE("per cent of catalyst: log–log between the sheet's, refused outside", "[mix]") {
  const std::vector<AtPercent> sheet{{2, 120, 24}, {4, 40, 12}, {6, 20, 6}};
  CHECK(at_percent(sheet, 4)->pot_life_min == Approx(40));
  CHECK(at_percent(sheet, 2)->demould_h == Approx(24));
  CHECK(at_percent(sheet, 6)->pot_life_min == Approx(20));
  const double middle = std::sqrt(2.0 * 4.0);  // halfway in the logarithm
  CHECK(at_percent(sheet, middle)->pot_life_min == Approx(std::sqrt(120.0 * 40)));
  double before = 1e9;
  for (double pct = 2; pct <= 6; pct += 0.1) {
    const double now = at_percent(sheet, std::min(pct, 6.0))->pot_life_min;
    CHECK(now < before);
    before = now;
  }
  CHECK_FALSE(at_percent(sheet, 1.9));
  CHECK_FALSE(at_percent(sheet, 6.1));
  CHECK_FALSE(at_percent({}, 3));
  CHECK(at_percent({{3, 30, 6}}, 3)->pot_life_min == 30);
}

TEST_CASE("an overshoot is mended by the other part", "[mix]") {
  const Mending a = mend_a(207, 0.1);  // 200 were wanted at 100 : 10
  CHECK(a.b_g == Approx(20.7));
  CHECK(a.total_g == Approx(227.7));
  const Mending over = mend_b(200, 25, 0.1);
  CHECK(over.add_a_g == Approx(50));
  CHECK(over.add_b_g == 0);
  CHECK(over.b_g / over.a_g == Approx(0.1));
  const Mending short_of = mend_b(200, 15, 0.1);
  CHECK(short_of.add_a_g == 0);
  CHECK(short_of.add_b_g == Approx(5));
}

TEST_CASE("filler: volume share, density, viscosity", "[mix]") {
  // φ = 0.2 of a filler three times as heavy.
  const double w = 0.2 * 3 / (0.2 * 3 + 0.8 * 1);
  const auto f = filled(w, 3, 1);
  REQUIRE(f);
  CHECK(f->volume_share == Approx(0.2));
  CHECK(f->viscosity_times == Approx(1.82).margin(0.005));
  CHECK(f->density_g_cm3 == Approx(1.4));
  CHECK(f->shrink_times == Approx(0.8));
  CHECK(f->heat_times == Approx(1 - w));
  CHECK(filled(0, 3, 1)->viscosity_times == 1);
  CHECK_FALSE(filled(0.95, 2.7, 1));  // no liquid left between the grains
  CHECK_FALSE(filled(1, 3, 1));
  // Mass and volume add up whatever is mixed.
  for (double share = 0; share < 0.6; share += 0.05) {
    const auto m = filled(share, 2.7, 1.08);
    REQUIRE(m);
    CHECK(1 / m->density_g_cm3 == Approx(share / 2.7 + (1 - share) / 1.08));
  }
}

TEST_CASE("pigments keep their shares; too little for the scale goes in by a master batch", "[mix]") {
  const auto doses = weigh_tints({{"Red", 0.01, 0.02}, {"Black", 0.0005, 0.02}}, 120, 0.1);
  REQUIRE(doses);
  CHECK((*doses)[0].g == Approx(1.2));
  CHECK((*doses)[0].master_batch);  // 12 divisions
  for (const TintDose& d : *doses) {
    const double strength = d.stock_pigment_g / (d.stock_pigment_g + d.stock_part_g);
    CHECK(d.stock_use_g * strength == Approx(d.g));
    CHECK(d.stock_pigment_g >= 20 * 0.1 - 1e-9);
    CHECK(d.stock_use_g >= 20 * 0.1 - 1e-9);
    CHECK(d.stock_use_g <= d.stock_pigment_g + d.stock_part_g + 1e-9);
  }
  CHECK_FALSE(weigh_tints({{"Red", 0.01, {}}}, 1000, 0.1)->front().master_batch);
  CHECK(weigh_tints({{"Red", 0.03, 0.02}}, 100, 0.1).error().where == "Red");
  CHECK_FALSE(weigh_tints({{"Red", 0, {}}}, 100, 0.1));
  CHECK_FALSE(weigh_tints({{"Red", 0.3, {}}, {"Blue", 0.3, {}}}, 100, 0.1));
}

TEST_CASE("what stays in the cup: a film on what was wet", "[mix]") {
  Cup straight;
  straight.brim_ml = 500;
  straight.bottom_mm = straight.top_mm = 80;
  straight.high_mm = 500e3 / (std::numbers::pi * 1600);
  const double high = 250e3 / (std::numbers::pi * 1600);  // half full
  CHECK(wetted_mm2(straight, 250) == Approx(std::numbers::pi * (1600 + 80 * high)));
  CHECK(wetted_mm2(straight, 900) == Approx(wetted_mm2(straight, 500)));
  Cup plain;
  plain.brim_ml = 500;
  CHECK(wetted_mm2(plain, 500) > wetted_mm2(plain, 100));
  CHECK(film_mm(1000) == Approx(0.05));
  CHECK(film_mm(4000) == Approx(0.1));
  CHECK(film_mm(10) == Approx(0.02));
  CHECK(film_mm(1e6) == Approx(0.6));
  const double once = cup_loss_g(plain, 300, 1.1, 0.1);
  CHECK(once == Approx(1.1e-3 * wetted_mm2(plain, 300) * 0.1));
  CHECK(cup_loss_g(plain, 300, 1.1, 0.1, 2) == Approx(2 * once));  // two cups lose twice
  // A cup that narrows downward wets less than its top's cylinder and more than its bottom's.
  Cup cone = straight;
  cone.bottom_mm = 60;
  cone.brim_ml = std::numbers::pi * *cone.high_mm / 3 * (900 + 1200 + 1600) / 1000;
  CHECK(wetted_mm2(cone, cone.brim_ml) < wetted_mm2(straight, 500));
  // Learnt: what cups lost at a film of 0.08 gives the film back.
  std::vector<EmptiedCup> seen;
  for (const double ml : {120.0, 260.0, 410.0})
    seen.push_back({cup_loss_g(plain, ml, 1.1, 0.08), wetted_mm2(plain, ml), 1.1});
  CHECK(learn_film(seen)->mm == Approx(0.08));
  CHECK(learn_film(seen)->spread_mm == Approx(0).margin(1e-12));
  CHECK_FALSE(learn_film({}));
  // Of one material, and only once three cups were weighed.
  std::vector<EmptiedRecord> kept;
  for (int k = 0; k < 3; ++k) {
    CHECK_FALSE(film_of(kept, "m"));
    kept.push_back({std::to_string(k), "m", "2026-11-27", 1.1e-3 * 20'000 * (0.1 + 0.01 * k), 20'000, 1.1});
    kept.push_back({"other" + std::to_string(k), "n", "2026-11-27", 9, 20'000, 1.1});
  }
  REQUIRE(film_of(kept, "m"));
  CHECK(film_of(kept, "m")->mm == Approx(0.11));
  CHECK(film_of(kept, "m")->cups == 3);
  CHECK_FALSE(learn_film({{1, 0, 1}}));
}

namespace {

CupsAsked equal_cups(size_t n, CupTimes each, double pot_life_min, int people = 1) {
  CupsAsked a;
  a.cups.assign(n, each);
  a.pot_life_min = pot_life_min;
  a.people = people;
  return a;
}

/// Nothing is done by more hands than there are, the chamber holds one cup, every rule of a whole pour is kept.
void holds(const CupsAsked& a, const CupsPlan& p) {
  REQUIRE(p.cups.size() == a.cups.size());
  std::vector<std::pair<double, int>> hands, chamber;
  for (size_t k = 0; k < p.cups.size(); ++k) {
    const CupTime& c = p.cups[k];
    const CupTimes& t = a.cups[c.cup];
    CHECK(c.starts_min == Approx(c.weigh_from_min + t.weigh_min));
    CHECK(c.degas_from_min >= c.starts_min + t.stir_min - 1e-9);
    CHECK(c.pour_from_min >= c.degas_to_min - 1e-9);
    hands.push_back({c.weigh_from_min, 1}), hands.push_back({c.starts_min + t.stir_min, -1});
    hands.push_back({c.pour_from_min, 1}), hands.push_back({c.pour_to_min, -1});
    if (t.degas_min > 0) chamber.push_back({c.degas_from_min, 1}), chamber.push_back({c.degas_to_min, -1});
    if (!p.fits) continue;
    CHECK(c.pour_to_min <= c.starts_min + a.pot_life_min + 1e-9);
    if (k > 0) CHECK(c.pour_from_min <= p.cups[k - 1].gels_min + 1e-9);
  }
  for (auto* at : {&hands, &chamber}) {
    std::sort(at->begin(), at->end());
    int busy = 0;
    for (size_t k = 0; k < at->size(); ++k) {
      busy += (*at)[k].second;
      // Ends and beginnings at one moment: look when the moment is over.
      if (k + 1 < at->size() && (*at)[k + 1].first < (*at)[k].first + 1e-9) continue;
      CHECK(busy <= (at == &hands ? a.people : 1));
    }
  }
}

}  // namespace

TEST_CASE("cups in time: one fits, two do not with one pair of hands", "[mix]") {
  const CupTimes quick{0, 1, 0, 1.5};
  CHECK(plan_cups(equal_cups(1, quick, 3))->fits);
  const auto two = plan_cups(equal_cups(2, quick, 3));
  REQUIRE(two);
  CHECK_FALSE(two->fits);
  CHECK_FALSE(two->why.empty());
  holds(equal_cups(2, quick, 3), *two);
  const auto helped = plan_cups(equal_cups(2, quick, 3, 2));
  CHECK(helped->fits);
  holds(equal_cups(2, quick, 3, 2), *helped);
  std::string all;
  for (const CupsLever& l : cups_levers(equal_cups(2, quick, 3))) {
    CHECK(l.fits);
    all += l.what + "; ";
  }
  CHECK(all.find("a second person") == 0);
  CHECK(all.find("pot life of") != std::string::npos);
  CHECK(all.find("a mould that takes 1 such cup") != std::string::npos);
}

TEST_CASE("cups in time: hands, chamber and pot lives are kept, whatever the cups", "[mix]") {
  std::mt19937 rnd(11);
  const auto any = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(rnd); };
  int fitted = 0;
  for (int round = 0; round < 60; ++round) {
    CupsAsked a;
    a.people = 1 + static_cast<int>(rnd() % 3);
    a.pot_life_min = any(8, 60);
    const size_t n = 1 + rnd() % 9;
    for (size_t k = 0; k < n; ++k) a.cups.push_back({any(0, 2), any(1, 4), rnd() % 2 ? any(2, 6) : 0, any(0.5, 3)});
    const auto p = plan_cups(a);
    REQUIRE(p);
    holds(a, *p);
    CHECK(p->fits == p->why.empty());
    fitted += p->fits;
    // More hands or a longer pot life never hurt.
    if (p->fits) {
      CupsAsked easier = a;
      easier.pot_life_min *= 1.5;
      CHECK(plan_cups(easier)->fits);
    }
  }
  CHECK(fitted > 15);
  CHECK(fitted < 60);
  CHECK_FALSE(plan_cups({}));
  CHECK_FALSE(plan_cups(equal_cups(25, {}, 30)));
  CHECK_FALSE(plan_cups(equal_cups(1, {0, -1, 0, 1}, 30)));
  CupsAsked no_chamber = equal_cups(1, {0, 1, 2, 1}, 30);
  no_chamber.has_chamber = false;
  CHECK_FALSE(plan_cups(no_chamber));
}

}  // namespace tests_mix_measure
