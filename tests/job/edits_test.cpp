// Edits as values: every one of them does what it says, is refused where it cannot, and has a code of its own.
#include <catch2/catch.hpp>
#include <set>

#include "job/apply.hpp"
#include "shelf/catalogue_view.hpp"

namespace tests_job_edits {

using namespace palinform;

namespace {

Job job_with_size() {
  Job j;
  MeasuredSize s;
  s.id = "s1", s.name = "Bore", s.kind = SizeKind::bore;
  s.nominal_mm = 8, s.lower_mm = 7.98, s.upper_mm = 8.02;
  s.readings_mm = {8.0, 0.315};
  s.limits_guessed = true;
  j.mix.guessed = true;
  j.original.sizes = {s};
  j.split.piece_pulls = {{1, 0, 0}};
  j.split.inserts.resize(1);
  j.split.threads.resize(1);
  j.split.threads[0].how = ThreadChoice::How::rubber;
  j.mix.rubber = starting_shelf().front();
  j.parts.resize(1);
  j.parts[0].name = "Bolt";
  return j;
}

/// One of each, in the order of the variant, with what the job must then say.
struct Case {
  Edit edit;
  bool (*done)(const Job&);
};
const std::vector<Case>& cases() {
  static const std::vector<Case> all{
      {edits::PinSize{"s1", 8.01},
       [](const Job& j) { return j.original.sizes[0].formed == FormedBy::pin && j.original.sizes[0].pin_mm == 8.01; }},
      {edits::FinishSize{"s1", "ream"}, [](const Job& j) { return j.original.sizes[0].finish == Finishing::ream; }},
      {edits::CorrectReading{"s1", 1, 8.001}, [](const Job& j) { return j.original.sizes[0].readings_mm[1] == 8.001; }},
      {edits::SetNominal{"s1", 8.005}, [](const Job& j) { return j.original.sizes[0].nominal_mm == 8.005; }},
      {edits::ConfirmLimits{"s1"}, [](const Job& j) { return !j.original.sizes[0].limits_guessed; }},
      {edits::MasterSurface{"metal"}, [](const Job& j) { return j.original.finish.master_material == "metal"; }},
      {edits::FinishLater{"paint"}, [](const Job& j) { return j.original.finish.later == Later::paint; }},
      {edits::SetContact{"gloves", "nitrile"},
       [](const Job& j) { return j.original.finish.contacts.gloves == Gloves::nitrile; }},
      {edits::TakeSilicone{"a"}, [](const Job& j) { return j.mix.silicone_id == "a"; }},
      {edits::TakeResin{"b"}, [](const Job& j) { return j.mix.resin_id == "b"; }},
      {edits::ScaleMaster{1.01},
       [](const Job& j) { return j.size.master == MasterKind::scaled && j.size.scale == 1.01; }},
      {edits::ScalePerAxis{}, [](const Job& j) { return j.size.master == MasterKind::scaled_per_axis; }},
      {edits::UseLearned{"a", "b", -0.1, 0.03, "2 castings"},
       [](const Job& j) { return j.size.learned && j.size.learned->delta_pct == -0.1; }},
      {edits::MendMesh{}, nullptr},
      {edits::ConfirmMaterials{}, [](const Job& j) { return !j.mix.guessed; }},
      {edits::SetPull{{0, 1, 0}},
       [](const Job& j) {
         return j.split.pull == Vec3{0, 1, 0};
       }},
      {edits::PinBore{{0, 0, 4}, 8},
       [](const Job& j) {
         return j.split.bores.size() == 1 && j.split.bores[0].kind == BoreTreatment::Kind::pin &&
                j.original.sizes[0].formed == FormedBy::pin && j.original.sizes[0].pin_mm == 8.0;
       }},
      {edits::TapeBore{{1, 2, 3}},
       [](const Job& j) {
         return j.original.master_steps.size() == 1 && j.original.master_steps[0].kind == MasterStep::Kind::plug &&
                j.original.master_steps[0].mm == 0;
       }},
      {edits::PlugBore{{1, 2, 3}, 8},
       [](const Job& j) {
         return j.original.master_steps.size() == 1 && j.original.master_steps[0].kind == MasterStep::Kind::plug &&
                j.original.master_steps[0].mm == 2.0;
       }},
      {edits::AddPiece{{0, 1, 0}}, [](const Job& j) { return j.split.piece_pulls.size() == 2; }},
      {edits::AddPieces{{{0, 1, 0}, {0, -1, 0}}}, [](const Job& j) { return j.split.piece_pulls.size() == 3; }},
      {edits::SettleOpening{"slide", {0, 0, 4}, 2, 0.5, 0, 8},
       [](const Job& j) {
         return j.split.openings.size() == 1 && j.split.openings[0].kind == OpeningChoice::Kind::slide &&
                j.split.openings[0].mouth == 2 && j.original.sizes[0].formed == FormedBy::pin;
       }},
      {edits::SlidePocket{{1, 2, 3}, {0, 1, 0}, {0, 0, 1}},
       [](const Job& j) {
         return j.split.pockets == std::vector<PocketSlide>{{{1, 2, 3}, {0, 1, 0}, {0, 0, 1}}};
       }},
      {edits::DropPiece{0}, [](const Job& j) { return j.split.piece_pulls.empty(); }},
      {edits::TapeUndercut{{1, 2, 3}, 4.5}, [](const Job& j) { return j.split.bores[0].radius_mm == 4.5; }},
      {edits::PlaceKeys{"rim"}, [](const Job& j) { return j.mould.keys == "rim" && j.mould.key_places.empty(); }},
      {edits::TakeForm{"skin"}, [](const Job& j) { return j.mould.form == "skin"; }},
      {edits::SetWall{14}, [](const Job& j) { return j.mould.wall_mm == 14.0; }},
      {edits::TakeBox{"Tide box", Vec3{180, 120, 90}, true},
       [](const Job& j) {
         return j.mould.own_box == BoxChoice{"Tide box", Vec3{180, 120, 90}, true};
       }},
      {edits::PutDams{true}, [](const Job& j) { return j.mould.dams; }},
      {edits::MastersTogether{3}, [](const Job& j) { return j.mould.masters == 3; }},
      {edits::PourInStages{false, true}, [](const Job& j) { return j.mould.stage_b && !j.mould.stage_a; }},
      {edits::BrushHalf{"a"}, [](const Job& j) { return j.mould.brushed == Brushed::a; }},
      {edits::TakePart{0}, [](const Job& j) { return j.part_name == "Bolt" && j.parts.size() == 1; }},
      {edits::AddVent{{1, 2, 3}},
       [](const Job& j) {
         return j.flow.vents == std::vector<Vec3>{{1, 2, 3}};
       }},
      {edits::SetGate{{1, 2, 3}},
       [](const Job& j) {
         return j.flow.gate == Vec3{1, 2, 3};
       }},
      {edits::StandSo{true, 12, 90, Vec3{1, 0, 0}, {{0, 0, 1}}},
       [](const Job& j) {
         return j.flow.turned_over && j.flow.tilt_deg == 12 && j.flow.azimuth_deg == 90 && j.flow.gate &&
                j.flow.vents.size() == 1;
       }},
      {edits::SetSprue{7}, [](const Job& j) { return j.flow.sprue_mm == 7; }},
      {edits::SetHead{80}, [](const Job& j) { return j.flow.head_mm == 80; }},
      {edits::SetVentSize{1.5}, [](const Job& j) { return j.flow.vent_mm == 1.5; }},
      {edits::SetPressure{250}, [](const Job& j) { return j.flow.pressure_kpa == 250 && j.flow.vacuum_kpa == 4; }},
      {edits::HelpFill{"pressure"}, [](const Job& j) { return j.flow.aid == FillAid::pressure; }},
      {edits::HeapHere{{1, 2, 3}},
       [](const Job& j) {
         return j.flow.squeeze.heap == Vec3{1, 2, 3};
       }},
      {edits::PourOver{20}, [](const Job& j) { return j.flow.squeeze.over_pct == 20.0; }},
      {edits::BrushDetails{false}, [](const Job& j) { return !j.flow.squeeze.brushed; }},
      {edits::TurnOver{true}, [](const Job& j) { return j.flow.turned_over; }},
      {edits::HoldInsert{0, "wire"}, [](const Job& j) { return j.split.inserts[0].hold == Insert::Hold::wire; }},
      {edits::MoveInsert{0, {1, 0, 0}},
       [](const Job& j) {
         return j.split.inserts[0].at_mm == Vec3{1, 0, 0};
       }},
      {edits::DropInsert{0}, [](const Job& j) { return j.split.inserts.empty(); }},
      {edits::LineThrough{{{1, 2, 3}}, {0, 0, 1}, 4},
       [](const Job& j) { return j.split.marks.line.size() == 1 && j.split.marks.to_a.at(0).point_mm.z > 3; }},
      {edits::MakeThread{0, "hard"},
       [](const Job& j) { return j.split.threads[0].how == ThreadChoice::How::hard && j.split.bores.size() == 1; }},
      {edits::WarmRoom{24}, [](const Job& j) { return j.size.room_c == 24; }},
      {edits::CureLonger{"cast", 90}, [](const Job& j) { return j.days.changes.at("cast").wait_min == 90.0; }},
      {edits::MakeMoulds{3, true},
       [](const Job& j) { return j.days.moulds == 3 && j.days.copies_its_casting(Form::two_part); }},
      {edits::OpenOn{5}, [](const Job& j) { return j.days.bench.days[5]; }},
      {edits::PromiseFor{"2026-12-18"}, [](const Job& j) { return j.days.promised == "2026-12-18"; }},
      {edits::SetScaleDivision{0.01}, [](const Job& j) { return j.mix.scale_division_g == 0.01; }},
      {edits::SetWaste{15}, [](const Job& j) { return j.mix.waste_pct == 15; }},
      {edits::TakeFigures{starting_shelf().front().id}, [](const Job& j) { return !j.mix.rubber; }},
      {edits::TakeCup{2000}, [](const Job& j) { return j.mix.cup_ml == 2000; }},
      {edits::ClearAir{true, "rest"}, [](const Job& j) { return j.mix.resin_air == AirBy::rest; }},
      {edits::AddHands{2}, [](const Job& j) { return j.mix.people == 2; }}};
  return all;
}

}  // namespace

TEST_CASE("every edit does what it says, and the same edit on the same job gives the same job", "[job]") {
  const Job before = job_with_size();
  REQUIRE(cases().size() == std::variant_size_v<EditVariant>);  // a new edit needs its case
  std::set<std::string_view> codes;
  for (size_t i = 0; i < cases().size(); ++i) {
    const Case& c = cases()[i];
    INFO(code_of(c.edit));
    CHECK(c.edit.index() == i);
    CHECK(codes.insert(code_of(c.edit)).second);
    const auto after = edited(before, c.edit);
    if (!c.done) {
      CHECK_FALSE(after);
      continue;
    }
    REQUIRE(after);
    CHECK(c.done(*after));
    CHECK_FALSE(*after == before);
    CHECK(*edited(before, c.edit) == *after);
  }
}

TEST_CASE("an edit that speaks of what is not there, or breaks a rule, changes nothing", "[job]") {
  const Job j = job_with_size();
  const std::vector<Edit> refused{edits::PinSize{"nope", 3},
                                  edits::FinishSize{"s1", "lick"},
                                  edits::CorrectReading{"s1", 2, 1.0},
                                  edits::SetNominal{"nope", 3},
                                  edits::ConfirmLimits{""},
                                  edits::FinishLater{"sing"},
                                  edits::ScaleMaster{9},
                                  edits::SetPull{{0, 0, 0}},
                                  edits::ClearAir{false, "prayer"},
                                  edits::AddHands{0},
                                  edits::SetContact{"gloves", "mittens"},
                                  edits::SetContact{"socks", "yes"},
                                  edits::SetContact{"released", "perhaps"},
                                  edits::SetContact{"cured-h", "-3"},
                                  edits::DropPiece{1},
                                  edits::TakeFigures{"nope"},
                                  edits::AddPieces{std::vector<Vec3>(9, {1, 0, 0})},
                                  edits::PlaceKeys{"glue"},
                                  edits::TakeForm{"cake"},
                                  edits::SetWall{-3},
                                  edits::TakeBox{"Tide box", {}, false},
                                  edits::TakePart{7},
                                  edits::AddVent{{std::nan(""), 0, 0}},
                                  edits::StandSo{false, 120, 0},
                                  edits::SetSprue{0},
                                  edits::HelpFill{"luck"},
                                  edits::HeapHere{{std::nan(""), 0, 0}},
                                  edits::PourOver{-1},
                                  edits::SetScaleDivision{0},
                                  edits::TakeCup{-1}};
  for (const Edit& e : refused) {
    INFO(code_of(e));
    const auto r = edited(j, e);
    REQUIRE_FALSE(r);
    CHECK_FALSE(r.error().text().empty());
  }
  Job both = j;
  both.flow.aid = FillAid::vacuum_then_pressure;
  CHECK(edited(both, edits::SetPressure{250})->flow.pressure_kpa == 250);
  CHECK(edited(both, edits::SetPressure{250})->flow.vacuum_kpa == both.flow.vacuum_kpa);
  CHECK(edited(both, edits::SetPressure{9})->flow.vacuum_kpa == 9);
  CHECK(edited(j, edits::CorrectReading{"s1", 1})->original.sizes[0].readings_mm == std::vector<double>{8.0});
}

}  // namespace tests_job_edits
