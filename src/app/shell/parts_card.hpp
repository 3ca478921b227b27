#pragma once
/// The parts of one job: chips to take one in hand, in the window's top line, and the card that adds, counts and names
/// them.
#include "shell/fits_card.hpp"

class QLineEdit;

namespace palinform::app {

class PartsCard : public PopCard {
  Q_OBJECT
 public:
  PartsCard(Desk& desk, QWidget* parent);
  void refresh() override;
  /// Reads a mesh in the background and adds it as a part, in hand.
  void add_from(const QString& path);

 private:
  Desk& desk_;
  Chips* which_;
  QLabel* told_;
  QLineEdit* name_;
  FigureField *copies_, *masters_;
  QPushButton *add_, *hand_, *out_;
  std::vector<std::string> shown_;
};

/// The parts' names as chips, the one in hand down; hidden where there is one part.
class PartChips : public Chips {
  Q_OBJECT
 public:
  explicit PartChips(Desk& desk, QWidget* parent = nullptr);
  void refresh();

 private:
  Desk& desk_;
  std::vector<std::string> shown_;
};

}  // namespace palinform::app
