#pragma once
/// For tests of what follows from results, not of how finely they were worked out: each plan takes a quarter of the
/// time.
#include <algorithm>

#include "graph/node.hpp"
#include "graph/store.hpp"
#include "stages/study.hpp"

using palinform::rough_study;

/// What one test has worked out the next one need not: results go by the hash of what they were made from. For Planners
/// over the starting shop, whose rules stand in no key.
inline std::shared_ptr<palinform::ResultStore> shared_results() {
  static const auto store = std::make_shared<palinform::ResultStore>(size_t{2} << 30);
  return store;
}

/// The nodes up to the one that makes `last`, in working order: each reads only those before it.
inline std::vector<palinform::Node> up_to(std::vector<palinform::Node> nodes, std::string_view last) {
  const auto at = std::find_if(nodes.begin(), nodes.end(), [&](const palinform::Node& n) { return n.name == last; });
  if (at != nodes.end()) nodes.erase(at + 1, nodes.end());
  return nodes;
}

/// The same nodes but for the solids to be written and looked at, which no step of such a test follows from.
inline std::vector<palinform::Node> without_solids(std::vector<palinform::Node> nodes) {
  std::erase_if(nodes, [](const palinform::Node& n) { return n.name == "solids" || n.name == "assembly"; });
  return nodes;
}
