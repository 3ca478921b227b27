#pragma once
/// Results by what they were made from: a node's name and the key of its input. Kept until they weigh more than a
/// limit; those longest unused go first. May be shared by several Planners over the same nodes; safe from any thread.
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string_view>
#include <utility>

#include "graph/node.hpp"

namespace palinform {

/// What the kept results weigh, about.
struct StoreWeight {
  size_t bytes = 0, limit_bytes = 0, results = 0;
};

class ResultStore {
 public:
  explicit ResultStore(size_t limit_bytes = size_t{1} << 30) : limit_bytes_(limit_bytes) {}
  ResultStore(const ResultStore&) = delete;
  ResultStore& operator=(const ResultStore&) = delete;

  /// Keeps a result. What somebody still holds is not dropped: it would free nothing.
  void put(std::string_view node, const Hash128& key, const Boxed& value);
  std::optional<Boxed> find(std::string_view node, const Hash128& key);
  StoreWeight weight() const;

 private:
  struct Kept {
    std::string_view node;
    Hash128 key;
    Boxed value;
  };
  void forget_over_limit();

  mutable std::mutex mutex_;
  std::list<Kept> kept_;  ///< newest used first
  std::map<std::pair<std::string_view, Hash128>, std::list<Kept>::iterator> by_key_;
  std::map<const void*, int> uses_;  ///< a result passed along by several nodes weighs once
  size_t bytes_ = 0, limit_bytes_;
};

}  // namespace palinform
