#pragma once
/// The canvas for every stage that shows a shape. The core casts the picture on a thread of its own; this widget turns
/// the mouse and keys into a camera and paints what came, with the page's lines and labels over it.
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <QImage>
#include <QWidget>
#include <thread>

#include "picture/overlay.hpp"
#include "picture/render.hpp"

class QTimer;

namespace palinform::app {

class PartView : public QWidget {
  Q_OBJECT
 public:
  explicit PartView(QWidget* parent = nullptr);
  ~PartView() override;

  /// Shows `scene`; the camera is fitted the first time and whenever `refit` is set.
  void set_scene(Scene scene, bool refit = false);
  /// Same bodies in other places (a slider moves): drawn as motion until it rests.
  void move_scene(Scene scene);
  /// Painted over the picture, in widget coordinates.
  void set_overlay(std::function<void(QPainter&)> overlay) { overlay_ = std::move(overlay); }
  /// With a brush in hand dragging paints (`stroked`) instead of turning the part; the right button still turns it.
  void set_brush(bool on) { brush_ = on; }
  /// Room kept free at the edges when fitting (for cards and strips the page lays over the canvas).
  void set_margins(const QMargins& m) { margins_ = m; }

  const Camera& camera() const { return camera_; }
  void set_camera(const Camera& c);
  const Picture& picture() const { return picture_; }
  const Scene& scene() const { return scene_; }
  double slack_mm() const;  ///< for visible_runs
  void fit();
  void look(double azimuth_deg, double elevation_deg);
  /// Passes of the picture on show; `settled_passes` when it is done (fewer where nobody looks at it: the tests).
  int passes() const { return shown_passes_; }
  static inline int settled_passes = 20;

 signals:
  void clicked(double x, double y);
  /// A place the brush passes; `begins` at the press.
  void stroked(double x, double y, bool begins);
  void camera_changed();
  void settled();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  struct Wanted {
    Scene scene;
    Camera camera;
    bool moving = false;
    uint64_t serial = 0;
  };
  void request(bool moving);
  void moved();
  void draw_thread();
  void arrived(Picture picture, QImage image, int passes, uint64_t serial, bool moving, double ms_per_px);

  Scene scene_;
  Camera camera_;
  bool fitted_ = false;
  QMargins margins_;
  std::function<void(QPainter&)> overlay_;
  Picture picture_;
  QImage image_;
  Camera image_camera_;
  int shown_passes_ = 0;
  uint64_t serial_ = 0;  ///< of the newest request: an older picture is shown, but does not count as settled
  QPointF press_, last_;
  bool dragging_ = false, brush_ = false;
  Qt::MouseButton button_ = Qt::NoButton;
  QTimer* rest_ = nullptr;
  double ms_per_px_ = 1.2e-4;  ///< first guess; measured from then on

  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<Wanted> wanted_;
  std::shared_ptr<Progress> drawing_;
  bool drawing_moves_ = false;
  bool stop_ = false;
  std::thread thread_;
};

/// The nearest of `places` within a finger's width of (x, y), in widget coordinates; none where none is.
std::optional<size_t> nearest_handle(const PartView& view, double x, double y, const std::vector<Vec3>& places_mm);

/// A word at a place of the picture, boxed, with a line to its place: dashed where that is hidden.
struct Tag {
  Vec3 where_mm;
  QString words;
  QColor edge;
};
/// Places tags inside `area` off the part and off each other, draws them, and gives their rectangles in order.
std::vector<QRectF> draw_tags(QPainter& p, const PartView& view, const std::vector<Tag>& tags, const QRectF& area);

/// Draws polylines of the part over the picture: seen runs solid, hidden ones dashed.
void draw_polyline(QPainter& p, const PartView& view, const std::vector<Vec3>& points_mm, const QPen& pen,
                   bool closed = false);

}  // namespace palinform::app
