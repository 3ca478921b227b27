#include "shop.hpp"

#include <filesystem>

#include "ledger/shop_books.hpp"
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

bool& rough_look() {
  static bool rough = false;
  return rough;
}

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
    auto own = shop_of(**w, std::move(*shop));
    if (!own) return own.error();
    *shop = *std::move(own);
  }
  read = std::move(shop);
  return read;
}

Result<Books> books_asked() {
  if (workshop_file().empty()) return Books{};
  auto w = opened();
  if (!w) return w.error();
  return books_of(**w, {});
}

}  // namespace palinform::cli
