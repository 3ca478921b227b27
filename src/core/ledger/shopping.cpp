#include "ledger/shopping.hpp"

#include "stages/materials.hpp"

namespace palinform {

std::vector<ShelfFacts> shelf_facts(const Shop& shop) {
  std::vector<ShelfFacts> facts;
  for (const Material& m : shop.bottles) facts.push_back({m.id, m.figure("price_per_kg").value_or(0), m.packs_kg});
  return facts;
}

Result<std::vector<ShoppingLine>> shop_for_all(Workshop& w, const Shop& shop, const std::string& today,
                                               std::shared_ptr<ResultStore> store, std::vector<std::string>& left_out,
                                               const Progress& progress) {
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  const auto lots = w.lots();
  if (!lots) return lots.error();
  std::vector<JobNeeds> all;
  for (size_t i = 0; i < rows->size(); ++i) {
    const Progress part = progress.part(static_cast<double>(i) / static_cast<double>(rows->size()),
                                        static_cast<double>(i + 1) / static_cast<double>(rows->size()));
    auto job = w.load_job((*rows)[i].id);
    if (!job) {
      left_out.push_back((*rows)[i].name);
      continue;
    }
    job->mix = with_copies(std::move(job->mix), shop);
    const auto needs = needs_of_job(
        *job, shop, [&w](const std::string& hash) { return w.mesh(hash); }, store, part);
    if (progress.cancelled()) return Error::stopped();
    if (needs)
      all.push_back({job->name, *needs});
    else
      left_out.push_back(job->name);
  }
  return shopping_list(all, *lots, shelf_facts(shop), today);
}

}  // namespace palinform
