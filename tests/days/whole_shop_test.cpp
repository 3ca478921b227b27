// All open jobs in one shop (M28): against known answers, against every order, and against what must hold of any plan.
#include <catch2/catch.hpp>

#include <algorithm>
#include <numeric>
#include <random>

#include "days/shop_bounds.hpp"
#include "days/try_pin.hpp"
#include "days/whole_shop.hpp"

namespace tests_days_whole_shop {

using namespace palinform;

namespace {

WallMinute at(const char* text) { return *parse_wall_time(text); }
const BenchHours eight_to_five{{true, true, true, true, true, true, true}, 8 * 60, 17 * 60};

Step step(const std::string& id, double hands, double wait, std::vector<std::string> after = {}) {
  Step s;
  s.id = id, s.name = id, s.hands_min = hands, s.wait_min = wait, s.after = std::move(after);
  return s;
}

OpenJob job(const std::string& name, std::vector<Step> steps, const char* start = "2026-12-07T08:00") {
  OpenJob j;
  j.id = name, j.name = name, j.steps = std::move(steps), j.bench = eight_to_five, j.start = at(start);
  return j;
}

/// A mould in two pours, castings in it one after the other.
OpenJob casting_job(const std::string& name, int castings, double hands = 30, double cure_h = 16, bool pot = false) {
  std::vector<Step> steps{step("a", 60, 16 * 60), step("b", 60, 16 * 60, {"a"})};
  steps[0].holds = steps[1].holds = "mould 1";
  for (int c = 1; c <= castings; ++c) {
    Step s = step("cast-" + std::to_string(c), hands, cure_h * 60, {"b"});
    s.any_of = {"mould 1"};
    if (pot) s.needs = "pot";
    Step out = step("out-" + std::to_string(c), 10, 0, {s.id});
    out.same_as = s.id;
    steps.push_back(s);
    steps.push_back(out);
  }
  return job(name, steps);
}

/// Hands of no more people than there are, in bench hours, on no holiday; machines one job at a time; everything after
/// what it follows and not before its job's start.
void check_sound(const WholeShop& shop, const WholePlan& plan) {
  std::vector<std::pair<WallMinute, int>> edges;
  std::map<std::string, std::vector<WallSpan>> machines;
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    const OpenJob& in = shop.jobs[j];
    if (!plan.jobs[j].refused.empty()) continue;
    std::map<std::string, const Placed*> by;
    for (const Placed& p : plan.jobs[j].schedule.placed) {
      const Step& s = in.steps[p.step];
      by[s.id] = &p;
      const bool done = std::any_of(in.begun.done.begin(), in.begun.done.end(), [&](auto& d) { return d.id == s.id; });
      if (done) continue;
      CHECK(p.start >= std::max(in.start, in.begun.now));
      for (const std::string& id : s.after) CHECK(p.start >= by.at(id)->end);
      for (const auto& [a, b] : p.hands) {
        edges.push_back({a, 1}), edges.push_back({b, -1});
        CHECK(day_number(a) == day_number(b - 1));
        CHECK(a - day_number(a) * day_min >= in.bench.from_min);
        CHECK(b - day_number(a) * day_min <= in.bench.to_min);
        CHECK(in.bench.days[static_cast<size_t>(weekday_of(a))]);
        CHECK_FALSE(shop.holidays.contains(day_number(a)));
      }
      if (!s.needs.empty()) machines[s.needs].push_back({p.start, held_through_wait(s.needs) ? p.end : p.hands_end});
    }
    CHECK(plan.jobs[j].schedule.finish >= plan.jobs[j].no_sooner);
  }
  std::sort(edges.begin(), edges.end());
  int now = 0, most = 0;
  for (const auto& [t, by] : edges) most = std::max(most, now += by);
  CHECK(most <= shop.people);
  for (auto& [name, spans] : machines) {
    std::sort(spans.begin(), spans.end());
    for (size_t i = 1; i < spans.size(); ++i) {
      INFO(name);
      CHECK(spans[i].first >= spans[i - 1].second);
    }
  }
  CHECK(plan.no_sooner <= plan.finish);
  if (plan.proven) CHECK(plan.gap_h == 0);
}

/// Chains with cures, some of them in the pot, at random but the same every time.
WholeShop made_up(unsigned seed, int jobs, int steps) {
  std::mt19937 rng(seed);
  WholeShop shop;
  shop.people = 1 + static_cast<int>(rng() % 2);
  for (int j = 0; j < jobs; ++j) {
    std::vector<Step> list;
    for (int k = 0; k < steps; ++k) {
      Step s = step("s" + std::to_string(k), 10 + static_cast<double>(rng() % 110), static_cast<double>(rng() % 1500));
      if (k > 0 && rng() % 4) s.after = {"s" + std::to_string(rng() % static_cast<unsigned>(k))};
      if (k > 0 && rng() % 5 == 0)
        s.at_once = true, s.after.clear(), list.back().wait_min = static_cast<double>(rng() % 20);
      if (rng() % 6 == 0) s.needs = rng() % 2 ? "pot" : "chamber";
      list.push_back(s);
    }
    OpenJob o = job("job " + std::to_string(j), list);
    o.start += static_cast<WallMinute>(rng() % 3) * day_min;
    if (rng() % 2) o.due = o.start + (4 + static_cast<WallMinute>(rng() % 8)) * day_min;
    shop.jobs.push_back(o);
  }
  if (rng() % 2) shop.holidays.insert(day_number(at("2026-12-08T00:00")));
  return shop;
}

}  // namespace

TEST_CASE("one job alone takes what lay_out gives it, and a chain is proven", "[days]") {
  WholeShop shop;
  shop.jobs = {job("chain", {step("a", 60, 16 * 60), step("b", 60, 16 * 60, {"a"}), step("c", 30, 0, {"b"})})};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  // Mon 8–9, cure to Tue 1:00; Tue 8–9, cure to Wed 1:00; Wed 8:00–8:30.
  CHECK(wall_text(p->finish) == "2026-12-09T08:30");
  CHECK(p->proven);
  CHECK(p->gap_h == 0);
  CHECK(p->jobs[0].alone == p->finish);
  check_sound(shop, *p);
}

TEST_CASE("two jobs share one person: the second one's hands wait", "[days]") {
  WholeShop shop;
  shop.jobs = {job("first", {step("a", 120, 0)}), job("second", {step("a", 120, 0)})};
  auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(wall_text(p->finish) == "2026-12-07T12:00");
  CHECK(p->proven);
  shop.people = 2;
  p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(wall_text(p->finish) == "2026-12-07T10:00");
  check_sound(shop, *p);
}

TEST_CASE("two jobs with 24 h holds of one pot never overlap", "[days]") {
  WholeShop shop;
  shop.jobs = {casting_job("left", 2, 30, 24, true), casting_job("right", 2, 30, 24, true)};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  check_sound(shop, *p);
  // Four holds of 24 h and their hands, one after the other, on a bench open by day only.
  CHECK(p->finish - shop.jobs[0].start > 4 * day_min);
}

TEST_CASE("nobody is there on a holiday", "[days]") {
  WholeShop shop;
  shop.jobs = {job("j", {step("a", 60, 0)})};
  shop.holidays = {day_number(at("2026-12-07T00:00"))};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(wall_text(p->finish) == "2026-12-08T09:00");
}

TEST_CASE("the job that is promised goes first, and a promise that cannot be held says who has the hands", "[days]") {
  WholeShop shop;
  shop.jobs = {job("long", {step("a", 500, 0), step("b", 500, 0, {"a"})}), job("promised", {step("a", 400, 0)})};
  shop.jobs[1].due = at("2026-12-08T00:00");
  auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->late_h == 0);
  CHECK(wall_text(p->jobs[1].schedule.finish) == "2026-12-07T14:40");
  // Both promised for the same day: one of them is late, and it names the other.
  shop.jobs[0].steps.pop_back();
  shop.jobs[0].due = shop.jobs[1].due;
  p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->late_h > 0);
  const size_t late = p->jobs[0].late_h > 0 ? 0 : 1;
  REQUIRE_FALSE(p->jobs[late].waits_for.empty());
  CHECK(p->jobs[late].waits_for[0] == 1 - late);
  CHECK(p->jobs[late].alone <= *shop.jobs[late].due);
}

TEST_CASE("what is done stays, and nothing else is put before now", "[days]") {
  WholeShop shop;
  shop.jobs = {casting_job("begun", 1)};
  shop.jobs[0].begun.now = at("2026-12-08T10:00");
  shop.jobs[0].begun.done = {{"a", at("2026-12-07T09:10"), at("2026-12-07T10:20")}};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  const Schedule& s = p->jobs[0].schedule;
  CHECK(wall_text(s.placed[0].start) == "2026-12-07T09:10");
  CHECK(wall_text(s.placed[0].end) == "2026-12-08T02:20");
  CHECK(wall_text(s.placed[1].start) == "2026-12-08T10:00");
  // Its hands are behind us: nobody else is kept from the bench by them.
  CHECK(taken_by_others(shop, *p, 1).hands.front().first >= shop.jobs[0].begun.now);
  check_sound(shop, *p);
}

TEST_CASE("a window that what is done has run out of holds nothing up", "[days]") {
  std::vector<Step> steps{step("coat", 30, 60), step("next", 30, 0)};
  steps[1].window = Window{"coat", 60, 240.0};
  OpenJob j = job("coats", steps);
  j.begun.now = at("2026-12-09T08:00");
  j.begun.done = {{"coat", at("2026-12-07T08:00"), at("2026-12-07T08:30")}};
  const auto s = lay_out(j.steps, {j.bench}, j.start, ShopTime{}, j.begun);
  REQUIRE(s);
  CHECK(wall_text(s->placed[1].start) == "2026-12-09T08:00");
}

TEST_CASE("the plan of a few jobs against every order of them", "[days]") {
  int as_good = 0;
  for (unsigned seed = 1; seed <= 40; ++seed) {
    WholeShop shop = made_up(seed, 4, 5);
    shop.seconds = 30;
    const auto p = plan_whole_shop(shop);
    REQUIRE(p);
    check_sound(shop, *p);
    std::vector<size_t> order(shop.jobs.size());
    std::iota(order.begin(), order.end(), size_t{0});
    double least_late = 1e18;
    WallMinute soonest = INT64_MAX;
    do {
      ShopTime taken;
      taken.people = shop.people, taken.holidays = shop.holidays;
      double late = 0;
      WallMinute finish = 0;
      for (const size_t j : order) {
        const auto s = lay_out(shop.jobs[j].steps, {shop.jobs[j].bench}, shop.jobs[j].start, taken);
        REQUIRE(s);
        take(taken, shop.jobs[j].steps, *s);
        finish = std::max(finish, s->finish);
        if (shop.jobs[j].due) late = std::max(late, static_cast<double>(s->finish - *shop.jobs[j].due) / 60);
      }
      if (late < least_late - 1e-9 || (late <= least_late + 1e-9 && finish < soonest))
        least_late = late, soonest = finish;
    } while (std::next_permutation(order.begin(), order.end()));
    INFO("seed " << seed);
    as_good += p->late_h <= least_late + 1e-9 && (p->late_h < least_late - 1e-9 || p->finish <= soonest);
    if (p->proven) CHECK(p->late_h <= least_late + 1e-9);
  }
  // One job moved at a time may end beside the best; it seldom does.
  CHECK(as_good >= 36);
}

TEST_CASE("the bound holds for any schedule of the steps", "[days]") {
  for (unsigned seed = 100; seed < 200; ++seed) {
    const WholeShop shop = made_up(seed, 1, 12);
    const OpenJob& j = shop.jobs[0];
    const auto bound = soonest_end(j.steps, j.bench, j.start, shop.holidays);
    REQUIRE(bound);
    ShopTime alone;
    alone.people = 5, alone.holidays = shop.holidays;
    const auto s = lay_out(j.steps, {j.bench}, j.start, alone);
    REQUIRE(s);
    CHECK(*bound <= s->finish);
  }
}

TEST_CASE("bounds by hand: hands of one person and the cure after the last, one pot and what follows it", "[days]") {
  // Four hours each on one day, then a day's cure: the second of two cannot begin its cure before eight hours are over.
  WholeShop shop;
  for (const char* name : {"one", "two"}) shop.jobs.push_back(job(name, {step("pour", 240, 24 * 60)}));
  shop.people = 1;
  CHECK(bounds_of(shop).finish == at("2026-12-08T16:00"));
  const auto plan = plan_whole_shop(shop);
  REQUIRE(plan);
  CHECK(plan->finish == at("2026-12-08T16:00"));
  CHECK(plan->proven);
  shop.people = 2;
  CHECK(bounds_of(shop).finish == at("2026-12-08T12:00"));
  // One pot for ten hours each, and two hours of hands after it.
  shop.people = 5;
  shop.jobs.clear();
  for (const char* name : {"one", "two", "three"}) {
    Step in = step("in", 10, 590);
    in.needs = "pot";
    shop.jobs.push_back(job(name, {in, step("dress", 120, 0, {"in"})}));
  }
  // Pot: 30 h from Monday 8:00, Tuesday 14:00; two hours after.
  CHECK(bounds_of(shop).finish >= at("2026-12-08T16:00"));
  // A promise that three such cannot all hold: by how much it is missed at least. Two days' hours and one night, of
  // which a wait of 590 minutes fills no more, are 1,670 of 1,800 minutes: Tuesday 19:10 for the third, and two hours.
  for (OpenJob& j : shop.jobs) j.due = at("2026-12-08T12:00");
  CHECK(bounds_of(shop).late_min == 9 * 60 + 10);
  // Hands that come in late leave those before no use: heads count.
  shop.jobs.clear();
  shop.people = 1;
  for (const char* name : {"early", "late"}) shop.jobs.push_back(job(name, {step("cut", 300, 60)}));
  shop.jobs[1].start = at("2026-12-09T08:00");
  CHECK(bounds_of(shop).finish == at("2026-12-09T14:00"));
}

TEST_CASE("no plan of any shop ends before its bounds", "[days]") {
  for (unsigned seed = 300; seed < 360; ++seed) {
    INFO("seed " << seed);
    WholeShop shop = made_up(seed, 4, 7);
    if (seed % 3 == 0) shop.jobs.push_back(casting_job("run", 4, 30, 16, seed % 2 == 0));
    shop.tries = 60, shop.seconds = 30;
    const ShopBounds bounds = bounds_of(shop);
    const auto plan = plan_whole_shop(shop);
    REQUIRE(plan);
    bool all = true;
    for (const PlacedJob& p : plan->jobs) all = all && p.refused.empty();
    if (!all) continue;
    CHECK(plan->finish >= bounds.finish);
    CHECK(plan->late_h * 60 >= bounds.late_min - 1e-6);
    for (size_t j = 0; j < shop.jobs.size(); ++j) CHECK(plan->jobs[j].schedule.finish >= bounds.no_sooner[j]);
  }
}

TEST_CASE("eight castings in one mould bound the finish by their cures", "[days]") {
  const OpenJob j = casting_job("run", 8, 30, 24);
  const auto bound = soonest_end(j.steps, j.bench, j.start);
  const auto s = lay_out(j.steps, {j.bench}, j.start);
  REQUIRE((bound && s));
  CHECK(*bound - j.start > 8 * day_min);
  CHECK(*bound <= s->finish);
  CHECK(static_cast<double>(s->finish - *bound) < 0.35 * static_cast<double>(s->finish - j.start));
}

TEST_CASE("twenty jobs of forty steps: a sound plan with its gap", "[days]") {
  WholeShop shop = made_up(7, 20, 40);
  shop.tries = 40, shop.seconds = 60;
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  check_sound(shop, *p);
  CHECK(p->tried <= 40);
  CHECK((p->proven || p->gap_h > 0));
  // More of them are no worse: fewer days late, or as many and sooner done.
  shop.tries = 120;
  const auto q = plan_whole_shop(shop);
  REQUIRE(q);
  check_sound(shop, *q);
  const double late_p = std::ceil(p->late_h / 24), late_q = std::ceil(q->late_h / 24);
  CHECK((late_q < late_p || (late_q == late_p && q->finish <= p->finish)));
}

TEST_CASE("twenty jobs of forty steps, many made-up shops: within 5 % of what nothing can beat", "[days]") {
  for (const unsigned seed : {1u, 5u, 12u, 19u}) {
    INFO(seed);
    WholeShop shop = made_up(seed, 20, 40);
    shop.tries = 250, shop.seconds = 60;
    const auto p = plan_whole_shop(shop);
    REQUIRE(p);
    check_sound(shop, *p);
    const WallMinute begin = at("2026-12-07T08:00");
    CHECK(p->gap_h * 60 <= 0.05 * static_cast<double>(p->finish - begin));
  }
}

TEST_CASE("one person's hands stand by inside a run; a short run of another job may be done meanwhile", "[days]") {
  WholeShop shop;
  shop.people = 1;
  const auto pour = [](const std::string& name) {
    Step mix = step("mix", 60, 30), cast = step("cast", 60, 0);
    cast.at_once = true;
    return job(name, {mix, cast});
  };
  // 60, half an hour beside the pump, 60: two of them are five hours, not four.
  shop.jobs = {pour("one"), pour("two")};
  CHECK(bounds_of(shop).finish == at("2026-12-07T13:00"));
  auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->finish == at("2026-12-07T13:00"));
  CHECK(p->proven);
  // Twenty minutes of something else fit in; they cost nothing.
  shop.jobs.push_back(job("short", {step("a", 20, 0)}));
  CHECK(bounds_of(shop).finish == at("2026-12-07T13:00"));
  p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->finish == at("2026-12-07T13:00"));
  check_sound(shop, *p);
}

TEST_CASE("days are filled by the runs that fit: no plan of whole jobs does it", "[days]") {
  // Each job's day ends with a rest that only another job's second half fills: 300 + 240, 330 + 210, 360 + 180.
  WholeShop shop;
  shop.people = 1;
  for (const auto& [name, a, b] : {std::tuple{"one", 300, 210}, {"two", 330, 180}, {"three", 360, 240}})
    shop.jobs.push_back(job(name, {step("a", a, 600), step("b", b, 0, {"a"})}));
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  check_sound(shop, *p);
  CHECK(p->finish <= at("2026-12-10T17:00"));
  CHECK(p->finish >= p->no_sooner);
}

TEST_CASE("any run that is ready may fill a day, not only the first of its job's list", "[days]") {
  // While the glue of each job dries, only the second branch of its list is there to be done; listed last.
  WholeShop shop;
  shop.people = 1;
  for (const char* name : {"one", "two"})
    shop.jobs.push_back(job(name, {step("glue", 60, 22 * 60), step("sand", 60, 22 * 60, {"glue"}),
                                   step("paint", 60, 0, {"sand"}), step("print", 210, 0)}));
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  check_sound(shop, *p);
  // Monday: both glued and both prints, 540 minutes; then two days of an hour each.
  CHECK(p->finish == at("2026-12-09T10:00"));
  CHECK(p->proven);
}

TEST_CASE("a mould is kept from its casting to its demoulding while days are filled", "[days]") {
  WholeShop shop;
  shop.people = 2;
  for (const char* name : {"one", "two", "three"}) {
    OpenJob j = job(name, {step("a", 60, 16 * 60), step("b", 60, 16 * 60)});
    j.steps[0].holds = "mould 1", j.steps[1].holds = "mould 2";
    for (int c = 1; c <= 5; ++c) {
      Step s = step("cast-" + std::to_string(c), 45, 7 * 60, {"a", "b"});
      s.any_of = {"mould 1", "mould 2"};
      Step out = step("out-" + std::to_string(c), 20, 0, {s.id});
      out.same_as = s.id;
      j.steps.push_back(s), j.steps.push_back(out);
      j.steps.push_back(step("trim-" + std::to_string(c), 35, 0, {out.id}));
    }
    shop.jobs.push_back(j);
  }
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  check_sound(shop, *p);
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    std::map<std::string, std::vector<WallSpan>> in;
    const auto& placed = p->jobs[j].schedule.placed;
    for (size_t k = 2; k + 1 < placed.size(); k += 3) {
      REQUIRE(placed[k].held == placed[k + 1].held);
      in[placed[k].held].push_back({placed[k].start, placed[k + 1].hands_end});
    }
    CHECK(in.size() == 2);
    for (auto& [mould, spans] : in) {
      std::sort(spans.begin(), spans.end());
      for (size_t i = 1; i < spans.size(); ++i) CHECK(spans[i].first >= spans[i - 1].second);
    }
  }
}

TEST_CASE("clamps are held from the closing of a mould to the end of its cure, whatever lies between", "[days]") {
  // Closed in the morning, poured when the resin is warm; one set of clamps for two jobs.
  WholeShop shop;
  shop.people = 2;
  shop.places = {{"clamps", 1}};
  for (const char* name : {"one", "two"}) {
    Step made = step("made", 10, 0), close = step("close", 30, 0, {"made"}), warm = step("warm", 10, 180, {"close"});
    Step pour = step("pour", 30, 60, {"warm"});
    made.holds = "mould 1", close.any_of = {"mould 1"}, pour.same_as = "close";
    close.besides = pour.besides = {"clamps"};
    shop.jobs.push_back(job(name, {made, close, warm, pour}));
  }
  const auto spans = [&](const WholePlan& p) {
    ShopTime taken;
    for (size_t j = 0; j < 2; ++j) take(taken, shop.jobs[j].steps, p.jobs[j].schedule);
    auto of = taken.machines["clamps"];
    std::sort(of.begin(), of.end());
    return of;
  };
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  REQUIRE(p->jobs[0].refused.empty());
  REQUIRE(p->jobs[1].refused.empty());
  check_sound(shop, *p);
  const auto held = spans(*p);
  REQUIRE(held.size() == 4);
  for (size_t i = 1; i < held.size(); ++i) CHECK(held[i].first >= held[i - 1].second);
  // 8:10 closed, 8:40 warmed, 11:50 poured, 13:20 free; the other closed then, and poured at 17:00: shut, so next day.
  CHECK(held[0].first == at("2026-12-07T08:10"));
  CHECK(held[1].second == at("2026-12-07T13:20"));
  CHECK(p->finish == at("2026-12-08T09:30"));
  // Two sets: both at once.
  shop.places = {{"clamps", 2}};
  const auto q = plan_whole_shop(shop);
  REQUIRE(q);
  CHECK(q->finish == at("2026-12-07T13:20"));
  // Of one job alone round another's clamps: closed after them, not before with the clamps taken in between.
  ShopTime others;
  others.places = {{"clamps", 1}};
  others.machines["clamps"] = {{at("2026-12-07T09:00"), at("2026-12-07T10:00")}};
  const auto alone = lay_out(shop.jobs[0].steps, {eight_to_five}, shop.jobs[0].start, others);
  REQUIRE(alone);
  CHECK(alone->placed[1].start == at("2026-12-07T10:00"));
  CHECK(alone->finish == at("2026-12-07T15:10"));
}

TEST_CASE("of plans that end alike the one with fewer broken evenings", "[days]") {
  // A long job decides the end; a short one may be done in an evening or the next morning.
  const auto step = [](const char* id, double hands, double wait) {
    Step s;
    s.id = s.name = id, s.hands_min = hands, s.wait_min = wait;
    return s;
  };
  BenchHours late;
  late.days.fill(true);
  late.from_min = 12 * 60, late.to_min = 21 * 60;
  WholeShop shop;
  shop.jobs.push_back({"a", "Long", {step("a", 60, 5 * 1440)}, late, *parse_wall_time("2026-12-01T12:00"), {}, {}});
  shop.jobs.push_back({"b", "Short", {step("b", 120, 0)}, late, *parse_wall_time("2026-12-01T12:00"), {}, {}});
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->evenings == 0);
  // Work that fills a day into the evening is told as one.
  shop.jobs[1].steps = {step("b", 500, 0)};
  const auto q = plan_whole_shop(shop);
  REQUIRE(q);
  CHECK(q->evenings == 1);
}

TEST_CASE("a job that cannot be laid out is told by itself, the others go on", "[days]") {
  WholeShop shop;
  shop.jobs = {job("too long", {step("a", 600, 0)}), job("fine", {step("a", 60, 0)})};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  CHECK(p->jobs[0].refused.find("600 minutes") != std::string::npos);
  CHECK(p->jobs[1].refused.empty());
  const OpenJob one = shop.jobs[1];
  shop.jobs.assign(201, one);
  CHECK_FALSE(plan_whole_shop(shop));
}

TEST_CASE("round what others take: hands, machines, as many people as there are", "[days]") {
  std::vector<Step> steps{step("a", 60, 0)};
  ShopTime taken;
  taken.hands = {{at("2026-12-07T08:00"), at("2026-12-07T09:30")}};
  const auto start = at("2026-12-07T08:00");
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->finish) == "2026-12-07T10:30");
  taken.people = 2;
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->finish) == "2026-12-07T09:00");
  taken.hands.push_back(taken.hands[0]);
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->finish) == "2026-12-07T10:30");
  taken.hands.clear();
  taken.machines["pot"] = {{at("2026-12-07T08:30"), at("2026-12-08T08:30")}};
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->finish) == "2026-12-07T09:00");
  steps[0].needs = "pot";
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->finish) == "2026-12-08T09:30");
  // The pot stays taken while what is in it cures: it must be free all the while.
  steps[0].wait_min = 24 * 60;
  taken.machines["pot"] = {{at("2026-12-08T00:00"), at("2026-12-08T12:00")}};
  CHECK(wall_text(lay_out(steps, {eight_to_five}, start, taken)->placed[0].start) == "2026-12-08T12:00");
}

TEST_CASE(
    "places that are counted: two sets of clamps for three castings, one extractor; not counted they bind nothing",
    "[days]") {
  WholeShop shop;
  shop.people = 3;
  for (const char* name : {"one", "two", "three"}) {
    Step s = step("cast", 60, 24 * 60);
    s.besides = {"clamps"};
    shop.jobs.push_back(job(name, {s}));
  }
  const auto end = [&] {
    const auto p = plan_whole_shop(shop);
    REQUIRE(p);
    CHECK(p->proven);
    check_sound(shop, *p);
    CHECK(bounds_of(shop).finish <= p->finish);
    return wall_text(p->finish);
  };
  CHECK(end() == "2026-12-08T09:00");  // all three at once
  shop.places = {{"clamps", 3}};
  CHECK(end() == "2026-12-08T09:00");
  shop.places = {{"clamps", 2}};
  const auto two = plan_whole_shop(shop);
  REQUIRE(two);
  CHECK(wall_text(two->finish) == "2026-12-09T10:00");  // the third when two are out of their clamps
  shop.places = {{"clamps", 1}};
  const auto one = plan_whole_shop(shop);
  REQUIRE(one);
  CHECK(wall_text(one->finish) == "2026-12-10T11:00");
  // Of one job alone they count as well, and a step that is dragged there is told who has them.
  ShopTime others = taken_by_others(shop, *one, 2);
  const auto alone = lay_out(shop.jobs[2].steps, {eight_to_five}, shop.jobs[2].start, others);
  REQUIRE(alone);
  CHECK(alone->finish <= one->finish);
  const auto pinned = try_pin(shop.jobs[2].steps, {eight_to_five}, shop.jobs[2].start, others, {}, *alone, "cast",
                              at("2026-12-07T09:30"));
  if (pinned && !pinned->holds) CHECK(pinned->why.find("clamps") != std::string::npos);
  std::vector<Step> twice{step("a", 60, 600), step("b", 60, 600)};
  for (Step& s : twice) s.besides = {"fume place"};
  ShopTime empty;
  empty.people = 2;
  CHECK(wall_text(lay_out(twice, {eight_to_five}, at("2026-12-07T08:00"), empty)->placed[1].start) ==
        "2026-12-07T08:00");
  empty.places = {{"fume place", 1}};
  CHECK(wall_text(lay_out(twice, {eight_to_five}, at("2026-12-07T08:00"), empty)->placed[1].start) ==
        "2026-12-08T08:00");
}

TEST_CASE("a calendar of several jobs has every hand, an alarm each, and folds", "[days]") {
  WholeShop shop;
  shop.jobs = {casting_job("Corner ornament of the tide recorder's long-case, second set of four", 2),
               casting_job("latch", 1)};
  const auto p = plan_whole_shop(shop);
  REQUIRE(p);
  std::vector<CalendarPart> parts;
  size_t pieces = 0;
  for (size_t j = 0; j < 2; ++j) {
    parts.push_back({shop.jobs[j].id, shop.jobs[j].name, &shop.jobs[j].steps, &p->jobs[j].schedule});
    for (const Placed& placed : p->jobs[j].schedule.placed) pieces += placed.hands.size();
  }
  const std::string text = calendar_text(parts);
  const auto count = [&](const std::string& what) {
    size_t n = 0;
    for (size_t i = text.find(what); i != std::string::npos; i = text.find(what, i + 1)) ++n;
    return n;
  };
  CHECK(count("BEGIN:VEVENT") == pieces);
  CHECK(count("BEGIN:VALARM") == pieces);
  CHECK(count("TRIGGER:-PT10M") == pieces);
  std::set<std::string> uids;
  for (size_t from = 0; from < text.size();) {
    const size_t end = std::min(text.find("\r\n", from), text.size());
    const std::string line = text.substr(from, end - from);
    CHECK(line.size() <= 75);
    if (line.starts_with("UID:")) CHECK(uids.insert(line).second);
    from = end + 2;
  }
  CHECK(calendar_text(parts, std::nullopt).find("VALARM") == std::string::npos);
}

TEST_CASE("a step dragged holds there, or says what breaks", "[days]") {
  const OpenJob j = casting_job("j", 1);
  const auto before = lay_out(j.steps, {j.bench}, j.start);
  REQUIRE(before);
  const auto put = [&](const char* id, const char* when, const ShopTime& others = {}) {
    auto t = try_pin(j.steps, {j.bench}, j.start, others, {}, *before, id, at(when));
    REQUIRE(t);
    return *t;
  };
  // Later on the same day: it holds; its cure still ends by night, so that nothing else moves.
  PinTry t = put("a", "2026-12-07T10:00");
  CHECK(t.holds);
  CHECK(t.later_min == 0);
  CHECK(t.why.empty());
  // At the day's end: what follows it is drawn along.
  t = put("a", "2026-12-07T16:00");
  CHECK(t.holds);
  CHECK(t.why.find("\"b\" moves to Tue 09:00") != std::string::npos);
  // By night.
  t = put("a", "2026-12-07T22:00");
  CHECK_FALSE(t.holds);
  CHECK(t.why.find("bench is shut") != std::string::npos);
  CHECK(wall_text(t.placed) == "2026-12-08T08:00");
  // Before what it follows is cured.
  t = put("b", "2026-12-07T14:00");
  CHECK_FALSE(t.holds);
  CHECK(t.why.find("\"a\" is over") != std::string::npos);
  // Another job has the hands.
  ShopTime others;
  others.hands = {{at("2026-12-07T10:00"), at("2026-12-07T12:00")}};
  t = put("a", "2026-12-07T10:30", others);
  CHECK_FALSE(t.holds);
  CHECK(t.why.find("another job") != std::string::npos);
  CHECK_FALSE(try_pin(j.steps, {j.bench}, j.start, {}, {}, *before, "none", j.start));
}

}  // namespace tests_days_whole_shop
