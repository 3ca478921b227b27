#pragma once
/// Days: a ribbon of days and nights with bench hours; hands-on pieces as blocks, cures running on through the night;
/// how soon it would be done with more moulds.
#include "days/moulds_curve.hpp"
#include "days/ribbon_view.hpp"
#include "shell/stage_page.hpp"
#include "wall/shop_ribbon.hpp"

class QBoxLayout;
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
  /// 0: this job; 1: all jobs, a week.
  void show_scope(int i);

 private:
  void change_step(const std::function<void(StepChange&)>& change, const QString& what);
  // days_own.cpp: the shop's own way with the steps.
  void make_own_row(QBoxLayout* into);
  void show_own(const Step* chosen);
  /// Keeps the days where the work can be done so; else says why not.
  void try_days(const DaysSetup& next, const QString& what);
  void leave_out();
  void add_own();
  void other_words();
  void shift(bool later);
  void keep_habit();
  void offer_habits();
  const ProcedureStep* chosen_step() const;
  void drop_step(const std::string& step, WallMinute at, const PinTry& tried);
  Chips* scope_;
  QPushButton* try_;
  QLabel* among_;
  ShopRibbon* shop_;
  QLineEdit *start_, *from_, *to_, *pin_, *promised_;
  std::vector<QPushButton*> day_;
  FigureField *moulds_, *hands_, *wait_;
  QPushButton *export_, *reset_;
  RibbonView* ribbon_;
  QScrollArea* scroll_;
  MouldsCurve* curve_;
  QFrame* card_;
  QLabel *step_, *what_, *empty_;
  QWidget* top_;
  ChoiceField* ends_;
  QPushButton *out_, *add_, *words_, *earlier_, *later_, *habit_, *habits_;
  QWidget* left_out_;
};

}  // namespace palinform::app
