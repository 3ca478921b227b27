#pragma once
/// The shop's materials: the shelf, and a bottle opened with its figures as marks on the ranges of its family.
#include "ledger/bottles_view.hpp"
#include "ledger/marks_view.hpp"
#include "shell/stage_page.hpp"

class QStackedWidget;

namespace palinform::app {

class ShelfView : public QWidget {
  Q_OBJECT
 public:
  ShelfView(Desk& desk, QWidget* parent);
  void refresh();
  /// Opens one bottle; an empty id goes back to the shelf.
  void open(const std::string& id);
  const std::string& opened() const { return opened_; }
  BottlesView* bottles() const { return bottles_; }
  MarksView* marks() const { return marks_; }
  /// A new material of a family, named after it; it is kept at once.
  void add_of_family(const std::string& family_id);
  /// A new one of which nothing is known: kept as soon as its ratio is.
  void add_from_nothing(MaterialKind kind);

 private:
  const Material* shown() const;
  bool keep(const Result<Material>& changed);
  void fill_head();
  Desk& desk_;
  QStackedWidget* stack_;
  BottlesView* bottles_;
  MarksView* marks_;
  QLineEdit *name_, *ratio_, *find_;
  QLabel* kind_;
  QPushButton *retire_, *copy_, *new_;
  std::string opened_;
  std::optional<Material> draft_;  ///< not kept yet: it has no ratio
};

}  // namespace palinform::app
