#include "graph/planner.hpp"

#include <algorithm>
#include <exception>
#include <stdexcept>

#include "base/background.hpp"

namespace palinform {
namespace {

/// Whatever a library throws ends as an error that is told.
Result<Boxed> guarded(const std::function<Result<Boxed>(const Progress&)>& work, const Progress& progress) {
  try {
    return work(progress);
  } catch (const std::bad_alloc&) {
    return Error{"there is not enough memory for this", "", "Thin the mesh out, or close other programs."};
  } catch (const std::exception& e) {
    return Error{std::string("an unexpected fault: ") + e.what(), "", "Please report it with the job."};
  }
}

}  // namespace

Planner::Planner(std::vector<Node> nodes, int workers, std::shared_ptr<ResultStore> store)
    : nodes_(std::move(nodes)),
      held_(nodes_.size()),
      store_(store ? std::move(store) : std::make_shared<ResultStore>()) {
  for (size_t i = 0; i < nodes_.size(); ++i) {
    if (!index_.emplace(nodes_[i].name, i).second)
      throw std::logic_error("two nodes of the name " + std::string(nodes_[i].name));
    held_[i].state.name = nodes_[i].name;
    held_[i].state.group = nodes_[i].group;
  }
  for (int i = 0; i < workers; ++i) threads_.emplace_back([this] { worker(); });
}

Planner::~Planner() {
  {
    std::lock_guard lock(mutex_);
    stop_ = true;
    queue_.clear();
    for (const Held& h : held_)
      if (h.run) h.run->progress.cancel();
  }
  work_.notify_all();
  for (auto& t : threads_) t.join();
}

const Planner::Held& Planner::held(std::string_view name, std::type_index type) const {
  static const Held none;
  const auto at = index_.find(name);
  if (at == index_.end()) return none;
  if (nodes_[at->second].type != type) throw std::logic_error("another type lies in slot " + std::string(name));
  return held_[at->second];
}

SlotState Planner::told(const Held& h) const {
  SlotState s = h.state;
  if (h.run) s.progress = h.run->progress.fraction();
  return s;
}
SlotState Planner::state(std::string_view name) const {
  const auto at = index_.find(name);
  return at == index_.end() ? SlotState{} : told(held_[at->second]);
}
std::vector<SlotState> Planner::states() const {
  std::vector<SlotState> out;
  for (const Held& h : held_) out.push_back(told(h));
  return out;
}

void Planner::worker() {
  work_in_background();
  for (;;) {
    std::shared_ptr<Run> run;
    {
      std::unique_lock lock(mutex_);
      work_.wait(lock, [&] { return stop_ || !queue_.empty(); });
      if (stop_) return;
      run = queue_.front();
      queue_.pop_front();
    }
    Result<Boxed> result =
        run->progress.cancelled() ? Result<Boxed>(Error::stopped()) : guarded(run->work, run->progress);
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

void Planner::finish(size_t node, Result<Boxed> result) {
  Held& h = held_[node];
  if (result) {
    h.value = *std::move(result);
    h.state.state = Freshness::fresh;
    h.state.stale = false;
    h.state.error = {};
    store_->put(nodes_[node].name, h.state.key, h.value);
  } else {
    h.state.state = Freshness::failed;
    h.state.stale = h.value.value != nullptr;
    h.state.error = result.error();
  }
  h.state.progress = 1;
}

void Planner::advance() {
  if (!subject_) return;
  const View view(*this, subject_.get());
  for (size_t i = 0; i < nodes_.size(); ++i) {
    Held& h = held_[i];
    std::optional<Task> task = nodes_[i].prepare(view);
    const auto drop_run = [&] {
      if (h.run) h.run->progress.cancel();
      h.run = nullptr;
    };
    if (!task) {
      drop_run();
      h.state.state = Freshness::absent;
      h.state.stale = h.value.value != nullptr;
      h.state.key = {};
      continue;
    }
    const bool same = h.state.key == task->key;
    if (same && (h.state.state == Freshness::fresh || h.state.state == Freshness::failed ||
                 (h.state.state == Freshness::running && h.run)))
      continue;
    drop_run();
    h.state.key = task->key;
    if (auto known = store_->find(nodes_[i].name, task->key)) {
      h.value = *std::move(known);
      h.state.state = Freshness::fresh;
      h.state.stale = false;
      h.state.error = {};
      continue;
    }
    if (task->instant || threads_.empty()) {
      finish(i, guarded(task->run, Progress::none()));
      continue;
    }
    h.state.state = Freshness::running;
    h.state.stale = h.value.value != nullptr;
    h.state.progress = 0;
    auto run = std::make_shared<Run>();
    run->node = i;
    run->key = task->key;
    run->work = std::move(task->run);
    run->progress = Progress(in_hundredths([this](double) {
      if (wake_) wake_();
    }));
    h.run = run;
    {
      std::lock_guard lock(mutex_);
      queue_.push_back(run);
    }
    work_.notify_one();
  }
}

void Planner::set_subject(std::shared_ptr<const void> subject) {
  subject_ = std::move(subject);
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
    Held& h = held_[run->node];
    if (h.run != run) {
      // No longer wanted, but true for its key all the same: an undo may come back to it.
      if (*run->result) store_->put(nodes_[run->node].name, run->key, **run->result);
      continue;
    }
    h.run = nullptr;
    finish(run->node, std::move(*run->result));
    any = true;
  }
  if (any) advance();
  return any;
}

void Planner::cancel(std::string_view node) {
  if (const auto at = index_.find(node); at != index_.end() && held_[at->second].run)
    held_[at->second].run->progress.cancel();
}

void Planner::retry(std::string_view node) {
  const auto at = index_.find(node);
  if (at == index_.end() || held_[at->second].state.state != Freshness::failed) return;
  held_[at->second].state.state = Freshness::absent;
  held_[at->second].state.key = {};
  advance();
}

bool Planner::busy() const {
  return std::any_of(held_.begin(), held_.end(), [](const Held& h) { return h.run != nullptr; });
}

void Planner::wait(const Progress* stop) {
  collect();
  while (busy()) {
    {
      std::unique_lock lock(mutex_);
      done_.wait_for(lock, std::chrono::milliseconds(30), [&] { return !finished_.empty(); });
    }
    if (stop) {
      // Nodes weigh the same here: what each costs is not known before it has run.
      double done = 0;
      for (const Held& h : held_) {
        if (h.run && stop->cancelled()) h.run->progress.cancel();
        done += h.run ? h.run->progress.fraction() : h.state.state == Freshness::fresh ? 1 : 0;
      }
      if (!held_.empty()) stop->report(done / static_cast<double>(held_.size()));
    }
    collect();
  }
}

}  // namespace palinform
