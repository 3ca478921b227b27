#pragma once
/// Pop-over cards of Mould: the forms side by side, and the box with what to cut for it.
#include "shell/fits_card.hpp"
#include "stages/own_boxes.hpp"

namespace palinform::app {

class FormsCard : public PopCard {
  Q_OBJECT
 public:
  FormsCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  Desk& desk_;
  QWidget* body_ = nullptr;
  std::string shown_;
};

class BoxCard : public PopCard {
  Q_OBJECT
 public:
  BoxCard(Desk& desk, QWidget* parent);
  void refresh() override;

 signals:
  void panels_wanted();

 private:
  Desk& desk_;
  Chips *style_, *own_;
  FigureField *floor_, *top_, *masters_, *inside_[3];
  QPushButton* plates_;
  void show_offers(const FormsResult& r);
  QLabel* own_told_;
  std::vector<BoxOffer> offers_;
  QLabel* told_;
  FigureField *sheet_, *clearance_, *bed_u_, *bed_v_, *voxel_, *chamber_, *pot_;
  QPushButton* panels_;
};

}  // namespace palinform::app
