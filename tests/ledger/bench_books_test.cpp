// What presses at the bench write into the books besides the pour itself: pigment and filler, castings with their
// colour, patch and cup tests, one batch for several jobs.
#include <catch2/catch.hpp>

#include "ledger/bench_books.hpp"
#include "shapes.hpp"

namespace tests_ledger_bench_books {

using namespace palinform;

namespace {

struct OwnBooks {
  shapes::TempDir dir;
  std::unique_ptr<Workshop> w;
  int64_t resin = 0, paste = 0;
  OwnBooks() {
    w = *Workshop::open(dir / "w.sqlite");
    for (const char* id : {"j", "k"}) {
      Job job;
      job.id = id, job.name = std::string("Job ") + id;
      REQUIRE(w->save_job(job, "made"));
      REQUIRE(w->save_mould({0, id, "", std::string("mould of ") + id, "2026-11-20", 0, "", ""}));
    }
    resin = *w->save_lot({0, "resin", "R-1", "2026-11-01", "", 1000, 1000});
    paste = *w->save_lot({0, "paste", "P-1", "2026-11-01", "", 100, 100});
  }
  double left(int64_t id) {
    for (const Lot& l : *w->lots())
      if (l.id == id) return l.left_g;
    return -1;
  }
  Pressed next(const Pressed& p, std::optional<double> g = {}) {
    const auto r = press_next(*w, p.job, p.run, now += 60, "2026-11-27", g, 21.0);
    REQUIRE(r);
    return *r;
  }
  WallSecond now = 1'800'000'000;
};

/// Cup, pigment, A, B, pour, demould.
std::vector<BenchScreen> coloured_cast() {
  std::vector<BenchScreen> s(6);
  s[0].target_g = 20, s[0].from_g = 0;
  s[1].target_g = 22, s[1].from_g = 20, s[1].part_g = 2, s[1].adds_id = "paste", s[1].adds_name = "Paste";
  s[2].target_g = 122, s[2].from_g = 22, s[2].part_g = 100, s[2].part = "A";
  s[3].target_g = 222, s[3].from_g = 122, s[3].part_g = 100, s[3].part = "B", s[3].ratio_to_last = 1;
  for (BenchScreen& x : s) x.step_id = "weigh", x.band_g = 1;
  s[4].step_id = "pour", s[4].title = "Pour", s[4].material_id = "resin", s[4].poured_g = 200, s[4].is_casting = true;
  s[4].ends_pot_life = true, s[4].casting = 1;
  s[5].step_id = "demould", s[5].demoulds = true, s[5].casting = 1;
  return s;
}

}  // namespace

TEST_CASE("pigment is booked to its lot beside the pour, and comes back with it", "[ledger]") {
  OwnBooks shop;
  Pressed p{begin_run("j", coloured_cast(), shop.now), *shop.w->load_job("j"), ""};
  for (const double g : {20.0, 22.5, 123.0, 223.5}) p = shop.next(p, g);
  p = shop.next(p);
  CHECK(shop.left(shop.resin) == Approx(1000 - 201));
  CHECK(shop.left(shop.paste) == Approx(100 - 2.5));
  CHECK(shop.w->pours("j")->size() == 2);
  // The casting keeps what it really got.
  p = shop.next(p);
  REQUIRE(p.job.check.castings.size() == 1);
  REQUIRE(p.job.check.castings[0].colour.size() == 1);
  CHECK(p.job.check.castings[0].colour[0].share == Approx(2.5 / 203.5));
  CHECK(shop.w->load_job("j")->check.castings[0].colour[0].name == "Paste");
  // Back past the pour: both return.
  for (int k = 0; k < 2; ++k) {
    const auto back = press_back(*shop.w, p.job, p.run, shop.now += 60);
    REQUIRE(back);
    p = *back;
  }
  CHECK(shop.left(shop.resin) == Approx(1000));
  CHECK(shop.left(shop.paste) == Approx(100));
  CHECK(p.job.check.castings.empty());
  // … and on again, and seen later to have failed: every line of it.
  p = shop.next(p);
  CHECK(shop.left(shop.paste) == Approx(100 - 2.5));
  REQUIRE(press_failed(*shop.w, p.job, p.run, 4, "bubbles"));
  int failed = 0;
  for (const PourRecord& r : *shop.w->pours("j")) failed += r.failed;
  CHECK(failed == 2);
}

TEST_CASE("the emptied cup on the scale teaches what stays in it; no cup, a full one or a bare pan teach nothing",
          "[ledger]") {
  for (const auto& [reads, learnt] : std::vector<std::pair<std::optional<double>, bool>>{
           {23.4, true}, {std::nullopt, false}, {0.0, false}, {222.0, false}}) {
    OwnBooks shop;
    auto s = coloured_cast();
    s[4].wets_mm2 = 18'000, s[4].density_g_cm3 = 1.05;
    Pressed p{begin_run("j", s, shop.now), *shop.w->load_job("j"), ""};
    CHECK(*run_from_json(run_to_json(p.run)) == p.run);
    for (const double g : {20.0, 22.0, 122.0, 222.0}) p = shop.next(p, g);
    p = shop.next(p, reads);
    const auto kept = *shop.w->emptied();
    REQUIRE(kept.size() == (learnt ? 1 : 0));
    if (!learnt) continue;
    CHECK(kept[0].left_g == Approx(3.4));
    CHECK(kept[0].material_id == "resin");
    CHECK(kept[0].wetted_mm2 == 18'000);
    REQUIRE(press_back(*shop.w, p.job, p.run, shop.now));
    CHECK(shop.w->emptied()->empty());
  }
}

TEST_CASE("a test at the bench is kept with its lot: done it cured, gone wrong it did not; back drops it", "[ledger]") {
  for (const bool wrong : {false, true}) {
    OwnBooks shop;
    std::vector<BenchScreen> s(2);
    s[0].title = "Look at the patch", s[0].step_id = "patch-read";
    s[0].test = TestWanted{TrialKind::patch, "wood", "resin", shop.resin};
    s[1].title = "Pour", s[1].step_id = "pour";
    Pressed p{begin_run("j", s, shop.now), *shop.w->load_job("j"), ""};
    CHECK(*run_from_json(run_to_json(p.run)) == p.run);
    if (wrong) p.run = note_screen(p.run, "sticky", true, shop.now);
    p = shop.next(p);
    auto trials = *shop.w->trials();
    REQUIRE(trials.size() == 1);
    CHECK(trials[0].cured == !wrong);
    CHECK(trials[0].lot_id == shop.resin);
    CHECK(trials[0].surface == "wood");
    CHECK(trials[0].on == "2026-11-27");
    const auto back = press_back(*shop.w, p.job, p.run, shop.now);
    REQUIRE(back);
    CHECK(shop.w->trials()->empty());
    shop.next(*back);
    CHECK(shop.w->trials()->size() == 1);
  }
}

TEST_CASE("one batch for two jobs: each has its share of every gram, its pull and its casting", "[ledger]") {
  OwnBooks shop;
  auto s = coloured_cast();
  s[4].share = 0.75, s[4].ends_pot_life = false, s[4].poured_g = 150;
  BenchScreen other = s[4];
  other.step_id = "pour-k", other.for_job = "k", other.share = 0.25, other.ends_pot_life = true, other.poured_g = 50;
  other.casting = 2;
  s.insert(s.begin() + 5, other);
  BenchScreen out = s.back();
  out.step_id = "demould-k", out.for_job = "k", out.casting = 2;
  s.push_back(out);
  Pressed p{begin_run("j", s, shop.now), *shop.w->load_job("j"), ""};
  CHECK(*run_from_json(run_to_json(p.run)) == p.run);
  for (const double g : {20.0, 22.0, 122.0, 222.0}) p = shop.next(p, g);
  while (!finished(p.run)) p = shop.next(p);
  double j = 0, k = 0;
  for (const PourRecord& r : *shop.w->pours()) (r.job_id == "k" ? k : j) += r.mass_g;
  CHECK(j == Approx(0.75 * 202));
  CHECK(k == Approx(0.25 * 202));
  CHECK(shop.left(shop.resin) == Approx(800));
  CHECK(shop.left(shop.paste) == Approx(98));
  for (const char* id : {"j", "k"}) {
    const Job job = *shop.w->load_job(id);
    REQUIRE(job.check.castings.size() == 1);
    CHECK(job.check.castings[0].colour[0].share == Approx(2.0 / 202));
    CHECK(shop.w->moulds(id)->front().pulls == 1);
  }
  CHECK(p.job.id == "j");
  CHECK(p.job.check.castings.size() == 1);
  // Back over the other's casting takes it out of the other job.
  const auto back = press_back(*shop.w, p.job, p.run, shop.now);
  REQUIRE(back);
  CHECK(shop.w->load_job("k")->check.castings.empty());
  CHECK(shop.w->load_job("j")->check.castings.size() == 1);
}

TEST_CASE("a block's wall is kept with the mould it made, and goes when the press is taken back", "[ledger]") {
  OwnBooks shop;
  std::vector<BenchScreen> s(2);
  s[0].step_id = "open", s[0].title = "Open the mould", s[0].makes_mould = true;
  s[1].step_id = "look";
  BenchRun begun = begin_run("j", s, shop.now);
  begun.block = {"", 8, 60, 28};
  // The run is put away and taken up again between the presses.
  const auto again = run_from_json(run_to_json(begun));
  REQUIRE(again);
  CHECK(again->block == begun.block);
  Pressed p = shop.next({*again, *shop.w->load_job("j"), ""});
  auto lives = *shop.w->block_lives();
  REQUIRE(lives.size() == 1);
  CHECK(lives[0].wall_mm == 8);
  CHECK(lives[0].part_mm == 60);
  CHECK(lives[0].shore_a == 28);
  CHECK(lives[0].pulls == 0);
  CHECK_FALSE(lives[0].retired);
  // What becomes of the mould is read from the shelf.
  MouldRecord made = shop.w->moulds("j")->front();
  made.pulls = 14, made.retired_on = "2026-12-30", made.retired_why = "worn";
  REQUIRE(shop.w->save_mould(made));
  lives = *shop.w->block_lives();
  CHECK(lives[0].pulls == 14);
  CHECK(lives[0].retired);
  REQUIRE(press_back(*shop.w, p.job, p.run, shop.now));
  CHECK(shop.w->block_lives()->empty());
}

}  // namespace tests_ledger_bench_books
