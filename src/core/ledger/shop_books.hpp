#pragma once
/// What a workshop's books say to a job that is planned in it.
#include "ledger/workshop.hpp"
#include "nodes/nodes.hpp"

namespace palinform {

/// Lots, trials, learnt figures, equipment, emptied cups; people and days off. `today`: ISO date. What cannot be read
/// is left out.
Books books_of(Workshop& workshop, const std::string& today);

/// The shop of that workshop: its shelf, rules, habits and blocks in place of `shop`'s. Refused where shelf or rules
/// cannot be read.
Result<Shop> shop_of(Workshop& workshop, Shop shop);
/// The same as far as it can be read; what cannot is told in `faults`, the shop's own figure stands for it.
Shop shop_of(Workshop& workshop, Shop shop, std::vector<Error>& faults);

}  // namespace palinform
