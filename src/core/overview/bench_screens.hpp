#pragma once
/// The screens of a bench run, made from the procedure and the mix.
#include <vector>

#include "bench/run.hpp"
#include "mix/shared_batch.hpp"
#include "nodes/nodes.hpp"

namespace palinform {

/// One or more screens for each step. `order`: indices into the procedure's steps; weighing is a screen for the cup and
/// one for each part that goes in.
std::vector<BenchScreen> bench_screens(const Procedure& procedure, const std::vector<size_t>& order,
                                       const MixResult& mix, double scale_division_g);

/// The steps in the order in which they are planned to begin, from `from` on (an id; empty: all of them). Without days
/// in the procedure's own order.
std::vector<size_t> bench_order(const Procedure& procedure, const DaysResult* days, const std::string& from = {});

/// Where a run may begin.
enum class BeginAt { whole, block, one_more, top_up, shared };
struct BenchBeginning {
  BeginAt at = BeginAt::whole;
  std::string step;                      ///< block: its first step
  int64_t mould_id = 0;                  ///< one_more: of the shelf
  bool resin = true;                     ///< top_up: of the casting material, else of the rubber
  double g = 0;                          ///< top_up
  std::vector<CavityShare> shares = {};  ///< shared: one batch for all of them, as share_batch() found
};
/// A run that begins there; refused with the reason where there is nothing to do.
Result<BenchRun> begin_bench_run(const Job& job, const ProcedureResult& work, const MixResult& mix,
                                 const DaysResult* days, const Shop& shop, const BenchBeginning& beginning,
                                 WallSecond now);

}  // namespace palinform
