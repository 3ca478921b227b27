#include "flow/tilt_map.hpp"

#include <cmath>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "base/text.hpp"
#include "shell/units.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

TiltMap::TiltMap(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("tilt-map"));
  setAccessibleName(QStringLiteral("Air left by tilt and turn; arrow keys tilt and turn the mould"));
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
}

void TiltMap::show_plan(const FlowPlan* plan, bool over, double tilt, double azimuth) {
  has_plan_ = plan != nullptr;
  tried_.clear();
  over_ = over, tilt_deg_ = tilt, azimuth_deg_ = std::fmod(azimuth + 720, 360);
  if (plan) {
    most_tilt_ = 0;
    for (const StandTried& s : plan->tried) {
      most_tilt_ = std::max(most_tilt_, s.tilt_deg);
      if (s.turned_over == over) tried_.push_back(s);
    }
    best_tilt_ = plan->tilt_deg, best_azimuth_ = plan->azimuth_deg, best_left_ = plan->left_mm3;
    best_here_ = plan->turned_over == over;
  }
  update();
}

QRectF TiltMap::field() const { return {7, 20, width() - 14.0, height() - 42.0}; }

QPointF TiltMap::place_of(double tilt, double azimuth) const {
  const QRectF f = field();
  return {f.left() + f.width() * (std::fmod(azimuth + 720, 360) / 360),
          f.bottom() - f.height() * (most_tilt_ > 0 ? std::min(tilt, most_tilt_) / most_tilt_ : 0)};
}

const StandTried* TiltMap::at(const QPointF& p) const {
  const StandTried* best = nullptr;
  double near = 1e300;
  for (const StandTried& s : tried_) {
    const QPointF q = place_of(s.tilt_deg, s.azimuth_deg);
    double dx = std::abs(q.x() - p.x());
    dx = s.tilt_deg == 0 ? 0 : std::min(dx, field().width() - dx);  // level has no turn
    const double d = std::hypot(dx, q.y() - p.y());
    if (d < near) near = d, best = &s;
  }
  return best;
}

void TiltMap::mousePressEvent(QMouseEvent* e) {
  if (const StandTried* s = at(e->position())) emit picked(s->tilt_deg, s->azimuth_deg);
}

void TiltMap::keyPressEvent(QKeyEvent* e) {
  double tilt = tilt_deg_, turn = azimuth_deg_;
  switch (e->key()) {
    case Qt::Key_Up:
      tilt += 1;
      break;
    case Qt::Key_Down:
      tilt -= 1;
      break;
    case Qt::Key_Left:
      turn -= 5;
      break;
    case Qt::Key_Right:
      turn += 5;
      break;
    default:
      return QWidget::keyPressEvent(e);
  }
  emit picked(std::clamp(tilt, 0.0, 90.0), std::fmod(turn + 360, 360));
}

bool TiltMap::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(e);
    if (const StandTried* s = at(help->pos()))
      QToolTip::showText(help->globalPos(),
                         QStringLiteral("tilt %1° toward %2°: %3 mm³ stay with %4")
                             .arg(qs(fixed(s->tilt_deg, 0)), qs(fixed(s->azimuth_deg, 0)),
                                  qs(significant(s->left_mm3, 2)), qs(counted(s->vents, "vent", "vents"))),
                         this);
    return true;
  }
  return QWidget::event(e);
}

void TiltMap::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(type_face(12, QFont::DemiBold));
  p.setPen(pal().ink);
  p.drawText(QRectF(0, 0, width(), 18), Qt::AlignVCenter, QStringLiteral("Vents needed, air left"));
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(0, height() - 18, width(), 18), Qt::AlignVCenter,
             !has_plan_ ? QStringLiteral("trying every tilt…")
                        : QStringLiteral("0–%1° up · turn across · %2 tried")
                              .arg(qs(fixed(most_tilt_, 0)), qs(grouped(static_cast<double>(tried_.size()), 0))));
  const QRectF f = field();
  p.fillRect(f, pal().slip);
  if (tried_.empty()) return;
  // Rings as rows, turns across. Shade by vents and air: paler is better; a place where air stays is hatched too.
  const auto worth = [](const StandTried& s) {
    return s.vents + (s.left_mm3 > 0 ? 2 + std::log10(1 + s.left_mm3) : 0);
  };
  double low = 1e300, high = -1e300;
  for (const StandTried& s : tried_) low = std::min(low, worth(s)), high = std::max(high, worth(s));
  std::vector<double> rings;
  for (const StandTried& s : tried_)
    if (rings.empty() || rings.back() != s.tilt_deg) rings.push_back(s.tilt_deg);
  p.setRenderHint(QPainter::Antialiasing, false);
  for (const StandTried& s : tried_) {
    size_t per = 0, turn = 0;
    const size_t r = static_cast<size_t>(std::find(rings.begin(), rings.end(), s.tilt_deg) - rings.begin());
    for (const StandTried& o : tried_) {
      if (o.tilt_deg != s.tilt_deg) continue;
      if (&o == &s) turn = per;
      ++per;
    }
    const double h = f.height() / static_cast<double>(rings.size()), w = f.width() / static_cast<double>(per);
    const QRectF cell(f.left() + static_cast<double>(turn) * w, f.bottom() - static_cast<double>(r + 1) * h, w + 1,
                      h + 1);
    const double t = high > low ? (worth(s) - low) / std::max(3.0, high - low) : 0;
    p.fillRect(cell, mixed(pal().panel, pal().note, 0.85 * t));
    if (s.left_mm3 > 0) p.fillRect(cell, QBrush(pal().ink, Qt::Dense6Pattern));
  }
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(pal().rule.darker(120), hasFocus() ? 2.4 : 1.2));
  p.setBrush(Qt::NoBrush);
  p.drawRect(f);
  if (best_here_) {
    const QPointF b = place_of(best_tilt_, best_azimuth_);
    p.setPen(QPen(pal().panel, 3));
    p.drawLine(b + QPointF(-5, -5), b + QPointF(5, 5));
    p.drawLine(b + QPointF(-5, 5), b + QPointF(5, -5));
    p.setPen(QPen(pal().act, 1.8));
    p.drawLine(b + QPointF(-5, -5), b + QPointF(5, 5));
    p.drawLine(b + QPointF(-5, 5), b + QPointF(5, -5));
  }
  p.setPen(QPen(pal().act, 2.4));
  p.setBrush(pal().panel);
  p.drawEllipse(place_of(tilt_deg_, azimuth_deg_), 5.5, 5.5);
}

}  // namespace palinform::app
