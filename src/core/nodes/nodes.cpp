#include "nodes/nodes.hpp"

#include <algorithm>
#include <array>

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
  const auto in = [](const auto& names, std::string_view name) {
    return std::find(names.begin(), names.end(), name) != names.end();
  };
  // What the forms are counted on nobody asks for by itself.
  constexpr std::array under_forms{results::growth.name,       results::jacket_field.name, results::jacket.name,
                                   results::skin_samples.name, results::coat_sides.name,   results::cup.name,
                                   results::whole_pours.name,  results::hanging.name,      results::brushed.name};
  const bool forms = in(wanted, results::forms.name);
  std::erase_if(nodes, [&](const Node& n) { return !in(wanted, n.name) && !(forms && in(under_forms, n.name)); });
  return nodes;
}

}  // namespace palinform
