#pragma once
/// The wall: the whole shop at one look. Each open job hangs on the rail; below it the shop's days, what needs hands
/// now, what cures, what is short, what is promised.
#include "shell/stage_page.hpp"
#include "wall/cords_view.hpp"
#include "wall/shop_ribbon.hpp"

class QScrollArea;

namespace palinform::app {

class WallPage : public QWidget {
  Q_OBJECT
 public:
  explicit WallPage(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  CordsView* cords() const { return cords_; }
  ShopRibbon* ribbon() const { return ribbon_; }
  QLineEdit* search() const { return search_; }

 signals:
  void opened();  ///< a job was opened from it

 protected:
  void showEvent(QShowEvent*) override;

 private:
  void open(const QString& id);
  void acts(int job, const QPoint& at);
  void show_found();
  void ask_promise(const std::string& id, const QString& name);
  Desk& desk_;
  QLineEdit* search_;
  QPushButton *closed_, *calendar_, *paper_, *reports_;
  QLabel* told_;
  CordsView* cords_;
  QScrollArea *cords_scroll_, *found_scroll_;
  QWidget *now_, *found_;
  Chips* span_;
  ShopRibbon* ribbon_;
  std::array<QLabel*, 4> lists_{};
};

}  // namespace palinform::app
