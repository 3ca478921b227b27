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

Result<Shop> shop_of(Workshop& w, Shop shop) {
  auto shelf = w.shelf();
  if (!shelf) return shelf.error();
  shop = with_shelf(shop, *std::move(shelf));
  auto rules = w.rules();
  if (!rules) return rules.error();
  shop.rules = *std::move(rules);
  if (auto habits = w.habits()) shop.habits = *std::move(habits);
  if (auto blocks = w.block_lives()) shop.blocks = *std::move(blocks);
  return shop;
}

}  // namespace palinform
