#pragma once
/// Bench: the job's steps one at a time. The page shows where the run stands, its tape, and what runs in other jobs;
/// the bench window is the full screen one works from, with gloves on.
#include <optional>

#include "bench/bench_window.hpp"
#include "overview/bench_screens.hpp"
#include "shell/stage_page.hpp"

class QTimer;
class QStackedWidget;

namespace palinform::app {

class DeviceHub;
class PathView;
class TapeView;
class RunningView;

class BenchPage : public StagePage {
  Q_OBJECT
 public:
  BenchPage(Desk& desk, DeviceHub& devices, QWidget* parent = nullptr);
  void refresh() override;
  BenchWindow* window() const { return window_.get(); }
  /// Opens the bench window; begins the run when there is none.
  void start(bool full_screen = true);
  /// Begins elsewhere than at the first step, and opens the bench window.
  void begin(const BenchBeginning& beginning, bool full_screen = true);
  void show_view(int view);  ///< 0 steps, 1 tape, 2 all runs
  TapeView* tape() const { return tape_; }
  RunningView* running() const { return running_; }

 signals:
  void job_wanted(const QString& id);

 private:
  void open_window(bool full_screen);
  void offer_beginnings();
  void ask_top_up();
  void choose_line(int line);
  void print_tape();
  /// The run whose tape is shown: the one in hand, or one that was put away.
  std::optional<BenchRun> taped() const;
  DeviceHub& devices_;
  std::unique_ptr<BenchWindow> window_;
  QPushButton *start_, *elsewhere_, *end_, *failed_, *print_;
  QComboBox* which_;
  QLabel *head_, *empty_;
  Chips* views_;
  QStackedWidget* stack_;
  QWidget* tape_row_;
  PathView* path_;
  TapeView* tape_;
  RunningView* running_;
  std::vector<BenchRun> done_;
  QTimer* timer_;
  QString missed_;  ///< a clock that rang while no bench window was open
};

}  // namespace palinform::app
