#pragma once
/// The shop's days on one ribbon: hands as blocks with their job's letter, cures running on beneath, the hour it is.
/// With room for it a row a job.
#include <QWidget>

#include "ledger/open_jobs.hpp"

namespace palinform::app {

class Desk;

class ShopRibbon : public QWidget {
  Q_OBJECT
 public:
  explicit ShopRibbon(Desk& desk, QWidget* parent = nullptr);
  /// From that day on, so many of them side by side.
  void show_days(WallMinute first, int count);
  int days() const { return days_; }
  WallMinute first() const { return first_; }

 signals:
  void opened(const QString& id);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  bool event(QEvent* e) override;

 private:
  double x_of(WallMinute t) const;
  double names_px() const;
  void paint_together(QPainter& p, const OpenShop& shop);
  void paint_by_job(QPainter& p, const OpenShop& shop);
  void paint_hands(QPainter& p, const OpenShop& shop, size_t job, const Placed& placed, double y, bool letters);
  Desk& desk_;
  WallMinute first_ = 0;
  int days_ = 1;
  struct Block {
    QRectF box;
    QString id, words;
  };
  std::vector<Block> blocks_;
};

}  // namespace palinform::app
