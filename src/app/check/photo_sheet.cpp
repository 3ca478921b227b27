#include "check/photo_sheet.hpp"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "shell/stage_page.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

PhotoCanvas::PhotoCanvas(const QImage& photo, bool read_only, QWidget* parent)
    : QWidget(parent), photo_(photo), read_only_(read_only) {
  setObjectName(QStringLiteral("photo-canvas"));
  setMinimumSize(560, 400);
  setAccessibleName(QStringLiteral("Photograph"));
  if (!read_only) setCursor(Qt::CrossCursor);
}

QRectF PhotoCanvas::place() const {
  if (photo_.isNull()) return {};
  const QSizeF s = QSizeF(photo_.size()).scaled(QSizeF(size()), Qt::KeepAspectRatio);
  return {(width() - s.width()) / 2, (height() - s.height()) / 2, s.width(), s.height()};
}

QPointF PhotoCanvas::on_photo(const QPointF& p) const {
  const QRectF at = place();
  if (at.isEmpty()) return {};
  return {std::clamp((p.x() - at.x()) / at.width(), 0.0, 1.0) * photo_.width(),
          std::clamp((p.y() - at.y()) / at.height(), 0.0, 1.0) * photo_.height()};
}

QImage PhotoCanvas::with_rings() const {
  QImage image = photo_.convertToFormat(QImage::Format_RGB32);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  const double wide = std::max(3.0, image.width() / 240.0);
  p.setBrush(Qt::NoBrush);
  for (const QRectF& r : rings_) {
    // Light under dark, so that it is seen on any ground.
    p.setPen(QPen(Qt::white, 1.9 * wide));
    p.drawEllipse(r);
    p.setPen(QPen(chalk().stop, wide));
    p.drawEllipse(r);
  }
  return image;
}

void PhotoCanvas::take_back() {
  if (!rings_.empty()) rings_.pop_back();
  emit changed();
  update();
}

void PhotoCanvas::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  if (photo_.isNull()) {
    p.setPen(pal().quiet);
    p.drawText(rect(), Qt::AlignCenter, QStringLiteral("The photograph cannot be read."));
    return;
  }
  const QRectF at = place();
  p.drawImage(at, rings_.empty() ? photo_ : with_rings());
  if (from_ && to_) {
    p.setPen(QPen(pal().stop, 2.5, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(QRectF(*from_, *to_).normalized());
  }
}

void PhotoCanvas::mousePressEvent(QMouseEvent* e) {
  if (!read_only_) from_ = e->position(), to_.reset();
}
void PhotoCanvas::mouseMoveEvent(QMouseEvent* e) {
  if (!from_) return;
  to_ = e->position();
  update();
}
void PhotoCanvas::mouseReleaseEvent(QMouseEvent*) {
  if (from_ && to_) {
    const QRectF ring = QRectF(on_photo(*from_), on_photo(*to_)).normalized();
    if (ring.width() > 4 && ring.height() > 4) rings_.push_back(ring);
  }
  from_.reset(), to_.reset();
  emit changed();
  update();
}

PhotoSheet::PhotoSheet(const QImage& photo, bool read_only, QWidget* parent) : QDialog(parent) {
  setObjectName(QStringLiteral("photo-sheet"));
  setWindowTitle(QStringLiteral("Photograph"));
  resize(900, 680);
  auto* col = new QVBoxLayout(this);
  canvas_ = new PhotoCanvas(photo, read_only, this);
  col->addWidget(canvas_, 1);
  auto* row = new QHBoxLayout;
  row->addWidget(remark(read_only ? QString() : QStringLiteral("Drag a ring round what is seen.")), 1);
  back_ = chip(QStringLiteral("Take the last ring back"), QStringLiteral("ring-back"));
  keep_ = chip(QStringLiteral("Keep the marks"), QStringLiteral("rings-keep"));
  auto* close = chip(QStringLiteral("Close"), QStringLiteral("photo-close"));
  row->addWidget(back_);
  row->addWidget(keep_);
  row->addWidget(close);
  col->addLayout(row);
  const auto show = [this] {
    for (QPushButton* b : {back_, keep_}) b->setEnabled(!canvas_->rings().empty());
  };
  connect(canvas_, &PhotoCanvas::changed, this, show);
  connect(back_, &QPushButton::clicked, canvas_, &PhotoCanvas::take_back);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(keep_, &QPushButton::clicked, this, [this] {
    emit marked(canvas_->with_rings());
    accept();
  });
  show();
}

}  // namespace palinform::app
