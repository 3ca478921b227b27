#include "mould/fill_curve.hpp"

#include <algorithm>
#include <QPainter>
#include <QPainterPath>

#include "base/text.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "stages/building.hpp"
#include "stages/flowing.hpp"
#include "stages/wall.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

FillCurve::FillCurve(QWidget* parent) : QWidget(parent) { setAttribute(Qt::WA_TransparentForMouseEvents); }

void FillCurve::show_pour(const RubberPour& pour, double density, const Units& u, bool side_a) {
  pour_ = pour;
  a_ = side_a;
  head_ = QStringLiteral("Pour %1 · %2").arg(qs(pour.name), u.mass_text(pour.volume_mm3 * 1e-3 * density, 0));
  low_ = QStringLiteral("fills to %1").arg(u.length_unit_text(pour.fill_height_mm, 0));
  setAccessibleName(head_ + QStringLiteral(", ") + low_);
  update();
}

void FillCurve::paintEvent(QPaintEvent*) {
  if (pour_.curve.size() < 2) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  QColor back = pal().panel;
  back.setAlphaF(0.94f);
  p.setBrush(back);
  p.setPen(pal().rule);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
  p.setPen(pal().ink);
  p.setFont(type_face(13, 600));
  p.drawText(QRectF(10, 6, width() - 20, 18), Qt::AlignVCenter, head_);
  const QRectF plot(10, 28, width() - 20, height() - 50);
  // A vessel: its width at each height is the area the rubber has there.
  double most = 1e-9;
  const auto& c = pour_.curve;
  std::vector<double> area;
  for (size_t i = 1; i < c.size(); ++i) {
    area.push_back((c[i].volume_mm3 - c[i - 1].volume_mm3) / std::max(1e-9, c[i].height_mm - c[i - 1].height_mm));
    most = std::max(most, area.back());
  }
  QPainterPath vessel;
  const double top = c.back().height_mm;
  const auto y = [&](double h) { return plot.bottom() - plot.height() * h / top; };
  vessel.moveTo(plot.center().x(), plot.bottom());
  for (size_t i = 0; i < area.size(); ++i) {
    const double half = 0.5 * plot.width() * area[i] / most;
    vessel.lineTo(plot.center().x() + half, y(c[i].height_mm));
    vessel.lineTo(plot.center().x() + half, y(c[i + 1].height_mm));
  }
  for (size_t i = area.size(); i-- > 0;) {
    const double half = 0.5 * plot.width() * area[i] / most;
    vessel.lineTo(plot.center().x() - half, y(c[i + 1].height_mm));
    vessel.lineTo(plot.center().x() - half, y(c[i].height_mm));
  }
  vessel.closeSubpath();
  p.setPen(Qt::NoPen);
  p.setBrush(a_ ? pal().rubber_a : pal().rubber_b);
  p.drawPath(vessel);
  if (!a_) {
    QColor dots = pal().ground;
    dots.setAlphaF(0.6f);
    p.setBrush(QBrush(dots, Qt::Dense6Pattern));
    p.drawPath(vessel);
  }
  p.setPen(QPen(pal().act, 2));
  p.drawLine(QPointF(plot.left(), plot.top()), QPointF(plot.right(), plot.top()));
  p.setPen(pal().quiet);
  p.setFont(type_face(12));
  p.drawText(QRectF(10, height() - 20, width() - 20, 16), Qt::AlignVCenter, low_ + QStringLiteral(" · width is area"));
}

}  // namespace palinform::app
