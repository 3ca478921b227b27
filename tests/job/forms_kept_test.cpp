// What the forms are counted on is built once: an edit builds again only what stands on what it changed.
#include <catch2/catch.hpp>

#include "nodes/nodes.hpp"
#include "rough_study.hpp"
#include "rules/rules.hpp"
#include "shapes.hpp"

namespace tests_job_forms_kept {

using namespace palinform;

namespace {

struct Planned {
  std::shared_ptr<const TriMesh> mesh = std::make_shared<const TriMesh>(shapes::box({0, 0, 0}, {40, 30, 20}, 2));
  Planner planner{
      without_solids(job_nodes(starting_shop(),
                               [this](const std::string&) -> Result<std::shared_ptr<const TriMesh>> { return mesh; })),
      2};
  Job job;
  explicit Planned(Form form) {
    job.id = new_id();
    job.original.mesh = {hash_of(*mesh).hex(), "block.stl", LengthUnit::mm, 0};
    job.split.pull = Vec3{0, 0, 1};
    job.mix.silicone_id = "add-40-translucent";
    job.mix.resin_id = "pu-rigid-ivory";
    job.mould.form = std::string(name_of(form));
    run();
  }
  bool in_hand = false;  // something is dragged
  void run() {
    Study study = rough_study();
    study.in_hand = in_hand;
    planner.set(Subject{job, {}, study});
    planner.wait();
    for (const SlotState& s : planner.states()) {
      INFO(s.name << ": " << s.error.text());
      CHECK(s.state != Freshness::failed);
    }
  }
  std::map<std::string, Hash128> keys() const {
    std::map<std::string, Hash128> out;
    for (const std::string_view name :
         {"growth", "jacket-field", "jacket", "coat-sides", "whole-pours", "board", "rubber-air", "forms"})
      out[std::string(name)] = planner.state(name).key;
    return out;
  }
  std::vector<std::string> built_anew(const std::map<std::string, Hash128>& before) const {
    std::vector<std::string> out;
    for (const auto& [name, key] : keys())
      if (key != before.at(name)) out.push_back(name);
    return out;
  }
  const FormPlan& plan(Form f) { return planner.fresh(results::forms)->plans[static_cast<size_t>(f)]; }
};

}  // namespace

TEST_CASE("another resin or number of copies builds no form anew", "[job]") {
  Planned p(Form::two_part);
  const auto before = p.keys();
  p.job.mix.resin_id = "pu-rigid-slow";
  p.job.copies = 40;
  p.run();
  CHECK(p.built_anew(before) == std::vector<std::string>{"forms"});
}

TEST_CASE("a coat that is a little thicker builds its jacket anew, on the same distances", "[job]") {
  Planned p(Form::skin);
  const auto coats_ml = [&] {
    double sum = 0;
    for (const RubberPour& c : p.plan(Form::skin).pours) sum += c.volume_mm3;
    return sum * 1e-3;
  };
  p.job.mould.coats = {{1.2}, {1.2}, {1.3}, {1.3}};
  p.run();
  const auto before = p.keys();
  const double ml = coats_ml();
  p.job.mould.coats.back().mm = 1.8;
  p.run();
  const std::vector<std::string> anew = p.built_anew(before);
  CHECK(std::find(anew.begin(), anew.end(), "growth") == anew.end());
  CHECK(std::find(anew.begin(), anew.end(), "jacket-field") == anew.end());
  CHECK(std::find(anew.begin(), anew.end(), "jacket") != anew.end());
  CHECK(coats_ml() > 1.05 * ml);
  // As if it had been so from the start.
  Planned other(Form::skin);
  other.job.mould.coats = p.job.mould.coats;
  other.run();
  REQUIRE(other.plan(Form::skin).pours.size() == p.plan(Form::skin).pours.size());
  for (size_t k = 0; k < p.plan(Form::skin).pours.size(); ++k)
    CHECK(other.plan(Form::skin).pours[k].volume_mm3 == p.plan(Form::skin).pours[k].volume_mm3);
  CHECK(other.plan(Form::skin).hard_mm3 == p.plan(Form::skin).hard_mm3);
}

TEST_CASE("a coat is taken in hand: no distances are built for that, and the jacket is nearly the same", "[job]") {
  Planned p(Form::skin);
  const auto before = p.keys();
  const double jacket_mm3 = p.plan(Form::skin).hard_mm3;
  p.in_hand = true;
  p.run();
  const std::vector<std::string> anew = p.built_anew(before);
  CHECK(std::find(anew.begin(), anew.end(), "jacket-field") == anew.end());
  CHECK(std::find(anew.begin(), anew.end(), "jacket") != anew.end());
  CHECK(p.plan(Form::skin).hard_mm3 == Approx(jacket_mm3).epsilon(0.03));
  CHECK(p.plan(Form::skin).hard_mm3 != jacket_mm3);
  // Let go, all is as it was.
  p.in_hand = false;
  p.run();
  CHECK(p.built_anew(before).empty());
  CHECK(p.plan(Form::skin).hard_mm3 == jacket_mm3);
}

TEST_CASE("the coats of a brushed half in hand: a coarse look nearly the same, let go as it was", "[job]") {
  Planned p(Form::two_part);
  p.job.mould.brushed = Brushed::a;
  p.job.mould.coats = {{1.2}, {1.2}, {1.6}};
  p.run();
  const auto brushed = [&] { return *p.planner.fresh(results::forms)->brushed; };
  const BrushedResult fine = brushed();
  p.in_hand = true;
  p.run();
  const BrushedResult coarse = brushed();
  REQUIRE(coarse.coats_mm3.size() == 3);
  for (size_t k = 0; k < 3; ++k) CHECK(coarse.coats_mm3[k] == Approx(fine.coats_mm3[k]).epsilon(0.06));
  CHECK(coarse.backing_mm3 == Approx(fine.backing_mm3).epsilon(0.06));
  CHECK(coarse.rubber->triangles.size() < fine.rubber->triangles.size() / 4);
  p.in_hand = false;
  p.run();
  CHECK(brushed().coats_mm3 == fine.coats_mm3);
  CHECK(brushed().rubber == fine.rubber);
}

TEST_CASE("while the wall is dragged what nobody looks at waits, and stands again once it is let go", "[job]") {
  Planned p(Form::two_part);
  p.run();
  const auto key = [&](const auto& slot) { return p.planner.state(slot).key; };
  const auto here = [&](const auto& slot) { return p.planner.state(slot).state == Freshness::fresh; };
  REQUIRE((here(results::board) && here(results::keys) && here(results::ways)));
  const Hash128 places = key(results::skin_places), field = key(results::jacket_field), board = key(results::board);
  const double rubber = p.planner.fresh(results::forms)->plan().rubber_mm3;
  p.in_hand = true;
  p.job.mould.wall_mm = 16;
  p.run();
  CHECK((here(results::mould) && here(results::forms) && here(results::keys)));
  CHECK(p.planner.fresh(results::forms)->plan().rubber_mm3 > 1.2 * rubber);
  for (const std::string_view name : {"board", "ways", "channels", "rubber-air", "filling"}) {
    INFO(name);
    CHECK(p.planner.state(name).state == Freshness::absent);
  }
  // What stands on the part alone is not found out anew for another wall.
  CHECK(key(results::skin_places) == places);
  CHECK(key(results::jacket_field) == field);
  p.in_hand = false;
  p.run();
  CHECK((here(results::board) && here(results::ways)));
  CHECK_FALSE(key(results::board) == board);
  p.job.mould.wall_mm.reset();
  p.run();
  CHECK(key(results::board) == board);
  CHECK(p.planner.fresh(results::forms)->plan().rubber_mm3 == rubber);
}

TEST_CASE("a wall is dragged round a brushed half: on distances that are there, nearly as let go", "[job]") {
  Planned p(Form::two_part);
  p.job.mould.brushed = Brushed::b;
  p.run();
  const Hash128 near = p.planner.state(results::part_distances).key;
  p.job.mould.wall_mm = 15;
  p.in_hand = true;
  p.run();
  CHECK(p.planner.state(results::part_distances).key == near);
  const BrushedResult coarse = *p.planner.fresh(results::forms)->brushed;
  p.in_hand = false;
  p.run();
  const BrushedResult fine = *p.planner.fresh(results::forms)->brushed;
  REQUIRE(coarse.coats_mm3.size() == fine.coats_mm3.size());
  for (size_t k = 0; k < fine.coats_mm3.size(); ++k)
    CHECK(coarse.coats_mm3[k] == Approx(fine.coats_mm3[k]).epsilon(0.06));
  CHECK(coarse.backing_mm3 == Approx(fine.backing_mm3).epsilon(0.06));
}

}  // namespace tests_job_forms_kept
