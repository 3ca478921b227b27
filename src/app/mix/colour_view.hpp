#pragma once
/// Colours of the shop and what is left in the cup: recipes as shares, what they come to in this batch, the trials that
/// led there; and the standing moulds a left-over would fill.
#include "mix/left_over.hpp"
#include "mix/recipe.hpp"
#include "shell/stage_page.hpp"

class QListWidget;

namespace palinform::app {

/// The tints of a recipe as bars on a scale of the sheet's limit, with grams for the batch; under them the trials.
class RecipePicture : public QWidget {
  Q_OBJECT
 public:
  RecipePicture(Desk& desk, QWidget* parent);
  void show_recipe(std::optional<ColourRecipe> recipe);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Desk& desk_;
  std::optional<ColourRecipe> recipe_;
};

class ColourView : public QWidget {
  Q_OBJECT
 public:
  ColourView(Desk& desk, QWidget* parent);
  void refresh();

 private:
  const ColourRecipe* chosen() const;
  void keep(const ColourRecipe& recipe);
  void fill_left_over();
  Desk& desk_;
  std::vector<ColourRecipe> recipes_;
  ChoiceField *recipe_, *pigment_;
  FigureField *share_, *left_;
  QLineEdit *name_, *verdict_;
  QPushButton *use_, *put_, *trial_, *new_, *pour_rest_;
  RecipePicture* picture_;
  QLabel *told_, *rest_;
  std::string shown_;
  std::vector<size_t> rest_moulds_;
  std::vector<StandingMould> moulds_;
};

}  // namespace palinform::app
