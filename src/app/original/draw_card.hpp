#pragma once
/// Original without a scan: the bodies it is drawn from, put on and cut away, with their numbers.
#include <QPlainTextEdit>

#include "drawn/measure_lines.hpp"
#include "shell/fits_card.hpp"

namespace palinform::app {

class DrawCard : public PopCard {
  Q_OBJECT
 public:
  DrawCard(Desk& desk, QWidget* parent);
  void refresh() override;
  /// The body whose measures are shown, on the card and on the picture; empty: none.
  const std::string& chosen() const { return chosen_; }
  void choose(const std::string& body_id);
  /// A measure typed on the picture; false, and told, where it is refused.
  bool set_measure(const std::string& body_id, const std::string& key, double mm);
  /// Adds a body as the menus do.
  void add(BodyShape shape, bool cut);

 signals:
  void chosen_changed();
  void trace_wanted();

 private:
  const DrawnBody* body() const;
  void change(const std::function<void(DrawnBody&)>& how, const QString& what);
  void build_list();
  void build_editor();
  void show_figures();
  void move_body(int by);
  void read_points();
  Desk& desk_;
  QPushButton *add_, *cut_, *trace_;
  QVBoxLayout *list_, *editor_;
  QWidget* editor_body_ = nullptr;
  FigureField* u_;
  QLabel* told_;
  std::vector<std::pair<FigureField*, const BodyMeasure*>> figures_;
  std::array<FigureField*, 3> place_{};
  FigureField* turn_ = nullptr;
  Chips* way_ = nullptr;
  QPlainTextEdit* points_ = nullptr;
  std::string chosen_, shown_, listed_;
};

}  // namespace palinform::app
