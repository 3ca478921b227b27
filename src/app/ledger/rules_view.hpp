#pragma once
/// The shop's rules of thumb, stage by stage: where each stands, where it stands by default, what it changes.
#include "ledger/marks_view.hpp"
#include "rules/rule_lines.hpp"
#include "shell/stage_page.hpp"

class QScrollArea;

namespace palinform::app {

class RulesView : public QWidget {
  Q_OBJECT
 public:
  RulesView(Desk& desk, QWidget* parent);
  void refresh();
  void show_stage(int i);
  MarksView* marks() const { return marks_; }
  QPushButton* to_default() const { return default_; }

 private:
  void keep(const std::string& path, double value);
  void tell();
  Desk& desk_;
  Chips* stages_;
  MarksView* marks_;
  QLabel* told_;
  QPushButton *default_, *all_;
  std::vector<RuleLine> lines_;  ///< of the stage shown
};

}  // namespace palinform::app
