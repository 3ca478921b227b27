#pragma once
/// The nodes of a job: what each reads, and the function it runs. Nothing is worked out here.
#include <functional>

#include "graph/planner.hpp"
#include "job/job.hpp"
#include "rules/equipment.hpp"
#include "rules/rules.hpp"
#include "stages/slots.hpp"
#include "stages/study.hpp"

namespace palinform {

/// What the workshop's books say, as far as a job reads it.
struct Books {
  std::vector<Lot> lots;
  std::string today;  ///< ISO date; empty: no stock is looked at
  std::vector<LearnedRecord> learned;
  std::vector<Trial> trials = {};           ///< patch and cup tests, oldest first
  Equipment equipment = {};                 ///< what the shop owns
  std::vector<EmptiedRecord> emptied = {};  ///< cups weighed after pouring
  ShopTime others = {};                     ///< what the other open jobs take; its people and holidays are the shop's
  Begun begun = {};                         ///< what of the job is done
};

/// What the nodes look at.
struct Subject {
  Job job;
  Books books = {};
  Study study = {};
};

/// All nodes over one shop and one source of meshes (both must outlive the Planner). The Planner is given a
/// Subject.
std::vector<Node> job_nodes(const Shop& shop, MeshSource meshes);

/// Those of `nodes` that make the named results (with the forms what they are counted on): for a question that needs no
/// more.
std::vector<Node> only(std::vector<Node> nodes, const std::vector<std::string_view>& wanted);

void add_original_nodes(std::vector<Node>& nodes, const Shop& shop, MeshSource meshes);
void add_size_nodes(std::vector<Node>& nodes, const Shop& shop);
void add_split_nodes(std::vector<Node>& nodes, const Shop& shop);
void add_form_nodes(std::vector<Node>& nodes, const Shop& shop);  ///< among those of the mould
void add_mould_nodes(std::vector<Node>& nodes, const Shop& shop, const MeshSource& meshes);
void add_flow_nodes(std::vector<Node>& nodes, const Shop& shop);
void add_later_nodes(std::vector<Node>& nodes, const Shop& shop,
                     const MeshSource& meshes);  ///< mix, stock, days, check

/// A node that reads a Job: read(const Job&, const View&) → std::optional<In>.
template <class Out, class Read, class Run>
Node job_node(const Slot<Out>& slot, Read read, Run run) {
  return node(
      slot, [read](const View& view) { return read(view.subject<Subject>().job, view); }, run);
}

}  // namespace palinform
