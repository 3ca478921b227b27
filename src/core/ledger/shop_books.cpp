#include "ledger/shop_books.hpp"

namespace palinform {

Books books_of(Workshop& w, const std::string& today) {
  Books books;
  books.today = today;
  if (auto lots = w.lots()) books.lots = *std::move(lots);
  if (auto learned = w.learned()) books.learned = *std::move(learned);
  if (auto trials = w.trials()) books.trials = *std::move(trials);
  if (auto equipment = w.equipment()) books.equipment = *std::move(equipment);
  if (auto emptied = w.emptied()) books.emptied = *std::move(emptied);
  books.others.people = books.equipment.people;
  books.others.holidays = holidays_of(books.equipment);
  books.others.places = places_of(books.equipment);
  return books;
}

Shop shop_of(Workshop& w, Shop shop, std::vector<Error>& faults) {
  if (auto shelf = w.shelf())
    shop = with_shelf(shop, *std::move(shelf));
  else
    faults.push_back(shelf.error());
  if (auto rules = w.rules())
    shop.rules = *std::move(rules);
  else
    faults.push_back(rules.error());
  if (auto habits = w.habits()) shop.habits = *std::move(habits);
  if (auto blocks = w.block_lives()) shop.blocks = *std::move(blocks);
  return shop;
}

Result<Shop> shop_of(Workshop& w, Shop shop) {
  std::vector<Error> faults;
  shop = shop_of(w, std::move(shop), faults);
  if (!faults.empty()) return faults.front();
  return shop;
}

}  // namespace palinform
