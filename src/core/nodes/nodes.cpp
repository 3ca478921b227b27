#include "nodes/nodes.hpp"

namespace palinform {

std::vector<Node> job_nodes(const Catalogue& catalogue, MeshSource meshes) {
  std::vector<Node> nodes;
  add_original_nodes(nodes, catalogue, std::move(meshes));
  add_size_nodes(nodes, catalogue);
  add_split_nodes(nodes, catalogue);
  add_mould_nodes(nodes, catalogue);
  add_flow_nodes(nodes, catalogue);
  add_later_nodes(nodes, catalogue);
  return nodes;
}

}  // namespace palinform
