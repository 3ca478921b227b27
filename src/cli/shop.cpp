#include "shop.hpp"

#include <filesystem>

#include "ledger/workshop.hpp"
#include "mesh/save.hpp"

namespace palinform::cli {
namespace {

Result<std::unique_ptr<Workshop>> opened() {
  std::error_code ec;
  // Opening would make one that is not there.
  if (!std::filesystem::exists(workshop_file(), ec))
    return Error{"there is no such workshop", base_name(workshop_file()), "palin demo DIR writes one to try."};
  return Workshop::open(workshop_file());
}

}  // namespace

std::string& workshop_file() {
  static std::string file;
  return file;
}

Result<std::shared_ptr<const Shop>> shop_asked() {
  static std::shared_ptr<const Shop> read;
  if (read) return read;
  auto shop = std::make_shared<Shop>(starting_shop());
  if (!workshop_file().empty()) {
    auto w = opened();
    if (!w) return w.error();
    auto shelf = (*w)->shelf();
    if (!shelf) return shelf.error();
    *shop = with_shelf(*shop, *std::move(shelf));
    auto rules = (*w)->rules();
    if (!rules) return rules.error();
    shop->rules = *std::move(rules);
    if (auto habits = (*w)->habits()) shop->habits = *std::move(habits);
    if (auto blocks = (*w)->block_lives()) shop->blocks = *std::move(blocks);
  }
  read = std::move(shop);
  return read;
}

Result<Books> books_asked() {
  Books books;
  if (workshop_file().empty()) return books;
  auto w = opened();
  if (!w) return w.error();
  if (auto lots = (*w)->lots()) books.lots = *std::move(lots);
  if (auto learned = (*w)->learned()) books.learned = *std::move(learned);
  if (auto trials = (*w)->trials()) books.trials = *std::move(trials);
  if (auto equipment = (*w)->equipment()) books.equipment = *std::move(equipment);
  books.others.people = books.equipment.people;
  books.others.holidays = holidays_of(books.equipment);
  if (auto emptied = (*w)->emptied()) books.emptied = *std::move(emptied);
  return books;
}

}  // namespace palinform::cli
