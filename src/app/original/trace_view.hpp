#pragma once
/// A picture of the part, scaled, with its outline, holes and steps followed by clicks. Lies over the page's canvas.
#include <QImage>
#include <QWidget>
#include <thread>

#include "drawn/tracing.hpp"
#include "shell/stage_page.hpp"

namespace palinform::app {

class TraceView : public QWidget {
  Q_OBJECT
 public:
  TraceView(Desk& desk, QWidget* parent);
  ~TraceView() override;
  void refresh();
  /// A click there, in the widget's coordinates, as the mouse does.
  void click(double x, double y);
  /// Where a pixel of the picture stands on the widget.
  QPointF on_screen(const Pixel& p) const;
  /// The picture is there.
  bool ready() const { return !image_.isNull(); }
  /// As far as a click may be off the edge it means, pixels of the picture.
  double reach_px() const;

 signals:
  void closed();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;

 private:
  /// What a click sets.
  enum class Tool { none, ends, corners, loop };
  /// A place that can be dragged: of the scale, or a point of a loop.
  struct Handle {
    int loop = -1;  ///< −1: the scale's
    size_t at = 0;
  };
  Pixel in_picture(const QPointF& p) const;
  std::optional<Handle> handle_at(const QPointF& p) const;
  void set_place(Tracing& t, const Handle& h, const Pixel& p) const;
  void take_tool(Tool tool, TracedLoop::Means means = TracedLoop::Means::outline);
  void close_loop();
  void edit(const Tracing& t, const QString& what, const QString& merge = {});
  void load();
  void fit();
  void lay_out();
  void build_loops();
  QString says() const;
  const Tracing& tracing() const;

  Desk& desk_;
  QPushButton *open_, *done_, *snap_;
  Chips *way_, *means_, *kind_;
  FigureField *dpi_, *distance_, *wide_, *deep_, *height_, *camera_;
  QWidget *bar_, *second_, *side_;
  QLabel* told_;
  class QVBoxLayout* loops_ = nullptr;
  QWidget* loops_body_ = nullptr;
  QImage image_;
  GreyPicture grey_;
  std::string loaded_, listed_;
  std::thread loader_;
  double zoom_ = 1;
  QPointF shift_;  ///< of the picture's corner, in the widget
  Tool tool_ = Tool::none;
  TracedLoop drawing_;
  size_t next_place_ = 0;
  std::optional<Handle> dragged_;
  Tracing draft_;  ///< while something is dragged
  QPointF press_, last_, pointer_;
  bool panning_ = false;
};

}  // namespace palinform::app
