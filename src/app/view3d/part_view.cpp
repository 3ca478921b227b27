#include "view3d/part_view.hpp"

#include <chrono>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QTimer>
#include <QWheelEvent>

#include "sheet_pdf.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {
constexpr double frame_ms = 26;  ///< leaves room for painting within 40 ms a frame
}

PartView::PartView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QStringLiteral("Picture of the part"));
  setAccessibleDescription(QStringLiteral("Arrow keys turn it, plus and minus zoom, Home shows all"));
  setMinimumSize(200, 160);
  camera_.look_from(-60, 35);
  rest_ = new QTimer(this);
  rest_->setSingleShot(true);
  rest_->setInterval(90);
  connect(rest_, &QTimer::timeout, this, [this] { request(false); });
  thread_ = std::thread([this] { draw_thread(); });
}

PartView::~PartView() {
  {
    std::lock_guard lock(mutex_);
    stop_ = true;
    if (drawing_) drawing_->cancel();
  }
  wake_.notify_all();
  thread_.join();
}

double PartView::slack_mm() const { return std::max(2.5 * camera_.mm_per_px, 1e-3 * length(scene_.box_mm().size())); }

void PartView::set_scene(Scene scene, bool refit) {
  scene_ = std::move(scene);
  if ((!fitted_ || refit) && !scene_.bodies.empty() && width() > 0) fit();
  request(false);
}
void PartView::move_scene(Scene scene) {
  scene_ = std::move(scene);
  moved();
}

void PartView::set_camera(const Camera& c) {
  const int w = camera_.width_px, h = camera_.height_px;
  camera_ = c;
  camera_.width_px = w;
  camera_.height_px = h;
  fitted_ = true;
  request(false);
}

void PartView::fit() {
  Camera inner = camera_;
  inner.width_px = std::max(40, width() - margins_.left() - margins_.right());
  inner.height_px = std::max(40, height() - margins_.top() - margins_.bottom());
  inner.fit(scene_.box_mm(), 0.10);
  camera_.width_px = width();
  camera_.height_px = height();
  camera_.mm_per_px = inner.mm_per_px;
  const double dx = 0.5 * (margins_.left() - margins_.right()), dy = 0.5 * (margins_.top() - margins_.bottom());
  camera_.target_mm =
      inner.target_mm - camera_.right * (dx * camera_.mm_per_px) + camera_.up * (dy * camera_.mm_per_px);
  fitted_ = !scene_.bodies.empty();
  request(false);
  emit camera_changed();
}

void PartView::look(double azimuth, double elevation) {
  camera_.look_from(azimuth, elevation);
  fit();
}

void PartView::request(bool moving) {
  if (width() <= 0 || height() <= 0) return;
  camera_.width_px = width();
  camera_.height_px = height();
  shown_passes_ = 0;
  ++serial_;
  if (!isVisible() || scene_.bodies.empty()) return;  // showEvent asks again
  Wanted w{scene_, camera_, moving, serial_};
  // Device pixels: a picture as sharp as the screen; in motion as fine as the time for a frame allows.
  double scale = devicePixelRatioF();
  if (moving) {
    const double pixels = static_cast<double>(width()) * height() * scale * scale;
    scale *= std::clamp(std::sqrt(frame_ms / std::max(1e-9, pixels * ms_per_px_)), 0.25, 1.0);
  }
  w.camera.width_px = std::max(1, static_cast<int>(width() * scale));
  w.camera.height_px = std::max(1, static_cast<int>(height() * scale));
  w.camera.mm_per_px = camera_.mm_per_px * width() / w.camera.width_px;
  {
    std::lock_guard lock(mutex_);
    wanted_ = std::move(w);
    // A frame in motion is short and worth showing; a picture being refined is not.
    if (drawing_ && !(moving && drawing_moves_)) drawing_->cancel();  // a frame in motion is let finish
  }
  wake_.notify_all();
}

void PartView::moved() {
  request(true);
  rest_->start();
  update();
}

void PartView::draw_thread() {
  for (;;) {
    Wanted w;
    std::shared_ptr<Progress> progress;
    {
      std::unique_lock lock(mutex_);
      wake_.wait(lock, [&] { return stop_ || wanted_; });
      if (stop_) return;
      w = std::move(*wanted_);
      wanted_.reset();
      progress = drawing_ = std::make_shared<Progress>();
      drawing_moves_ = w.moving;
    }
    PictureWork work(std::move(w.scene), w.camera);
    const double pixels = static_cast<double>(w.camera.width_px) * w.camera.height_px;
    for (int pass = 0; pass < (w.moving ? 1 : settled_passes); ++pass) {
      const auto start = std::chrono::steady_clock::now();
      if (!work.add_pass(*progress)) break;
      const int n = work.passes();
      if (!w.moving && n != 1 && n != 3 && n != 7 && n != 13 && n != settled_passes) continue;
      Picture picture = work.resolve();
      QImage image = to_image(picture);
      if (progress->cancelled()) break;
      const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
      QMetaObject::invokeMethod(
          this,
          [this, picture = std::move(picture), image = std::move(image), n, serial = w.serial, moving = w.moving,
           rate = ms / pixels]() mutable { arrived(std::move(picture), std::move(image), n, serial, moving, rate); },
          Qt::QueuedConnection);
    }
  }
}

void PartView::arrived(Picture picture, QImage image, int passes, uint64_t serial, bool moving, double ms_per_px) {
  picture_ = std::move(picture);
  image_ = std::move(image);
  shown_passes_ = moving || serial != serial_ ? 0 : passes;
  if (moving || passes == 1) ms_per_px_ = 0.5 * ms_per_px_ + 0.5 * ms_per_px;
  update();
  if (shown_passes_ >= settled_passes) emit settled();
}

void PartView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), pal().ground);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  if (!image_.isNull()) p.drawImage(QRectF(rect()), image_);
  p.setRenderHint(QPainter::Antialiasing);
  if (overlay_) overlay_(p);
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 6, 6);
  }
}

void PartView::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  if (fitted_)
    request(false);
  else if (!scene_.bodies.empty())
    fit();
}

void PartView::resizeEvent(QResizeEvent*) {
  if (scene_.bodies.empty()) return request(false);
  if (fitted_)
    request(false);
  else
    fit();
}

void PartView::mousePressEvent(QMouseEvent* e) {
  press_ = last_ = e->position();
  button_ = e->button();
  dragging_ = false;
  if (brush_ && button_ == Qt::LeftButton) emit stroked(press_.x(), press_.y(), true);
}
void PartView::mouseMoveEvent(QMouseEvent* e) {
  if (button_ == Qt::NoButton) return;
  const QPointF now = e->position();
  if (!dragging_ && (now - press_).manhattanLength() < 4) return;
  dragging_ = true;
  const QPointF d = now - last_;
  last_ = now;
  if (brush_ && button_ == Qt::LeftButton) return emit stroked(now.x(), now.y(), false);
  const bool turns = button_ == Qt::LeftButton || (brush_ && button_ == Qt::RightButton);
  if (turns && !(e->modifiers() & Qt::ShiftModifier))
    camera_.orbit(d.x(), d.y());
  else
    camera_.pan(d.x(), d.y());
  moved();
  emit camera_changed();
}
void PartView::mouseReleaseEvent(QMouseEvent* e) {
  const bool click = button_ == Qt::LeftButton && !dragging_;
  const bool stroke = brush_ && button_ == Qt::LeftButton;
  button_ = Qt::NoButton;
  if (click && !stroke) emit clicked(e->position().x(), e->position().y());
}
void PartView::mouseDoubleClickEvent(QMouseEvent*) {}
void PartView::wheelEvent(QWheelEvent* e) {
  camera_.zoom(std::pow(1.0015, e->angleDelta().y()), e->position().x(), e->position().y());
  moved();
  emit camera_changed();
  e->accept();
}
void PartView::keyPressEvent(QKeyEvent* e) {
  const bool pan = e->modifiers() & Qt::ShiftModifier;
  const auto turn = [&](double dx, double dy) {
    if (pan)
      camera_.pan(-dx, -dy);
    else
      camera_.orbit(dx, dy);
    moved();
    emit camera_changed();
  };
  switch (e->key()) {
    case Qt::Key_Left:
      return turn(25, 0);
    case Qt::Key_Right:
      return turn(-25, 0);
    case Qt::Key_Up:
      return turn(0, 25);
    case Qt::Key_Down:
      return turn(0, -25);
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      camera_.zoom(1.25, width() / 2.0, height() / 2.0);
      return moved();
    case Qt::Key_Minus:
      camera_.zoom(0.8, width() / 2.0, height() / 2.0);
      return moved();
    case Qt::Key_Home:
      return fit();
    default:
      QWidget::keyPressEvent(e);
  }
}

std::vector<QRectF> draw_tags(QPainter& p, const PartView& view, const std::vector<Tag>& tags, const QRectF& area) {
  const QFont f = type_face(13);
  std::vector<LabelWish> wishes;
  for (const Tag& t : tags) {
    const auto q = view.camera().project(t.where_mm);
    wishes.push_back({{q.x, q.y}, text_width(f, t.words) + 14.0, 24.0});
  }
  const auto mid = view.camera().project(view.scene().box_mm().centre());
  const auto placed = place_labels(wishes, {area.x(), area.y(), area.width(), area.height()},
                                   covered_cells(view.picture(), view.camera()), {mid.x, mid.y});
  p.setFont(f);
  std::vector<QRectF> out;
  for (size_t i = 0; i < tags.size(); ++i) {
    const QRectF r(placed[i].rect.x, placed[i].rect.y, placed[i].rect.w, placed[i].rect.h);
    const QPointF anchor(wishes[i].anchor.x, wishes[i].anchor.y);
    const QPointF near(std::clamp(anchor.x(), r.left(), r.right()), std::clamp(anchor.y(), r.top(), r.bottom()));
    const bool hidden = !point_visible(tags[i].where_mm, view.camera(), view.picture(), view.slack_mm());
    p.setPen(QPen(tags[i].edge, 1.2, hidden ? Qt::DashLine : Qt::SolidLine));
    p.drawLine(near, anchor);
    QColor back = pal().panel;
    back.setAlphaF(0.92f);
    p.setBrush(back);
    p.setPen(QPen(tags[i].edge, 1.4));
    p.drawRoundedRect(r, 6, 6);
    p.setPen(pal().ink);
    p.drawText(r, Qt::AlignCenter, tags[i].words);
    out.push_back(r);
  }
  return out;
}

void draw_polyline(QPainter& p, const PartView& view, const std::vector<Vec3>& points, const QPen& pen, bool closed) {
  std::vector<Vec3> path = points;
  if (closed && !path.empty()) path.push_back(path.front());
  for (const LineRun& run : visible_runs(path, view.camera(), view.picture(), view.slack_mm())) {
    QPolygonF line;
    for (const Px& q : run.points) line << QPointF(q.x, q.y);
    QPen use = pen;
    if (run.hidden) {
      QColor faint = pen.color();
      faint.setAlphaF(0.45f);
      use.setColor(faint);
      use.setWidthF(std::max(1.0, pen.widthF() * 0.6));
      use.setDashPattern({3, 3});
    }
    use.setCapStyle(Qt::RoundCap);
    use.setJoinStyle(Qt::RoundJoin);
    p.setPen(use);
    p.drawPolyline(line);
  }
}

std::optional<size_t> nearest_handle(const PartView& view, double x, double y, const std::vector<Vec3>& places_mm) {
  double nearest_px = 28;
  std::optional<size_t> best;
  for (size_t k = 0; k < places_mm.size(); ++k) {
    const auto q = view.camera().project(places_mm[k]);
    if (const double d = std::hypot(q.x - x, q.y - y); d < nearest_px) nearest_px = d, best = k;
  }
  return best;
}

}  // namespace palinform::app
