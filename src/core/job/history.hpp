#pragma once
/// Old Jobs for undo and redo.
#include "job/job.hpp"

namespace palinform {

class History {
 public:
  explicit History(Job job) : now_(std::move(job)) {}
  const Job& now() const { return now_; }
  /// Puts `job` in; false when nothing changed. Edits with the same non-empty `merge` key in a row become one step.
  bool edit(Job job, std::string what, const std::string& merge = "");
  bool undo();
  bool redo();
  bool can_undo() const { return !back_.empty(); }
  bool can_redo() const { return !forward_.empty(); }
  /// Ends a run of merged edits.
  void settle() { merge_.clear(); }
  std::string undo_text() const { return back_.empty() ? "" : back_.back().what; }
  std::string redo_text() const { return forward_.empty() ? "" : forward_.back().what; }

 private:
  struct Step {
    Job job;
    std::string what;
  };
  Job now_;
  std::vector<Step> back_, forward_;
  std::string merge_;
};

}  // namespace palinform
