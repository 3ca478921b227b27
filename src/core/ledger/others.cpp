#include "ledger/others.hpp"

#include <algorithm>

#include "job/parts.hpp"
#include "stages/materials.hpp"

namespace palinform {

bool cast_alike(const MixSetup& a, const MixSetup& b) {
  return a.resin_id == b.resin_id && a.resin == b.resin && a.colour == b.colour && a.resin_adds == b.resin_adds;
}

Result<std::vector<CavityShare>> cavities_of_others(Workshop& w, const Shop& shop, const Job& job,
                                                    std::shared_ptr<ResultStore> store,
                                                    std::vector<std::string>& left_out, const Progress& progress) {
  const auto rows = w.jobs();
  if (!rows) return rows.error();
  std::vector<CavityShare> out;
  for (size_t i = 0; i < rows->size(); ++i) {
    const JobRow& row = (*rows)[i];
    if (progress.cancelled()) return Error::stopped();
    const Progress part = progress.part(static_cast<double>(i) / static_cast<double>(rows->size()),
                                        static_cast<double>(i + 1) / static_cast<double>(rows->size()));
    if (row.id == job.id) continue;
    auto other = w.load_job(row.id);
    if (!other) {
      left_out.push_back(row.name);
      continue;
    }
    other->mix = with_copies(std::move(other->mix), shop);
    const Ends ends = other->days.ends;
    const bool to_go = (ends == Ends::both || ends == Ends::castings) && pulls_to_go(*other) > 0;
    if (!cast_alike(other->mix, job.mix) || !to_go) continue;
    const auto moulds = w.moulds(row.id);
    if (!moulds ||
        std::none_of(moulds->begin(), moulds->end(), [](const MouldRecord& m) { return m.retired_on.empty(); }))
      continue;
    const auto mix = mix_of_job(
        *other, shop, [&w](const std::string& hash) { return w.mesh(hash); }, store, part);
    if (progress.cancelled()) return Error::stopped();
    const auto pour = mix && *mix ? std::find_if((*mix)->pours.begin(), (*mix)->pours.end(),
                                                 [](const PourMix& p) { return p.is_resin; })
                                  : std::vector<PourMix>::const_iterator{};
    if (!mix || !*mix || pour == (*mix)->pours.end()) {
      left_out.push_back(row.name);
      continue;
    }
    out.push_back({row.id, row.name, pour->volume_mm3 * 1e-3 * pour->density_g_cm3});
  }
  return out;
}

}  // namespace palinform
