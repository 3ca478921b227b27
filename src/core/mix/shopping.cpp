#include "mix/shopping.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/csv.hpp"
#include "base/text.hpp"
#include "base/wall_time.hpp"

namespace palinform {

std::vector<Draw> draw_lots(const std::vector<Lot>& lots, const std::string& material, double mass_g,
                            const std::string& today, size_t most) {
  std::vector<const Lot*> usable;
  for (const Lot& l : lots)
    if (l.material_id == material && l.left_g > 0 && !out_of_date(l, today)) usable.push_back(&l);
  std::stable_sort(usable.begin(), usable.end(), [](const Lot* a, const Lot* b) {
    if (a->expires_on != b->expires_on)
      return b->expires_on.empty() || (!a->expires_on.empty() && a->expires_on < b->expires_on);
    if (a->opened_on.empty() != b->opened_on.empty()) return !a->opened_on.empty();
    return a->id < b->id;
  });
  std::vector<Draw> out;
  for (const Lot* l : usable) {
    if (mass_g <= 1e-9 || out.size() == most) break;
    const double g = std::min(mass_g, l->left_g);
    out.push_back({l->id, l->label, g});
    mass_g -= g;
  }
  return out;
}

std::optional<double> days_open(const Lot& lot, const std::string& today) {
  const auto from = parse_wall_time(lot.opened_on + "T00:00"), to = parse_wall_time(today + "T00:00");
  if (lot.opened_on.empty() || !from || !to) return std::nullopt;
  return static_cast<double>(*to - *from) / (24 * 60);
}

std::string Packs::words() const {
  std::string s;
  for (const auto& [kg, n] : of) s += (s.empty() ? "" : " + ") + std::to_string(n) + " × " + shortest(kg, 4) + " kg";
  return s;
}

Packs packs_for(double short_g, const std::vector<double>& given) {
  Packs out;
  std::vector<double> sizes;
  for (const double kg : given)
    if (kg > 0) sizes.push_back(kg);
  if (sizes.empty() || !(short_g > 0)) return out;
  std::sort(sizes.rbegin(), sizes.rend());
  sizes.erase(std::unique(sizes.begin(), sizes.end()), sizes.end());
  // Of many sizes the three largest and the smallest: more make no better order, only a longer search.
  if (sizes.size() > 4) sizes = {sizes[0], sizes[1], sizes[2], sizes.back()};
  // Whole largest packs while far from the end, then every way for the rest: few sizes, few packs.
  const double need = short_g * 1e-3;
  const int sure = std::max(0, static_cast<int>(std::floor(need / sizes[0])) - 2);
  std::vector<int> best, now(sizes.size(), 0);
  double best_over = 1e300;
  int best_count = 0;
  const auto search = [&](const auto& self, size_t i, double left) -> void {
    if (left <= 1e-9 || i + 1 == sizes.size()) {
      now[i] = left <= 1e-9 ? 0 : static_cast<int>(std::ceil(left / sizes[i] - 1e-9));
      double kg = 0;
      int count = 0;
      for (size_t k = 0; k <= i; ++k) kg += now[k] * sizes[k], count += now[k];
      const double over = kg + sure * sizes[0] - need;
      if (over < best_over - 1e-9 || (over < best_over + 1e-9 && count < best_count)) {
        best_over = over, best_count = count;
        best.assign(now.begin(), now.begin() + static_cast<std::ptrdiff_t>(i) + 1);
        best.resize(sizes.size(), 0);
      }
      now[i] = 0;
      return;
    }
    const int most = static_cast<int>(std::ceil(left / sizes[i] - 1e-9));
    for (int n = std::min(most, 400); n >= 0; --n) {
      now[i] = n;
      self(self, i + 1, left - n * sizes[i]);
    }
    now[i] = 0;
  };
  search(search, 0, need - sure * sizes[0]);
  best[0] += sure;
  for (size_t i = 0; i < sizes.size(); ++i)
    if (best[i]) out.of.emplace_back(sizes[i], best[i]), out.kg += best[i] * sizes[i];
  return out;
}

std::vector<ShoppingLine> shopping_list(const std::vector<JobNeeds>& jobs, const std::vector<Lot>& lots,
                                        const std::vector<ShelfFacts>& shelf, const std::string& today) {
  std::vector<ShoppingLine> lines;
  for (const JobNeeds& j : jobs)
    for (const Need& n : j.needs) {
      auto at = std::find_if(lines.begin(), lines.end(),
                             [&](const ShoppingLine& l) { return l.material_id == n.material_id; });
      if (at == lines.end()) at = lines.insert(lines.end(), {n.material_id, n.material_name, 0, 0, 0, {}, 0, {}});
      at->needed_g += n.mass_g;
      if (at->jobs.empty() || at->jobs.back() != j.job) at->jobs.push_back(j.job);
    }
  for (ShoppingLine& l : lines) {
    for (const Lot& lot : lots)
      if (lot.material_id == l.material_id && !out_of_date(lot, today)) l.there_g += lot.left_g;
    l.short_g = std::max(0.0, l.needed_g - l.there_g);
    for (const ShelfFacts& f : shelf)
      if (f.material_id == l.material_id) {
        l.packs = packs_for(l.short_g, f.pack_kg);
        l.cost = f.price_per_kg * (l.packs.of.empty() ? l.short_g * 1e-3 : l.packs.kg);
      }
  }
  std::erase_if(lines, [](const ShoppingLine& l) { return l.short_g <= 1e-9; });
  return lines;
}

std::string shopping_csv(const std::vector<ShoppingLine>& lines) {
  std::vector<std::vector<std::string>> rows{
      {"material", "name", "needed_g", "there_g", "short_g", "packs", "cost", "jobs"}};
  for (const ShoppingLine& l : lines) {
    std::string jobs;
    for (const std::string& j : l.jobs) jobs += (jobs.empty() ? "" : "; ") + j;
    rows.push_back({l.material_id, l.name, fixed(l.needed_g, 1), fixed(l.there_g, 1), fixed(l.short_g, 1),
                    l.packs.words(), fixed(l.cost, 2), jobs});
  }
  return csv_text(rows);
}

}  // namespace palinform
