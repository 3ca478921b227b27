#pragma once
/// Flow: the mould as it stands while it fills, tilted by hand or as planned; the front rising with time, pockets as
/// bubbles with their volumes; gate and vents set and dragged on the part.
#include "flow/squeeze_bar.hpp"
#include "flow/tilt_map.hpp"
#include "flow/wedge_view.hpp"
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

class QSlider;

namespace palinform::app {

class FlowPage : public StagePage {
  Q_OBJECT
 public:
  enum class Tool { none, gate, vent, no_vent, move, take_away };
  FlowPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override;
  PartView* view() const { return view_; }
  QSlider* tilt() const { return tilt_; }
  QSlider* filled() const { return filled_; }
  TiltMap* map() const { return map_; }
  ClosingView* closing() const { return closing_; }
  QString told() const { return told_->text(); }
  QString fill_words() const { return fill_words_->text(); }
  void choose(Tool t);
  void canvas_clicked(double x, double y);
  /// Where a point of the part is shown: the part stands tilted.
  Vec3 shown(const Vec3& p_mm) const { return place_.point(p_mm); }

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_over(QPainter& p);
  void draw_rubber(QPainter& p);
  void lay_out();
  void drag(double x, double y, bool begins);
  void take_plan();
  void show_scene(bool other_part, bool moved);
  /// Height of the front along up for the slider's place, part's frame; nothing when full or unknown.
  std::optional<double> shown_min() const;  ///< what the slider stands at; none: all of it
  std::optional<double> shown_gap() const;  ///< … of a squeeze: how far the halves are apart; none: shut
  bool squeezed() const;
  void refresh_squeeze();
  std::optional<Vec3> on_part(double x, double y) const;
  void edit(const std::function<void(FlowSetup&)>& change, const QString& what, const QString& merge = {});
  PartView* view_;
  QWidget *tools_, *stand_, *plan_row_;
  std::vector<QPushButton*> tool_;
  Chips* aids_;
  QSlider *tilt_, *azimuth_, *filled_;
  QLabel *tilt_words_, *azimuth_words_, *told_, *hint_, *empty_, *fill_words_;
  QPushButton *over_, *take_, *keep_gate_, *keep_vents_, *rubber_;
  FigureField *pressure_, *vacuum_, *altitude_, *most_tilt_, *most_vents_, *sprue_, *head_;
  WedgeView* wedge_;
  TiltMap* map_;
  SqueezeBar* squeeze_;
  ClosingView* closing_;
  Tool now_ = Tool::none;
  int held_ = -2;  ///< −1 the gate, else a vent; −2 nothing
  int drag_ = 0;
  Transform place_;
  std::optional<Vec3> pointed_;
  std::string shown_;
};

}  // namespace palinform::app
