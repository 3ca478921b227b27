#include <atomic>
#include <catch2/catch.hpp>
#include <chrono>
#include <nlohmann/json.hpp>
#include <random>
#include <thread>

#include "job/apply.hpp"
#include "job/history.hpp"
#include "nodes/nodes.hpp"
#include "overview/bench_screens.hpp"
#include "overview/overview.hpp"
#include "overview/sheet.hpp"
#include "procedure/sound.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"

namespace tests_job_job {

using namespace palinform;

namespace {

Job full_job() {
  Job j;
  j.id = "0123456789abcdef0123456789abcdef";
  j.name = "Latch \"left\" – Ø";
  j.client = "Saltmarsh Tide Office";
  j.copies = 7;
  j.original.mesh = {std::string(32, 'a'), "latch.stl", LengthUnit::inch, 1234};
  j.original.duties = {Duty::load, Duty::mains};
  MeasuredSize s;
  s.id = "s1", s.name = "Bore", s.kind = SizeKind::bore, s.formed = FormedBy::pin;
  s.nominal_mm = 8, s.lower_mm = 8, s.upper_mm = 8.015;
  s.readings_mm = {8.01, 8.0000001};
  s.pin_mm = 8.007, s.stock_mm = 0.5, s.section_mm = 4.25;
  s.from_mm = {1, 2, 3}, s.to_mm = {1.0 / 3, -2, 0};
  s.limits_guessed = true;
  j.original.sizes = {s};
  j.mix.silicone_id = "add-40-translucent", j.mix.resin_id = "pu-tough-black";
  j.size.master = MasterKind::scaled, j.size.scale = 1.00412;
  j.size.room_c = 19.5, j.size.gel_c = 31;
  j.split.pull = Vec3{0, 0, -1};
  j.mould.wall_mm = 12.5, j.mould.master_g = 29.8;
  j.mix.scale_division_g = 0.01, j.mix.waste_pct = 7, j.mix.cup_tare_g = 31, j.mix.cup_ml = 750,
  j.mix.rubber_air = AirBy::rest;
  j.check.rule = DecisionRule::plain;
  j.flow = {true,
            12.5,
            200,
            Vec3{1, 2, 3},
            {{4, 5, 6}, {7, 8, 9}},
            FillAid::vacuum,
            250,
            3,
            480,
            6.5,
            1.6,
            44,
            22,
            15,
            30,
            4,
            true,
            true,
            {{1, 1, 2}},
            true,
            0.12,
            {Vec3{3, 2, 1}, 6, 18, SetDown::left, false}};
  j.mould.key_mm = 9, j.mould.key_clear_mm = 5, j.mould.cover = "plate";
  j.mould.coats = {{0.9, false, false}, {1.4, true, true}};
  j.days = {
      "2026-11-30T08:00",
      2,
      {{true, false, true, false, true, false, false}, 500, 1000},
      {{"box", {90, std::nullopt, *parse_wall_time("2026-12-01T09:00")}}, {"seal", {std::nullopt, 300, std::nullopt}}},
      {},
      Ends::both,
      "2026-12-18"};
  j.original.sizes[0].limits_from = "H7";
  j.original.sizes[0].finish = Finishing::ream;
  j.original.sizes[0].fit_rms_mm = 0.003, j.original.sizes[0].depth_mm = 12,
  j.original.sizes[0].scale_share = {0.5, 0.5, 0};
  j.original.mesh.exact = {{FaceKind::bore, {1, 2, 3}, {0, 0, 1}, 8, 12}};
  j.original.mesh.deflection_mm = 0.004;
  j.original.mesh.mended = "Mended exactly: 2 holes filled.";
  j.original.bare = {{40, 30, 20}, 12.5, 14, 1.2};
  j.original.marks = {{FaceMark::Kind::show, {1, 2, 3}}, {FaceMark::Kind::keep_clear, {4, 5, 6}}};
  j.original.finish = {Gloss::texture, Later::glue, "wood"};
  j.original.master_steps = {{MasterStep::Kind::mirror, 2, {}, 0, "", ""},
                             {MasterStep::Kind::stock, 0, {1, 2, 3}, 0.8, "", ""},
                             {MasterStep::Kind::join, 0, {}, 0, std::string(32, 'b'), "left.stl"}};
  j.mix.needs = {60, 80, true, 70, "tough", "opaque", "black", 12, 8};
  j.size.learned = LearnedShrink{"add-40-translucent", "pu-tough-black", -0.12, 0.03, "2 castings"};
  j.split.marks = {{{{1, 2, 3}, 2}}, {{{4, 5, 6}, 1}}, {}, {{{7, 8, 9}, 3}}};
  j.split.pull_weights.height = 0.5;
  j.split.bores = {{BoreTreatment::Kind::tape, {1, 1, 1}, 2.5}};
  j.split.piece_pulls = {{1, 0, 0}, {0, -1, 0}};
  j.split.way = "clay-bed";
  j.mould.form = "squeeze";
  j.mould.keys = "bars";
  j.mould.key_places = {{3, 4, 5}};
  j.mould.box = "bricks";
  j.mould.build = {4, 0.3, 0.5, 180, 200, 150, 120};
  j.size.axis_scale = {1.01, 1.02, 1.03};
  j.size.generations = 2;
  j.check.castings = {{1, "2026-11-20", "first", {{"s1", {8.02, 8.03}}}}, {2, "2026-11-21", "", {}}};
  j.answers = {{"duty/load", "checked by a licensed engineer", "2026-11-22T10:00:00"}};
  j.seed = 99;
  return j;
}

TriMesh demo_part() { return shapes::bored_box({20, 15, 10}, 4, 2, 64); }

struct Plan {
  std::shared_ptr<const TriMesh> mesh = std::make_shared<const TriMesh>(demo_part());
  std::atomic<int> loads{0};
  Planner planner{without_solids(job_nodes(starting_shop(),
                                           [this](const std::string&) -> Result<std::shared_ptr<const TriMesh>> {
                                             ++loads;
                                             return mesh;
                                           })),
                  2};
  Job job() const {
    Job j;
    j.id = new_id();
    j.original.mesh = {hash_of(*mesh).hex(), "part.stl", LengthUnit::mm, mesh->triangles.size()};
    j.mix.silicone_id = "add-40-translucent";
    j.mix.resin_id = "pu-rigid-ivory";
    MeasuredSize s;
    s.id = "s1", s.name = "Length", s.nominal_mm = 40, s.lower_mm = 39.9, s.upper_mm = 40.1;
    j.original.sizes.push_back(s);
    s.id = "s2", s.name = "Bore", s.kind = SizeKind::bore, s.nominal_mm = 8, s.lower_mm = 8, s.upper_mm = 8.015;
    j.original.sizes.push_back(s);
    return j;
  }
};

}  // namespace

TEST_CASE("a job goes through JSON and back unchanged", "[job]") {
  const Job j = full_job();
  const auto back = job_from_json(job_to_json(j), "test");
  REQUIRE(back);
  CHECK(*back == j);
  CHECK(*job_from_json(job_to_json(Job{}), "test") != j);
  Job bare = j;
  bare.check.castings.clear();
  CHECK(*job_from_json(job_to_json(j, false), "test") == bare);
  const std::string text = job_to_json(j);
  CHECK(text.find("\"schema\": " + std::to_string(job_schema)) != std::string::npos);
  CHECK(text == job_to_json(*back));
}

TEST_CASE("what is no job, a newer job or a broken one is refused in words", "[job]") {
  const auto refused = [](const std::string& text, const char* word) {
    const auto r = job_from_json(text, "latch.json");
    REQUIRE_FALSE(r);
    INFO(r.error().text());
    CHECK(r.error().where == "latch.json");
    CHECK(r.error().text().find(word) != std::string::npos);
  };
  refused("", "does not read");
  refused("[1,2]", "does not read");
  refused("{\"name\":\"x\"}", "does not read");
  refused("{\"schema\":99}", "newer");
  refused("{\"schema\":1,\"copies\":\"three\"}", "copies");
  refused("{\"schema\":1,\"copies\":-2}", "copies");
  refused("{\"schema\":1,\"sizes\":[{\"name\":\"A\",\"nominal_mm\":5,\"lower_mm\":6,\"upper_mm\":4}]}",
          "above the upper");
  refused("{\"schema\":1,\"sizes\":[{\"name\":\"A\",\"kind\":\"round\"}]}", "is unknown");
  refused("{\"schema\":1,\"sizes\":5}", "list");
  refused("{\"schema\":1,\"pull\":[0,0,0]}", "pull");
  refused("{\"schema\":1,\"mesh\":{\"unit\":\"furlong\"}}", "unit");
  refused("{\"schema\":1,\"mix\":{\"degas\":\"yes\"}}", "true or false");
  CHECK(job_from_json("{\"schema\":1,\"future\":true}", "x"));  // unknown keys pass
}

TEST_CASE("mutated job files never crash and never pass unchecked", "[job]") {
  const std::string good = job_to_json(full_job());
  std::mt19937 rnd(11);
  for (int i = 0; i < 1500; ++i) {
    std::string b = good;
    for (int k = 0; k < 3; ++k) {
      const size_t at = rnd() % b.size();
      switch (rnd() % 3) {
        case 0:
          b[at] = static_cast<char>(rnd());
          break;
        case 1:
          b.erase(at, 1 + rnd() % 8);
          break;
        default:
          b.insert(at, b.substr(rnd() % b.size(), rnd() % 12));
      }
    }
    const auto r = job_from_json(b, "mutant");
    if (r) CHECK(check_job(*r));
  }
}

TEST_CASE("undo and redo are old jobs", "[job]") {
  Job a = full_job(), b = a, c = a;
  b.copies = 8;
  c.copies = 9;
  History h(a);
  CHECK_FALSE(h.edit(a, "nothing"));
  CHECK(h.edit(b, "eight"));
  CHECK(h.edit(c, "nine"));
  CHECK(h.undo());
  CHECK(h.now() == b);
  CHECK(h.redo_text() == "nine");
  CHECK(h.undo());
  CHECK(h.now() == a);
  CHECK_FALSE(h.undo());
  CHECK(h.redo());
  CHECK(h.redo());
  CHECK(h.now() == c);
  CHECK_FALSE(h.redo());
  h.undo();
  Job d = a;
  d.copies = 10;
  h.edit(d, "ten");
  CHECK_FALSE(h.can_redo());
  for (int i = 0; i < 20; ++i) {
    d.size.scale = 1 + 0.001 * (i + 1);
    h.edit(d, "drag", "scale");
  }
  CHECK(h.undo());
  CHECK(h.now().size.scale == a.size.scale);  // a drag is one step
}

TEST_CASE("the planner runs what is missing and remembers the rest", "[job]") {
  Plan p;
  Job job = p.job();
  p.planner.set(Subject{job, {}, rough_study()});
  CHECK(p.planner.busy());
  p.planner.wait();
  for (const char* node : {"original", "soundness", "size", "split", "mould", "mix"}) {
    INFO(node << ": " << p.planner.state(node).error.text());
    CHECK(p.planner.state(node).state == Freshness::fresh);
  }
  CHECK(p.planner.state(results::check).state == Freshness::absent);
  CHECK(p.loads == 1);
  const auto mould = p.planner.fresh(results::mould);
  const auto split = p.planner.fresh(results::split);
  // A change that the mould does not read leaves it alone, to the very object.
  job.size.room_c = 25;
  p.planner.set(Subject{job, {}, rough_study()});
  p.planner.wait();
  CHECK(p.planner.fresh(results::mould).get() == mould.get());
  CHECK(p.loads == 1);
  // One that it reads makes a new one; going back finds the old at once.
  job.mould.wall_mm = 15;
  p.planner.set(Subject{job, {}, rough_study()});
  CHECK(p.planner.state(results::mould).state == Freshness::running);
  CHECK(p.planner.state(results::mould).stale);
  CHECK(p.planner.newest(results::mould).get() == mould.get());
  CHECK(p.planner.fresh(results::mould) == nullptr);
  p.planner.wait();
  CHECK(p.planner.fresh(results::mould)->mould.wall_mm == 15);
  job.mould.wall_mm.reset();
  p.planner.set(Subject{job, {}, rough_study()});
  CHECK_FALSE(p.planner.busy());
  CHECK(p.planner.fresh(results::mould).get() == mould.get());
  CHECK(p.planner.fresh(results::split).get() == split.get());
  job.original.mesh = {};
  p.planner.set(Subject{job, {}, rough_study()});
  CHECK(p.planner.state(results::original).state == Freshness::absent);
  CHECK(p.planner.state(results::mould).state == Freshness::absent);
}

TEST_CASE("findings, states and tally are read off the results", "[job]") {
  Plan p;
  Job job = p.job();
  job.original.duties = {Duty::load};
  p.planner.set(Subject{job, {}, rough_study()});
  p.planner.wait();
  auto findings = findings_of(job, p.planner);
  REQUIRE_FALSE(findings.empty());
  CHECK(findings.front().finding.severity == Severity::stop);
  for (size_t i = 1; i < findings.size(); ++i) CHECK(findings[i - 1].finding.severity >= findings[i].finding.severity);
  CHECK_FALSE(ready(findings));
  auto states = stage_states(job, p.planner);
  CHECK(states[0].knot == Knot::stopped);
  CHECK(states[static_cast<size_t>(Stage::check)].knot == Knot::untouched);
  CHECK(states[static_cast<size_t>(Stage::split)].figure.find("no undercuts") != std::string::npos);
  const Tally t = tally_of(job, p.planner);
  REQUIRE(t.rubber_g);
  const auto mix = p.planner.fresh(results::mix);
  const auto mould = p.planner.fresh(results::mould);
  CHECK(*t.rubber_g >= mould->mould.rubber_mm3 * 1e-3 * 1.10);  // the losses come on top
  CHECK(*t.cost == Approx(mix->rubber_cost + mix->resin_cost));
  CHECK(t.tightest.find("Bore") == 0);

  // A safety stop wants writing; then it is answered, stays answered, and prints on the sheet.
  const Finding duty = findings.front().finding.code == "duty" ? findings.front().finding : findings[1].finding;
  CHECK_FALSE(accept_finding(job, duty, "ok"));
  const auto accepted = accept_finding(job, duty, "only a display piece, agreed with the curator");
  REQUIRE(accepted);
  p.planner.set(Subject{*accepted, {}, rough_study()});
  p.planner.wait();
  bool answered = false;
  for (const OpenFinding& f : findings_of(*accepted, p.planner))
    if (f.finding.code == "duty") answered = f.answer.has_value();
  CHECK(answered);
  const Sheet sheet = make_sheet(*accepted, p.planner, starting_shop());
  REQUIRE_FALSE(sheet.stops.empty());
  CHECK(sheet.stops[0].find("curator") != std::string::npos);
  CHECK(sheet.tables.size() + sheet.record.size() >= 4);
  CHECK(sheet.cautions.size() >= 2);
  CHECK(sheet.steps.size() >= 8);
}

TEST_CASE("remedies are edits, and they help", "[job]") {
  Plan p;
  Job job = p.job();
  p.planner.set(Subject{job, {}, rough_study()});
  p.planner.wait();
  const auto sizes = p.planner.fresh(results::size);
  REQUIRE(sizes);
  const double before = sizes->predictions[1].p_in_limits;
  CHECK(before < 0.5);
  int tried = 0;
  for (const Finding& f : sizes->findings)
    for (const Remedy& r : f.remedies) {
      INFO(r.code());
      const auto next = edited(job, r.edit);
      REQUIRE(next);
      CHECK_FALSE(*next == job);
      const SizeResult after = predict_sizes(*next, starting_shop());
      for (size_t i = 0; i < job.original.sizes.size(); ++i)
        if (job.original.sizes[i].id == f.where.size)
          CHECK(after.predictions[i].p_in_limits > sizes->predictions[i].p_in_limits);
      ++tried;
    }
  CHECK(tried >= 3);
  CHECK_FALSE(edited(job, edits::MendMesh{}));
  CHECK_FALSE(edited(job, edits::PinSize{"nope", 3}));
  CHECK_FALSE(edited(job, edits::SetWall{-3}));
  CHECK(edited(job, edits::SetPull{{0, 1, 0}})->split.pull == Vec3{0, 1, 0});
}

TEST_CASE("an open mesh stops the split and offers the mending", "[job]") {
  Plan p;
  auto open = std::make_shared<TriMesh>(demo_part());
  open->triangles.pop_back();
  p.mesh = open;
  Job job = p.job();
  p.planner.set(Subject{job, {}, rough_study()});
  p.planner.wait();
  CHECK(p.planner.state(results::split).state == Freshness::failed);
  CHECK(p.planner.state(results::mould).state == Freshness::absent);
  const auto f = findings_of(job, p.planner);
  REQUIRE(f.front().finding.code == "mesh-unsound");
  CHECK(f.front().finding.remedies[0].code() == "repair");
  CHECK(stage_states(job, p.planner)[static_cast<size_t>(Stage::split)].knot == Knot::stopped);
}

TEST_CASE("the same job gives the same results, whatever ran before", "[job]") {
  Plan a, b;
  Job job = a.job();
  a.planner.set(Subject{job, {}, rough_study()});
  a.planner.wait();
  Job other = job;
  other.split.pull = Vec3{1, 0, 0};
  b.planner.set(Subject{other, {}, rough_study()});
  b.planner.wait();
  b.planner.set(Subject{job, {}, rough_study()});
  b.planner.wait();
  const auto ma = a.planner.fresh(results::mould), mb = b.planner.fresh(results::mould);
  CHECK(ma->mould.rubber_mm3 == mb->mould.rubber_mm3);
  CHECK(ma->mould.parting_mm == mb->mould.parting_mm);
  CHECK(a.planner.fresh(results::split)->split.loops[0].points_mm ==
        b.planner.fresh(results::split)->split.loops[0].points_mm);
}

TEST_CASE("a form of its own brings its own pours to Mix and Days", "[job]") {
  Plan p;
  Job j = p.job();
  j.days.start = "2026-11-30T08:00";
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  const auto two = p.planner.fresh(results::mix);
  REQUIRE(two);
  CHECK(two->pours.size() == 3);  // a, b and the casting
  REQUIRE(p.planner.fresh(results::forms));
  REQUIRE(p.planner.fresh(results::keys));
  CHECK(p.planner.fresh(results::keys)->plan.assembly_unique);
  REQUIRE(p.planner.fresh(results::board));
  CHECK(p.planner.fresh(results::board)->clearance_mm > 0.2);
  const auto days_two = p.planner.fresh(results::days);
  j.mould.form = "skin";
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  const auto skin = p.planner.fresh(results::mix);
  REQUIRE(skin);
  CHECK(skin->pours.size() == 15);  // five coats and a shell in two layers a side, the casting
  CHECK(skin->rubber_g < 0.6 * two->rubber_g);
  const auto days = p.planner.fresh(results::days);
  REQUIRE(days);
  int brushed = 0;
  bool jacket = false, turned = false;
  const auto work = p.planner.fresh(results::procedure);
  REQUIRE(work);
  for (const ProcedureStep& s : work->procedure.steps) {
    brushed += s.act == Act::brush;
    jacket |= s.act == Act::lay_jacket;
    turned |= s.act == Act::turn;
  }
  CHECK(brushed == 10);  // one side after the other
  CHECK(jacket);
  CHECK(turned);
  CHECK(faults_of(work->procedure, work->facts).empty());
  CHECK(days->schedule.finish != days_two->schedule.finish);
  // Every pour finds its mix on the bench's screens.
  for (const BenchScreen& s : bench_screens(work->procedure, bench_order(work->procedure, days.get()), *skin, 0.1))
    if (s.act == Act::brush || s.act == Act::lay_jacket) CHECK(s.poured_g > 1);
  CHECK_FALSE(p.planner.fresh(results::keys));
  REQUIRE(p.planner.fresh(results::board));
  CHECK(p.planner.fresh(results::board)->whole);
  // A form that cannot be is a stop, with the advised one as a button.
  j.mould.form = "cup-core";
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  bool stopped = false;
  for (const OpenFinding& f : findings_of(j, p.planner))
    if (f.finding.code == "form-no") {
      stopped = f.finding.severity == Severity::stop;
      REQUIRE_FALSE(f.finding.remedies.empty());
      const auto fixed_job = edited(j, f.finding.remedies[0].edit);
      REQUIRE(fixed_job);
      CHECK(fixed_job->mould.form != "cup-core");
    }
  CHECK(stopped);
}

TEST_CASE("one half brushed: its coats and its backing in Mix, steps, days and what is written", "[job]") {
  Plan p;
  Job j = p.job();
  j.days.start = "2026-11-30T08:00";
  j.mould.stage_a = true;
  auto next = edited(j, edits::BrushHalf{"a"});
  REQUIRE(next);
  j = *next;
  CHECK_FALSE(j.mould.stage_a);
  CHECK_FALSE(edited(j, edits::BrushHalf{"c"}));
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  const auto forms = p.planner.fresh(results::forms);
  const auto mould = p.planner.fresh(results::mould);
  const auto mix = p.planner.fresh(results::mix);
  const auto work = p.planner.fresh(results::procedure);
  REQUIRE((forms && mould && mix && work && p.planner.fresh(results::days)));
  REQUIRE(forms->brushed);
  CHECK(forms->brushed->side == "a");
  CHECK((forms->brushed->rubber && forms->brushed->backing));
  // Coats and backing are the half that would have been poured.
  double coats = 0, backing = 0, b = 0;
  for (const PourMix& x : mix->pours)
    (x.is_resin ? backing : x.jacket ? backing : x.side == "a" ? coats : b) += x.is_resin ? 0 : x.volume_mm3;
  // … and with the other half what the box holds; keys of the bed go from one to the other.
  CHECK(coats + backing + b == Approx(mould->mould.rubber_mm3).epsilon(1e-6));
  CHECK(coats + backing == Approx(mould->mould.pours[0].volume_mm3).epsilon(0.02));
  CHECK(backing > 0.2 * (coats + backing));
  CHECK(mix->jacket_g > 0);
  CHECK(faults_of(work->procedure, work->facts).empty());
  CHECK(std::count_if(work->procedure.steps.begin(), work->procedure.steps.end(),
                      [](const ProcedureStep& s) { return s.act == Act::brush; }) == 5);
  const auto days = p.planner.fresh(results::days);
  for (const BenchScreen& s : bench_screens(work->procedure, bench_order(work->procedure, days.get()), *mix, 0.1))
    if (s.act == Act::brush || s.act == Act::lay_jacket) CHECK(s.poured_g > 1);
  // Nowhere is the brushed half told as a pour: no level that rises, no second stage, its rubber in the strand.
  for (const auto& pour : p.planner.fresh(results::rubber_air)->pours) CHECK(pour.name == "b");
  for (const OpenFinding& f : findings_of(j, p.planner))
    if (f.finding.code == "pour-stages") CHECK(f.finding.what.find("Pour b") != std::string::npos);
  const std::string strand = stage_states(j, p.planner)[static_cast<size_t>(Stage::mould)].figure;
  CHECK(strand == "a brushed · " + grouped(forms->plan().rubber_mm3 * 1e-3) + " ml");
  // Coats that are alike are told of once.
  std::map<std::string, int> told;
  for (const Finding& f : mix->findings)
    if (f.where.step.starts_with("pour a coat")) ++told[f.code];
  for (const auto& [code, times] : told) {
    INFO(code);
    CHECK(times == 1);
  }
  j.mix.scale_division_g = 1;
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  int unsafe = 0;
  for (const Finding& f : p.planner.fresh(results::mix)->findings) {
    if (f.code != "dose-unsafe" || !f.where.step.starts_with("pour a coat")) continue;
    ++unsafe;
    CHECK(f.why.find("so it is with a coat ") != std::string::npos);
  }
  CHECK(unsafe == 1);
  // Coats of one's own.
  j.mould.coats = {{1.0, false, false}, {2.0, true, true}};
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  CHECK(p.planner.fresh(results::forms)->plan().skin_mm == 3);
  double thinner = 0;
  for (const PourMix& x : p.planner.fresh(results::mix)->pours)
    thinner += x.side == "a" && !x.jacket ? x.volume_mm3 : 0;
  CHECK(thinner < 0.8 * coats);
  // Over two masters in one box: again the three together are what that box holds, and about twice the coats.
  j.mould.masters = 2;
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  const auto two = p.planner.fresh(results::forms);
  REQUIRE(two);
  REQUIRE(two->brushed);
  double over_two = 0, held = 0;
  for (const PourMix& x : p.planner.fresh(results::mix)->pours) {
    if (x.is_resin) continue;
    held += x.volume_mm3;
    over_two += x.side == "a" && !x.jacket ? x.volume_mm3 : 0;
  }
  const auto block = p.planner.fresh(results::mould);
  CHECK(held == Approx(block->block().rubber_mm3).epsilon(1e-6));
  CHECK(over_two > 1.6 * thinner);
  CHECK(over_two < 2.1 * thinner);
  CHECK(p.planner.fresh(results::mix)->castings_a_pull == 2);
  // In another form nothing of a brush is left anywhere.
  j.mould.form = "squeeze";
  p.planner.set(Subject{j, {}, rough_study()});
  p.planner.wait();
  CHECK_FALSE(p.planner.fresh(results::forms)->brushed);
  for (const PourMix& x : p.planner.fresh(results::mix)->pours) CHECK((x.side.empty() && !x.jacket));
}

TEST_CASE("remedies of the planner: pieces, tape, keys", "[job]") {
  Job j;
  const auto piece = edited(j, edits::AddPiece{{1, 0, 0}});
  REQUIRE(piece);
  REQUIRE(piece->split.piece_pulls.size() == 1);
  const auto more = edited(*piece, edits::AddPieces{{{0, 1, 0}, {0, -1, 0}}});
  REQUIRE(more);
  CHECK(more->split.piece_pulls.size() == 3);
  CHECK(edited(*more, edits::DropPiece{0})->split.piece_pulls.size() == 2);
  CHECK_FALSE(edited(*more, edits::DropPiece{7}));
  const auto taped = edited(j, edits::TapeUndercut{{1, 2, 3}, 4.5});
  REQUIRE(taped);
  CHECK(taped->split.bores.at(0).radius_mm == 4.5);
  j.mould.key_places = {{1, 2, 3}};
  const auto keys = edited(j, edits::PlaceKeys{"rim"});
  REQUIRE(keys);
  CHECK(keys->mould.keys == "rim");
  CHECK(keys->mould.key_places.empty());
  CHECK_FALSE(edited(j, edits::PlaceKeys{"glue"}));
  j.mould.form = "brick";
  CHECK_FALSE(check_job(j));
}

}  // namespace tests_job_job
