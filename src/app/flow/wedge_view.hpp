#pragma once
/// The wedge under a tilted mould.
#include <QWidget>

namespace palinform::app {

/// The wedge that gives the tilt, to scale.
class WedgeView : public QWidget {
  Q_OBJECT
 public:
  explicit WedgeView(QWidget* parent = nullptr);
  /// `run_mm` 0: told for each 100 mm.
  void show_tilt(double tilt_deg, double run_mm, double rise_mm);
  QSize sizeHint() const override { return {240, 84}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  double tilt_deg_ = 0, run_mm_ = 0, rise_mm_ = 0;
};

}  // namespace palinform::app
