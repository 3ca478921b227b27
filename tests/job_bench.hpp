#pragma once
/// A job on one mesh, planned as the window plans it, for tests of what follows from what the job says.
#include <catch2/catch.hpp>

#include "job/apply.hpp"
#include "overview/overview.hpp"
#include "rough_study.hpp"
#include "shapes.hpp"

struct JobBench {
  std::shared_ptr<const palinform::TriMesh> mesh;
  palinform::Planner planner{
      palinform::job_nodes(
          palinform::starting_shop(),
          [this](const std::string&) -> palinform::Result<std::shared_ptr<const palinform::TriMesh>> { return mesh; }),
      2, shared_results()};
  palinform::Job job;
  std::vector<palinform::OpenFinding> last;
  /// Pulled along z, with a usual rubber and resin.
  JobBench(const palinform::TriMesh& part, const std::string& file)
      : mesh(std::make_shared<const palinform::TriMesh>(part)) {
    job.id = palinform::new_id();
    job.original.mesh = {hash_of(*mesh).hex(), file, palinform::LengthUnit::mm, 0};
    job.split.pull = palinform::Vec3{0, 0, 1};
    job.mix.silicone_id = "add-40-translucent";
    job.mix.resin_id = "pu-rigid-ivory";
    run();
  }
  void run() {
    planner.set(palinform::Subject{job, {}, rough_study()});
    planner.wait();
  }
  void take(const palinform::Edit& edit) {
    auto next = palinform::edited(job, edit);
    REQUIRE(next);
    job = *std::move(next);
    run();
  }
  /// The first of that code; kept until the next is asked for.
  const palinform::Finding* finding(std::string_view code) {
    last = palinform::findings_of(job, planner);
    for (const palinform::OpenFinding& f : last)
      if (f.finding.code == code) return &f.finding;
    return nullptr;
  }
};
