#include "nodes/job_needs.hpp"

#include "stages/weighing.hpp"

namespace palinform {

Result<std::shared_ptr<const MixResult>> mix_of_job(const Job& job, const Shop& shop, MeshSource meshes,
                                                    std::shared_ptr<ResultStore> store, const Progress& progress) {
  std::vector<std::string_view> wanted{"original", "prepared", "master",      "bores", "wishes", "search",
                                       "releases", "split",    "witness",     "thin",  "pieces", "undercuts",
                                       "facts",    "beds",     "other-parts", "mould", "forms",  "ways",
                                       "keys",     "channels", "mix"};
  if (!job.split.openings.empty()) wanted.push_back("openings");
  Planner planner(only(job_nodes(shop, std::move(meshes)), wanted), 2, std::move(store));
  planner.set(Subject{job});
  planner.wait(&progress);
  if (progress.cancelled()) return Error::stopped();
  for (const SlotState& s : planner.states())
    if (s.state == Freshness::failed) return s.error;
  return std::shared_ptr<const MixResult>(planner.fresh(results::mix));
}

Result<std::vector<Need>> needs_of_job(const Job& job, const Shop& shop, MeshSource meshes,
                                       std::shared_ptr<ResultStore> store, const Progress& progress) {
  const auto mix = mix_of_job(job, shop, std::move(meshes), std::move(store), progress);
  if (!mix) return mix.error();
  if (!*mix) return std::vector<Need>{};
  return needs_of(**mix, job.mix, job.days.moulds, shop);
}

}  // namespace palinform
