#pragma once
/// Split: the part with its parting line, both sides told apart, what locks hatched; the pull is chosen here.
#include "shell/stage_page.hpp"
#include "split/pull_rose.hpp"
#include "view3d/part_view.hpp"

namespace palinform::app {

/// Height of the line along its length: the longest loop unrolled.
class LineProfile : public QWidget {
  Q_OBJECT
 public:
  explicit LineProfile(QWidget* parent = nullptr);
  void show_line(const std::vector<Vec3>& loop, const Vec3& pull, const class Units& units);
  QSize sizeHint() const override { return {400, 74}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::vector<std::pair<double, double>> points_;
  QString words_;
};

class SplitPage : public StagePage {
  Q_OBJECT
 public:
  SplitPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override { return view_->passes() >= PartView::settled_passes; }
  PartView* view() const { return view_; }
  PullRose* rose() const { return rose_; }
  /// A stroke of the chosen brush there.
  void canvas_clicked(double x, double y);

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_over(QPainter& p);
  void lay_out();
  PartView* view_;
  Chips *pulls_, *brush_;
  QPushButton* wipe_;
  PullRose* rose_;
  QLabel* hint_;
  QLabel *told_, *empty_;
  LineProfile* profile_;
  std::optional<Vec3> pointed_;
  std::string shown_;
};

}  // namespace palinform::app
