#pragma once
/// Ledger: shelves of lots and moulds with what is left in them, the pours and castings, what it cost, and what was
/// edited; the shop's materials and its rules of thumb.
#include "ledger/reports.hpp"
#include "ledger/workshop.hpp"
#include "shell/stage_page.hpp"

class QListWidget;
class QStackedWidget;

namespace palinform::app {

/// Bottles with their level, mould blocks with a mark for each pull.
class LotsView : public QWidget {
  Q_OBJECT
 public:
  LotsView(Desk& desk, QWidget* parent);
  void show_books(std::vector<Lot> lots, std::vector<MouldRecord> moulds, MouldLives lives);
  int64_t selected_mould() const { return mould_; }

 signals:
  void mould_chosen(int64_t id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Desk& desk_;
  std::vector<Lot> lots_;
  std::vector<MouldRecord> moulds_;
  MouldLives lives_;
  std::vector<std::pair<QRectF, int64_t>> blocks_;
  int64_t mould_ = 0;
};

class HistoryView;
class QuoteView;
class ShelfView;
class RulesView;
class ShopView;

class LedgerPage : public StagePage {
  Q_OBJECT
 public:
  LedgerPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  int rows() const;
  /// 0: the books; 1: the shelf; 2: the rules; 3: the shop; 4: the quote; 5: the history.
  void show_view(int i);
  ShelfView* shelf() const { return shelf_; }
  RulesView* rules() const { return rules_; }

 private:
  void refresh_books();
  void add_lot();
  void export_csv(int what);
  Chips* views_;
  QStackedWidget* stack_;
  LotsView* lots_;
  ShelfView* shelf_;
  RulesView* rules_;
  ShopView* shop_;
  QuoteView* quote_;
  HistoryView* history_;
  QLineEdit *search_, *label_, *opened_, *expires_;
  ChoiceField* material_;
  FigureField* grams_;
  QPushButton *add_, *retire_;
  QListWidget* list_;
  QLabel* cost_;
  std::string shown_;
};

}  // namespace palinform::app
