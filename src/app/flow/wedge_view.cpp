#include "flow/wedge_view.hpp"

#include <cmath>
#include <numbers>
#include <QPainter>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "stages/flowing.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

WedgeView::WedgeView(QWidget* parent) : QWidget(parent) { setAttribute(Qt::WA_TransparentForMouseEvents); }

void WedgeView::show_tilt(double tilt_deg, double run_mm, double rise_mm) {
  tilt_deg_ = tilt_deg, run_mm_ = run_mm, rise_mm_ = rise_mm;
  setAccessibleName(QStringLiteral("Wedge of %1 degrees").arg(tilt_deg));
  update();
}

void WedgeView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(type_face(13));
  p.setPen(pal().quiet);
  const double slope = std::tan(tilt_deg_ * std::numbers::pi / 180);
  p.drawText(
      QRectF(0, height() - 20, width(), 18), Qt::AlignRight | Qt::AlignVCenter,
      tilt_deg_ < 0.5 ? QStringLiteral("stands level")
      : run_mm_ > 0
          ? QStringLiteral("wedge %1°: %2 mm high, %3 long")
                .arg(qs(fixed(tilt_deg_, 0)), qs(fixed(rise_mm_, 0)), qs(fixed(run_mm_, 0)))
          : QStringLiteral("wedge %1°: %2 mm for each 100 mm").arg(qs(fixed(tilt_deg_, 0)), qs(fixed(100 * slope, 0))));
  if (tilt_deg_ < 0.5) return;
  const double room = height() - 26, run = std::min(width() - 10.0, room / slope), up = run * slope;
  QPolygonF w;
  w << QPointF(width() - 4, height() - 24) << QPointF(width() - 4 - run, height() - 24)
    << QPointF(width() - 4 - run, height() - 24 - up);
  p.setBrush(pal().slip);
  p.setPen(QPen(pal().rule.darker(115), 1.6));
  p.drawPolygon(w);
}

}  // namespace palinform::app
