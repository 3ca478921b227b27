#pragma once
// For this room: in which turns the jobs of a shop are best laid out.
#include "days/shop_bounds.hpp"
#include "days/shop_turns.hpp"

namespace palinform {

struct OrdersFound {
  Tried best;
  int tried = 0;
};
/// Is it as good as the bounds? Then nothing is better.
bool reaches(const Tried& tried, const ShopBounds& bounds);

/// Whole jobs one after the other by several rules, runs by turns by the longest path that is left, days filled; then
/// from the best of each kind single jobs moved, and where that gains nothing several thrown elsewhere, for
/// `shop.tries` orders or `shop.seconds`. The same however many cores there are, as long as the time suffices.
/// The shop has jobs; cancelled, what is found is worth nothing.
OrdersFound search_orders(const WholeShop& shop, const ReadyShop& ready, const ShopBounds& bounds,
                          const Progress& progress);

}  // namespace palinform
