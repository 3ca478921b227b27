#pragma once
/// Flow: the mould as it stands while it is poured, tilted by hand; where air stays, as bubbles with their volumes;
/// gate and vents set by clicking on the part.
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

class QSlider;

namespace palinform::app {

/// The wedge that gives the tilt, to scale.
class WedgeView : public QWidget {
  Q_OBJECT
 public:
  explicit WedgeView(QWidget* parent = nullptr);
  void show_tilt(double tilt_deg);
  QSize sizeHint() const override { return {240, 84}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  double tilt_deg_ = 0;
};

class FlowPage : public StagePage {
  Q_OBJECT
 public:
  enum class Tool { none, gate, vent, take_away };
  FlowPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override;
  PartView* view() const { return view_; }
  QSlider* tilt() const { return tilt_; }
  void choose(Tool t);
  void canvas_clicked(double x, double y);
  /// Where a point of the part is shown: the part stands tilted.
  Vec3 shown(const Vec3& p_mm) const { return place_.point(p_mm); }

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_over(QPainter& p);
  void lay_out();
  void edit(const std::function<void(FlowSetup&)>& change, const QString& what, const QString& merge = {});
  PartView* view_;
  QWidget* tools_;
  std::vector<QPushButton*> tool_;
  Chips* aids_;
  QWidget* stand_;
  QSlider *tilt_, *azimuth_;
  QLabel *tilt_words_, *azimuth_words_, *told_, *hint_, *empty_;
  QPushButton* over_;
  FigureField *pressure_, *vacuum_, *altitude_;
  WedgeView* wedge_;
  Tool now_ = Tool::none;
  Transform place_;
  std::optional<Vec3> pointed_;
  std::string shown_;
};

}  // namespace palinform::app
