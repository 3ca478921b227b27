#include "job/history.hpp"

namespace palinform {

bool History::edit(Job job, std::string what, const std::string& merge) {
  if (job == now_) return false;
  const bool joined = !merge.empty() && merge == merge_ && !back_.empty();
  if (!joined) {
    back_.push_back({std::move(now_), std::move(what)});
    if (back_.size() > 500) back_.erase(back_.begin());
  }
  merge_ = merge;
  forward_.clear();
  now_ = std::move(job);
  return true;
}
bool History::undo() {
  if (back_.empty()) return false;
  Step s = std::move(back_.back());
  back_.pop_back();
  forward_.push_back({std::move(now_), s.what});
  now_ = std::move(s.job);
  merge_.clear();
  return true;
}
bool History::redo() {
  if (forward_.empty()) return false;
  Step s = std::move(forward_.back());
  forward_.pop_back();
  back_.push_back({std::move(now_), s.what});
  now_ = std::move(s.job);
  merge_.clear();
  return true;
}

}  // namespace palinform
