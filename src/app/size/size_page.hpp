#pragma once
/// Size: the chain. For each size a ladder from the master to the casting, against the gap its limits leave.
#include "shell/fits_card.hpp"
#include "shell/stage_page.hpp"
#include "size/choose_view.hpp"
#include "size/learn_view.hpp"

class QSlider;

namespace palinform::app {

class ChainView : public QWidget {
  Q_OBJECT
 public:
  ChainView(Desk& desk, QWidget* parent);
  QSize sizeHint() const override { return {700, 480}; }
  int row_height() const { return row_; }
  void mark(const std::string& size_id);

 protected:
  void paintEvent(QPaintEvent*) override;
  /// Over a row: each contribution with its value and uncertainty.
  bool event(QEvent*) override;

 private:
  Desk& desk_;
  std::string marked_;
  int row_ = 70;
};

class SizePage : public StagePage {
  Q_OBJECT
 public:
  SizePage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;

 private:
  Chips* master_;
  ChoiceField *rubber_, *resin_;
  FigureField *room_, *gel_, *scale_, *axis_[3];
  Chips* view_;
  QPushButton* second_;
  QStackedWidget* stack_;
  ChooseView* choose_;
  LearnView* learn_;
  FitsCard* fits_;
  QWidget* axis_row_;
  QSlider* slider_;
  QPushButton *best_, *best_axes_;
  QWidget* scale_row_;
  ChainView* chain_;
  QLabel *key_, *empty_, *told_;
};

}  // namespace palinform::app
