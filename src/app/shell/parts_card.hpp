#pragma once
/// The parts of one job: chips to take one in hand, in the window's top line, and the card that adds, counts and names
/// them.
#include "shell/fits_card.hpp"

class QLineEdit;

namespace palinform::app {

/// The parts' names as chips, the one in hand down; hidden where there is one part.
class PartChips : public Chips {
  Q_OBJECT
 public:
  /// Hidden too where there are more than `most`; `name`: of the chips, before their number.
  PartChips(Desk& desk, const QString& name, size_t most, bool wraps = false, QWidget* parent = nullptr);
  void refresh();

 private:
  Desk& desk_;
  QString name_;
  size_t most_;
  std::vector<std::string> shown_;
};

class PartsCard : public PopCard {
  Q_OBJECT
 public:
  PartsCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  Desk& desk_;
  PartChips* which_;
  QLabel* told_;
  QLineEdit* name_;
  FigureField *copies_, *masters_;
  QPushButton *add_, *hand_, *out_;
};

}  // namespace palinform::app
