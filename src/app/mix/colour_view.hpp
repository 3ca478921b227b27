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
  /// A picture of the last trial, small, kept with it.
  bool take_picture(const QString& path);

 private:
  const ColourRecipe* chosen() const;
  void keep(const ColourRecipe& recipe);
  void fill_left_over();
  /// The colour that a casting really got, as a recipe of its own.
  void cast_the_same(int number);
  /// The chosen filler, thickener or thinner into rubber or casting; a share of nought takes it out.
  void stir_in();
  void show_added();
  Desk& desk_;
  std::vector<ColourRecipe> recipes_;
  ChoiceField *recipe_, *pigment_, *same_, *addition_, *into_;
  FigureField *share_, *left_, *add_share_;
  QLineEdit *name_, *verdict_;
  QPushButton *use_, *put_, *trial_, *picture_of_, *pour_rest_, *add_;
  RecipePicture* picture_;
  QLabel *rest_, *added_;
  std::string shown_, trial_picture_;  ///< the picture as base64 PNG, till the trial is kept
  std::vector<size_t> rest_moulds_;
  std::vector<StandingMould> moulds_;
};

}  // namespace palinform::app
