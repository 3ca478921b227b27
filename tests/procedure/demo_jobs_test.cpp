// The demo's jobs, one in each form at least: worked at the bench from the first step to the booked casting; figures of
// Forms, Mix, procedure and what is built agree.
#include <catch2/catch.hpp>
#include <filesystem>
#include <set>

#include "ledger/bench_books.hpp"
#include "ledger/demo.hpp"
#include "mesh/load.hpp"
#include "overview/bench_screens.hpp"
#include "overview/sheet.hpp"
#include "procedure/sound.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"
#include "stages/building.hpp"

namespace tests_procedure_demo_jobs {

using namespace palinform;

namespace {

struct Demo {
  shapes::TempDir dir;
  std::unique_ptr<Workshop> workshop;
  Demo() {
    const auto path = write_demo(dir.str(), std::filesystem::path(PALINFORM_DEMO_MESHES).parent_path().string());
    REQUIRE(path);
    workshop = *Workshop::open(*path);
  }
};

/// Leaves every screen as its targets ask, weighed by a scale of a tenth of a gram, until nothing is left.
void work_through(Workshop& w, Job job, BenchRun run, WallSecond now) {
  size_t demoulded = 0;
  for (int guard = 0; guard < 2000 && !finished(run); ++guard) {
    const BenchScreen s = run.screens[static_cast<size_t>(run.at)];
    INFO(job.name << ": " << s.title << " | " << s.instruction);
    CHECK_FALSE(s.instruction.empty());
    const std::optional<double> reads = s.target_g ? std::optional(std::round(*s.target_g * 10) / 10) : std::nullopt;
    const auto pressed = press_next(w, job, run, now += 60, "2026-11-27", reads, 21.0);
    REQUIRE(pressed);
    run = pressed->run, job = pressed->job;
    demoulded += s.demoulds;
  }
  REQUIRE(finished(run));
  CHECK(demoulded > 0);
}

}  // namespace

TEST_CASE("each demo job is worked at the bench, whatever its form, and its figures agree", "[procedure-demo]") {
  Demo demo;
  Workshop& w = *demo.workshop;
  const Shop& shop = starting_shop();
  std::set<Form> forms;
  const auto rows = w.jobs();
  REQUIRE(rows);
  for (const JobRow& row : *rows) {
    Job job = *w.load_job(row.id);
    if (job.mix.silicone_id.empty()) continue;  // just opened: nothing is planned yet
    INFO(job.name);
    // Air and filling are looked at elsewhere; no step or figure here follows from them.
    std::vector<Node> nodes = job_nodes(shop, [&](const std::string& hash) { return w.mesh(hash); });
    const std::set<std::string_view> elsewhere{"cavity",     "network", "flow",      "air-plan", "air-advice",
                                               "rubber-air", "filling", "soundness", "thin",     "questions"};
    // Solids only where the mix is weighed by them; what is built is built below.
    const bool apart = !job.split.piece_pulls.empty() || job.split.bores.size() > 1;
    std::erase_if(nodes, [&](const Node& n) {
      return elsewhere.contains(n.name) || (!apart && (n.name == "solids" || n.name == "assembly"));
    });
    Planner plan(std::move(nodes), 2, shared_results());
    plan.set(Subject{job, {}, rough_study()});
    plan.wait();
    const auto work = plan.fresh(results::procedure);
    const auto mix = plan.fresh(results::mix);
    const auto days = plan.fresh(results::days);
    REQUIRE(work);
    REQUIRE(mix);
    REQUIRE(days);
    const bool first = forms.insert(work->facts.form).second;
    for (const std::string& fault : faults_of(work->procedure, work->facts)) FAIL_CHECK(fault);
    const auto lacks = words_it_lacks(work->facts);
    for (const ProcedureStep& s : work->procedure.steps) {
      INFO(s.what);
      CHECK(lacking_word(s, lacks) == "");
    }
    // Every mass is what Mix says.
    for (const PourMix& p : mix->pours) {
      const std::string name = p.pour_name();
      double g = 0;
      for (const ProcedureStep& s : work->procedure.steps)
        if (s.pour == name && s.mould <= 1 && s.casting <= 1)
          for (const Amount& a : s.amounts) g += a.g;
      INFO(name);
      CHECK(g == Approx(p.weighing.total_g * p.batches.count));
    }
    // … and what Forms has, and, within 1 %, what is written out to be printed and looked at.
    const auto built_for = plan.fresh(results::forms);
    if (built_for && first) {
      const FormPlan& form = built_for->plan();
      double rubber = 0, jacket = 0;
      for (const PourMix& p : mix->pours)
        (p.is_resin ? jacket : p.jacket ? jacket : rubber) += p.is_resin ? 0 : p.volume_mm3;
      CHECK(rubber == Approx(form.rubber_mm3).epsilon(1e-6));
      if (form.form == Form::skin) CHECK(jacket == Approx(form.hard_mm3).epsilon(1e-6));
      const auto master = plan.fresh(results::master);
      const auto split = plan.fresh(results::split);
      const auto mould = plan.fresh(results::mould);
      const auto pins = plan.fresh(results::pins);
      const auto keys = plan.fresh(results::keys);
      const auto pieces = plan.fresh(results::pieces);
      BuildOrder order =
          build_order(job, shop, *built_for, pins.get(), nullptr, pieces.get(), plan.fresh(results::inserts).get());
      order.voxel_mm = 0.5;  // a test's fineness; the shells and cups are as fine as they are written
      const MouldOptions how = mould_options(job, shop, wall_of(job, shop, master->own_size_mm));
      const auto built = build_files(*master->mesh, *master->rays, split->split, how, keys ? keys->plan : KeyPlan{},
                                     plan.fresh(results::bores)->bores, built_for->box, order, job.name);
      REQUIRE(built);
      double poured = 0, hard = 0;
      for (const BuiltMesh& b : built->meshes) {
        if (b.name.starts_with("rubber_") || b.name == "skin" || b.name == "strip_rubber") poured += b.volume_mm3;
        if (b.name.starts_with("jacket_") || b.name.starts_with("cup_") || b.name == "core") hard += b.volume_mm3;
      }
      if (pins && in_halves(form.form))
        for (const PinPlan& p : pins->pins)
          poured += 3.14159265 / 4 * p.diameter_mm * p.diameter_mm * (p.tail_mm + p.forms_mm + p.head_mm);
      CHECK(poured == Approx(form.rubber_mm3).epsilon(0.01));
      CHECK(hard == Approx(form.hard_mm3).epsilon(0.01));
      if (form.form == Form::cup_core) CHECK(work->facts.print_h == Approx(hard / 180 / 60).epsilon(0.01));
    }
    // The sheet has the form's own things and no other's.
    const Sheet sheet = make_sheet(job, plan, shop);
    for (const std::string& line : sheet.steps) {
      ProcedureStep s;
      s.what = line;
      INFO(line);
      CHECK(lacking_word(s, lacks) == "");
    }
    // Worked through, with the scale.
    const size_t castings = job.check.castings.size(), moulds = w.moulds(job.id)->size();
    const auto run = begin_bench_run(job, *work, *mix, days.get(), shop, {}, 1'800'000'000);
    REQUIRE(run);
    work_through(w, job, *run, 1'800'000'000);
    job = *w.load_job(row.id);
    const int pulls = (work->facts.copies + work->facts.a_pull - 1) / work->facts.a_pull;
    CHECK(job.check.castings.size() == castings + static_cast<size_t>(pulls));
    CHECK(w.moulds(job.id)->size() == moulds + static_cast<size_t>(work->facts.moulds));
    // One more, in the mould that stands there now.
    BenchBeginning more;
    more.at = BeginAt::one_more;
    more.mould_id = w.moulds(job.id)->front().id;
    const auto again = begin_bench_run(job, *work, *mix, days.get(), shop, more, 1'900'000'000);
    REQUIRE(again);
    CHECK(again->screens.front().act == Act::look);
    work_through(w, job, *again, 1'900'000'000);
    CHECK(w.load_job(row.id)->check.castings.size() == job.check.castings.size() + 1);
    CHECK(w.moulds(job.id)->size() == moulds + static_cast<size_t>(work->facts.moulds));
  }
  CHECK(forms.size() == static_cast<size_t>(form_count));
}

}  // namespace tests_procedure_demo_jobs
