// Several parts in one job: one in hand, the others beside it in the same mould.
#include <catch2/catch.hpp>
#include <numbers>

#include "findings/size.hpp"
#include "job/apply.hpp"
#include "job/parts.hpp"
#include "mesh/primitives.hpp"
#include "overview/overview.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"
#include "solid/unite.hpp"
#include "stages/other_parts.hpp"

namespace tests_job_parts {

using namespace palinform;

namespace {

JobPart bolt() {
  JobPart p;
  p.name = "Bolt";
  p.copies = 6, p.masters = 2;
  p.original.mesh = {"bb", "bolt.stl", LengthUnit::mm, 12};
  MeasuredSize s;
  s.id = "s9", s.name = "Shank", s.nominal_mm = 4;
  p.original.sizes = {s};
  p.laid.pull = Vec3{1, 0, 0};
  p.laid.answers = {{"duty/load", "tested by the museum's engineer", "2026-11-01T10:00:00", {}, 0}};
  p.scale = 1.01;
  p.master = MasterKind::scaled;
  return p;
}

Job latch() {
  Job j;
  j.id = "1", j.name = "Window lock", j.copies = 2;
  j.part_name = "Left";
  j.original.mesh = {"aa", "left.stl", LengthUnit::mm, 10};
  MeasuredSize s;
  s.id = "s1", s.name = "Bore", s.nominal_mm = 8;
  j.original.sizes = {s};
  j.split.pull = Vec3{0, 0, 1};
  j.flow.gate = Vec3{1, 2, 3};
  j.flow.tilt_deg = 12;
  j.mould.key_places = {{1, 1, 1}};
  j.answers = {{"mould-steep", "it opens", "2026-11-01T10:00:00", {}, 0}};
  return j;
}

struct Shop2 {
  std::map<std::string, std::shared_ptr<const TriMesh>> meshes;
  Planner planner{job_nodes(starting_shop(),
                            [this](const std::string& hash) -> Result<std::shared_ptr<const TriMesh>> {
                              const auto at = meshes.find(hash);
                              if (at == meshes.end()) return Error{"no such mesh", hash, ""};
                              return at->second;
                            }),
                  2, shared_results()};
  MeshRef keep(TriMesh m, const char* file) {
    const std::string hash = hash_of(m).hex();
    const uint64_t n = m.triangles.size();
    meshes[hash] = std::make_shared<const TriMesh>(std::move(m));
    return {hash, file, LengthUnit::mm, n};
  }
  void plan(const Job& job) {
    planner.set(Subject{job, {}, rough_study()});
    planner.wait();
    for (const SlotState& s : planner.states())
      if (s.state == Freshness::failed) FAIL(s.name << ": " << s.error.text());
  }
};

Job two_blocks(Shop2& shop) {
  Job j;
  j.id = "2", j.copies = 2;
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-rigid-ivory";
  j.original.mesh = shop.keep(shapes::box({0, 0, 0}, {40, 30, 20}, 4), "block.stl");
  j.split.pull = Vec3{0, 0, 1};
  JobPart p;
  p.name = "Small";
  p.copies = 6, p.masters = 2;
  p.original.mesh = shop.keep(shapes::box({100, 0, 0}, {112, 24, 15}, 3), "small.stl");
  p.laid.pull = Vec3{1, 0, 0};  // lies on its side in its own file
  j.parts = {p};
  return j;
}

}  // namespace

TEST_CASE("taking another part in hand loses nothing: forth and back is the same job", "[job]") {
  const Job one = *with_new_part(latch(), bolt());
  CHECK(one.part_at == 1);
  CHECK(one.part_name == "Bolt");
  CHECK(one.copies == 6);
  CHECK(one.mould.masters == 2);
  CHECK(one.size.scale == 1.01);
  CHECK(one.split.pull->x == 1);
  CHECK_FALSE(one.flow.gate);
  CHECK(one.mould.key_places.empty());
  // The mould stands one way, whichever part is looked at; a safety answer stays with its part.
  CHECK(one.flow.tilt_deg == 12);
  REQUIRE(one.answers.size() == 1);
  CHECK(one.answers[0].finding_key == "duty/load");
  CHECK(part_names(one) == std::vector<std::string>{"Left", "Bolt"});
  const Job back = with_part_in_hand(one, 0);
  CHECK(back.part_at == 0);
  CHECK(back.original == latch().original);
  CHECK(back.flow.gate == latch().flow.gate);
  CHECK(back.answers == latch().answers);
  CHECK(back.mould.key_places == latch().mould.key_places);
  CHECK(with_part_in_hand(back, 0) == one);
  CHECK(part_names(back) == part_names(one));
  CHECK(edited(one, edits::TakePart{0})->part_name == "Left");
  CHECK_FALSE(edited(one, edits::TakePart{3}));
  // As a document.
  CHECK(*job_from_json(job_to_json(one), "x") == one);
}

TEST_CASE("parts keep their order and their names; one taken out leaves the one before it in hand", "[job]") {
  Job j = *with_new_part(latch(), bolt());
  JobPart third = bolt();
  third.name = "";
  third.original.sizes.clear();
  j = *with_new_part(j, third);
  CHECK(part_names(j) == std::vector<std::string>{"Left", "Bolt", "Part 3"});
  j = with_part_in_hand(j, 1);
  CHECK(j.part_name == "Bolt");
  CHECK(part_names(j) == std::vector<std::string>{"Left", "Bolt", "Part 3"});
  j = *without_part(j);
  CHECK(j.part_name == "Left");
  CHECK(part_names(j) == std::vector<std::string>{"Left", "Part 2"});
  j = *without_part(j);
  CHECK(part_names(j).size() == 1);
  CHECK_FALSE(without_part(j));
  Job many = latch();
  for (int k = 0; k < most_further_parts; ++k) many = *with_new_part(many, JobPart{});
  CHECK_FALSE(with_new_part(many, JobPart{}));
}

TEST_CASE("the other hand is the mirror image with sizes of its own; done twice it is no mirror image", "[job]") {
  const Job j = *with_other_hand(latch());
  CHECK(j.part_name == "Right");
  CHECK(j.original.mesh == latch().original.mesh);
  REQUIRE(j.original.master_steps.size() == 1);
  CHECK(j.original.master_steps[0].kind == MasterStep::Kind::mirror);
  REQUIRE(j.original.sizes.size() == 1);
  CHECK(j.original.sizes[0].id == "s2");
  CHECK(j.original.sizes[0].nominal_mm == 8);
  CHECK_FALSE(j.split.pull);
  CHECK_FALSE(j.flow.gate);
  CHECK(check_job(j));
  CHECK(further_meshes(j).empty());  // both lie on one mesh
  const Job again = *with_other_hand(j);
  CHECK(again.original.master_steps.empty());
  CHECK(again.original.sizes[0].id == "s3");
  // Two parts with one id for their sizes are refused.
  Job twice = j;
  twice.parts[0].original.sizes[0].id = "s2";
  CHECK_FALSE(check_job(twice));
  CHECK(further_meshes(*with_new_part(latch(), bolt())) == std::vector<std::string>{"aa"});
}

TEST_CASE("pulls go by the part that needs most; other forms cast the part in hand alone", "[job]") {
  Job j = latch();
  j.parts = {bolt()};  // 6 at 2 a pull, the latch 2 at 1 a pull
  CHECK(pulls_wanted(j, 1) == 3);
  CHECK(castings_a_pull(j, 1) == 3);
  j.mould.form = "open";
  CHECK(pulls_wanted(j, 1) == 2);
  CHECK(castings_a_pull(j, 1) == 1);
}

TEST_CASE("two parts in one box: volumes add up, whichever is in hand; Mix, procedure and words hold them all",
          "[job]") {
  Shop2 shop;
  const Job j = two_blocks(shop);
  shop.plan(j);
  const auto mould = shop.planner.fresh(results::mould);
  REQUIRE(mould);
  REQUIRE(mould->set);
  CHECK(mould->set->masters.size() == 3);
  const Mould& m = *mould->set_mould;
  const double small = 12 * 24 * 15;
  CHECK(mould->others_mm3 == Approx(2 * small));
  CHECK(m.part_mm3 == Approx(24'000 + 2 * small).epsilon(1e-3));
  const Vec3 in = m.inner_mm.size();
  CHECK(m.rubber_mm3 == Approx(in.x * in.y * in.z - 24'000 - 2 * small).epsilon(2e-3));
  // The small part lies with its own pull along the box's: 12 high there.
  for (const SetMaster& one : mould->set->masters)
    if (one.part == 1) CHECK(std::abs(one.place.direction({1, 0, 0}).z) == Approx(1).margin(1e-9));
  const auto mix = shop.planner.fresh(results::mix);
  REQUIRE(mix);
  CHECK(mix->castings_a_pull == 3);
  CHECK(mix->pulls == 3);
  const PourMix* casting = nullptr;
  for (const PourMix& p : mix->pours)
    if (p.is_resin) casting = &p;
  REQUIRE(casting);
  CHECK(casting->volume_mm3 > 24'000 + 2 * small);
  CHECK(casting->volume_mm3 < 1.3 * (24'000 + 2 * small));
  const auto work = shop.planner.fresh(results::procedure);
  REQUIRE(work);
  CHECK(work->facts.a_pull == 3);
  CHECK(work->facts.copies == 9);
  int demoulds = 0;
  for (const ProcedureStep& s : work->procedure.steps) demoulds += s.act == Act::demould;
  CHECK(demoulds == 3);
  // In hand the other way round it is the same mould.
  shop.plan(with_part_in_hand(j, 0));
  const auto other = shop.planner.fresh(results::mould);
  CHECK(other->block().rubber_mm3 == Approx(m.rubber_mm3).epsilon(0.01));
  CHECK(shop.planner.fresh(results::mix)->pulls == 3);
  CHECK(shop.planner.fresh(results::mix)->castings_a_pull == 3);
}

TEST_CASE("a stop of a part that is not in hand is told, with the way to it; a form that takes one part says so",
          "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  j.parts[0].original.duties = {Duty::load};
  const auto told = [&](const char* code) -> std::optional<Finding> {
    for (const OpenFinding& f : findings_of(j, shop.planner))
      if (f.finding.code == code) return f.finding;
    return std::nullopt;
  };
  shop.plan(j);
  auto f = told("part-stop");
  REQUIRE(f);
  CHECK(f->severity == Severity::stop);
  CHECK_FALSE(f->answerable);
  CHECK(f->what.find("Small") != std::string::npos);
  CHECK(edited(j, f->remedies[0].edit)->part_name == "Small");
  // Answered in writing with that part in hand it is quiet.
  j.parts[0].laid.answers = {{"duty/load", "tested by the museum's engineer", "2026-11-01T10:00:00", {}, 0}};
  shop.plan(j);
  CHECK_FALSE(told("part-stop"));
  CHECK_FALSE(told("parts-form"));
  j.mould.form = "cut";
  shop.plan(j);
  CHECK(told("parts-form"));
  CHECK_FALSE(shop.planner.fresh(results::mould)->set);
  CHECK(shop.planner.fresh(results::mix)->castings_a_pull == 1);
}

TEST_CASE("a part without a shape is asked for by name; its other hand comes out as its mirror image", "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  j.parts[0].original = {};
  shop.planner.set(Subject{j, {}, rough_study()});
  shop.planner.wait();
  const SlotState s = shop.planner.state(results::other_parts);
  CHECK(s.state == Freshness::failed);
  CHECK(s.error.text().find("Small") != std::string::npos);
  // A wedge is not its own mirror image: each hand has its volume, and the two are not alike.
  Job hands = two_blocks(shop);
  hands.parts.clear();
  TriMesh wedge = shapes::box({0, 0, 0}, {40, 30, 20}, 4);
  for (Vec3& p : wedge.points)
    if (p.x > 39 && p.y > 29) p.x = 52;
  hands.original.mesh = shop.keep(wedge, "wedge.stl");
  hands = *with_other_hand(hands);
  hands.split.pull = Vec3{0, 0, 1};
  shop.plan(hands);
  const auto mould = shop.planner.fresh(results::mould);
  REQUIRE(mould);
  CHECK(mould->others_mm3 == Approx(mould->part_mm3));
  CHECK(mould->part_mm3 == Approx(measure(wedge).volume_mm3));
}

TEST_CASE("what the other parts have is set, cut, measured and looked at too", "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  // The other part lies across its bore, given a pin; it has a gate of its own, a plug and a size.
  JobPart& p = j.parts[0];
  p.original.mesh = shop.keep(shapes::bored_box({12, 9, 8}, 3, 0, 48), "bored.stl");
  p.laid.pull = Vec3{0, 0, 1};
  p.laid.bores = {{BoreTreatment::Kind::pin, {0, 3, 0}, 0}};
  p.laid.gate = Vec3{8, 5, 8};
  MeasuredSize s;
  s.id = "s7", s.name = "Bore", s.nominal_mm = 6, s.finish = Finishing::ream;
  p.original.sizes = {s};
  j.flow.gate = Vec3{20, 15, 20};
  shop.plan(j);
  const auto work = shop.planner.fresh(results::procedure);
  REQUIRE(work);
  const ProcedureFacts& f = work->facts;
  REQUIRE(f.pins.size() == 2);  // one in each of its two cavities
  CHECK(f.pins[0].starts_with("Small: Pin 1 of cavity 1"));
  CHECK(f.gates == 3);
  CHECK(f.sizes == 1);
  REQUIRE(f.finishing.size() == 1);
  CHECK(f.finishing[0].find("Bore") != std::string::npos);
  const auto mould = shop.planner.fresh(results::mould);
  const auto others = shop.planner.fresh(results::other_parts);
  const auto channels = shop.planner.fresh(results::channels);
  REQUIRE((mould && others && channels));
  const auto beside = parts_of_others(*others, *mould, channels->up, j.flow);
  REQUIRE(beside.size() == 1);
  REQUIRE(beside[0].channels.size() == 1);
  const HalvesParts all = at_each({{{}, channels->channels, {}}, beside[0]}, *mould->set);
  REQUIRE(all.channels.size() == 3);
  CHECK(all.pins.size() == 2);
  // Each gate ends over the box by the head, whichever part it leads to.
  const Mould& block = mould->block();
  for (const Channel& c : all.channels)
    CHECK(block.frame.direction(c.path_mm.back()).z == Approx(block.inner_mm.max.z + j.flow.head_mm).margin(1e-6));
  // Channels come off the halves' rubber.
  const auto solids = shop.planner.fresh(results::solids);
  REQUIRE(solids);
  CHECK(shop.planner.fresh(results::other_air));
}

TEST_CASE("what a part that is not in hand casts in takes resin, leaves its sockets and is put in at the bench",
          "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  j.flow.gate = Vec3{20, 15, 20};
  shop.plan(j);
  const auto casting_mm3 = [&] {
    for (const PourMix& p : shop.planner.fresh(results::mix)->pours)
      if (p.is_resin) return p.volume_mm3;
    return 0.0;
  };
  const double before = casting_mm3(), rubber = shop.planner.fresh(results::mix)->rubber_g;
  // A rod of 4 through the small block along its 24, held 6 deep in the rubber at either end.
  Insert rod;
  rod.kind = Insert::Kind::rod, rod.name = "Steel rod", rod.across_mm = 4, rod.long_mm = 36;
  rod.at_mm = {106, -6, 7.5}, rod.axis = {0, 1, 0}, rod.hold = Insert::Hold::seats, rod.density_g_cm3 = 7.85;
  j.parts[0].laid.inserts = {rod};
  shop.plan(j);
  const auto others = shop.planner.fresh(results::other_parts);
  REQUIRE(others);
  const OtherPart& small = others->parts[0];
  const double in_part = std::numbers::pi * 4 * 24;
  CHECK(small.inserts_mm3 == Approx(in_part).epsilon(0.01));
  CHECK(small.sockets.size() == 1);
  CHECK(small.seats_mm3[0] + small.seats_mm3[1] == Approx(std::numbers::pi * 4 * 12).epsilon(0.02));
  // Two of it in the mould.
  CHECK(before - casting_mm3() == Approx(2 * in_part * 1.15).epsilon(0.02));  // no channels yet: with their allowance
  CHECK(before - casting_mm3() >= 2 * in_part - 1);
  CHECK(shop.planner.fresh(results::mix)->rubber_g < rubber);
  bool put_in = false;
  for (const ProcedureStep& s : shop.planner.fresh(results::procedure)->procedure.steps)
    put_in |= s.what.find("Small: Steel rod") != std::string::npos;
  CHECK(put_in);
  // One that cannot lie so stops the part, by its name.
  j.parts[0].laid.inserts[0].at_mm = {101.5, 2, 7.5}, j.parts[0].laid.inserts[0].long_mm = 20;
  shop.planner.set(Subject{j, {}, rough_study()});
  shop.planner.wait();
  const SlotState told = shop.planner.state(results::other_parts);
  CHECK(told.state == Freshness::failed);
  CHECK(told.error.what.find("Small") != std::string::npos);
}

TEST_CASE("what is said of the openings of a part that is not in hand is done at the bench, by its name", "[job]") {
  Shop2 shop;
  Job j;
  j.id = "4", j.copies = 1, j.part_name = "Lid";
  j.mix.silicone_id = "add-40-translucent", j.mix.resin_id = "pu-rigid-ivory";
  // A plate with a window through it and a slot across.
  auto lid = subtract(shapes::box({0, 0, 0}, {60, 40, 8}), shapes::box({12, 14, -1}, {27, 24, 9}));
  REQUIRE(lid);
  lid = subtract(*lid, shapes::box({40, -1, 2.5}, {52, 41, 5.5}));
  REQUIRE(lid);
  j.original.mesh = shop.keep(*std::move(lid), "lid.stl");
  j.split.pull = Vec3{0, 0, 1};
  shop.plan(j);
  const auto openings = shop.planner.fresh(results::openings);
  REQUIRE(openings);
  REQUIRE(openings->found.openings.size() == 2);
  const auto say = [&](OpeningChoice::Kind kind, const Opening& o) {
    auto next = edited(j, edits::SettleOpening{std::string(name_of(kind)), o.at_mm(), 1, 0.5});
    REQUIRE(next);
    j = *std::move(next);
  };
  say(OpeningChoice::Kind::meet, openings->found.openings[0]);
  say(OpeningChoice::Kind::fill, openings->found.openings[1]);
  const auto words = [&] {
    std::string all;
    for (const ProcedureStep& s : shop.planner.fresh(results::procedure)->procedure.steps) all += s.what + "\n";
    return all;
  };
  shop.plan(j);
  const std::string in_hand = words();
  CHECK(in_hand.find("Stop Opening 1 half-way") != std::string::npos);
  CHECK(in_hand.find("every mouth of Opening 2") != std::string::npos);
  JobPart p;
  p.name = "Foot", p.copies = 1;
  p.original.mesh = shop.keep(shapes::box({0, 0, 0}, {30, 20, 8}, 3), "foot.stl");
  p.laid.pull = Vec3{0, 0, 1};
  const Job both = *with_new_part(j, p);
  REQUIRE(both.part_name == "Foot");
  REQUIRE(both.parts[0].laid.openings.size() == 2);
  shop.plan(both);
  const std::string beside = words();
  for (const char* said : {"Stop Opening 1 of Lid half-way", "every mouth of Opening 2 of Lid", "Open Opening 2 of Lid",
                           "out of Opening 1 of Lid"})
    CHECK(beside.find(said) != std::string::npos);
  // On a bar too, beside the one in hand.
  Job bar = both;
  bar.mould.form = "strip";
  shop.plan(bar);
  CHECK(words().find("every mouth of Opening 2 of Lid") != std::string::npos);
}

TEST_CASE("air that stays in a part that is not in hand is told; its vent lets it out", "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  JobPart& p = j.parts[0];
  // Two towers of one height: without a vent both keep their air.
  p.original.mesh = shop.keep(shapes::joined(shapes::box({-20, -8, 0}, {20, 8, 6}, 3),
                                             shapes::joined(shapes::box({-18, -6, 6 - 1e-9}, {-8, 6, 22}, 2),
                                                            shapes::box({8, -6, 6 - 1e-9}, {18, 6, 22}, 2))),
                              "towers.stl");
  p.laid.pull = Vec3{0, 0, 1};
  p.masters = 1;
  const auto told = [&] {
    shop.plan(j);
    const auto r = shop.planner.fresh(results::other_air);
    REQUIRE(r);
    return r->findings;
  };
  const auto without = told();
  REQUIRE(without.size() == 1);
  CHECK(without[0].code == "part-air");
  CHECK(edited(j, without[0].remedies[0].edit)->part_name == "Small");
  const double all = without[0].magnitude;
  p.laid.vents = {{-13, 0, 22}, {13, 0, 22}};
  const auto with = told();
  CHECK((with.empty() || with[0].magnitude < 0.1 * all));
}

TEST_CASE("different parts on one bar: as many of each as the job says, resin and steps of all", "[job]") {
  Shop2 shop;
  Job j;
  j.id = "3", j.copies = 6, j.mould.masters = 3, j.mould.form = "strip";
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-rigid-ivory";
  j.original.mesh = shop.keep(shapes::box({0, 0, 0}, {8, 3, 12}, 2), "peg.stl");
  j.split.pull = Vec3{0, 0, 1};
  JobPart p;
  p.name = "Wedge", p.copies = 4, p.masters = 2;
  p.original.mesh = shop.keep(shapes::box({0, 0, 0}, {10, 4, 6}, 2), "wedge.stl");
  p.laid.pull = Vec3{0, 0, 1};
  j.parts = {p};
  shop.plan(j);
  const auto forms = shop.planner.fresh(results::forms);
  REQUIRE(forms);
  REQUIRE(forms->on_bar.size() == 1);
  CHECK(forms->on_bar[0].many == 2);
  CHECK(forms->plan().works);
  const auto mix = shop.planner.fresh(results::mix);
  REQUIRE(mix);
  CHECK(mix->castings_a_pull == 5);
  CHECK(mix->pulls == 2);
  const double parts = 3 * 8 * 3 * 12 + 2 * 10 * 4 * 6;
  CHECK(mix->pours.back().volume_mm3 == Approx(parts + 3 * forms->plan().resin_waste_mm3));
  CHECK(shop.planner.fresh(results::procedure)->facts.a_pull == 5);
  for (const OpenFinding& f : findings_of(j, shop.planner)) {
    CHECK(f.finding.code != "masters-form");
    CHECK(f.finding.code != "parts-form");
  }
  // What is built holds all five.
  const auto board = shop.planner.fresh(results::board);
  REQUIRE(board);
  CHECK(board->volume_mm3 == Approx(forms->plan().rubber_mm3).epsilon(1e-6));
}

TEST_CASE("a squeeze of several parts closes on all of them: heaps in the common box, weights that add up", "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  j.mould.form = "squeeze";
  shop.plan(j);
  const auto own = shop.planner.fresh(results::closing);
  const auto others = shop.planner.fresh(results::other_closings);
  const auto mould = shop.planner.fresh(results::mould);
  const auto work = shop.planner.fresh(results::procedure);
  REQUIRE(own);
  REQUIRE(others);
  REQUIRE(mould);
  REQUIRE(work);
  CHECK(own->beside_others);
  REQUIRE(others->parts.size() == 1);
  const ClosingResult& small = others->parts[0].closing;
  CHECK(small.hollows == 2);
  CHECK(small.grid.part_mm3() == Approx(12 * 24 * 15).epsilon(0.03));
  CHECK(small.how.hinge_deg == own->how.hinge_deg);  // one half comes down on all of them
  // Each heap lies over its own cavity in the box that all stand in.
  const Vec3 inside = mould->block().inner_mm.size();
  for (const ClosingResult* c : {own.get(), &small}) {
    CHECK(c->heap_from_wall_mm.x > 0);
    CHECK(c->heap_from_wall_mm.y > 0);
    CHECK(c->heap_from_wall_mm.x < inside.x);
    CHECK(c->heap_from_wall_mm.y < inside.y);
  }
  CHECK(std::hypot(own->heap_from_wall_mm.x - small.heap_from_wall_mm.x,
                   own->heap_from_wall_mm.y - small.heap_from_wall_mm.y) > 10);
  CHECK(work->facts.squeeze_kg == Approx(own->weight_kg + small.weight_kg));
  CHECK(work->facts.heap.find("Small") != std::string::npos);
  // The resin of the other part is what it holds and what runs over, no allowance for a gate it has not.
  const auto mix = shop.planner.fresh(results::mix);
  REQUIRE(mix);
  const double over = 1 + own->over_pct / 100;
  double resin = 0;
  for (const PourMix& p : mix->pours)
    if (p.is_resin) resin = p.volume_mm3;
  CHECK(resin == Approx(over * (40 * 30 * 20 + 2 * 12 * 24 * 15)).epsilon(0.02));
  // With the other part in hand its own closing is the same.
  Job turned = with_part_in_hand(j, 0);
  shop.plan(turned);
  const auto as_own = shop.planner.fresh(results::closing);
  REQUIRE(as_own);
  CHECK(as_own->hollows == 2);
  CHECK(as_own->weight_kg == Approx(small.weight_kg).epsilon(0.02));
}

TEST_CASE("the resin in the other parts' channels is that of their own gates", "[job]") {
  Shop2 shop;
  Job j = two_blocks(shop);
  j.flow.gate = Vec3{20, 15, 20};
  shop.plan(j);
  const auto allowed = shop.planner.fresh(results::mix);
  REQUIRE(allowed);
  CHECK_FALSE(shop.planner.fresh(results::channels)->others_mm3);
  j.parts[0].laid.gate = Vec3{112, 12, 7.5};
  shop.plan(j);
  const auto channels = shop.planner.fresh(results::channels);
  REQUIRE(channels);
  REQUIRE(channels->others_mm3);
  // Two of them, each a rod of the gate's width from the part to over the box, and its cup.
  CHECK(*channels->others_mm3 > 2 * 0.785 * j.flow.sprue_mm * j.flow.sprue_mm * 5);
  const auto resin = [](const MixResult& m) {
    for (const PourMix& p : m.pours)
      if (p.is_resin) return p.volume_mm3;
    return 0.0;
  };
  const auto exact = shop.planner.fresh(results::mix);
  REQUIRE(exact);
  const double parts = 2 * 12 * 24 * 15;
  CHECK(resin(*exact) - resin(*allowed) ==
        Approx(*channels->others_mm3 - parts * starting_shop().rules.mix.channel_allowance_pct / 100).epsilon(1e-6));
}

TEST_CASE("castings out of a copied mould have shrunk once more, and what they miss is told", "[job]") {
  Job j;
  j.mix.silicone_id = "add-40-translucent";
  j.mix.resin_id = "pu-rigid-ivory";
  MeasuredSize s;
  s.id = "s1", s.name = "Length", s.kind = SizeKind::outer, s.nominal_mm = 120;
  s.from_mm = {0, 0, 0}, s.to_mm = {120, 0, 0};
  s.lower_mm = 119.0, s.upper_mm = 121.0;
  j.original.sizes = {s};
  j.days.moulds = 3;
  const Job plain = size_projection(j, nullptr);
  CHECK(predict_sizes(plain, starting_shop()).older.empty());
  j.days.from_first_casting = true;
  const SizeResult r = predict_sizes(size_projection(j, nullptr), starting_shop());
  REQUIRE(r.older.size() == 1);
  const double once = 1 - r.predictions[0].predicted_mm / 120, twice = 1 - r.older[0].predicted_mm / 120;
  CHECK(twice == Approx(2 * once).epsilon(0.02));
  CHECK(r.older[0].u_mm > r.predictions[0].u_mm);
  // Limits that hold once and not twice.
  j.original.sizes[0].lower_mm = 120 * (1 - 1.5 * once);
  const Job tight = size_projection(j, nullptr);
  const SizeResult t = predict_sizes(tight, starting_shop());
  const auto told = size_findings(t, tight, starting_shop(), {});
  const auto older = std::find_if(told.begin(), told.end(), [](const Finding& f) { return f.code == "size-older"; });
  REQUIRE(older != told.end());
  REQUIRE(older->remedies.size() == 2);
  const auto back = edited(j, older->remedies[0].edit);
  REQUIRE(back);
  CHECK_FALSE(back->days.copies_its_casting(Form::two_part));
  CHECK(back->days.moulds == 3);
}

}  // namespace tests_job_parts
