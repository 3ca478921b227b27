#pragma once
/// What castings taught: prior, data and posterior of the total shrinkage, the readings behind them, adopting by a
/// click.
#include "shell/stage_page.hpp"

namespace palinform::app {

class LearnPicture : public QWidget {
  Q_OBJECT
 public:
  explicit LearnPicture(QWidget* parent = nullptr);
  void show_result(std::shared_ptr<const LearnResult> r);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::shared_ptr<const LearnResult> r_;
};

class LearnView : public QWidget {
  Q_OBJECT
 public:
  LearnView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  Desk& desk_;
  LearnPicture* picture_;
  QLabel *told_, *used_;
  QLineEdit* reason_;
  QPushButton *adopt_, *forget_;
};

}  // namespace palinform::app
