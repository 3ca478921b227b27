#pragma once
/// Which lots a mix is drawn from, and what has to be bought for all that is planned.
#include "mix/stock.hpp"

namespace palinform {

/// So much from one lot.
struct Draw {
  int64_t lot_id = 0;
  std::string label;
  double g = 0;
};
/// First-expiring first among the lots in date, opened ones before closed ones of the same date; as many as it takes.
/// What they hold together may be less than is needed; of `most` lots at most.
std::vector<Draw> draw_lots(const std::vector<Lot>& lots, const std::string& material_id, double mass_g,
                            const std::string& today, size_t most = 100);

/// Days a lot has stood open on `today`; nothing where it is closed or a date cannot be read.
std::optional<double> days_open(const Lot& lot, const std::string& today);

/// Packs that cover `short_g`, the fewest grams over, then the fewest packs; sizes in kg. Empty where the sheet tells
/// no sizes.
struct Packs {
  std::vector<std::pair<double, int>> of;  ///< kg and how many, largest first
  double kg = 0;
  std::string words() const;  ///< "2 × 5 kg + 1 × 1 kg"
};
Packs packs_for(double short_g, const std::vector<double>& pack_kg);

struct ShoppingLine {
  std::string material_id, name;
  double needed_g = 0, there_g = 0, short_g = 0;
  Packs packs;
  double cost = 0;
  std::vector<std::string> jobs;  ///< that ask for it
};
struct JobNeeds {
  std::string job;
  std::vector<Need> needs;
};
struct ShelfFacts {
  std::string material_id;
  double price_per_kg = 0;
  std::vector<double> pack_kg;
};
/// What all jobs together lack, in the order materials are first asked for; materials that suffice are not on it.
std::vector<ShoppingLine> shopping_list(const std::vector<JobNeeds>& jobs, const std::vector<Lot>& lots,
                                        const std::vector<ShelfFacts>& shelf, const std::string& today);
std::string shopping_csv(const std::vector<ShoppingLine>& lines);

}  // namespace palinform
