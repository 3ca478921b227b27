// Filler, thickener, thinner (M17), and one batch for several jobs.
#include <catch2/catch.hpp>
#include <random>

#include "base/text.hpp"
#include "mix/additives.hpp"
#include "mix/shared_batch.hpp"
#include "mix/stirred.hpp"

namespace tests_mix_stirred {

using namespace palinform;

namespace {

Addition addition(Additive kind, double share, double density, double most = 0) {
  return {std::string(name_of(kind)) + shortest(100 * share, 1),
          "some " + std::string(name_of(kind)),
          kind,
          share,
          density,
          most};
}

Resin resin() {
  Resin r;
  r.density_g_cm3 = 1.1, r.viscosity_mpa_s = 800;
  r.shrink_thin_pct = 0.3, r.shrink_thick_pct = 0.6, r.heat_of_reaction_j_g = 200;
  return r;
}

}  // namespace

TEST_CASE("stirred in: volumes add up, a fifth by volume makes it 1.82 times as thick", "[mix]") {
  // φ = 0.2 of a powder of 2.7 in a liquid of 1.1.
  const double w = 0.2 * 2.7 / (0.2 * 2.7 + 0.8 * 1.1);
  const auto r = stirred(resin(), {addition(Additive::filler, w, 2.7)}, {});
  REQUIRE(r);
  CHECK(r->viscosity_mpa_s / 800 == Approx(1.82).margin(0.005));
  CHECK(r->density_g_cm3 == Approx(0.2 * 2.7 + 0.8 * 1.1));
  CHECK(r->shrink_thin_pct == Approx(0.3 * 0.8));
  CHECK(r->shrink_thick_pct == Approx(0.6 * 0.8));
  CHECK(r->heat_of_reaction_j_g == Approx(200 * (1 - w)));
  // Volumes add, whatever is stirred in.
  std::mt19937 rnd(3);
  std::uniform_real_distribution<double> share(0.01, 0.2), density(0.8, 6);
  for (int k = 0; k < 100; ++k) {
    const Addition thin = addition(Additive::thinner, share(rnd), density(rnd));
    const auto one = stirred(resin(), {thin}, {});
    REQUIRE(one);
    CHECK(1 / one->density_g_cm3 == Approx(thin.share / thin.density_g_cm3 + (1 - thin.share) / 1.1));
  }
}

TEST_CASE("thinner and thickener by their rules; nothing stirred in changes nothing", "[mix]") {
  MixRules rules;
  Silicone s;
  s.density_g_cm3 = 1.08, s.viscosity_mpa_s = 20'000;
  CHECK(stirred(s, {addition(Additive::thinner, rules.thinner_halves_pct / 100, 0.97)}, rules)->viscosity_mpa_s ==
        Approx(10'000));
  CHECK(stirred(s, {addition(Additive::thickener, rules.thickener_doubles_pct / 100, 1)}, rules)->viscosity_mpa_s ==
        Approx(40'000));
  const auto same = stirred(s, {}, rules);
  REQUIRE(same);
  CHECK(same->viscosity_mpa_s == s.viscosity_mpa_s);
  CHECK(same->density_g_cm3 == s.density_g_cm3);
  // A solid is no mix.
  const auto solid = stirred(s, {addition(Additive::filler, 0.85, 2)}, rules);
  REQUIRE_FALSE(solid);
  CHECK(solid.error().where == "some filler");
}

TEST_CASE("what cannot be stirred in is refused by its name; doses keep their shares", "[mix]") {
  CHECK(check_additions({}));
  CHECK(check_additions({addition(Additive::filler, 0.3, 2.7, 0.6)}));
  const auto over = check_additions({addition(Additive::thinner, 0.12, 0.97, 0.1)});
  REQUIRE_FALSE(over);
  CHECK(over.error().text().find("12 % is more than its sheet allows, 10 %") != std::string::npos);
  CHECK_FALSE(check_additions({addition(Additive::filler, 0, 2.7)}));
  CHECK_FALSE(check_additions({addition(Additive::filler, 0.3, 2.7), addition(Additive::filler, 0.3, 2.7)}));
  CHECK_FALSE(check_additions({addition(Additive::filler, 0.5, 2.7), addition(Additive::filler, 0.45, 3)}));
  const std::vector<Addition> two{addition(Additive::filler, 0.3, 2.7), addition(Additive::thinner, 0.05, 0.97)};
  const auto doses = weigh_additions(two, 126, 0.02);
  const double whole = 126 / 0.63;
  REQUIRE(doses.size() == 2);
  CHECK(doses[0].g == Approx(0.3 * whole));
  CHECK(doses[1].g == Approx(0.05 * whole));
  CHECK(126 + doses[0].g + doses[1].g + 0.02 * whole == Approx(whole));
}

TEST_CASE("one batch for several jobs: as many castings as any choice gives, inside pot life and cup", "[mix]") {
  BatchLimits l;
  l.cup_ml = 300, l.foam_ratio = 1, l.density_g_cm3 = 1.1, l.pot_life_min = 10, l.pot_life_ref_c = l.room_c = 23;
  l.mix_min = 3, l.degas_min = 2, l.pour_min_per_100g = 2;  // 250 g by time, 330 g by cup
  const auto b = share_batch({"a", "A", 100}, {{"b", "B", 90}, {"c", "C", 80}, {"d", "D", 40}}, l);
  REQUIRE(b);
  REQUIRE(b->in.size() == 3);
  CHECK(b->in[0].job_id == "a");
  CHECK(b->in[1].job_id == "d");
  CHECK(b->in[2].job_id == "c");
  CHECK(b->poured_g == Approx(220));
  CHECK(b->left_min == Approx(10 - 5 - 4.4));
  CHECK(b->cup_ml_needed == Approx(200));
  CHECK_FALSE(share_batch({"a", "A", 260}, {}, l));
  CHECK_FALSE(share_batch({"a", "A", 0}, {}, l));
  std::mt19937 rnd(11);
  for (int round = 0; round < 200; ++round) {
    std::vector<CavityShare> others;
    for (int k = 0; k < 8; ++k) others.push_back({std::to_string(k), "job", 5.0 + rnd() % 90});
    const CavityShare own{"own", "own", 20.0 + rnd() % 60};
    const auto found = share_batch(own, others, l);
    REQUIRE(found);
    CHECK(found->in.size() + found->out.size() == 9);
    CHECK(found->left_min >= -1e-9);
    size_t best = 0;
    for (unsigned set = 0; set < 256; ++set) {
      double g = own.pour_g;
      size_t n = 1;
      for (unsigned k = 0; k < 8; ++k)
        if (set >> k & 1) g += others[k].pour_g, ++n;
      if (g <= 250 + 1e-9) best = std::max(best, n);
    }
    CHECK(found->in.size() == best);
  }
}

}  // namespace tests_mix_stirred
