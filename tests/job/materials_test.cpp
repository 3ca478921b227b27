// A job keeps the figures it was planned with; the shelf may change under it.
#include <catch2/catch.hpp>

#include "job/apply.hpp"
#include "ledger/archive.hpp"
#include "overview/bench_screens.hpp"
#include "overview/overview.hpp"
#include "rough_study.hpp"
#include "shelf/changes.hpp"
#include "stages/materials.hpp"
#include "stages/weighing.hpp"

namespace tests_job_materials {

using namespace palinform;

namespace {

Job bare_job() {
  Job job;
  job.id = "a-job";
  job.mix.silicone_id = "con-25-white";
  job.mix.resin_id = "pu-flex-40";
  job.days.start = "2026-12-01T08:00";
  job.original.bare = {{58, 50, 16}, 17.5, std::nullopt, 1.1};
  job.mix = with_copies(job.mix, starting_shop());
  return job;
}

/// The shelf with the rubber's pot life and price changed.
Shop changed_shop() {
  std::vector<Material> shelf = starting_shop().bottles;
  for (Material& m : shelf)
    if (m.id == "con-25-white") {
      m.times.front().pot_life_min /= 4;
      m.figures["density_g_cm3"].value *= 1.02;
      ++m.version;
    }
  return with_shelf(starting_shop(), shelf);
}

struct Planned {
  const Shop& shop;
  std::shared_ptr<ResultStore> store = std::make_shared<ResultStore>();
  std::unique_ptr<Planner> planner{};
  void run(const Job& job) {
    planner = std::make_unique<Planner>(
        without_solids(job_nodes(shop,
                                 [](const std::string& h) -> Result<std::shared_ptr<const TriMesh>> {
                                   return Error{"no such mesh", h, ""};
                                 })),
        2, store);
    planner->set(Subject{job, {}, rough_study()});
    planner->wait();
  }
  const Finding* finding(const Job& job, const std::string& code) {
    last = findings_of(job, *planner);
    for (const OpenFinding& f : last)
      if (f.finding.code == code) return &f.finding;
    return nullptr;
  }
  std::vector<OpenFinding> last{};
};

}  // namespace

TEST_CASE("a job keeps the figures of its materials until the new ones are taken", "[job]") {
  const Job job = bare_job();
  REQUIRE((job.mix.rubber && job.mix.resin));
  Planned before{starting_shop()};
  before.run(job);
  const auto mix = before.planner->fresh(results::mix);
  REQUIRE(mix);
  CHECK_FALSE(before.finding(job, "shelf-changed"));

  const Shop changed = changed_shop();
  Planned after{changed, before.store};
  after.run(job);
  const auto same = after.planner->fresh(results::mix);
  REQUIRE(same);
  CHECK(same->pours[0].batches.pot_life_min == mix->pours[0].batches.pot_life_min);
  CHECK(same->rubber_g == mix->rubber_g);
  const Finding* f = after.finding(job, "shelf-changed");
  REQUIRE(f);
  CHECK(f->where.material == "con-25-white");
  CHECK(f->why.find("pot life at 23 °C") != std::string::npos);
  CHECK(f->why.find("density") != std::string::npos);

  REQUIRE(f->remedies.size() == 1);
  Job taken = *edited(job, f->remedies[0].edit);
  taken.mix = with_copies(taken.mix, changed);
  after.run(taken);
  const auto now = after.planner->fresh(results::mix);
  REQUIRE(now);
  CHECK(now->pours[0].batches.pot_life_min == Approx(mix->pours[0].batches.pot_life_min / 4));
  CHECK(now->rubber_g > mix->rubber_g);
  CHECK_FALSE(after.finding(taken, "shelf-changed"));
}

TEST_CASE("a material that is retired or gone goes on in the jobs that have it", "[job]") {
  const Job job = bare_job();
  std::vector<Material> shelf = starting_shop().bottles;
  for (Material& m : shelf)
    if (m.id == "con-25-white") m.retired = true;
  const Shop retired = with_shelf(starting_shop(), shelf);
  CHECK_FALSE(retired.shelf.silicone("con-25-white"));
  std::erase_if(shelf, [](const Material& m) { return m.id == "con-25-white"; });
  const Shop gone = with_shelf(starting_shop(), shelf);
  for (const Shop* shop : {&retired, &gone}) {
    CHECK(planned_rubber(job.mix, *shop)->name == job.mix.rubber->name);
    Planned p{*shop};
    p.run(job);
    CHECK(p.planner->fresh(results::mix));
    CHECK(p.planner->fresh(results::days));
    const Finding* f = p.finding(job, "shelf-without");
    REQUIRE(f);
    CHECK(f->severity == Severity::note);
  }
}

TEST_CASE("another material brings another copy; the same one keeps its own", "[job]") {
  Job job = bare_job();
  const Shop changed = changed_shop();
  CHECK(with_copies(job.mix, changed) == job.mix);
  MixSetup other = job.mix;
  other.silicone_id = "add-40-translucent";
  other = with_copies(other, changed);
  REQUIRE(other.rubber);
  CHECK(other.rubber->id == "add-40-translucent");
  other.silicone_id.clear();
  CHECK_FALSE(with_copies(other, changed).rubber);
}

TEST_CASE("a job that is handed on carries its materials, and what cannot be is refused", "[job]") {
  const Job job = bare_job();
  const auto bytes = archive_bytes(job, nullptr, {});
  REQUIRE(bytes);
  const auto back = read_archive(*bytes, "handed.palinform");
  REQUIRE(back);
  CHECK(back->job == job);
  Job bad = job;
  bad.mix.rubber->figures["density_g_cm3"].value = 40;
  const auto refused = check_job(bad);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().text().find("density") != std::string::npos);
}

TEST_CASE("what changed is told in the order a sheet is read, with units", "[shelf]") {
  const Material was = starting_shop().bottles.front();
  CHECK(changes_between(was, was).empty());
  Material is = was;
  is.name = "Another name";
  is.version = 9;
  CHECK(changes_between(was, is).empty());
  is.mixing.b = was.mixing.b * 2;
  is.figures["viscosity_mpa_s"].value = 12'345;
  is.figures.erase("price_per_kg");
  is.times.push_back({35, 1, {}, {}, {}, {}});
  const auto told = changes_between(was, is);
  REQUIRE(told.size() == 4);
  CHECK(told[0].find("ratio") == 0);
  CHECK(told[1] == "times at 35 °C");
  CHECK(told[2].find("→ 12345 mPa·s") != std::string::npos);
  CHECK(told[3].find("→ none") != std::string::npos);
}

TEST_CASE("what hates wet air goes in last, on the readings and at the bench", "[job]") {
  Job job = bare_job();
  const auto casting = [&](const Job& j) {
    Planned p{starting_shop()};
    p.run(j);
    const auto mix = p.planner->fresh(results::mix);
    REQUIRE(mix);
    return mix->pours.back();
  };
  const PourMix plain = casting(job);
  CHECK_FALSE(plain.b_first);
  job.mix.resin->moisture_part = "A";
  const PourMix turned = casting(job);
  CHECK(turned.b_first);
  CHECK(std::string(turned.part(false)) == "B");
  CHECK(turned.weighing.readings_g[1] == Approx(turned.weighing.readings_g[0] + turned.weighing.b_g));
  CHECK(turned.weighing.readings_g[2] == Approx(plain.weighing.readings_g[2]));
  // Coloured: the readings still end at all that is in the cup.
  job.mix.colour = ColourRecipe{"c", "Signal", {{"pigment-paste", "Pigment paste", 0.01}}, {}};
  const PourMix tinted = casting(job);
  REQUIRE(tinted.tints.size() == 1);
  CHECK(tinted.no_colour.empty());
  CHECK(tinted.weighing.readings_g[2] ==
        Approx(tinted.weighing.readings_g[0] + tinted.weighing.total_g + tinted.tints[0].g));
  CHECK(tinted.poured_first_g() <= tinted.part_g(false) + 1e-9);
  // On a coarse scale the pigment comes in a master batch, which brings some of the first part along.
  job.mix.scale_division_g = 0.2;
  const PourMix coarse = casting(job);
  REQUIRE(coarse.tints.size() == 1);
  REQUIRE(coarse.tints[0].master_batch);
  CHECK(coarse.weighing.readings_g[2] ==
        Approx(coarse.weighing.readings_g[0] + coarse.weighing.total_g + coarse.tints[0].g));
  CHECK(coarse.poured_first_g() == Approx(coarse.part_g(false) - (coarse.tints[0].stock_use_g - coarse.tints[0].g)));
}

TEST_CASE("filler goes through the whole job: cup, readings, bench, viscosity, shrinkage, what is bought", "[job]") {
  Job job = bare_job();
  Planned plain{starting_shop()};
  plain.run(job);
  const auto before = *plain.planner->fresh(results::mix);
  // The starting shelf has one of every kind.
  const auto powder = std::find_if(starting_shop().bottles.begin(), starting_shop().bottles.end(),
                                   [](const Material& m) { return m.kind == MaterialKind::filler; });
  REQUIRE(powder != starting_shop().bottles.end());
  job.mix.resin_adds = {{powder->id, powder->name, Additive::filler, 0.3, 2.7, 0.6}};
  REQUIRE(check_job(job));
  Planned p{starting_shop()};
  p.run(job);
  const auto mix = *p.planner->fresh(results::mix);
  const PourMix &was = before.pours.back(), &cast = mix.pours.back();
  REQUIRE(cast.adds.size() == 1);
  CHECK(cast.adds[0].g / (cast.weighing.total_g + cast.adds_g) == Approx(0.3).margin(0.003));
  CHECK(cast.weighing.readings_g[2] ==
        Approx(cast.weighing.readings_g[0] + cast.weighing.total_g + cast.adds_g).margin(1e-6));
  CHECK(cast.density_g_cm3 > was.density_g_cm3 * 1.15);
  CHECK(cast.viscosity_mpa_s > was.viscosity_mpa_s * 1.4);
  // It still fills the mould: volume of all in the cup is no less than before.
  CHECK((cast.weighing.total_g + cast.adds_g) / cast.density_g_cm3 >= cast.volume_mm3 * 1e-3);
  CHECK(std::find(cast.cautions.begin(), cast.cautions.end(), starting_shop().shelf.hazards.at("dust")) !=
        cast.cautions.end());
  const auto was_resin = planned_resin(bare_job().mix, starting_shop()),
             now_resin = planned_resin(job.mix, starting_shop());
  CHECK(now_resin->shrink_thick_pct < was_resin->shrink_thick_pct);
  const auto needs = needs_of(mix, job.mix, 1, starting_shop());
  const auto bought =
      std::find_if(needs.begin(), needs.end(), [&](const Need& n) { return n.material_id == powder->id; });
  REQUIRE(bought != needs.end());
  CHECK(bought->mass_g == Approx(cast.adds_g * cast.batches.count * job.copies));
  // The rubber has none of it, and the rubber's own goes into the rubber alone.
  CHECK(mix.pours.front().adds.empty());
  // At the bench it comes onto the first part, and B's reading has it in.
  const auto work = p.planner->fresh(results::procedure);
  REQUIRE(work);
  const auto screens = bench_screens(work->procedure, bench_order(work->procedure, nullptr), mix, 0.1);
  const auto at = std::find_if(screens.begin(), screens.end(), [](const BenchScreen& s) { return !s.adds_id.empty(); });
  REQUIRE(at != screens.end());
  CHECK(at->instruction.find(powder->name + " onto part A") != std::string::npos);
  CHECK(*(at + 1)->from_g == Approx(cast.weighing.readings_g[1] + cast.adds_g));
  CHECK((at + 1)->ratio_to_last == Approx(cast.weighing.b_g / cast.weighing.a_g));
  // So much that no liquid is left stops, in words; the plan goes on without it.
  job.mix.resin_adds[0].share = 0.88, job.mix.resin_adds[0].most_share = 0;
  p.run(job);
  const Finding* solid = p.finding(job, "addition-solid");
  REQUIRE(solid);
  CHECK(solid->severity == Severity::stop);
  CHECK_FALSE(solid->answerable);
  // A pinch of it is hardly a reading.
  job.mix.resin_adds[0].share = 0.005;
  p.run(job);
  CHECK(p.finding(job, "addition-small"));
}

TEST_CASE("a soft and a firm half: each is weighed, cured, bought and warned of as its own rubber", "[job]") {
  Job job = bare_job();  // a tin rubber
  job.mix.silicone_b_id = "add-40-translucent";
  job.mix = with_copies(job.mix, starting_shop());
  REQUIRE(job.mix.rubber_b);
  CHECK(*job_from_json(job_to_json(job), "x") == job);
  Planned p{starting_shop()};
  p.run(job);
  const auto mix = p.planner->fresh(results::mix);
  REQUIRE(mix);
  REQUIRE(mix->pours.size() == 3);
  CHECK(mix->pours[0].material_id == "con-25-white");
  CHECK(mix->pours[1].material_id == "add-40-translucent");
  CHECK(mix->rubber_b_g == Approx(mix->pours[1].weighing.total_g * mix->pours[1].batches.count));
  const Shop& shop = starting_shop();
  const double cost = mix->pours[0].weighing.total_g * 1e-3 * shop.shelf.silicone("con-25-white")->price_per_kg *
                          mix->pours[0].batches.count +
                      mix->rubber_b_g * 1e-3 * shop.shelf.silicone("add-40-translucent")->price_per_kg;
  CHECK(mix->rubber_cost == Approx(cost));
  double bought_a = 0, bought_b = 0;
  for (const Need& n : needs_of(*mix, job.mix, 1, shop)) {
    if (n.material_id == "con-25-white") bought_a = n.mass_g;
    if (n.material_id == "add-40-translucent") bought_b = n.mass_g;
  }
  CHECK(bought_a == Approx(mix->rubber_g - mix->rubber_b_g));
  CHECK(bought_b == Approx(mix->rubber_b_g));
  // An addition rubber poured onto a tin rubber stays wet: a stop. The other way round it cures.
  const auto met = [&](const Job& j) {
    p.run(j);
    const auto r = p.planner->fresh(results::meetings);
    REQUIRE(r);
    return std::any_of(r->met.begin(), r->met.end(), [](const Met& m) { return m.rule->id == "tin-master"; });
  };
  CHECK(met(job));
  // Each half waits for its own cure.
  const auto work = p.planner->fresh(results::procedure);
  REQUIRE(work);
  double waits[2] = {0, 0};
  for (const ProcedureStep& s : work->procedure.steps)
    if (s.act == Act::pour && (s.pour == "a" || s.pour == "b")) waits[s.pour == "b"] = s.wait_min;
  CHECK(waits[0] == Approx(work->facts.rubber_cure.demould_min));
  REQUIRE(work->facts.rubber[1].cure);
  CHECK(waits[1] == Approx(work->facts.rubber[1].cure->demould_min));
  Job quick = job;
  quick.mix.rubber_b->times.front().demould_h = 1.5;
  p.run(quick);
  CHECK(p.planner->fresh(results::procedure)->facts.rubber[1].cure->demould_min < 0.5 * waits[0]);
  CHECK((p.finding(job, "two-rubbers") != nullptr) ==
        (std::abs(shop.shelf.silicone("con-25-white")->shrink_pct -
                  shop.shelf.silicone("add-40-translucent")->shrink_pct) > 0.02));
  std::swap(job.mix.silicone_id, job.mix.silicone_b_id);
  job.mix = with_copies(job.mix, shop);
  CHECK_FALSE(met(job));
  // Where all is poured whole there is no side b.
  job.mould.form = "cut";
  p.run(job);
  CHECK(p.planner->fresh(results::mix)->rubber_b_g == 0);
}

}  // namespace tests_job_materials
