// What is cast in: volumes by hand, gaps, seats, what floats; threads by the standard's figures.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "cast_in/insert_body.hpp"
#include "cast_in/seating.hpp"
#include "cast_in/thread.hpp"
#include "job/apply.hpp"
#include "mesh/topology.hpp"
#include "overview/overview.hpp"
#include "ready_part.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"
#include "stages/inserts.hpp"

namespace tests_cast_in_inserts {

using namespace palinform;

namespace {

Insert rod_of(double across, double length_mm, const Vec3& at, const Vec3& axis) {
  Insert in;
  in.kind = Insert::Kind::rod;
  in.across_mm = across, in.long_mm = length_mm;
  in.at_mm = at, in.axis = axis;
  return in;
}

bool closed(const TriMesh& m) {
  const EdgePairs p = pair_edges(m);
  return p.open_edges + p.non_manifold_edges == 0;
}

}  // namespace

TEST_CASE("bodies of inserts have the volumes of their measures, wherever they lie", "[cast-in]") {
  const Vec3 axis = unit(Vec3{1, 2, 3});
  Insert in = rod_of(6, 25, {3, -2, 5}, axis);
  const double disc = std::numbers::pi * 9;
  CHECK(measure(insert_body(in, false)).volume_mm3 == Approx(disc * 25).epsilon(1e-6));
  in.kind = Insert::Kind::tube, in.bore_mm = 4;
  CHECK(measure(insert_body(in, false)).volume_mm3 == Approx((disc - std::numbers::pi * 4) * 25).epsilon(1e-6));
  CHECK(measure(insert_body(in, true)).volume_mm3 == Approx(disc * 25).epsilon(1e-6));
  in.kind = Insert::Kind::nut;
  CHECK(measure(insert_body(in, false)).volume_mm3 ==
        Approx((36 * std::sqrt(3.0) / 2 - std::numbers::pi * 4) * 25).epsilon(1e-6));
  in.kind = Insert::Kind::plate, in.wide_mm = 12, in.turn_deg = 30;
  CHECK(measure(insert_body(in, false)).volume_mm3 == Approx(6 * 12 * 25).epsilon(1e-9));
  for (const auto kind : {Insert::Kind::rod, Insert::Kind::tube, Insert::Kind::nut, Insert::Kind::plate}) {
    in.kind = kind;
    CHECK(closed(insert_body(in, false)));
  }
  // A bore that leaves no wall is no body.
  in.kind = Insert::Kind::tube, in.bore_mm = 6;
  CHECK(insert_body(in, false).triangles.empty());
}

TEST_CASE("an insert inside a block: what it takes, how near it comes, whether it floats", "[cast-in]") {
  const ReadyPart block(shapes::box({0, 0, 0}, {40, 30, 20}));
  const Insert in = rod_of(8, 24, {8, 15, 7}, {1, 0, 0});
  const auto s = seat_insert(block.mesh, *block.rays, insert_body(in, false), in, {});
  REQUIRE(s);
  const double rod_mm3 = std::numbers::pi * 16 * 24;
  CHECK(s->how.inside_mm3 == Approx(rod_mm3).epsilon(1e-6));
  CHECK(s->how.outside_mm3() == Approx(0).margin(1e-6));
  CHECK(measure(s->cavity).volume_mm3 == Approx(24000 - rod_mm3).epsilon(1e-9));
  CHECK(closed(s->cavity));
  CHECK(s->how.seats.empty());
  CHECK(s->how.touches.empty());
  // Its axis is 7 over the floor: 3 of resin below it.
  REQUIRE(s->how.gap_mm);
  CHECK(*s->how.gap_mm == Approx(3).epsilon(2e-3));
  CHECK(s->how.gap_way.z == Approx(-1).epsilon(1e-2));
  CHECK(s->how.thin_share == 0);
  // Steel sinks, a hollow as light as foam floats: (ρ·V − m)·g.
  CHECK(lift_on_insert_n(1000, 7.85, 1.1) == Approx((1.1 - 7.85) * 9.80665e-3));
  CHECK(lift_on_insert_n(1000, 0.3, 1.1) > 0);
}

TEST_CASE("a rod through a block stands in seats; one that only breaks the skin touches the wall", "[cast-in]") {
  const ReadyPart block(shapes::box({0, 0, 0}, {40, 30, 20}));
  const Insert through = rod_of(6, 60, {-10, 15, 10}, {1, 0, 0});
  const auto s = seat_insert(block.mesh, *block.rays, insert_body(through, false), through, {});
  REQUIRE(s);
  CHECK(s->how.inside_mm3 == Approx(std::numbers::pi * 9 * 40).epsilon(1e-6));
  REQUIRE(s->how.seats.size() == 2);
  for (const StandsOut& seat : s->how.seats) {
    CHECK(seat.deep_mm == Approx(10).epsilon(1e-3));
    CHECK(std::abs(seat.out.x) == Approx(1).epsilon(1e-6));
    CHECK(seat.volume_mm3 == Approx(std::numbers::pi * 90).epsilon(1e-4));
  }
  CHECK(s->how.touches.empty());
  CHECK(*s->how.gap_mm == Approx(7).epsilon(2e-3));  // up and down, not at the seats

  const Insert grazing = rod_of(6, 30, {-1, 15, 10}, {1, 0, 0});
  const auto g = seat_insert(block.mesh, *block.rays, insert_body(grazing, false), grazing, {});
  REQUIRE(g);
  REQUIRE(g->how.touches.size() == 1);
  CHECK(g->how.touches[0].deep_mm == Approx(1).epsilon(1e-3));

  // Flush with both ends it lies in the skin.
  const Insert flush = rod_of(6, 40, {0, 15, 10}, {1, 0, 0});
  const auto f = seat_insert(block.mesh, *block.rays, insert_body(flush, false), flush, {});
  REQUIRE(f);
  REQUIRE(f->how.touches.size() == 1);
  CHECK(f->how.touches[0].deep_mm == 0);

  const Insert away = rod_of(6, 10, {100, 0, 0}, {1, 0, 0});
  const auto a = seat_insert(block.mesh, *block.rays, insert_body(away, false), away, {});
  REQUIRE_FALSE(a);
  CHECK(a.error().what.find("outside") != std::string::npos);
  const Insert huge = rod_of(200, 200, {-80, 15, 10}, {1, 0, 0});
  CHECK_FALSE(seat_insert(block.mesh, *block.rays, insert_body(huge, false), huge, {}));
}

TEST_CASE("turning part and insert together changes nothing", "[cast-in]") {
  TriMesh m = shapes::box({0, 0, 0}, {40, 30, 20});
  Insert in = rod_of(5, 30, {5, 12, 8}, unit(Vec3{1, 0.2, 0.1}));
  const ReadyPart block(m);
  const auto one = seat_insert(block.mesh, *block.rays, insert_body(in, false), in, {});
  const Transform turn = shapes::odd_turn();
  const ReadyPart turned(transformed(m, turn));
  in.at_mm = turn.point(in.at_mm), in.axis = turn.direction(in.axis);
  const auto two = seat_insert(turned.mesh, *turned.rays, insert_body(in, false), in, {});
  REQUIRE(one);
  REQUIRE(two);
  CHECK(two->how.inside_mm3 == Approx(one->how.inside_mm3).epsilon(1e-6));
  CHECK(*two->how.gap_mm == Approx(*one->how.gap_mm).epsilon(0.02));
}

TEST_CASE("metric threads by ISO 68-1 and 261", "[cast-in]") {
  CHECK(coarse_pitch_mm(8) == 1.25);
  CHECK(coarse_pitch_mm(4) == 0.7);
  CHECK(coarse_pitch_mm(7.3) == 0);
  // The standard's own table for M10 × 1.5.
  CHECK(pitch_diameter_mm(10, 1.5) == Approx(9.026).margin(5e-4));
  CHECK(minor_bore_mm(10, 1.5) == Approx(8.376).margin(5e-4));
  CHECK(minor_stud_mm(10, 1.5) == Approx(8.160).margin(5e-4));
  CHECK(tap_core_mm(4, 0.7) == Approx(3.3));
  CHECK(tap_core_mm(6, 1) == Approx(5));
  // What a caliper reads names the thread: a core, a bore that is cut, a stud.
  CHECK(thread_like(3.3, false).nominal_mm == 4);
  CHECK(thread_like(6.65, false).nominal_mm == 8);
  CHECK(thread_like(7.95, true).nominal_mm == 8);
  CHECK(thread_like(7.5, true).nominal_mm == 0);
  ThreadChoice t;
  t.nominal_mm = 8, t.pitch_mm = 1.25;
  CHECK(words_of(t) == "M8");
  t.pitch_mm = 1;
  CHECK(words_of(t) == "M8 × 1");
  t.pitch_mm = 1.1, t.left_hand = true;
  CHECK(words_of(t) == "Ø8 × 1.1 left");
  for (const IsoThread& iso : iso_threads()) {
    CHECK(iso.pitches_mm[0] > iso.pitches_mm[1]);
    CHECK(minor_bore_mm(iso.nominal_mm, iso.pitches_mm[0]) > minor_stud_mm(iso.nominal_mm, iso.pitches_mm[0]));
  }
}

namespace {

/// A block with a blind bore of a thread's core down its middle.
struct Bench {
  std::shared_ptr<const TriMesh> mesh;
  Planner planner{
      job_nodes(starting_shop(), [this](const std::string&) -> Result<std::shared_ptr<const TriMesh>> { return mesh; }),
      2, shared_results()};
  Job job;
  explicit Bench(TriMesh m) : mesh(std::make_shared<const TriMesh>(std::move(m))) {
    job.id = new_id();
    job.original.mesh = {hash_of(*mesh).hex(), "block.stl", LengthUnit::mm, 0};
    job.split.pull = Vec3{0, 0, 1};
    job.mix.silicone_id = "add-40-translucent";
    job.mix.resin_id = "pu-rigid-ivory";
  }
  void run() {
    planner.set(Subject{job, {}, rough_study()});
    planner.wait();
    for (const SlotState& s : planner.states()) {
      INFO(s.name << ": " << s.error.text());
      CHECK(s.state != Freshness::failed);
    }
  }
  const Finding* finding(const std::string& code) {
    last = findings_of(job, planner);
    for (const OpenFinding& f : last)
      if (f.finding.code == code) return &f.finding;
    return nullptr;
  }
  void press(const Finding* f, const std::string& label) {
    REQUIRE(f);
    for (const Remedy& r : f->remedies)
      if (r.label.find(label) != std::string::npos) {
        auto next = edited(job, r.edit);
        REQUIRE(next);
        job = *std::move(next);
        run();
        return;
      }
    FAIL("no remedy says " << label);
  }
  std::string steps() {
    REQUIRE(planner.fresh(results::procedure));
    std::string all;
    for (const ProcedureStep& s : planner.fresh(results::procedure)->procedure.steps)
      all += s.name + ": " + s.what + "\n";
    return all;
  }
  double casting_mm3() { return planner.fresh(results::mix)->pours.back().volume_mm3; }
  std::vector<OpenFinding> last;
};

}  // namespace

TEST_CASE("what is cast in is told through the whole job: cavity, resin, rubber, steps", "[cast-in]") {
  Bench b(shapes::box({0, 0, 0}, {60, 30, 20}, 20));
  b.run();
  const double before = b.casting_mm3(), cavity = b.planner.fresh(results::cavity)->cavity.total_mm3();
  const auto rubber_g = [&] { return b.planner.fresh(results::mix)->rubber_g; };
  const double rubber = rubber_g();
  // A steel rod that nothing holds.
  b.job.split.inserts.push_back(rod_of(8, 40, {10, 15, 10}, {1, 0, 0}));
  b.job.split.inserts[0].name = "Steel rod";
  b.run();
  const double rod_mm3 = std::numbers::pi * 16 * 40;
  CHECK(b.planner.fresh(results::cavity)->cavity.total_mm3() == Approx(cavity - rod_mm3).epsilon(1e-4));
  CHECK(b.casting_mm3() == Approx(before - rod_mm3 * before / cavity).epsilon(0.02));
  const Finding* loose = b.finding("insert-loose");
  REQUIRE(loose);
  CHECK(loose->severity == Severity::stop);
  CHECK(loose->why.find("sinks") != std::string::npos);
  b.press(loose, "wire");
  CHECK_FALSE(b.finding("insert-loose"));
  CHECK(b.steps().find("Inserts in, degreased, dry and roughened: Steel rod, 8.0 × 40.0 mm, hung from fine wire") !=
        std::string::npos);
  // Longer, it lies in sockets of the rubber, which is so much less of it.
  b.job.split.inserts[0].hold = Insert::Hold::seats;
  b.job.split.inserts[0].at_mm.x = -8, b.job.split.inserts[0].long_mm = 76;
  b.run();
  CHECK_FALSE(b.finding("insert-loose"));
  // The walls stand up, and the line runs along their foot: beside it the rod can never be laid in.
  const Finding* across = b.finding("insert-across");
  REQUIRE(across);
  b.press(across, "line through it");
  CHECK_FALSE(b.finding("insert-across"));
  CHECK(rubber_g() < rubber);
  const auto lies = b.planner.fresh(results::inserts);
  REQUIRE(lies->sockets.size() == 1);
  CHECK(lies->sockets[0].in_rubber_mm3 == Approx(2 * 8 * std::numbers::pi * 16).epsilon(1e-3));
  const auto split = b.planner.fresh(results::split);
  const auto seats = seats_mm3(*b.planner.fresh(results::inserts), *b.planner.fresh(results::master), split->split);
  CHECK(seats[0] + seats[1] == Approx(2 * 8 * std::numbers::pi * 16).epsilon(1e-3));
  // Too near the skin, and out of it.
  b.job.split.inserts[0].at_mm = {10, 15, 5}, b.job.split.inserts[0].long_mm = 40;
  b.job.split.inserts[0].hold = Insert::Hold::wire;
  b.run();
  const Finding* thin = b.finding("insert-thin");
  REQUIRE(thin);
  b.press(thin, "Move it");
  CHECK_FALSE(b.finding("insert-thin"));
  b.job.split.inserts[0].at_mm.z = 3;
  b.run();
  const Finding* touch = b.finding("insert-place");
  REQUIRE(touch);
  CHECK_FALSE(touch->answerable);
  b.press(touch, "in");
  CHECK_FALSE(b.finding("insert-place"));
}

TEST_CASE("sockets are cut into the halves, beside further pieces too", "[cast-in]") {
  Bench b(shapes::box({0, 0, 0}, {60, 30, 20}, 10));
  const auto solids_mm3 = [&] {
    b.run();
    const auto solids = b.planner.fresh(results::solids);
    REQUIRE(solids);
    double sum = 0;
    for (const double mm3 : solids->volume_mm3) sum += mm3;
    return sum;
  };
  b.job.flow.gate = Vec3{30, 15, 20};
  const double before = solids_mm3();
  b.job.split.inserts.push_back(rod_of(8, 76, {-8, 15, 10}, {1, 0, 0}));
  b.job.split.inserts[0].hold = Insert::Hold::seats;
  CHECK(before - solids_mm3() == Approx(2 * 8 * std::numbers::pi * 16).epsilon(0.1));
}

TEST_CASE("a squeeze closes round what is cast in: so much less resin", "[cast-in]") {
  Bench b(shapes::box({0, 0, 0}, {60, 40, 12}, 6));
  b.job.mould.form = "squeeze";
  b.run();
  const auto closing = [&] {
    const auto c = b.planner.fresh(results::closing);
    REQUIRE(c);
    return c;
  };
  const double before = closing()->grid.part_mm3(), poured = closing()->how.resin_mm3;
  CHECK(before == Approx(60 * 40 * 12).epsilon(0.03));
  Insert plate;
  plate.kind = Insert::Kind::plate, plate.hold = Insert::Hold::wire;
  plate.at_mm = {10, 20, 6}, plate.axis = {1, 0, 0};
  plate.across_mm = 3, plate.wide_mm = 24, plate.long_mm = 40, plate.turn_deg = 90;
  b.job.split.inserts.push_back(plate);
  b.run();
  CHECK(before - closing()->grid.part_mm3() == Approx(3 * 24 * 40).epsilon(0.05));
  CHECK(closing()->how.resin_mm3 / poured == Approx(closing()->grid.part_mm3() / before).epsilon(1e-6));
}

TEST_CASE("under an insert air stays where no vent reaches", "[cast-in]") {
  Bench b(shapes::box({0, 0, 0}, {60, 40, 30}));
  Insert plate;
  plate.kind = Insert::Kind::plate;
  plate.hold = Insert::Hold::wire;
  plate.name = "Plate";
  plate.at_mm = {10, 20, 15}, plate.axis = {1, 0, 0};
  plate.across_mm = 3, plate.wide_mm = 24, plate.long_mm = 40;
  // Hollowed from below: a roof with a rim.
  b.job.split.inserts.push_back(plate);
  b.job.flow.gate = Vec3{0, 20, 2};
  b.job.flow.vents = {{2, 2, 30}};
  b.run();
  const auto flow = b.planner.fresh(results::flow);
  REQUIRE(flow);
  // A level plate holds no pocket: air runs along under it to its edge only where it is tilted or curved; the top of
  // the block keeps none either, as it has its vent.
  for (const PocketSeen& p : flow->pockets) CHECK(p.pocket.volume_mm3 < 5);
  // A channel, open downward: its own cavity is a roof that the vent at the top does not reach.
  b.job.split.inserts[0].kind = Insert::Kind::mesh;
  TriMesh cup = shapes::box({15, 10, 12}, {45, 30, 20});
  const TriMesh hollow = shapes::box({18, 13, 10}, {42, 27, 17});
  const ReadyPart ready(cup);
  Insert tool;
  tool.hold = Insert::Hold::wire;
  const auto cut = seat_insert(cup, *ready.rays, hollow, tool, {});
  REQUIRE(cut);
  const auto part = b.mesh;
  const auto made = std::make_shared<const TriMesh>(cut->cavity);
  const std::string hash = hash_of(*made).hex();
  b.job.split.inserts[0].mesh_hash = hash;
  b.job.split.inserts[0].at_mm = {};
  Planner planner{job_nodes(starting_shop(),
                            [&](const std::string& h) -> Result<std::shared_ptr<const TriMesh>> {
                              return h == hash ? made : part;
                            }),
                  2};
  planner.set(Subject{b.job, {}, rough_study()});
  planner.wait();
  REQUIRE(planner.fresh(results::flow));
  const auto& pockets = planner.fresh(results::flow)->pockets;
  REQUIRE_FALSE(pockets.empty());
  CHECK(pockets[0].under_insert);
  CHECK(pockets[0].pocket.volume_mm3 == Approx(24 * 14 * 5).epsilon(0.05));
  for (const OpenFinding& f : findings_of(b.job, planner))
    if (f.finding.code == "flow-air" && f.finding.why.find("cast in roofs") != std::string::npos)
      for (const Remedy& r : f.finding.remedies) CHECK(r.code() != "vent");
}

TEST_CASE("a thread: tapped, screwed out, or a bush cast in; each with its pin, its steps, its limits", "[cast-in]") {
  // Ø3.3 blind, 12 deep from the face x = 20.
  Bench b(shapes::drilled_cube(20, {{3.3, 12}}, 48));
  b.run();
  const auto bores = b.planner.fresh(results::bores);
  REQUIRE(bores);
  REQUIRE(bores->bores.size() == 1);
  ThreadChoice t;
  t.at_mm = bores->bores[0].centroid_mm, t.axis = bores->bores[0].axis;
  t.found_mm = bores->bores[0].diameter_mm, t.deep_mm = bores->bores[0].depth_mm;
  const IsoThread like = thread_like(t.found_mm, false);
  REQUIRE(like.nominal_mm == 4);
  t.nominal_mm = 4, t.pitch_mm = 0.7;
  b.job.split.threads.push_back(t);
  b.run();
  CHECK(b.steps().find("Drill 3.30 mm and tap M4") != std::string::npos);
  const auto make = [&](const char* how) {
    auto next = edited(b.job, edits::MakeThread{0, how});
    REQUIRE(next);
    b.job = *std::move(next);
    b.run();
  };
  make("rubber");
  const Finding* fine = b.finding("thread-fine");
  REQUIRE(fine);
  CHECK(fine->why.find("0.70 mm") != std::string::npos);
  b.press(fine, "screw");
  REQUIRE(b.planner.fresh(results::pins));
  REQUIRE(b.planner.fresh(results::pins)->pins.size() == 1);
  CHECK(b.planner.fresh(results::pins)->pins[0].diameter_mm == 4);
  CHECK(b.steps().find("Unscrew the screw M4 first") != std::string::npos);
  CHECK(b.steps().find("tap M4") == std::string::npos);
  make("insert");
  REQUIRE(b.job.split.inserts.size() == 1);
  CHECK(b.job.split.inserts[0].name == "Bush M4");
  CHECK_FALSE(b.planner.fresh(results::inserts)->placed[0].refused);
  CHECK(b.planner.fresh(results::pins)->pins[0].diameter_mm == Approx(3.24).margin(0.01));
  CHECK(b.steps().find("Bush M4") != std::string::npos);
  CHECK(b.steps().find("Unscrew") == std::string::npos);
  // Without its bush it says so; cut again, bush and pin are gone.
  Job bare = b.job;
  b.job.split.inserts.clear();
  b.run();
  CHECK(b.finding("thread-bare"));
  b.job = bare;
  make("cut");
  CHECK(b.job.split.inserts.empty());
  CHECK(b.job.split.bores.empty());
  make("");
  CHECK(b.job.split.threads.empty());
}

TEST_CASE("a bore too wide to be tapped is told, with what helps", "[cast-in]") {
  Bench b(shapes::drilled_cube(20, {{4.2, 12}}, 48));
  b.run();
  const Bore bore = b.planner.fresh(results::bores)->bores.at(0);
  ThreadChoice t;
  t.at_mm = bore.centroid_mm, t.axis = bore.axis, t.found_mm = bore.diameter_mm, t.deep_mm = bore.depth_mm;
  t.nominal_mm = 4, t.pitch_mm = 0.7;
  b.job.split.threads.push_back(t);
  b.run();
  const Finding* wide = b.finding("thread-wide");
  REQUIRE(wide);
  b.press(wide, "Plug");
  CHECK(b.job.original.master_steps.size() == 1);
}

}  // namespace tests_cast_in_inserts
