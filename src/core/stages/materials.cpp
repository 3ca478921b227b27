#include "stages/materials.hpp"

#include <algorithm>

#include "shelf/catalogue_view.hpp"

namespace palinform {
namespace {

/// The copy, where it says something else than the shelf, or the analyses do not find it there.
const Material* differs(const std::optional<Material>& copy, const std::string& id, const Shop& shop) {
  if (!copy || copy->id != id) return nullptr;
  const Material* now = shop.bottle(id);
  const bool found = shop.shelf.silicone(id) || shop.shelf.resin(id);
  return found && now && *now == *copy ? nullptr : &*copy;
}

template <class T>
void put(std::vector<T>& list, T value) {
  const auto at = std::find_if(list.begin(), list.end(), [&](const T& t) { return t.id == value.id; });
  if (at == list.end())
    list.push_back(std::move(value));
  else
    *at = std::move(value);
}

template <class T>
std::optional<T> found(const T* t) {
  return t ? std::optional(*t) : std::nullopt;
}
template <class T>
std::optional<T> found(const Result<T>& r) {
  return r ? std::optional(*r) : std::nullopt;
}

/// With what is stirred into it; as it stands where so much cannot be (a finding of Mix says so).
template <class T>
std::optional<T> with(std::optional<T> material, const std::vector<Addition>& additions, const Shop& shop) {
  if (!material || additions.empty()) return material;
  auto s = stirred(*material, additions, shop.rules.mix);
  return s ? std::optional(*std::move(s)) : material;
}

}  // namespace

std::shared_ptr<const Shop> shop_of(const MixSetup& mix, const Shop& shop) {
  const bool rubber = differs(mix.rubber, mix.silicone_id, shop) || !mix.rubber_adds.empty(),
             resin = differs(mix.resin, mix.resin_id, shop) || !mix.resin_adds.empty();
  const Material* second = differs(mix.rubber_b, mix.silicone_b_id, shop);
  if (!rubber && !resin && !second) return {std::shared_ptr<const Shop>(), &shop};
  auto own = std::make_shared<Shop>(shop);
  if (rubber)
    if (auto s = planned_rubber(mix, shop)) put(own->shelf.silicones, *std::move(s));
  if (second && mix.silicone_b_id != mix.silicone_id)
    if (auto s = rubber_of(*second)) put(own->shelf.silicones, *std::move(s));
  if (resin)
    if (auto r = planned_resin(mix, shop)) put(own->shelf.resins, *std::move(r));
  return own;
}

std::shared_ptr<const Shop> with_films(std::shared_ptr<const Shop> shop, const MixSetup& mix,
                                       const std::optional<Film>& rubber, const std::optional<Film>& resin) {
  if (!rubber && !resin) return shop;
  auto own = std::make_shared<Shop>(*shop);
  const auto put_film = [](auto& list, const std::string& id, const std::optional<Film>& film) {
    for (auto& m : list)
      if (film && m.id == id) m.film_mm = film->mm, m.film_cups = film->cups;
  };
  put_film(own->shelf.silicones, mix.silicone_id, rubber);
  put_film(own->shelf.resins, mix.resin_id, resin);
  return own;
}

std::optional<Silicone> planned_rubber(const MixSetup& mix, const Shop& shop) {
  const Material* copy = differs(mix.rubber, mix.silicone_id, shop);
  return with(copy ? found(rubber_of(*copy)) : found(shop.shelf.silicone(mix.silicone_id)), mix.rubber_adds, shop);
}
std::optional<Resin> planned_resin(const MixSetup& mix, const Shop& shop) {
  const Material* copy = differs(mix.resin, mix.resin_id, shop);
  return with(copy ? found(resin_of(*copy)) : found(shop.shelf.resin(mix.resin_id)), mix.resin_adds, shop);
}

std::optional<Silicone> planned_rubber_b(const MixSetup& mix, const Shop& shop) {
  if (mix.silicone_b_id.empty() || mix.silicone_b_id == mix.silicone_id) return std::nullopt;
  const Material* copy = differs(mix.rubber_b, mix.silicone_b_id, shop);
  return copy ? found(rubber_of(*copy)) : found(shop.shelf.silicone(mix.silicone_b_id));
}
std::optional<Silicone> second_rubber(const Job& job, const Shop& shop) {
  return in_halves(job.mould.planned_form()) ? planned_rubber_b(job.mix, shop) : std::nullopt;
}

const Material* jacket_material(const MixSetup& mix, const Shop& shop) {
  if (const Material* m = shop.bottle(mix.jacket_id)) return m;
  for (const MaterialKind kind : {MaterialKind::jacket_paste, MaterialKind::plaster})
    for (const Material& m : shop.bottles)
      if (m.kind == kind && !m.retired) return &m;
  return nullptr;
}

MixSetup with_copies(MixSetup mix, const Shop& shop) {
  const auto keep = [&](std::optional<Material>& copy, const std::string& id) {
    if (copy && copy->id == id) return;
    const Material* now = shop.bottle(id);
    copy = now ? std::optional(*now) : std::nullopt;
  };
  keep(mix.rubber, mix.silicone_id);
  keep(mix.rubber_b, mix.silicone_b_id);
  keep(mix.resin, mix.resin_id);
  return mix;
}

MixSetup materials_only(const MixSetup& mix) {
  MixSetup only;
  only.silicone_id = mix.silicone_id;
  only.resin_id = mix.resin_id;
  only.silicone_b_id = mix.silicone_b_id;
  only.rubber = mix.rubber;
  only.rubber_b = mix.rubber_b;
  only.resin = mix.resin;
  only.rubber_adds = mix.rubber_adds;
  only.resin_adds = mix.resin_adds;
  return only;
}

}  // namespace palinform
