#pragma once
/// Original: the part with its sizes called out on it; a size is added by clicking two faces or a bore.
#include <optional>

#include "mesh/feature.hpp"
#include "shell/stage_page.hpp"
#include "view3d/part_view.hpp"

class QFrame;

namespace palinform::app {

/// Readings as dots on a strip whose gap is the limits.
class DotStrip : public QWidget {
  Q_OBJECT
 public:
  explicit DotStrip(QWidget* parent = nullptr);
  void show_size(const std::optional<MeasuredSize>& s);
  QSize sizeHint() const override { return {300, 46}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::optional<MeasuredSize> size_;
};

class OriginalPage : public StagePage {
  Q_OBJECT
 public:
  OriginalPage(Desk& desk, QWidget* parent = nullptr);
  void refresh() override;
  void point_at(const Finding& f) override;
  bool settled() const override;
  void select(const std::string& size_id);
  const std::string& selected() const { return selected_; }
  PartView* view() const { return view_; }
  /// Begins adding a size, as the chip does.
  void begin_adding(bool on);
  /// A caliper reading of the chosen size.
  void take_reading(double mm);
  /// A click on the canvas, in its coordinates.
  void canvas_clicked(double x, double y);

 protected:
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  void draw_callouts(QPainter& p);
  void edit_selected(const std::function<void(MeasuredSize&)>& change, const QString& what);
  void add_size(MeasuredSize s);
  void open_dialog();
  void lay_out();
  void show_size_card();

  PartView* view_;
  QPushButton *open_, *add_, *duties_;
  QLabel *hint_, *empty_;
  QFrame* card_;
  QLineEdit *name_, *readings_;
  ChoiceField *kind_, *formed_;
  FigureField *nominal_, *lower_, *upper_, *pin_, *resolution_;
  DotStrip* strip_;
  QPushButton* remove_;
  std::string selected_, shown_mesh_, shown_size_;
  bool adding_ = false;
  std::optional<FaceFit> first_;
  Vec3 first_point_;
  struct Label {
    std::string id;
    RectPx rect;
  };
  std::vector<Label> labels_;
};

}  // namespace palinform::app
