#pragma once
/// How long work says how far it is and hears that it should stop. A handle: copies speak of the same work, so it may
/// be given to several threads.
#include <algorithm>
#include <atomic>
#include <functional>
#include <memory>

namespace palinform {

class Progress {
 public:
  /// Called with a fraction 0…1 that only grows, from whichever thread reports; several may call at once.
  using Listener = std::function<void(double)>;

  Progress() : Progress(nullptr) {}
  explicit Progress(Listener listener) : work_(std::make_shared<Work>()) { work_->listener = std::move(listener); }

  /// The same work, told of from `from` to `to` of what this handle spans: for a step that counts its own 0…1.
  Progress part(double from, double to) const {
    Progress p = *this;
    p.from_ = from_ + (to_ - from_) * from;
    p.to_ = from_ + (to_ - from_) * to;
    return p;
  }
  void cancel() const { work_->cancelled.store(true, std::memory_order_relaxed); }
  bool cancelled() const { return work_->cancelled.load(std::memory_order_relaxed); }
  /// `fraction` of this handle's span is done. Going back is not told.
  void report(double fraction) const {
    const double now = from_ + (to_ - from_) * std::clamp(fraction, 0.0, 1.0);
    double before = work_->fraction.load(std::memory_order_relaxed);
    while (now > before)
      if (work_->fraction.compare_exchange_weak(before, now, std::memory_order_relaxed)) {
        if (work_->listener) work_->listener(now);
        return;
      }
  }
  /// Of the whole work.
  double fraction() const { return work_->fraction.load(std::memory_order_relaxed); }

  /// One that nobody listens to, for calls where none is wanted.
  static const Progress& none() {
    static thread_local const Progress p;
    return p;
  }

 private:
  struct Work {
    std::atomic<bool> cancelled{false};
    std::atomic<double> fraction{0};
    Listener listener;
  };
  std::shared_ptr<Work> work_;
  double from_ = 0, to_ = 1;
};

/// `listener` called for every hundredth only, so that a picture is not asked for more often than it can be seen.
inline Progress::Listener in_hundredths(Progress::Listener listener) {
  return [told = std::make_shared<std::atomic<int>>(-1), listener = std::move(listener)](double f) {
    const int now = static_cast<int>(100 * f);
    int before = told->load(std::memory_order_relaxed);
    while (now > before)
      if (told->compare_exchange_weak(before, now, std::memory_order_relaxed)) return listener(f);
  };
}

}  // namespace palinform
