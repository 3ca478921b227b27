#pragma once
/// Days: a ribbon of days and nights with bench hours; hands-on pieces as blocks, cures running on through the night;
/// how soon it would be done with more moulds.
#include "shell/stage_page.hpp"

class QFrame;
class QScrollArea;

namespace palinform::app {

class RibbonView : public QWidget {
  Q_OBJECT
 public:
  RibbonView(Desk& desk, QWidget* parent);
  void select(const std::string& step_id);
  const std::string& selected() const { return selected_; }
  int wanted_height() const;

 signals:
  void chosen(const std::string& step_id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  Desk& desk_;
  std::string selected_;
  std::vector<std::pair<QRectF, std::string>> blocks_;
};

/// Finish against number of moulds, with what each costs.
class MouldsCurve : public QWidget {
  Q_OBJECT
 public:
  MouldsCurve(Desk& desk, QWidget* parent);

 signals:
  void chosen(int moulds);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Desk& desk_;
};

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
