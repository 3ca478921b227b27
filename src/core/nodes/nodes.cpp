#include "nodes/nodes.hpp"

#include <algorithm>

namespace palinform {

std::vector<Node> job_nodes(const Shop& shop, MeshSource meshes) {
  std::vector<Node> nodes;
  add_original_nodes(nodes, shop, meshes);
  add_size_nodes(nodes, shop);
  add_split_nodes(nodes, shop);
  add_mould_nodes(nodes, shop, meshes);
  add_flow_nodes(nodes, shop);
  add_later_nodes(nodes, shop, meshes);
  return nodes;
}

std::vector<Node> only(std::vector<Node> nodes, const std::vector<std::string_view>& wanted) {
  std::erase_if(nodes, [&](const Node& n) { return std::find(wanted.begin(), wanted.end(), n.name) == wanted.end(); });
  return nodes;
}

}  // namespace palinform
