#pragma once
/// Mould: a cut-away of both rubber halves in their box, opened by one slider, with the fill lines of both pours.
#include "mould/fill_curve.hpp"
#include "mould/mould_cards.hpp"
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

class QSlider;

namespace palinform::app {

class FormCard;

class MouldPage : public StagePage {
  Q_OBJECT
 public:
  MouldPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  bool settled() const override { return view_->passes() >= PartView::settled_passes; }
  PartView* view() const { return view_; }
  QSlider* opening() const { return open_; }
  void show_board(bool on);
  /// A key taken up and moved to under (x, y); a press picks the nearest.
  void drag_key(double x, double y, bool begins);
  /// Halves, board, frame and templates into a folder, in the background.
  void write_build(const QString& dir);
  void write_panels(const QString& path);

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  Scene make_scene() const;
  void draw_over(QPainter& p);
  void lay_out();
  Vec3 lift(bool upper) const;
  /// How far the slider has taken a member of the mould that comes apart in order, 0 to 1; its place in the order.
  double out_share(size_t place, size_t count) const;
  void open_card(PopCard* card);
  bool board_on() const;
  Chips *mode_, *keys_;
  QPushButton* move_keys_;
  QWidget* side_;
  FormsCard* forms_;
  BoxCard* box_;
  FormCard* own_;
  int held_ = -1, drag_ = 0;
  PartView* view_;
  QSlider *open_, *cut_, *wall_slide_;
  FigureField *wall_, *master_;
  QLabel *told_, *empty_;
  QWidget* controls_;
  FillCurve *curve_a_, *curve_b_;
  std::string shown_;
  mutable std::string pins_shown_;  ///< of `pin_shapes_`
  mutable std::vector<std::shared_ptr<const Shape>> pin_shapes_;
};

}  // namespace palinform::app
