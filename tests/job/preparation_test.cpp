#include <catch2/catch.hpp>
#include <map>

#include "findings/size.hpp"
#include "job/apply.hpp"
#include "job/other_mesh.hpp"
#include "job/parts.hpp"
#include "mesh/soundness.hpp"
#include "overview/overview.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"
#include "stages/preparation.hpp"

namespace tests_job_preparation {

using namespace palinform;

namespace {

struct Plan {
  std::map<std::string, std::shared_ptr<const TriMesh>> meshes;
  Planner planner{without_solids(job_nodes(starting_shop(),
                                           [this](const std::string& hash) -> Result<std::shared_ptr<const TriMesh>> {
                                             if (!meshes.contains(hash)) return Error{"no such mesh", hash, ""};
                                             return meshes[hash];
                                           })),
                  2};
  std::string keep(TriMesh m) {
    auto p = std::make_shared<const TriMesh>(std::move(m));
    const std::string hash = hash_of(*p).hex();
    meshes[hash] = p;
    return hash;
  }
  Job job(TriMesh m) {
    Job j;
    j.id = new_id();
    j.original.mesh = {keep(std::move(m)), "part.stl", LengthUnit::mm, 0};
    j.mix.silicone_id = "add-40-translucent";
    j.mix.resin_id = "pu-rigid-ivory";
    return j;
  }
  void run(const Job& j) {
    planner.set(Subject{j, {}, rough_study()});
    planner.wait();
  }
  const Finding* finding(const Job& j, const std::string& code) {
    last = findings_of(j, planner);
    for (const OpenFinding& f : last)
      if (f.finding.code == code) return &f.finding;
    return nullptr;
  }
  std::vector<OpenFinding> last;
};

TriMesh bored() { return shapes::bored_box({20, 15, 10}, 4, 2, 64); }

}  // namespace

TEST_CASE("the master's steps act in order, undo takes them back, later stages see the master", "[job]") {
  Plan p;
  Job job = p.job(bored());
  p.run(job);
  const auto plain = p.planner.fresh(results::master);
  REQUIRE(plain);
  CHECK(plain.get() == p.planner.fresh(results::original).get());  // without steps it is the very same
  const double volume = plain->measure.volume_mm3, rubber = p.planner.fresh(results::mould)->mould.rubber_mm3;

  MasterStep mirror, plug, stock;
  mirror.axis = 0;
  plug.kind = MasterStep::Kind::plug, plug.point_mm = {4, 0, 0}, plug.mm = 1;
  stock.kind = MasterStep::Kind::stock, stock.point_mm = {10, 8, 10}, stock.mm = 0.5;
  job.original.master_steps = {mirror, plug, stock};
  p.run(job);
  const auto made = p.planner.fresh(results::master);
  REQUIRE(made);
  CHECK(check_soundness(*made->mesh)->sound());
  CHECK(made->measure.volume_mm3 == Approx(40.0 * 30 * 20 + 0.5 * 40 * 30).epsilon(2e-4));  // but for two small dimples
  CHECK(p.planner.fresh(results::mould)->part_mm3 == made->measure.volume_mm3);
  CHECK(p.planner.fresh(results::mould)->mould.rubber_mm3 < rubber + 1e6);
  CHECK(p.planner.fresh(results::mould)->mould.part_mm3 > volume);
  const Finding* mirrored_finding = p.finding(job, "mirror");
  REQUIRE(mirrored_finding);
  CHECK(mirrored_finding->severity == Severity::caution);

  job.original.master_steps = {mirror, mirror};  // twice is not mirrored
  p.run(job);
  CHECK_FALSE(p.finding(job, "mirror"));
  CHECK(length(p.planner.fresh(results::master)->measure.centroid_mm - plain->measure.centroid_mm) < 1e-9);

  job.original.master_steps = {plug, plug};  // the second finds no bore any more, and says which step
  p.run(job);
  CHECK(p.planner.state(results::prepared).state == Freshness::failed);
  CHECK(p.planner.state(results::prepared).error.what.find("step 2") != std::string::npos);
  CHECK(stage_states(job, p.planner)[0].knot == Knot::stopped);
  job.original.master_steps.clear();
  p.run(job);
  CHECK(p.planner.fresh(results::master)->measure.volume_mm3 == volume);
  MasterStep bad = stock;
  bad.mm = -1;
  job.original.master_steps = {bad};
  CHECK_FALSE(check_job(job));
}

TEST_CASE("two halves are joined exactly", "[job]") {
  Plan p;
  Job job = p.job(shapes::box({0, 0, 0}, {10, 10, 10}));
  MasterStep join;
  join.kind = MasterStep::Kind::join;
  join.mesh = p.keep(shapes::box({9, 1, 1}, {20, 9, 9}));
  join.file = "right.stl";
  job.original.master_steps = {join};
  p.run(job);
  const auto made = p.planner.fresh(results::master);
  REQUIRE(made);
  CHECK(made->measure.volume_mm3 == Approx(1000 + 11 * 64 - 64).epsilon(1e-9));
  CHECK(check_soundness(*made->mesh)->sound());
  CHECK(further_meshes(job).size() == 1);
}

TEST_CASE("the master's file is scaled and tells how to print it", "[job]") {
  Plan p;
  Job job = p.job(shapes::box({0, 0, 0}, {40, 30, 10}));
  job.original.finish.master_material = "printed-photopolymer";
  job.size.master = MasterKind::scaled_per_axis;
  job.size.axis_scale = {1.01, 1.02, 1.03};
  p.run(job);
  const auto master = p.planner.fresh(results::master);
  const MasterFile f = master_file(*master, job, starting_shop());
  CHECK(f.volume_mm3 == Approx(12000 * 1.01 * 1.02 * 1.03));
  CHECK(measure(f.mesh).box_mm.size().y == Approx(30.6));
  const auto print = p.planner.fresh(results::print);
  REQUIRE(print);
  CHECK(print->volume_mm3 == f.volume_mm3);
  std::string all;
  for (const std::string& a : print->advice) all += a + " ";
  CHECK(all.find("1.03000") != std::string::npos);
  CHECK(all.find("z face (1236 mm²") != std::string::npos);  // the largest flat face, down or up
  CHECK(all.find("post-cure") != std::string::npos);
}

TEST_CASE("marked faces are found as patches", "[job]") {
  Plan p;
  Job job = p.job(shapes::bored_box({20, 15, 10}, 4, 2, 64));
  job.original.marks = {{FaceMark::Kind::show, {12, 10, 10}},
                        {FaceMark::Kind::hidden, {12, 10, -10}},
                        {FaceMark::Kind::keep_clear, {4, 0, 0}}};
  p.run(job);
  const auto faces = p.planner.fresh(results::faces);
  REQUIRE(faces);
  REQUIRE(faces->faces.size() == 3);
  CHECK(faces->faces[0].area_mm2 == Approx(40 * 30 - std::numbers::pi * 16).epsilon(0.01));
  CHECK(faces->faces[1].normal.z == Approx(-1));
  CHECK(faces->faces[2].kind == FaceKind::bore);
  int painted[4] = {0, 0, 0, 0};
  for (const uint8_t k : *faces->paint) ++painted[k];
  for (const int n : painted) CHECK(n > 0);
}

TEST_CASE("sections come from the part, a given one wins", "[job]") {
  Plan p;
  Job job = p.job(shapes::box({0, 0, 0}, {60, 40, 9}, 4));
  MeasuredSize s;
  s.id = "s1", s.name = "Length", s.nominal_mm = 60, s.lower_mm = 59.9, s.upper_mm = 60.1;
  s.from_mm = {0, 20, 4.5}, s.to_mm = {60, 20, 4.5};
  job.original.sizes = {s};
  p.run(job);
  const auto r = p.planner.fresh(results::size);
  REQUIRE(r);
  CHECK(*r->inputs[0].size.section_mm == Approx(9).epsilon(0.04));
  job.original.sizes[0].section_mm = 4;
  p.run(job);
  CHECK(*p.planner.fresh(results::size)->inputs[0].size.section_mm == 4);
  const auto draws = p.planner.fresh(results::draws);
  REQUIRE(draws);
  CHECK(draws->check.agrees());
}

TEST_CASE("a part known by its box and volume only is planned on a stand-in, and says so", "[job]") {
  Plan p;
  Job job;
  job.id = new_id();
  job.mix.silicone_id = "con-25-white";
  job.mix.resin_id = "pu-flex-40";
  job.days.start = "2026-12-01T08:00";
  job.original.bare = {{58, 50, 16}, 17.5, std::nullopt, 1.1};
  p.run(job);
  const auto mould = p.planner.fresh(results::mould);
  REQUIRE(mould);
  CHECK(mould->part_mm3 == Approx(17'500).epsilon(1e-5));
  CHECK(mould->u_part_mm3 == Approx(500));
  CHECK(p.planner.fresh(results::mix)->u_resin_g > 0);
  CHECK(p.planner.fresh(results::days));
  CHECK(p.planner.fresh(results::flow));
  CHECK(p.finding(job, "bare"));
  CHECK(stage_states(job, p.planner)[static_cast<size_t>(Stage::mix)].figure.find("±") != std::string::npos);
  job.original.bare.displaced_ml = 80;  // more than its box
  p.run(job);
  CHECK(p.finding(job, "bare-wrong"));
  CHECK(p.planner.state(results::original).state == Freshness::failed);
  // By weight: 14 g at 1.4 g/cm³ are 10 ml.
  CHECK(*bare_volume_mm3({{30, 30, 30}, std::nullopt, 14, 1.4}) == Approx(10000));
  CHECK_FALSE(bare_volume_mm3({{30, 0, 30}, 5, std::nullopt, 1}));
  CHECK_FALSE(bare_volume_mm3({{30, 30, 30}, std::nullopt, std::nullopt, 1}));
  CHECK_FALSE(bare_volume_mm3({{30, 30, 30}, -5, std::nullopt, 1}));
}

TEST_CASE("a drawn part goes through all stages; its numbers change without losing what was placed", "[job]") {
  Plan p;
  Job job;
  job.id = new_id();
  job.mix.silicone_id = "add-40-translucent";
  job.mix.resin_id = "pu-rigid-ivory";
  DrawnBody plate = begun(BodyShape::plate), boss = begun(BodyShape::disc);
  plate.id = "b1", boss.id = "b2", boss.at_mm = {10, 0, 6}, boss.height_mm = 8, boss.diameter_mm = 14;
  job = with_drawing(job, {{plate, boss}, {}, 0.1});
  CHECK(job.original.from() == PartFrom::drawn);
  REQUIRE(job.original.size("b1.length"));
  CHECK(job.original.size("b1.length")->nominal_mm == 60);
  job.flow.gate = Vec3{0, 0, 6};
  job.days.start = "2026-12-01T08:00";
  p.run(job);
  for (const auto state : {p.planner.state(results::split).state, p.planner.state(results::flow).state,
                           p.planner.state(results::days).state})
    CHECK(state == Freshness::fresh);
  CHECK(p.finding(job, "drawn-guess"));
  CHECK_FALSE(p.finding(job, "drawn-apart"));
  const Finding* limits = p.finding(job, "drawn-limits");
  REQUIRE(limits);
  const Job sure = *edited(job, limits->remedies[0].edit);
  CHECK(std::none_of(sure.original.sizes.begin(), sure.original.sizes.end(),
                     [](const MeasuredSize& s) { return s.limits_guessed; }));
  // A number changed: sizes follow, the gate stays; a size taken out stays out.
  Job next = sure;
  std::erase_if(next.original.sizes, [](const MeasuredSize& s) { return s.id == "b1.width"; });
  Drawn longer = next.original.drawn;
  longer.bodies[0].length_mm = 66;
  const std::string before = next.original.shape_key();
  next = with_drawing(next, longer);
  CHECK(next.original.shape_key() != before);
  CHECK(next.original.size("b1.length")->nominal_mm == 66);
  CHECK(next.original.size("b1.length")->upper_mm == Approx(sure.original.size("b1.length")->upper_mm + 6));
  CHECK_FALSE(next.original.size("b1.width"));
  CHECK(next.flow.gate);
  longer.bodies.pop_back();
  next = with_drawing(next, longer);
  CHECK_FALSE(next.original.size("b2.diameter"));
  // Two bodies that do not touch are a stop; a drawing over a mesh sets what lay on the mesh aside.
  longer.bodies.push_back(boss);
  longer.bodies[1].at_mm = {200, 0, 0};
  next = with_drawing(next, longer);
  p.run(next);
  CHECK(p.finding(next, "drawn-apart"));
  Job meshed = p.job(bored());
  meshed.flow.gate = Vec3{20, 0, 0};
  Drawn opened;
  opened.tracing.picture = "a picture, and nothing followed on it yet";
  CHECK(with_drawing(meshed, opened).original.from() == PartFrom::mesh);
  meshed = with_drawing(meshed, longer);
  CHECK(meshed.original.mesh.hash.empty());
  CHECK_FALSE(meshed.flow.gate);
  CHECK(meshed.set_aside.size() == 1);
  // Kept and read back.
  CHECK(*job_from_json(job_to_json(next), "test") == next);
}

TEST_CASE("what the rubber touches and what comes after are asked and advised on", "[job]") {
  Plan p;
  Job job = p.job(shapes::box({0, 0, 0}, {10, 10, 10}));
  p.run(job);
  CHECK(p.finding(job, "master-material"));
  const Finding* f = p.finding(job, "finish-later");
  REQUIRE(f);
  const std::vector<Remedy> answers = f->remedies;
  for (const Remedy& r : answers) {
    const auto next = edited(job, r.edit);
    REQUIRE(next);
    p.run(*next);
    CHECK_FALSE(p.finding(*next, "finish-later"));
  }
  job.original.finish = {Gloss::gloss, Later::nothing, "old-rubber"};
  p.run(job);
  CHECK(p.finding(job, "inhibition"));
  CHECK(p.finding(job, "bonds"));
  CHECK(p.finding(job, "finish-gloss"));
  job.mix.silicone_id = "con-25-white";  // condensation cure is not stopped by it
  p.run(job);
  CHECK_FALSE(p.finding(job, "inhibition"));
  for (const MasterMaterial& m : starting_catalogue().masters) {
    CHECK_FALSE(m.seal.empty());
    CHECK_FALSE(m.why.empty());
  }
  CHECK(starting_catalogue().masters.size() >= 9);
  // Sealing and waiting go into the days.
  job.days.start = "2026-12-01T08:00";
  job.original.finish.master_material = "plaster";
  p.run(job);
  const auto days = p.planner.fresh(results::days);
  REQUIRE(days);
  for (const Step& s : days->steps)
    if (s.id == "seal") CHECK(s.wait_min == 48 * 60);
}

TEST_CASE("resins by need: every candidate with reasons, worst size beside it", "[mix]") {
  Plan p;
  Job job = p.job(shapes::box({0, 0, 0}, {60, 40, 9}, 2));
  MeasuredSize s;
  s.id = "s1", s.name = "Length", s.nominal_mm = 60, s.lower_mm = 59.7, s.upper_mm = 60.05;
  job.original.sizes = {s};
  job.mix.needs.shore_low = 70;
  job.mix.needs.clarity = "clear";
  job.mix.needs.work_min = 10;
  job.mix.needs.heat_c = 60;
  p.run(job);
  const auto r = p.planner.fresh(results::choose);
  REQUIRE(r);
  CHECK(r->resins.size() == starting_shop().shelf.resins.size());
  CHECK(r->silicones.size() == starting_shop().shelf.silicones.size());
  int last = 0;
  for (const MaterialChoice& c : r->resins) {
    CHECK(c.candidate.missed >= last);
    last = c.candidate.missed;
    CHECK(static_cast<int>(c.candidate.bad.size()) == c.candidate.missed);
    CHECK(c.candidate.good.size() + c.candidate.bad.size() == 4);
    REQUIRE(c.worst_p);
    CHECK(c.worst_size == "Length");
  }
  CHECK(r->resins.front().candidate.missed == 0);
  CHECK(r->resins.front().candidate.name.find("lear") != std::string::npos);
  RubberNeeds deep;
  deep.pulls = 40, deep.undercut = true, deep.see_through = true, deep.master_inhibits = true;
  for (const Candidate& c : silicones_for(starting_catalogue(), deep)) CHECK(c.missed > 0);  // nothing is all of that
}

TEST_CASE("what castings taught is offered, adopted and used by later jobs of the pair", "[job]") {
  const Shop& cat = starting_shop();
  Job job;
  job.id = "first";
  job.mix.silicone_id = "add-40-translucent";
  job.mix.resin_id = "pu-rigid-ivory";
  MeasuredSize s;
  s.id = "s1", s.name = "Length", s.nominal_mm = 80, s.lower_mm = 79, s.upper_mm = 81, s.section_mm = 3;
  s.instrument_u_mm = 0.005;
  job.original.sizes = {s};
  const double before = predict_sizes(job, cat).predictions[0].predicted_mm;
  CHECK_FALSE(learn_from_castings(job, cat, {}));
  job.check.castings = {{1, "", "", {{"s1", {before - 0.12, before - 0.12}}}}, {2, "", "", {{"s1", {before - 0.12}}}}};
  const auto l = learn_from_castings(job, cat, {});
  REQUIRE(l);
  CHECK(l->castings == 2);
  CHECK(l->record.delta_pct == Approx(100 * 0.12 / 80).epsilon(1e-3));
  CHECK(l->learned.posterior_pct.value > l->prior_pct.value);
  CHECK(l->adopted.delta_pct > 0);
  CHECK(l->adopted.delta_pct <= l->record.delta_pct);

  Job later = job;
  later.id = "later";
  later.check.castings.clear();
  const SizeResult offered = predict_sizes(later, cat);
  const auto told = size_findings(offered, later, cat, {l->record});
  const Finding* f = nullptr;
  for (const Finding& k : told)
    if (k.code == "size-learned") f = &k;
  REQUIRE(f);
  const auto next = edited(later, f->remedies[0].edit);
  REQUIRE(next);
  const SizeResult used = predict_sizes(*next, cat);
  CHECK(used.predictions[0].predicted_mm == Approx(before - 0.8 * l->adopted.delta_pct).margin(2e-3));
  CHECK(used.predictions[0].u_mm < offered.predictions[0].u_mm);
  for (const Finding& k : size_findings(used, *next, cat, {l->record})) CHECK(k.code != "size-learned");
  // Adopting the same job's castings again changes nothing: its record is replaced, not counted twice.
  const auto again = learn_from_castings(job, cat, {l->record});
  CHECK(again->adopted.delta_pct == Approx(l->adopted.delta_pct));
  CHECK(again->adopted.u_pct == Approx(l->adopted.u_pct));
  CHECK_FALSE(workshop_figure({l->record}, cat, "con-25-white", "pu-rigid-ivory"));
}

}  // namespace tests_job_preparation
