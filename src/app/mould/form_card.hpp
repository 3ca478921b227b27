#pragma once
/// Pop-over card of Mould: what only this form of mould has. Keys and channels of halves, coats of a skin, the open
/// side of an open face.
#include "shell/fits_card.hpp"

namespace palinform::app {

class FormCard : public PopCard {
  Q_OBJECT
 public:
  FormCard(Desk& desk, QWidget* parent);
  void refresh() override;

 private:
  struct CoatRow {
    FigureField* field;
    QSlider* slide;
    QPushButton *thick, *tint;
  };
  void build_coats(size_t count);
  void show_coats();
  void edit_coats(const std::function<void(std::vector<Coat>&)>& change, const QString& what,
                  const QString& merge = {});
  std::vector<Coat> coats() const;  ///< the job's, or those the rule gives
  Desk& desk_;
  QWidget *halves_, *skin_, *open_, *coat_rows_ = nullptr;
  FigureField *key_, *clear_, *gap_, *cup_, *cup_deep_;
  ChoiceField* second_;
  QPushButton *dams_, *stage_a_, *stage_b_;
  Chips *channels_, *cover_, *brushed_;
  QLabel *told_, *halves_told_, *coats_told_;
  QPushButton* by_rule_;
  std::vector<CoatRow> rows_;
  std::string shown_;
};

}  // namespace palinform::app
