#include "job/planner.hpp"

#include <algorithm>
#include <exception>

namespace palinform {
namespace {

Result<AnyValue> guarded(const std::function<Result<AnyValue>(Progress&)>& work, Progress& progress) {
  try {
    return work(progress);
  } catch (const std::bad_alloc&) {
    return Error{"there is not enough memory for this", "", "Thin the mesh out, or close other programs."};
  } catch (const std::exception& e) {
    return Error{std::string("an unexpected fault: ") + e.what(), "", "Please report it with the job."};
  }
}

}  // namespace

Planner::Planner(std::vector<Node> nodes, int workers, size_t keep) : nodes_(std::move(nodes)), keep_(keep) {
  for (const Node& n : nodes_) slots_[n.name];
  for (int i = 0; i < workers; ++i) threads_.emplace_back([this] { worker(); });
}

Planner::~Planner() {
  {
    std::lock_guard lock(mutex_);
    stop_ = true;
    queue_.clear();
    for (auto& [name, slot] : slots_)
      if (slot.run) slot.run->progress->cancel();
  }
  work_.notify_all();
  for (auto& t : threads_) t.join();
}

void Planner::worker() {
  for (;;) {
    std::shared_ptr<Run> run;
    {
      std::unique_lock lock(mutex_);
      work_.wait(lock, [&] { return stop_ || !queue_.empty(); });
      if (stop_) return;
      run = queue_.front();
      queue_.pop_front();
    }
    Result<AnyValue> result =
        run->progress->cancelled() ? Result<AnyValue>(Error::stopped()) : guarded(run->work, *run->progress);
    {
      std::lock_guard lock(mutex_);
      run->result = std::move(result);
      run->work = nullptr;
      finished_.push_back(run);
    }
    done_.notify_all();
    if (wake_) wake_();
  }
}

void Planner::finish(Slot& slot, Result<AnyValue> result) {
  if (result) {
    slot.remembered.emplace_front(slot.view.key, *result);
    if (slot.remembered.size() > keep_) slot.remembered.pop_back();
    slot.view.value = *std::move(result);
    slot.view.state = Freshness::fresh;
    slot.view.stale = false;
    slot.view.error = {};
  } else {
    slot.view.state = Freshness::failed;
    slot.view.stale = slot.view.value != nullptr;
    slot.view.error = result.error();
  }
  slot.view.progress = 1;
}

void Planner::advance() {
  if (!has_job_) return;
  for (const Node& node : nodes_) {
    Slot& slot = slots_[node.name];
    std::optional<Task> task = node.prepare(job_, *this);
    const auto drop_run = [&] {
      if (slot.run) slot.run->progress->cancel();
      slot.run = nullptr;
    };
    if (!task) {
      drop_run();
      slot.view.state = Freshness::absent;
      slot.view.stale = slot.view.value != nullptr;
      slot.view.key = {};
      continue;
    }
    const bool same = slot.view.key == task->key;
    if (same && (slot.view.state == Freshness::fresh || slot.view.state == Freshness::failed ||
                 (slot.view.state == Freshness::running && slot.run)))
      continue;
    drop_run();
    slot.view.key = task->key;
    const auto known = std::find_if(slot.remembered.begin(), slot.remembered.end(),
                                    [&](const auto& r) { return r.first == task->key; });
    if (known != slot.remembered.end()) {
      slot.view.value = known->second;
      slot.view.state = Freshness::fresh;
      slot.view.stale = false;
      slot.view.error = {};
      slot.remembered.splice(slot.remembered.begin(), slot.remembered, known);
      continue;
    }
    if (task->instant || threads_.empty()) {
      finish(slot, guarded(task->run, Progress::none()));
      continue;
    }
    slot.view.state = Freshness::running;
    slot.view.stale = slot.view.value != nullptr;
    slot.view.progress = 0;
    auto run = std::make_shared<Run>();
    run->node = node.name;
    run->key = task->key;
    run->work = std::move(task->run);
    run->progress = std::make_unique<Progress>([this, last = 0.0](double f) mutable {
      if (f - last < 0.02 && f < 1) return;
      last = f;
      if (wake_) wake_();
    });
    slot.run = run;
    {
      std::lock_guard lock(mutex_);
      queue_.push_back(run);
    }
    work_.notify_one();
  }
}

void Planner::set_job(const Job& job) {
  job_ = job;
  has_job_ = true;
  collect();
  advance();
}

bool Planner::collect() {
  std::vector<std::shared_ptr<Run>> done;
  {
    std::lock_guard lock(mutex_);
    done.swap(finished_);
  }
  bool any = false;
  for (const auto& run : done) {
    Slot& slot = slots_[run->node];
    if (slot.run != run) {
      // No longer wanted, but true for its key all the same: an undo may come back to it.
      if (*run->result) {
        slot.remembered.emplace_front(run->key, **run->result);
        if (slot.remembered.size() > keep_) slot.remembered.pop_back();
      }
      continue;
    }
    slot.run = nullptr;
    finish(slot, std::move(*run->result));
    any = true;
  }
  if (any) advance();
  return any;
}

void Planner::cancel(const std::string& node) {
  if (const auto it = slots_.find(node); it != slots_.end() && it->second.run) it->second.run->progress->cancel();
}

void Planner::retry(const std::string& node) {
  if (const auto it = slots_.find(node); it != slots_.end() && it->second.view.state == Freshness::failed) {
    it->second.view.state = Freshness::absent;
    it->second.view.key = {};
    advance();
  }
}

bool Planner::busy() const {
  return std::any_of(slots_.begin(), slots_.end(), [](const auto& s) { return s.second.run != nullptr; });
}

void Planner::wait(const Progress* stop) {
  collect();
  while (busy()) {
    {
      std::unique_lock lock(mutex_);
      done_.wait_for(lock, std::chrono::milliseconds(30), [&] { return !finished_.empty(); });
    }
    if (stop && stop->cancelled())
      for (auto& [name, slot] : slots_)
        if (slot.run) slot.run->progress->cancel();
    collect();
  }
}

SlotView Planner::slot(const std::string& node) const {
  const auto it = slots_.find(node);
  if (it == slots_.end()) return {};
  SlotView v = it->second.view;
  if (it->second.run) v.progress = it->second.run->progress->fraction();
  return v;
}

}  // namespace palinform
