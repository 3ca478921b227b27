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
  void show_books(std::vector<Lot> lots, std::vector<MouldRecord> moulds, std::shared_ptr<const MouldLives> lives,
                  std::vector<MouldCare> cares);
  int64_t selected_mould() const { return mould_; }
  void choose_first_mould() {
    if (!moulds_.empty()) mould_ = moulds_.front().id, emit mould_chosen(mould_);
  }

 signals:
  void mould_chosen(int64_t id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Desk& desk_;
  std::vector<Lot> lots_;
  std::vector<MouldRecord> moulds_;
  std::shared_ptr<const MouldLives> lives_;
  std::vector<MouldCare> cares_;
  std::vector<std::pair<QRectF, int64_t>> blocks_;
  int64_t mould_ = 0;
};

class CustomersView;
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
  /// 0: the books; 1: the shelf; 2: the rules; 3: the shop; 4: the quote; 5: the history; 6: the customers.
  void show_view(int i);
  ShelfView* shelf() const { return shelf_; }
  RulesView* rules() const { return rules_; }

 private:
  void refresh_books();
  void add_lot();
  void export_csv(int what);
  MouldCare care_of_chosen() const;
  MouldCare care_of_chosen(const std::vector<MouldCare>& all) const;
  void keep_care(const MouldCare& care);
  Chips* views_;
  QStackedWidget* stack_;
  LotsView* lots_;
  ShelfView* shelf_;
  RulesView* rules_;
  ShopView* shop_;
  QuoteView* quote_;
  HistoryView* history_;
  CustomersView* customers_;
  QLineEdit *search_, *label_, *opened_, *expires_;
  ChoiceField* material_;
  FigureField* grams_;
  QPushButton *add_, *retire_, *mended_;
  QWidget* mould_row_;
  QLineEdit* place_;
  QLabel* care_told_;
  std::shared_ptr<const MouldLives> lives_;
  std::string lives_for_;  ///< the moulds they were worked out from
  QListWidget* list_;
  QLabel* cost_;
  std::string shown_;
};

}  // namespace palinform::app
