#pragma once
/// The Planner remembers each analysis's result under the hash of exactly what it read, runs what is missing on worker
/// threads, and says what is fresh, running or stale.
///
/// An analysis is a Node: `prepare` looks at the Job and at earlier results and gives a Task (key and function), or
/// nothing while something it needs is not there. The function sees only what `prepare` captured for it.
#include <condition_variable>
#include <deque>
#include <functional>
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

#include "base/hash.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "job/job.hpp"

namespace palinform {

enum class Freshness {
  absent,   ///< its inputs are not there yet
  running,  ///< on its way; `value` may hold an older result
  fresh,
  failed,  ///< `error` says why (a cancel counts: error.cancelled)
};

using AnyValue = std::shared_ptr<const void>;
/// A node's result as the Planner keeps it.
template <class R>
AnyValue boxed(R value) {
  return std::make_shared<const R>(std::move(value));
}

struct Task {
  Hash128 key;
  bool instant = false;  ///< under a few milliseconds: run in the caller, so that a drag sees it at once
  std::function<Result<AnyValue>(Progress&)> run;
};

struct SlotView {
  Freshness state = Freshness::absent;
  bool stale = false;  ///< `value` belongs to an older input
  AnyValue value;
  Hash128 key;  ///< of the wanted result; stands for its content in the keys of later analyses
  Error error;
  double progress = 0;
};

class Planner;
struct Node {
  std::string name;
  std::function<std::optional<Task>(const Job&, const Planner&)> prepare;
};

class Planner {
 public:
  /// Nodes in working order: each may read only those before it. `keep` results are remembered per node.
  Planner(std::vector<Node> nodes, int workers, size_t keep = 16);
  ~Planner();
  Planner(const Planner&) = delete;
  Planner& operator=(const Planner&) = delete;

  /// Takes a new Job: whatever is remembered is fresh at once, the rest is started, what is no longer wanted is
  /// cancelled. Call from one thread only (the interface's), like the next three.
  void set_job(const Job& job);
  /// Moves results that workers have finished into their slots and starts what depends on them; true if any came.
  bool collect();
  void cancel(const std::string& node);
  void retry(const std::string& node);

  /// `wake` is called from a worker whenever collect() has something to do or progress moved. Set before set_job.
  void on_wake(std::function<void()> wake) { wake_ = std::move(wake); }
  /// Collects until nothing is running (for the command line and tests). With `stop` cancelled everything is stopped.
  void wait(const Progress* stop = nullptr);
  bool busy() const;

  SlotView slot(const std::string& node) const;
  /// The newest result, stale or not; null when there is none.
  template <class R>
  std::shared_ptr<const R> value(const std::string& node) const {
    return std::static_pointer_cast<const R>(slot(node).value);
  }
  /// Only when it belongs to the present Job.
  template <class R>
  std::shared_ptr<const R> fresh(const std::string& node) const {
    const SlotView v = slot(node);
    return v.state == Freshness::fresh ? std::static_pointer_cast<const R>(v.value) : nullptr;
  }

 private:
  struct Run {
    std::string node;
    Hash128 key;
    std::function<Result<AnyValue>(Progress&)> work;
    std::unique_ptr<Progress> progress;
    std::optional<Result<AnyValue>> result;
  };
  struct Slot {
    SlotView view;
    std::shared_ptr<Run> run;
    std::list<std::pair<Hash128, AnyValue>> remembered;
  };
  void advance();
  void worker();
  void finish(Slot& slot, Result<AnyValue> result);

  std::vector<Node> nodes_;
  std::map<std::string, Slot> slots_;
  Job job_;
  bool has_job_ = false;
  size_t keep_;
  std::function<void()> wake_;

  mutable std::mutex mutex_;
  std::condition_variable work_, done_;
  std::deque<std::shared_ptr<Run>> queue_;
  std::vector<std::shared_ptr<Run>> finished_;
  bool stop_ = false;
  std::vector<std::thread> threads_;
};

}  // namespace palinform
