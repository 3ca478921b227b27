#pragma once
/// Split: the part with its parting line, both sides told apart, what locks hatched; the pull is chosen here.
#include "shell/stage_page.hpp"
#include "split/cast_in_card.hpp"
#include "split/holes_card.hpp"
#include "split/line_profile.hpp"
#include "split/pull_rose.hpp"
#include "split/split_cards.hpp"
#include "view3d/part_view.hpp"

namespace palinform::app {

class SplitPage : public StagePage {
  Q_OBJECT
 public:
  SplitPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override { return view_->passes() >= PartView::settled_passes; }
  PartView* view() const { return view_; }
  PullRose* rose() const { return rose_; }
  /// The chosen brush passes there; a press begins a new stroke, which is one step to undo.
  void stroke(double x, double y, bool begins);
  /// Opens the card at the opening that was clicked.
  void click_opening(double x, double y);
  /// Sheets to work from, written in the background: .pdf, .svg or .dxf (the pins as one PDF).
  void write_clay_sheet(const QString& path);
  void write_pin_sheet(const QString& path);
  void write_plate_sheet(const QString& path);

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_over(QPainter& p);
  void lay_out();
  void open_card(PopCard* card, bool wide);
  /// Sides by facing alone, while the rose is dragged on a large mesh.
  void show_coarse(const Vec3& pull);
  PartView* view_;
  Chips *pulls_, *brush_;
  QPushButton *wipe_, *mend_;
  PullRose* rose_;
  QLabel* hint_;
  QLabel *told_, *empty_;
  LineProfile* profile_;
  std::optional<Vec3> pointed_;
  std::string shown_;
  QWidget* side_;
  std::vector<PopCard*> cards_;
  WeightsCard* weights_;
  WaysCard* ways_;
  HolesCard* holes_;
  CastInCard* cast_in_;
  WitnessCard* witness_;
  std::optional<Vec3> last_spot_;
  int stroke_ = 0;
};

}  // namespace palinform::app
