#pragma once
/// A study of a gauge: three people, five parts, twice each; what it and the hands add to a reading is kept with it.
#include <array>
#include <QDialog>

#include "check/gauge_study.hpp"

class QLabel;
class QLineEdit;
class QPushButton;

namespace palinform::app {

class Desk;

class GaugeSheet : public QDialog {
  Q_OBJECT
 public:
  GaugeSheet(Desk& desk, QWidget* parent);
  /// Of what is typed; nothing while cells are empty or no numbers.
  std::optional<GaugeStudy> study() const;

 private:
  void tell();
  void keep();
  static constexpr size_t people = 3, parts = 5, repeats = 2;
  Desk& desk_;
  QLineEdit* name_;
  std::array<QLineEdit*, people * parts * repeats> cells_{};
  QLabel* told_;
  QPushButton* keep_;
};

}  // namespace palinform::app
