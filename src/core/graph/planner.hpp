#pragma once
/// The Planner remembers each node's result under the hash of exactly what it read, runs what is missing on worker
/// threads, and says what is fresh, running or stale. It knows nothing of what is worked out.
#include <condition_variable>
#include <deque>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

#include "graph/node.hpp"
#include "graph/store.hpp"

namespace palinform {

enum class Freshness {
  absent,   ///< its inputs are not there yet
  running,  ///< on its way; there may be an older result
  fresh,
  failed,  ///< `error` says why (a cancel counts: error.cancelled)
};

/// How one slot stands.
struct SlotState {
  std::string_view name;
  int group = 0;
  Freshness state = Freshness::absent;
  bool stale = false;  ///< the newest result belongs to an older input
  Hash128 key;         ///< of the wanted result; stands for its content in the keys of later nodes
  Error error;
  double progress = 0;
};

class Planner;

/// What a node sees while it reads: the subject and the fresh results of the nodes before it.
class View {
 public:
  View(const Planner& planner, const void* subject) : planner_(planner), subject_(subject) {}
  template <class Subject>
  const Subject& subject() const {
    return *static_cast<const Subject*>(subject_);
  }
  template <class T>
  Fresh<T> fresh(const Slot<T>& slot) const;
  /// Why a node before this one failed; nothing where it did not.
  template <class T>
  std::optional<Error> failed(const Slot<T>& slot) const;

 private:
  const Planner& planner_;
  const void* subject_;
};

class Planner {
 public:
  /// Nodes in working order: each may read only those before it. Results are kept in `store`; null: one of its own of
  /// 1 GB.
  Planner(std::vector<Node> nodes, int workers, std::shared_ptr<ResultStore> store = nullptr);
  ~Planner();
  Planner(const Planner&) = delete;
  Planner& operator=(const Planner&) = delete;

  /// Takes a new subject: whatever is remembered is fresh at once, the rest is started, what is no longer wanted is
  /// cancelled. Call from one thread only (the interface's), like the next three.
  template <class Subject>
  void set(Subject subject) {
    set_subject(std::make_shared<const Subject>(std::move(subject)));
  }
  /// Moves results that workers have finished into their slots and starts what depends on them; true if any came.
  bool collect();
  void cancel(std::string_view node);
  void retry(std::string_view node);

  /// `wake` is called from a worker whenever collect() has something to do or progress moved. Set before set().
  void on_wake(std::function<void()> wake) { wake_ = std::move(wake); }
  /// Collects until nothing is running (for the command line and tests). `stop` hears how far it is; cancelled, it
  /// stops everything.
  void wait(const Progress* stop = nullptr);
  bool busy() const;

  /// Only when it belongs to the present subject.
  template <class T>
  Fresh<T> fresh(const Slot<T>& slot) const {
    const Held& h = held(slot.name, typeid(T));
    if (h.state.state != Freshness::fresh) return {};
    return {std::static_pointer_cast<const T>(h.value.value), h.state.key};
  }
  /// The newest result, stale or not; null when there is none.
  template <class T>
  std::shared_ptr<const T> newest(const Slot<T>& slot) const {
    return std::static_pointer_cast<const T>(held(slot.name, typeid(T)).value.value);
  }
  template <class T>
  SlotState state(const Slot<T>& slot) const {
    return told(held(slot.name, typeid(T)));
  }
  SlotState state(std::string_view name) const;
  /// All slots, in working order.
  std::vector<SlotState> states() const;
  StoreWeight memory() const { return store_->weight(); }

 private:
  struct Run {
    size_t node = 0;
    Hash128 key;
    std::function<Result<Boxed>(const Progress&)> work;
    Progress progress;
    std::optional<Result<Boxed>> result;
  };
  struct Held {
    SlotState state;
    Boxed value;  ///< newest
    std::shared_ptr<Run> run;
  };
  const Held& held(std::string_view name, std::type_index type) const;
  SlotState told(const Held& h) const;
  void set_subject(std::shared_ptr<const void> subject);
  void advance();
  void worker();
  void finish(size_t node, Result<Boxed> result);

  std::vector<Node> nodes_;
  std::map<std::string_view, size_t> index_;
  std::vector<Held> held_;
  std::shared_ptr<ResultStore> store_;
  std::shared_ptr<const void> subject_;
  std::function<void()> wake_;

  mutable std::mutex mutex_;
  std::condition_variable work_, done_;
  std::deque<std::shared_ptr<Run>> queue_;
  std::vector<std::shared_ptr<Run>> finished_;
  bool stop_ = false;
  std::vector<std::thread> threads_;
};

template <class T>
Fresh<T> View::fresh(const Slot<T>& slot) const {
  return planner_.fresh(slot);
}
template <class T>
std::optional<Error> View::failed(const Slot<T>& slot) const {
  const SlotState s = planner_.state(slot);
  return s.state == Freshness::failed ? std::optional(s.error) : std::nullopt;
}

}  // namespace palinform
