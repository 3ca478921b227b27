#pragma once
/// What the shop owns: cups, boxes and vessels drawn to one scale, and the lines they are written in.
#include <map>

#include "rules/equipment_lines.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

class EquipmentPicture : public QWidget {
  Q_OBJECT
 public:
  explicit EquipmentPicture(QWidget* parent);
  void show_equipment(const Equipment& e);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Equipment shop_;
};

class ShopView : public QWidget {
  Q_OBJECT
 public:
  ShopView(Desk& desk, QWidget* parent);
  void refresh();

 private:
  Desk& desk_;
  EquipmentPicture* picture_;
  QLabel* overdue_;
  std::map<std::string, QLineEdit*> lines_;
  ChoiceField *rubber_, *resin_, *cup_, *scale_;
};

}  // namespace palinform::app
