#include "mix/recipe.hpp"

#include <algorithm>
#include <set>

#include "base/check_fields.hpp"

namespace palinform {

Status check_recipe(const ColourRecipe& r) {
  if (auto ok = check_fields(r); !ok) return ok;
  const auto bad = [&](std::string what) { return Error{std::move(what), r.name.empty() ? "recipe" : r.name, ""}; };
  if (trim(r.name).empty()) return bad("a recipe needs a name");
  if (r.tints.empty()) return bad("a recipe without a pigment colours nothing");
  std::set<std::string_view> seen;
  for (const RecipeTint& t : r.tints) {
    if (!(t.share > 0)) return bad(t.name + ": a share is above nought");
    if (!seen.insert(t.material_id).second) return bad(t.name + " stands twice");
  }
  if (r.share() > 0.5) return bad("more than half of it would be pigment");
  return {};
}

Result<std::vector<TintDose>> scaled_recipe(const ColourRecipe& r, double batch_g, double division_g,
                                            const std::vector<PigmentLimit>& limits) {
  if (auto ok = check_recipe(r); !ok) return ok.error();
  std::vector<Tint> tints;
  for (const RecipeTint& t : r.tints) {
    const auto limit = std::find_if(limits.begin(), limits.end(),
                                    [&](const PigmentLimit& l) { return l.material_id == t.material_id; });
    tints.push_back({t.name, t.share, limit == limits.end() ? std::nullopt : std::optional(limit->most_share)});
  }
  auto doses = weigh_tints(tints, batch_g, division_g);
  if (doses)
    for (size_t i = 0; i < r.tints.size(); ++i) (*doses)[i].material_id = r.tints[i].material_id;
  return doses;
}

ColourRecipe after_trial(ColourRecipe r, ColourTrial trial, std::vector<RecipeTint> tints) {
  trial.tints = std::move(r.tints);
  r.trials.push_back(std::move(trial));
  r.tints = std::move(tints);
  return r;
}

}  // namespace palinform
