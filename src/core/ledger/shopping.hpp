#pragma once
/// What the whole shop has to buy: every job's needs against its lots.
#include "ledger/workshop.hpp"
#include "nodes/job_needs.hpp"

namespace palinform {

/// What the shelf says of every material, for a shopping list.
std::vector<ShelfFacts> shelf_facts(const Shop& shop);

/// Jobs whose plan fails are named in `left_out`, not reckoned.
Result<std::vector<ShoppingLine>> shop_for_all(Workshop& workshop, const Shop& shop, const std::string& today,
                                               std::shared_ptr<ResultStore> store, std::vector<std::string>& left_out,
                                               const Progress& progress);

}  // namespace palinform
