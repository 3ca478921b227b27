#pragma once
/// Check, a scan: the casting's scan on its original, coloured by how far it lies off; sizes read from it.
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

namespace palinform::app {

/// Shares of the skin by how far they lie off, with the tolerance band as ground.
class DeviationBars : public QWidget {
  Q_OBJECT
 public:
  explicit DeviationBars(QWidget* parent = nullptr) : QWidget(parent) { setMinimumHeight(120); }
  void show_bins(std::vector<HistogramBin> bins, double limit_mm, const QString& unit, double per_mm);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::vector<HistogramBin> bins_;
  double limit_mm_ = 0.1, per_mm_ = 1;
  QString unit_;
};

class ScanView : public QWidget {
  Q_OBJECT
 public:
  ScanView(Desk& desk, QWidget* parent = nullptr);
  void show_casting(int index);
  PartView* view() const { return view_; }
  void point_at(const std::optional<Vec3>& at) { pointed_ = at, view_->update(); }

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_over(QPainter& p);
  /// That of the casting on show, once it has been judged.
  std::shared_ptr<const ScanResult> judged() const;
  Desk& desk_;
  PartView* view_;
  QWidget* side_;
  QPushButton *open_, *take_;
  QLabel *told_, *sizes_, *empty_;
  DeviationBars* bars_;
  int casting_ = -1;
  std::optional<Vec3> pointed_;
  std::string shown_;
};

}  // namespace palinform::app
