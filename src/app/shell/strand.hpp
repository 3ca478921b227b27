#pragma once
/// The strand: the stages on a cord, a knot each whose shape says how it stands, and the one figure that matters.
#include <QAbstractButton>
#include <QWidget>
#include <vector>

#include "overview/overview.hpp"

namespace palinform::app {

class Desk;

/// One stage on the cord. Open ring: untouched; turning arc: moving; solid: settled; notched: needs an answer;
/// barred: stopped.
class StageButton : public QAbstractButton {
  Q_OBJECT
 public:
  StageButton(Stage stage, QWidget* parent);
  void show_state(const StageState& s);
  const StageState& state() const { return state_; }
  QSize sizeHint() const override { return {172, 66}; }

 signals:
  void stop_asked();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void timerEvent(QTimerEvent*) override;

 private:
  QRectF stop_cross() const { return QRectF(width() - 34, 17, 32, 32); }
  Stage stage_;
  StageState state_;
  int timer_ = 0, turn_ = 0;
};

class Strand : public QWidget {
  Q_OBJECT
 public:
  Strand(Desk& desk, QWidget* parent = nullptr);
  void choose(Stage s);
  Stage chosen() const { return chosen_; }
  StageButton* button(Stage s) const { return buttons_[static_cast<size_t>(s)]; }
  void refresh();

 signals:
  void stage_chosen(Stage s);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Desk& desk_;
  std::vector<StageButton*> buttons_;
  Stage chosen_ = Stage::original;
};

}  // namespace palinform::app
