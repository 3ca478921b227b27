#include "split/line_profile.hpp"

#include <QPainter>

#include "base/text.hpp"
#include "sheet_pdf.hpp"
#include "shell/desk.hpp"
#include "split/clay_guide.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

LineProfile::LineProfile(QWidget* parent) : QWidget(parent) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAccessibleName(QStringLiteral("Height along the parting line"));
}

void LineProfile::show_line(const std::vector<Vec3>& loop, const Vec3& pull, const Units& units) {
  points_.clear();
  double along = 0, low = 1e300, high = -1e300;
  for (size_t i = 0; i <= loop.size() && !loop.empty(); ++i) {
    const Vec3& p = loop[i % loop.size()];
    if (i > 0) along += length(p - loop[i - 1]);
    const double h = dot(p, pull);
    points_.emplace_back(along, h);
    low = std::min(low, h);
    high = std::max(high, h);
  }
  words_ = points_.empty()
               ? QString()
               : QStringLiteral("height along the line, climbs %1").arg(units.length_unit_text(high - low, 1));
  update();
}

void LineProfile::paintEvent(QPaintEvent*) {
  if (points_.size() < 2) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  double low = 1e300, high = -1e300;
  for (const auto& [s, h] : points_) low = std::min(low, h), high = std::max(high, h);
  const double scale_x = (width() - 8) / points_.back().first, room = height() - 34.0;
  // Same scale up as along, unless the line would leave the strip: a flat line must look flat.
  const double scale_y = std::min(scale_x, room / std::max(high - low, 1e-9));
  p.setPen(QPen(pal().rule.darker(115), 2));
  p.drawLine(QPointF(4, height() - 20), QPointF(width() - 4, height() - 20));
  QPolygonF line;
  for (const auto& [s, h] : points_) line << QPointF(4 + s * scale_x, height() - 26 - (h - low) * scale_y);
  p.setPen(QPen(pal().act, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawPolyline(line);
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(4, height() - 18, width() - 8, 16), Qt::AlignLeft | Qt::AlignVCenter, words_);
}

}  // namespace palinform::app
