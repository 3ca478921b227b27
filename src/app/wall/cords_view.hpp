#pragma once
/// Every open job as a cord on a rail, side by side: its part, its name, a knot a stage, what is wrong, how many are
/// cast, what is promised.
#include <QWidget>

namespace palinform::app {

class Desk;

class CordsView : public QWidget {
  Q_OBJECT
 public:
  explicit CordsView(Desk& desk, QWidget* parent = nullptr);
  int wanted_width() const;
  int chosen() const { return chosen_; }
  void choose(int job);

 signals:
  void opened(const QString& id);
  void acts_wanted(int job, const QPoint& at);  ///< global

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent* e) override;

 private:
  double column_px() const;
  int job_at(const QPointF& p) const;
  QRectF acts_box(int job) const;
  Desk& desk_;
  int chosen_ = 0, hovered_ = -1;
};

}  // namespace palinform::app
