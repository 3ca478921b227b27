#pragma once
/// Size: the chain. For each size a ladder from the master to the casting, against the gap its limits leave.
#include <QStackedWidget>
#include "shell/fits_card.hpp"
#include "shell/stage_page.hpp"
#include "size/chain_view.hpp"
#include "size/choose_view.hpp"
#include "size/learn_view.hpp"

class QSlider;

namespace palinform::app {

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
