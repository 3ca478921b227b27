#pragma once
/// What a job takes of each material, without anything being shown: its plan up to Mix.
#include "mix/shopping.hpp"
#include "nodes/nodes.hpp"

namespace palinform {

/// Its plan up to Mix; null for a job that has no mould yet. As needs_of_job.
Result<std::shared_ptr<const MixResult>> mix_of_job(const Job& job, const Shop& shop, MeshSource meshes,
                                                    std::shared_ptr<ResultStore> store, const Progress& progress);

/// Results already in `store` are not worked out again. Nothing for a job that has no mould yet; an error where its
/// plan fails or `progress` is cancelled.
Result<std::vector<Need>> needs_of_job(const Job& job, const Shop& shop, MeshSource meshes,
                                       std::shared_ptr<ResultStore> store, const Progress& progress);

}  // namespace palinform
