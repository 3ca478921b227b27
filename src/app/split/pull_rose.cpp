#include "split/pull_rose.hpp"

#include <algorithm>
#include <cmath>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "base/text.hpp"
#include "shell/units.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

/// Six steps from good to bad, lightness and all: told apart without colour.
QColor step_colour(double share) {
  const QColor from = pal().act, to = pal().stop, mid = pal().slip;
  const int step = std::clamp(static_cast<int>(share * 6), 0, 5);
  const double t = step / 5.0;
  return t < 0.5 ? mixed(from, mid, 2 * t) : mixed(mid, to, 2 * t - 1);
}

}  // namespace

PullRose::PullRose(QWidget* parent) : QWidget(parent) {
  setFixedSize(196, 232);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::CrossCursor);
  setAccessibleName(QStringLiteral("Pull rose: directions of pull by score; arrow keys turn the pull"));
}

QRectF PullRose::disc() const { return {10, 28, 176, 176}; }

QPointF PullRose::place_of(const Vec3& direction) const {
  const Vec3 d = direction.z < 0 ? -direction : direction;
  // Lambert's equal-area map of the upper half-globe.
  const double k = std::sqrt(1 / (1 + d.z));
  const QRectF r = disc();
  return {r.center().x() + d.x * k * r.width() / 2, r.center().y() - d.y * k * r.height() / 2};
}

std::optional<Vec3> PullRose::direction_at(const QPointF& p) const {
  const QRectF r = disc();
  const double x = (p.x() - r.center().x()) / (r.width() / 2), y = -(p.y() - r.center().y()) / (r.height() / 2),
               q = x * x + y * y;
  if (q > 1) return std::nullopt;
  const double f = std::sqrt(2 - q);
  return Vec3{x * f, y * f, 1 - q};
}

void PullRose::show_search(std::shared_ptr<const PullSearch> search, const Vec3& now) {
  const bool other = search != search_ || shading_.isNull();
  search_ = std::move(search);
  now_ = now;
  if (other) shade();
  words_.clear();
  if (search_ && !search_->rose.empty()) {
    const RosePoint* near = &search_->rose.front();
    for (const RosePoint& p : search_->rose)
      if (std::abs(dot(p.pull, now_)) > std::abs(dot(near->pull, now_))) near = &p;
    words_ =
        QStringLiteral("score %1 · locks %2 %").arg(qs(fixed(near->score, 2)), qs(fixed(100 * near->locked_share, 1)));
  }
  update();
}

void PullRose::shade() {
  shading_ = QImage(176, 176, QImage::Format_ARGB32_Premultiplied);
  shading_.fill(Qt::transparent);
  if (!search_ || search_->rose.empty()) return;
  // The rank, not the score itself: the good ones are few and close together.
  std::vector<double> order;
  for (const RosePoint& p : search_->rose) order.push_back(p.score);
  std::sort(order.begin(), order.end());
  for (int y = 0; y < 176; y += 2)
    for (int x = 0; x < 176; x += 2) {
      const auto d = direction_at(QPointF(x + 1, y + 1) + disc().topLeft());
      if (!d) continue;
      const RosePoint* near = nullptr;
      double best = -1;
      for (const RosePoint& p : search_->rose)
        if (const double c = std::abs(dot(p.pull, *d)); c > best) best = c, near = &p;
      const QRgb c =
          step_colour(
              std::sqrt(static_cast<double>(std::lower_bound(order.begin(), order.end(), near->score) - order.begin()) /
                        static_cast<double>(order.size())))
              .rgb();
      for (int k = 0; k < 4; ++k) shading_.setPixel(x + k % 2, y + k / 2, c);
    }
}

void PullRose::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  QColor back = pal().panel;
  back.setAlphaF(0.94f);
  p.setBrush(back);
  p.setPen(QPen(hasFocus() ? pal().act : pal().rule, hasFocus() ? 2 : 1));
  p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 10, 10);
  p.setPen(pal().ink);
  p.setFont(type_face(13, 600));
  p.drawText(QRectF(12, 5, width() - 24, 20), Qt::AlignVCenter, QStringLiteral("Pull rose"));
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(12, 5, width() - 24, 20), Qt::AlignVCenter | Qt::AlignRight, QStringLiteral("drag to pull"));
  const QRectF r = disc();
  p.drawImage(r.topLeft(), shading_);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(pal().ink, 1.4));
  p.drawEllipse(r);
  p.setPen(QPen(pal().quiet, 0.8, Qt::DotLine));
  p.drawLine(QPointF(r.left(), r.center().y()), QPointF(r.right(), r.center().y()));
  p.drawLine(QPointF(r.center().x(), r.top()), QPointF(r.center().x(), r.bottom()));
  p.setFont(type_face(12));
  p.setPen(pal().ink);
  p.drawText(QRectF(r.right() - 13, r.center().y() - 17, 12, 14), Qt::AlignCenter, QStringLiteral("x"));
  p.drawText(QRectF(r.center().x() + 3, r.top() + 1, 12, 14), Qt::AlignCenter, QStringLiteral("y"));
  if (search_) {
    // The searched best: a ring with a dot. The one in use: a cross.
    const QPointF b = place_of(search_->best.pull);
    p.setPen(QPen(pal().panel, 4));
    p.drawEllipse(b, 7, 7);
    p.setPen(QPen(pal().ink, 2));
    p.drawEllipse(b, 7, 7);
    p.setBrush(pal().ink);
    p.drawEllipse(b, 1.6, 1.6);
  }
  const QPointF n = place_of(now_);
  for (const auto& [c, w] : {std::pair{pal().panel, 4.5}, {pal().ink, 2.2}}) {
    p.setPen(QPen(c, w));
    p.drawLine(n - QPointF(9, 0), n + QPointF(9, 0));
    p.drawLine(n - QPointF(0, 9), n + QPointF(0, 9));
  }
  p.setPen(pal().ink);
  p.setFont(type_face(12));
  p.drawText(QRectF(10, 208, width() - 20, 18), Qt::AlignCenter, search_ ? words_ : QStringLiteral("searching…"));
}

void PullRose::pick(const QPointF& p, bool dragging) {
  auto d = direction_at(p);
  if (!d) return;
  if (search_ && !dragging)  // let go near the searched best, it is meant
    if (const QPointF off = place_of(search_->best.pull) - p; std::hypot(off.x(), off.y()) < 8) {
      emit picked(search_->best.pull, false);
      return;
    }
  if (dot(*d, now_) < 0) d = -*d;
  emit picked(*d, dragging);
}
void PullRose::mousePressEvent(QMouseEvent* e) { pick(e->position(), true); }
void PullRose::mouseMoveEvent(QMouseEvent* e) {
  if (e->buttons() & Qt::LeftButton) pick(e->position(), true);
}
void PullRose::mouseReleaseEvent(QMouseEvent* e) { pick(e->position(), false); }
void PullRose::keyPressEvent(QKeyEvent* e) {
  const QPointF step = e->key() == Qt::Key_Left    ? QPointF(-3, 0)
                       : e->key() == Qt::Key_Right ? QPointF(3, 0)
                       : e->key() == Qt::Key_Up    ? QPointF(0, -3)
                       : e->key() == Qt::Key_Down  ? QPointF(0, 3)
                                                   : QPointF();
  if (step.isNull()) return QWidget::keyPressEvent(e);
  pick(place_of(now_) + step, true);
}

}  // namespace palinform::app
