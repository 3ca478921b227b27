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
  void run() {
    planner.set(Subject{job, {}, rough_study()});
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

}  // namespace tests_job_forms_kept
