#pragma once
/// Resin and silicone by need: what the part must stand, and every candidate with its reasons and its worst size.
#include "shell/stage_page.hpp"

class QScrollArea;
class QVBoxLayout;

namespace palinform::app {

class ChooseView : public QWidget {
  Q_OBJECT
 public:
  ChooseView(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  void edit(const std::function<void(ResinNeeds&)>& change, const QString& what);
  void fill();
  Desk& desk_;
  Chips* which_;
  FigureField *low_, *high_, *heat_, *section_, *work_;
  ChoiceField *scale_, *flex_, *clarity_;
  QLineEdit* colour_;
  QWidget* needs_;
  QVBoxLayout* list_;
  Hash128 shown_;
  int shown_which_ = -1;
};

}  // namespace palinform::app
