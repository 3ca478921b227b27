#pragma once
/// How long work says how far it is and hears that it should stop. Passed in by reference; thread-safe.
#include <atomic>
#include <functional>
#include <string>

namespace palinform {

class Progress {
 public:
  Progress() = default;
  /// `listener(fraction 0…1)` is called from the working thread; keep it short.
  explicit Progress(std::function<void(double)> listener) : listener_(std::move(listener)) {}
  Progress(const Progress&) = delete;
  Progress& operator=(const Progress&) = delete;

  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
  void report(double fraction) {
    fraction_.store(fraction, std::memory_order_relaxed);
    if (listener_) listener_(fraction);
  }
  double fraction() const { return fraction_.load(std::memory_order_relaxed); }

  /// A Progress nobody listens to, for calls where none is wanted.
  static Progress& none() {
    static thread_local Progress p;
    return p;
  }

 private:
  std::atomic<bool> cancelled_{false};
  std::atomic<double> fraction_{0};
  std::function<void(double)> listener_;
};

}  // namespace palinform
