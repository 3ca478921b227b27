#include "graph/store.hpp"

namespace palinform {

void ResultStore::put(std::string_view node, const Hash128& key, const Boxed& value) {
  std::lock_guard hold(mutex_);
  if (by_key_.contains({node, key})) return;
  kept_.push_front({node, key, value});
  by_key_[{node, key}] = kept_.begin();
  if (uses_[value.value.get()]++ == 0) bytes_ += value.bytes;
  forget_over_limit();
}

std::optional<Boxed> ResultStore::find(std::string_view node, const Hash128& key) {
  std::lock_guard hold(mutex_);
  const auto at = by_key_.find({node, key});
  if (at == by_key_.end()) return std::nullopt;
  kept_.splice(kept_.begin(), kept_, at->second);
  return at->second->value;
}

StoreWeight ResultStore::weight() const {
  std::lock_guard hold(mutex_);
  return {bytes_, limit_bytes_, kept_.size()};
}

void ResultStore::forget_over_limit() {
  for (auto it = kept_.end(); it != kept_.begin() && bytes_ > limit_bytes_;) {
    --it;
    // Held by a slot, a picture or a run as well: as many owners as are kept here, and more.
    if (it->value.value.use_count() > uses_[it->value.value.get()]) continue;
    if (--uses_[it->value.value.get()] == 0) {
      uses_.erase(it->value.value.get());
      bytes_ -= it->value.bytes;
    }
    by_key_.erase({it->node, it->key});
    it = kept_.erase(it);
  }
}

}  // namespace palinform
