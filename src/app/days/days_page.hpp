#pragma once
/// Days: a ribbon of days and nights with bench hours; hands-on pieces as blocks, cures running on through the night;
/// how soon it would be done with more moulds.
#include "days/moulds_curve.hpp"
#include "days/ribbon_view.hpp"
#include "shell/stage_page.hpp"

class QFrame;
class QScrollArea;

namespace palinform::app {

class DaysPage : public StagePage {
  Q_OBJECT
 public:
  DaysPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  RibbonView* ribbon() const { return ribbon_; }

 private:
  void change_step(const std::function<void(StepChange&)>& change, const QString& what);
  QLineEdit *start_, *from_, *to_, *pin_;
  std::vector<QPushButton*> day_;
  FigureField *moulds_, *hands_, *wait_;
  QPushButton *export_, *reset_;
  RibbonView* ribbon_;
  QScrollArea* scroll_;
  MouldsCurve* curve_;
  QFrame* card_;
  QLabel *step_, *empty_;
  QWidget* top_;
};

}  // namespace palinform::app
