#pragma once
/// Cards laid over the original: its faces and finish; how the master is made from it; measures where there is no mesh.
#include "shell/fits_card.hpp"

class QVBoxLayout;

namespace palinform::app {

/// What the next click on the part means.
enum class ClickMeans { nothing, size, mark_show, mark_hidden, mark_keep_clear, stock, plug };

class FacesCard : public PopCard {
  Q_OBJECT
 public:
  FacesCard(Desk& desk, QWidget* parent);
  void refresh();
  ClickMeans click() const;

 signals:
  void click_changed();

 private:
  Desk& desk_;
  Chips *kind_, *surface_, *later_;
  ChoiceField* material_;
  QLabel *told_, *marks_;
};

class MasterCard : public PopCard {
  Q_OBJECT
 public:
  MasterCard(Desk& desk, QWidget* parent);
  void refresh();
  ClickMeans click() const;
  double stock_mm() const;
  double dimple_mm() const;  ///< 0: by the bore
  void end_clicking();

 signals:
  void click_changed();

 private:
  void add_step(const MasterStep& s, const QString& what);
  Desk& desk_;
  QPushButton *stock_, *plug_;
  QLineEdit *stock_mm_, *dimple_mm_;
  QVBoxLayout* steps_;
  QLabel *told_, *advice_;
  QPushButton* write_;
  std::vector<std::string> shown_;
};

class BareCard : public PopCard {
  Q_OBJECT
 public:
  BareCard(Desk& desk, QWidget* parent);
  void refresh();

 private:
  Desk& desk_;
  FigureField *length_, *width_, *height_, *water_, *mass_, *density_;
  Chips* like_;
  QLabel* told_;
};

}  // namespace palinform::app
