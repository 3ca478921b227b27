#pragma once
/// A run's tape: each screen that was left, planned beside done, on a strip of paper.
#include <QImage>
#include <QWidget>

#include "bench/tape.hpp"

namespace palinform::app {

class Desk;

class TapeView : public QWidget {
  Q_OBJECT
 public:
  explicit TapeView(Desk& desk, QWidget* parent = nullptr);
  void show_run(std::optional<BenchRun> run);
  const std::vector<TapeLine>& lines() const { return lines_; }
  /// The line that is chosen; −1: none.
  int chosen() const { return chosen_; }

 signals:
  void line_chosen(int line);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  double height_of(const TapeLine& l) const;
  void choose(int line);
  Desk& desk_;
  std::optional<BenchRun> run_;
  std::vector<TapeLine> lines_;
  int chosen_ = -1;
};

}  // namespace palinform::app
