#include "rules/rules.hpp"

#include <algorithm>
#include <stdexcept>

#include "base/json_fields.hpp"
#include "shelf/catalogue_view.hpp"

namespace palinform {

extern const std::string_view rules_json;

Result<Rules> read_rules(std::string_view text) {
  const auto bad = [](std::string what, const std::string& where) {
    return Error{std::move(what), "rules" + (where.empty() ? "" : "." + where), "Correct the rules."};
  };
  const json::Given given = json::Given::parse(text, nullptr, false);
  if (!given.is_object()) return bad("these are no rules: they do not read as JSON", "");
  Rules r;
  try {
    json::read(given, r, "");
  } catch (const json::Bad& b) { return bad(b.what, b.path); }
  if (auto ok = check_fields(r); !ok) return bad(ok.error().what, ok.error().where);
  for (const std::string* fit : {&r.size.fits.slides, &r.size.fits.turns, &r.size.fits.presses})
    if (!read_fit("25" + *fit)) return bad("\"" + *fit + "\" is no fit like H8/f7", "size.fits");
  // One price of an hour for all that ask for it.
  r.split.ways.hand_price_per_h = r.mould.forms.hand_price_per_h = r.days.hand_price_per_h;
  return r;
}

std::string write_rules(const Rules& rules) { return json::write(rules).dump(1); }

const Material* Shop::bottle(std::string_view id) const {
  const auto at = std::find_if(bottles.begin(), bottles.end(), [&](const Material& m) { return m.id == id; });
  return at == bottles.end() ? nullptr : &*at;
}

Shop with_shelf(const Shop& shop, std::vector<Material> bottles) {
  Shop s;
  s.shelf = catalogue_of(bottles, shop.shelf);
  s.rules = shop.rules;
  s.habits = shop.habits;
  s.blocks = shop.blocks;
  s.shown = shop.shown;
  s.key = hash_of(bottles);
  s.bottles = std::move(bottles);
  return s;
}

const Shop& starting_shop() {
  static const Shop shop = [] {
    auto rules = read_rules(rules_json);
    if (!rules) throw std::logic_error("built-in rules: " + rules.error().text());
    Shop words;
    words.shelf = starting_catalogue();
    words.rules = *std::move(rules);
    return with_shelf(words, starting_shelf());
  }();
  return shop;
}

}  // namespace palinform
