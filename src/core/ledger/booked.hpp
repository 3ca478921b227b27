#pragma once
/// What the books say a job has really taken: materials at the shelf's prices, hours at the bench.
#include <algorithm>

#include "bench/tape.hpp"
#include "mix/stock.hpp"
#include "rules/rules.hpp"

namespace palinform {

/// Of the shelf, a kilogram; nought where it has none.
inline double price_per_kg(const Shop& shop, const std::string& material_id) {
  const Material* m = shop.bottle(material_id);
  return m ? m->figure("price_per_kg").value_or(0) : 0;
}

/// Of what was poured, at that price.
inline double cost_of(const PourRecord& p, const Shop& shop) {
  return p.mass_g * 1e-3 * price_per_kg(shop, p.material_id);
}

/// Screens that were left, h. One left open over night is no night's work: an hour each at most.
inline double worked_h(const BenchRun& run) {
  double h = 0;
  for (const TapeLine& l : tape_of(run))
    if (l.done) h += static_cast<double>(std::min<WallSecond>(3600, l.done - l.started)) / 3600;
  return h;
}

}  // namespace palinform
