#pragma once
/// The shelf as planks of bottles, tubs, sacks and cans, one kind after the other: what is left of each, how much of
/// what is known of it is a guess.
#include <QWidget>

#include "mix/stock.hpp"
#include "shelf/material.hpp"

namespace palinform::app {

class BottlesView : public QWidget {
  Q_OBJECT
 public:
  explicit BottlesView(QWidget* parent = nullptr);
  void show_shelf(std::vector<Material> bottles, const std::vector<Lot>& lots);
  void select(const std::string& id);
  const std::string& selected() const { return selected_; }
  /// Where a bottle stands, for tests and whoever scrolls there; empty: it is not shown.
  QRect place(const std::string& id) const;
  int count() const { return static_cast<int>(bottles_.size()); }

 signals:
  void opened(const QString& id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  void lay_out();
  void open(size_t i);
  struct Stand {
    QRect cell;
    double left_share = -1;  ///< of what the lots held; below nought: no lot
    bool first_of_kind = false;
  };
  std::vector<Material> bottles_;
  std::vector<Stand> stands_;
  std::string selected_;
};

}  // namespace palinform::app
