#pragma once
/// What is told of inserts that are cast in, and of threads (M24).
#include "rules/rules.hpp"
#include "stages/results.hpp"

namespace palinform {

struct InsertGround {
  const OriginalResult& master;
  const InsertsResult& placed;
  const std::vector<Insert>& inserts;
  const std::vector<ThreadChoice>& threads;
  const Split* split = nullptr;  ///< null: not split yet
  std::optional<Vec3> gate_mm;
  double sprue_mm = 5;
  double resin_g_cm3 = 1.1, shore_a = 30;
  bool squeezed = false;
};

std::vector<Finding> insert_findings(const InsertGround& g, const Shop& shop);

}  // namespace palinform
