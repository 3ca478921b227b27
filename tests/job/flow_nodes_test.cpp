// Flow over a Job: the plan as a remedy, filling against the pot life, heat, squeeze, open face, air in the rubber.
#include <catch2/catch.hpp>
#include <cmath>

#include "job/apply.hpp"
#include "overview/bench_screens.hpp"
#include "overview/overview.hpp"
#include "overview/sheet.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"

namespace tests_job_flow_nodes {

using namespace palinform;

namespace {

struct Desk {
  std::shared_ptr<const TriMesh> mesh;
  Planner planner;
  Job job;
  explicit Desk(TriMesh m)
      : mesh(std::make_shared<const TriMesh>(std::move(m))),
        planner(job_nodes(starting_shop(),
                          [this](const std::string&) -> Result<std::shared_ptr<const TriMesh>> { return mesh; }),
                2, shared_results()) {
    job.id = new_id();
    job.original.mesh = {hash_of(*mesh).hex(), "part.stl", LengthUnit::mm, mesh->triangles.size()};
    job.mix.silicone_id = "add-40-translucent";
    job.mix.resin_id = "pu-rigid-ivory";
    job.split.pull = Vec3{0, 0, 1};
    set(job);
  }
  void set(const Job& j) {
    job = j;
    planner.set(Subject{job, {}, rough_study()});
    planner.wait();
  }
  const Finding* finding(const char* code) {
    found = findings_of(job, planner);
    for (const OpenFinding& f : found)
      if (f.finding.code == code) return &f.finding;
    return nullptr;
  }
  std::vector<OpenFinding> found;
};

/// Two towers of different height on a base: a roof each.
TriMesh towers() {
  return shapes::joined(
      shapes::box({-20, -8, 0}, {20, 8, 6}, 3),
      shapes::joined(shapes::box({-18, -6, 6 - 1e-9}, {-8, 6, 22}, 2), shapes::box({8, -6, 6 - 1e-9}, {18, 6, 16}, 2)));
}

}  // namespace

TEST_CASE("the plan comes as a finding whose remedy stands, gates and vents the mould; then it is quiet", "[job]") {
  Desk d(shapes::bored_box({20, 15, 10}, 4, 2, 64));
  for (const char* node :
       {"flow", "air-plan", "air-advice", "channels", "filling", "rubber-air", "solids", "network"}) {
    INFO(node << ": " << d.planner.state(node).error.text());
    CHECK(d.planner.state(node).state == Freshness::fresh);
  }
  CHECK(d.finding("flow-no-gate"));
  const Finding* plan = d.finding("flow-plan");
  REQUIRE(plan);
  REQUIRE(plan->remedies.size() == 1);
  const auto next = edited(d.job, plan->remedies[0].edit);
  REQUIRE(next);
  d.set(*next);
  CHECK_FALSE(d.finding("flow-plan"));
  CHECK_FALSE(d.finding("flow-air"));
  CHECK_FALSE(d.finding("flow-no-gate"));
  const auto flow = d.planner.fresh(results::flow);
  const auto best = d.planner.fresh(results::air_plan);
  CHECK(flow->trapped_mm3 == Approx(best->plan.sweep.trapped_mm3).margin(0.5));  // the remedy rounds to 1e-4 mm
  // The resin of the channels is in the mix, and the sheet says so.
  const auto channels = d.planner.fresh(results::channels);
  REQUIRE(channels->channels.size() == 1 + best->plan.vents.size());
  const auto mix = d.planner.fresh(results::mix);
  CHECK(mix->pours.back().volume_mm3 == Approx(d.planner.fresh(results::mould)->part_mm3 + channels->volume_mm3));
  const Sheet sheet = make_sheet(d.job, d.planner, starting_shop());
  bool told = false;
  for (const SheetTable& t : sheet.tables) told |= t.note.find("ml for gate and vents") != std::string::npos;
  CHECK(told);
}

TEST_CASE("filling: a thin sprue gels, and its remedies help; the wedge reaches bench and sheet", "[job]") {
  Desk d(shapes::box({-20, -12, 0}, {20, 12, 30}, 3));
  Job j = d.job;
  j.flow.gate = Vec3{20, 0, 2};
  j.flow.vents = {{0, 0, 30}};
  j.flow.sprue_mm = 1;
  j.flow.head_mm = 0;
  j.flow.tilt_deg = 10;
  d.set(j);
  const auto fill = [&] { return d.planner.fresh(results::filling); };
  REQUIRE(fill());
  const Finding* bad = d.finding("flow-gels");
  if (!bad) bad = d.finding("flow-slow");
  REQUIRE(bad);
  REQUIRE(bad->remedies.size() == 2);
  const double before = fill()->time.full_min.value_or(1e9);
  const auto wider = edited(d.job, bad->remedies[0].edit), higher = edited(d.job, bad->remedies[1].edit);
  REQUIRE(wider);
  REQUIRE(higher);
  CHECK(wider->flow.sprue_mm == 2);
  CHECK(higher->flow.head_mm == 50);
  d.set(*wider);
  CHECK(fill()->time.full_min.value_or(1e8) < before);
  j.flow.sprue_mm = 8, j.flow.head_mm = 40;
  d.set(j);
  REQUIRE(fill()->time.full_min);
  CHECK(*fill()->time.full_min < fill()->left_min);
  CHECK_FALSE(d.finding("flow-slow"));
  // Warmer resin is thinner but has less time; the pot life left follows Q10 = 2.
  const double left = fill()->left_min;
  j.size.room_c += 10;
  d.set(j);
  CHECK(fill()->left_min < left);
  // Vacuum pushes with the air's weight: quicker.
  const double by_gravity = *fill()->time.full_min;
  j.flow.aid = FillAid::vacuum;
  d.set(j);
  CHECK(*fill()->time.full_min < 0.3 * by_gravity);
  CHECK(d.finding("flow-well"));
  const auto channels = d.planner.fresh(results::channels);
  CHECK(channels->wedge_rise_mm == Approx(channels->wedge_run_mm * std::tan(10 * 3.14159265 / 180)));
  const Sheet sheet = make_sheet(d.job, d.planner, starting_shop());
  bool wedge = false;
  for (const std::string& s : sheet.steps) wedge |= s.find("wedge of 10°") != std::string::npos;
  CHECK(wedge);
}

TEST_CASE("a thick casting is told to heat up", "[job]") {
  Desk thick(shapes::box({-25, -25, 0}, {25, 25, 50}, 3));
  CHECK(thick.finding("flow-heat"));
  const auto f = thick.planner.fresh(results::filling);
  CHECK(f->thickest_mm == Approx(50).epsilon(0.05));
  CHECK(f->heat_rise_k > 50);
  Desk thin(shapes::box({-25, -25, 0}, {25, 25, 1.5}, 3));
  CHECK_FALSE(thin.finding("flow-heat"));
  CHECK(thin.finding("flow-thin-cure"));
}

TEST_CASE("squeeze and open face let air out their own way", "[job]") {
  Desk d(towers());
  Job j = d.job;
  j.mould.form = "squeeze";
  d.set(j);
  const auto flow = d.planner.fresh(results::flow);
  REQUIRE(flow);
  CHECK(flow->way == FillWay::squeeze);
  // The line lies low: what stands over it in both towers stays.
  CHECK(flow->trapped_mm3 > 0.5 * (10 * 12 * 16 + 10 * 12 * 10));
  CHECK_FALSE(d.finding("flow-no-gate"));
  CHECK(d.finding("flow-squeeze"));
  CHECK(d.planner.state(results::air_plan).state == Freshness::absent);
  // Open, back up: all of it lets go.
  j.mould.form = "open";
  j.original.marks = {{FaceMark::Kind::hidden, {0, 0, 0}}};
  d.set(j);
  const auto open = d.planner.fresh(results::flow);
  REQUIRE(open);
  CHECK(open->way == FillWay::open_face);
  CHECK(open->up == Vec3{0, 0, -1});
  for (const PocketSeen& s : open->pockets) CHECK_FALSE(s.visible);
  // A strip: by the nubs, which takes a vacuum.
  j.mould.form = "strip";
  d.set(j);
  CHECK(d.planner.fresh(results::flow)->way == FillWay::well);
  const Finding* strip = d.finding("flow-strip");
  REQUIRE(strip);
  d.set(*edited(d.job, strip->remedies[0].edit));
  CHECK(d.job.flow.aid == FillAid::vacuum);
  CHECK_FALSE(d.finding("flow-strip"));
}

TEST_CASE("air in the rubber: a plain block keeps none, a bore across the pull does", "[job]") {
  Desk plain(shapes::box({-20, -12, 0}, {20, 12, 20}, 3));
  const auto none = plain.planner.fresh(results::rubber_air);
  REQUIRE(none);
  REQUIRE(none->pours.size() == 2);
  for (const auto& p : none->pours) CHECK(p.trapped_mm3 == 0);
  CHECK_FALSE(plain.finding("rubber-air"));
  // A bell mouth down, poured whole and cut later: its hollow keeps air one way up, and it says so.
  TriMesh bell = shapes::box({-12, -12, 10}, {12, 12, 14}, 2);
  for (const auto& [low, high] : {std::pair{Vec3{-12, -12, 0}, Vec3{12, -9, 10}},
                                  {Vec3{-12, 9, 0}, Vec3{12, 12, 10}},
                                  {Vec3{-12, -9, 0}, Vec3{-9, 9, 10}},
                                  {Vec3{9, -9, 0}, Vec3{12, 9, 10}}})
    bell = shapes::joined(bell, shapes::box(low, high));
  Desk d(bell);
  Job j = d.job;
  j.mould.form = "cut";
  d.set(j);
  const auto air = d.planner.fresh(results::rubber_air);
  REQUIRE(air);
  REQUIRE(air->pours.size() == 1);
  CHECK(air->pours[0].trapped_mm3 == Approx(18 * 18 * 10).epsilon(0.15));
  CHECK(air->better_over == true);
  CHECK(air->other_mm3 < 0.1 * air->pours[0].trapped_mm3);
  CHECK(d.finding("rubber-air"));
}

TEST_CASE("vacuum, then the pot: each leaves its share of what the other left, and both are inside the pot life",
          "[job]") {
  Desk d(towers());
  Job j = d.job;
  const auto gate = d.planner.fresh(results::flow)->lowest_mm;
  j.flow.gate = gate;
  j.flow.vents = {{-13, 0, 22}};  // the lower tower keeps its air
  j.flow.aid = FillAid::vacuum_then_pressure;
  j.flow.vacuum_kpa = 5, j.flow.pressure_kpa = 300;
  d.set(j);
  const auto flow = d.planner.fresh(results::flow);
  REQUIRE(flow);
  REQUIRE_FALSE(flow->pockets.empty());
  for (const PocketSeen& p : flow->pockets)
    CHECK(p.after_mm3 == Approx(p.pocket.volume_mm3 * (5 / 101.325) * (101.325 / (101.325 + 300))).epsilon(1e-6));
  const auto facts = d.planner.fresh(results::procedure);
  REQUIRE(facts);
  int chamber = -1, pot = -1;
  for (size_t i = 0; i < facts->procedure.steps.size(); ++i) {
    if (facts->procedure.steps[i].needs == "chamber" && facts->procedure.steps[i].act == Act::into_chamber)
      chamber = static_cast<int>(i);
    if (facts->procedure.steps[i].needs == "pot" && pot < 0) pot = static_cast<int>(i);
  }
  CHECK(chamber >= 0);
  CHECK(pot > chamber);
  // A quick resin in a warm room: it fills in time, but thickens before it is under pressure.
  const auto left = d.planner.fresh(results::filling);
  REQUIRE(left);
  REQUIRE(left->time.full_min);
  j.size.room_c = 21;
  const StepMinutes t;
  const double after = t.chamber_min + t.pot_min;
  for (int k = 0; k < 40 && d.planner.fresh(results::filling)->left_min > *left->time.full_min + 0.5 * after; ++k) {
    j.size.room_c += 1;
    d.set(j);
  }
  const auto now = d.planner.fresh(results::filling);
  if (now->time.full_min && *now->time.full_min <= now->left_min) {
    const Finding* late = d.finding("flow-aid-late");
    REQUIRE(late);
    REQUIRE_FALSE(late->remedies.empty());
    CHECK(edited(d.job, late->remedies[0].edit)->flow.aid == FillAid::pressure);
  }
}

TEST_CASE("a line kept open is a vent all along, costs the plan no vents and goes into the sizes across it", "[job]") {
  // A ring lying flat: its outer line runs round its widest place, under the roof of its upper half.
  Desk d(shapes::box({-20, -12, 0}, {20, 12, 14}, 3));
  Job j = d.job;
  MeasuredSize across;
  across.id = "s1", across.name = "Height", across.kind = SizeKind::outer, across.formed = FormedBy::across_line;
  across.nominal_mm = 14, across.lower_mm = 13, across.upper_mm = 15;
  across.readings_mm = {14.0};
  j.original.sizes = {across};
  j.flow.gate = Vec3{0, 0, 0};
  d.set(j);
  const auto shut = d.planner.fresh(results::flow);
  REQUIRE(shut);
  const auto size_shut = d.planner.fresh(results::size);
  j.flow.edge_gap_mm = 0.15;
  d.set(j);
  const auto open = d.planner.fresh(results::flow);
  REQUIRE(open);
  // Without a vent nothing gets out; along the open line all does up to where the line lies.
  const auto split = d.planner.fresh(results::split);
  double line = -1e300;
  for (const Vec3& p : split->split.loops.front().points_mm) line = std::max(line, p.z);
  CHECK(shut->trapped_mm3 == Approx(40 * 24 * 14).epsilon(0.01));
  CHECK(open->trapped_mm3 == Approx(40 * 24 * (14 - line)).margin(0.02 * 40 * 24 * 14));
  const auto size_open = d.planner.fresh(results::size);
  REQUIRE(size_shut);
  REQUIRE(size_open);
  CHECK(size_open->predictions[0].cast_mm - size_shut->predictions[0].cast_mm == Approx(0.15).margin(1e-9));
  bool said = false;
  for (const ProcedureStep& s : d.planner.fresh(results::procedure)->procedure.steps)
    said |= s.act == Act::close && s.what.find("keeps the line open") != std::string::npos;
  CHECK(said);
}

}  // namespace tests_job_flow_nodes
