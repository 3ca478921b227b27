#pragma once
/// Which figures a job's materials have: those it was planned with, whatever the shelf says since.
#include <memory>

#include "job/job.hpp"
#include "rules/rules.hpp"

namespace palinform {

/// The shop with the job's own copies in place of the bottles of the same id; `shop` itself where they are the same.
/// Must not outlive `shop`.
std::shared_ptr<const Shop> shop_of(const MixSetup& mix, const Shop& shop);

/// … with what emptied cups taught of the job's materials.
std::shared_ptr<const Shop> with_films(std::shared_ptr<const Shop> shop, const MixSetup& mix,
                                       const std::optional<Film>& rubber, const std::optional<Film>& resin);

/// As planned, else as on the shelf, with what the job stirs in; nothing where nobody chose one, or it is gone and left
/// no copy.
std::optional<Silicone> planned_rubber(const MixSetup& mix, const Shop& shop);
std::optional<Resin> planned_resin(const MixSetup& mix, const Shop& shop);
/// Another rubber for side b, where one is chosen; nothing is stirred into it.
std::optional<Silicone> planned_rubber_b(const MixSetup& mix, const Shop& shop);
/// The same, where the job's form has a side b.
std::optional<Silicone> second_rubber(const Job& job, const Shop& shop);
inline bool both_planned(const MixSetup& mix, const Shop& shop) {
  return planned_rubber(mix, shop) && planned_resin(mix, shop);
}

/// What a brushed skin's jacket is laid of: the job's, or the first paste, or plaster, that stands on the shelf.
const Material* jacket_material(const MixSetup& mix, const Shop& shop);

/// A copy from the shelf of every material that is chosen and has none yet, or one of another material.
MixSetup with_copies(MixSetup mix, const Shop& shop);

/// Of a setup its materials only: what an analysis reads that asks for nothing else of Mix.
MixSetup materials_only(const MixSetup& mix);

}  // namespace palinform
