#pragma once
/// Bench: the job's steps one at a time. The page shows where the run stands and its clocks; the bench window is the
/// full screen one works from, with gloves on.
#include <optional>

#include "bench/bench_window.hpp"
#include "shell/stage_page.hpp"

class QTimer;

namespace palinform::app {

class DeviceHub;

class BenchPage : public StagePage {
  Q_OBJECT
 public:
  BenchPage(Desk& desk, DeviceHub& devices, QWidget* parent = nullptr);
  void refresh() override;
  BenchWindow* window() const { return window_.get(); }
  /// Opens the bench window; begins the run when there is none.
  void start(bool full_screen = true);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  DeviceHub& devices_;
  std::unique_ptr<BenchWindow> window_;
  QPushButton *start_, *end_;
  QLabel *head_, *empty_;
  QTimer* timer_;
};

}  // namespace palinform::app
