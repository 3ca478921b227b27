#pragma once
/// The tilt map: how much air would stay for every tilt (upward) and turn (across) that the plan tried; a click stands
/// the mould so.
#include <QWidget>

#include "flow/plan.hpp"

namespace palinform::app {

class TiltMap : public QWidget {
  Q_OBJECT
 public:
  explicit TiltMap(QWidget* parent = nullptr);
  /// `plan` may be null (still working). `now`: as the mould stands.
  void show_plan(const FlowPlan* plan, bool turned_over, double tilt_deg, double azimuth_deg);
  QSize sizeHint() const override { return {212, 128}; }
  /// Place of a stand on the widget.
  QPointF place_of(double tilt_deg, double azimuth_deg) const;

 signals:
  void picked(double tilt_deg, double azimuth_deg);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;

 private:
  QRectF field() const;
  const StandTried* at(const QPointF& p) const;
  std::vector<StandTried> tried_;
  double tilt_deg_ = 0, azimuth_deg_ = 0, best_tilt_ = 0, best_azimuth_ = 0, most_tilt_ = 45, best_left_ = 0;
  bool over_ = false, has_plan_ = false, best_here_ = false;
};

}  // namespace palinform::app
