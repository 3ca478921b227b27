#include "nodes/nodes.hpp"

#include <algorithm>
#include <array>

namespace palinform {

namespace {

/// While something is dragged nobody looks at these, and what they have begun holds up what is looked at: they wait
/// until it is let go, and what follows from them with them.
constexpr std::array at_rest{results::ways.name,       results::board.name,          results::draws_past.name,
                             results::cavity.name,     results::network.name,        results::closing.name,
                             results::channels.name,   results::other_closings.name, results::air_plan.name,
                             results::air_advice.name, results::filling.name,        results::other_air.name,
                             results::rubber_air.name, results::solids.name,         results::assembly.name};

void wait_for_rest(Node& node) {
  node.prepare = [prepare = std::move(node.prepare)](const View& plan) {
    return plan.subject<Subject>().study.in_hand ? std::nullopt : prepare(plan);
  };
}

}  // namespace

std::vector<Node> job_nodes(const Shop& shop, MeshSource meshes) {
  std::vector<Node> nodes;
  add_original_nodes(nodes, shop, meshes);
  add_size_nodes(nodes, shop);
  add_split_nodes(nodes, shop);
  add_mould_nodes(nodes, shop, meshes);
  add_flow_nodes(nodes, shop);
  add_later_nodes(nodes, shop, meshes);
  for (Node& n : nodes)
    if (std::find(at_rest.begin(), at_rest.end(), n.name) != at_rest.end()) wait_for_rest(n);
  return nodes;
}

std::vector<Node> only(std::vector<Node> nodes, const std::vector<std::string_view>& wanted) {
  const auto in = [](const auto& names, std::string_view name) {
    return std::find(names.begin(), names.end(), name) != names.end();
  };
  // What the forms are counted on nobody asks for by itself.
  constexpr std::array under_forms{
      results::growth.name,       results::jacket_field.name,   results::jacket.name, results::skin_places.name,
      results::skin_samples.name, results::coat_sides.name,     results::cup.name,    results::whole_pours.name,
      results::hanging.name,      results::part_distances.name, results::brushed.name};
  const bool forms = in(wanted, results::forms.name);
  std::erase_if(nodes, [&](const Node& n) { return !in(wanted, n.name) && !(forms && in(under_forms, n.name)); });
  return nodes;
}

}  // namespace palinform
