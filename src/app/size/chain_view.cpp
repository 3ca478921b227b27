#include "size/chain_view.hpp"

#include <cmath>
#include <QHelpEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

std::pair<QColor, Qt::BrushStyle> step_look(ChainStep::Kind k) {
  switch (k) {
    case ChainStep::Kind::rubber:
      return {pal().note, Qt::SolidPattern};
    case ChainStep::Kind::heat:
      return {pal().stop, Qt::BDiagPattern};
    case ChainStep::Kind::resin:
      return {pal().caution, Qt::VerPattern};
    case ChainStep::Kind::flash:
    case ChainStep::Kind::stock:
      return {pal().act, Qt::Dense4Pattern};
    case ChainStep::Kind::scale:
      return {pal().quiet, Qt::HorPattern};
    case ChainStep::Kind::finish:
      return {pal().ink, Qt::Dense3Pattern};
    default:
      return {pal().ink, Qt::SolidPattern};
  }
}
QString step_word(ChainStep::Kind k) {
  switch (k) {
    case ChainStep::Kind::rubber:
      return QStringLiteral("rubber");
    case ChainStep::Kind::heat:
      return QStringLiteral("heat");
    case ChainStep::Kind::resin:
      return QStringLiteral("resin");
    case ChainStep::Kind::flash:
      return QStringLiteral("flash");
    case ChainStep::Kind::stock:
      return QStringLiteral("stock");
    case ChainStep::Kind::scale:
      return QStringLiteral("scale");
    case ChainStep::Kind::pin:
      return QStringLiteral("pin");
    case ChainStep::Kind::finish:
      return QStringLiteral("by hand");
    default:
      return QStringLiteral("original");
  }
}

ChainView::ChainView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setAccessibleName(QStringLiteral("Chain of sizes from master to casting"));
}

void ChainView::mark(const std::string& id) {
  marked_ = id;
  update();
}

bool ChainView::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip) return QWidget::event(e);
  const auto* h = static_cast<QHelpEvent*>(e);
  const auto r = desk_.plan().fresh(results::size);
  const int i = h->pos().y() / std::max(1, row_);
  if (!r || i < 0 || i >= static_cast<int>(r->predictions.size())) {
    QToolTip::hideText();
    return true;
  }
  const Prediction& q = r->predictions[static_cast<size_t>(i)];
  QString words = QStringLiteral("<table>");
  for (const ChainStep& s : q.steps) {
    const bool start = s.kind == ChainStep::Kind::master || s.kind == ChainStep::Kind::pin;
    words += QStringLiteral(
                 "<tr><td>%1&nbsp;&nbsp;</td><td align='right'>%2 mm</td><td>&nbsp;&nbsp;±%3 "
                 "(standard)</td><td>&nbsp;&nbsp;→ %4</td></tr>")
                 .arg(step_word(s.kind),
                      start ? qs(fixed(s.after_mm, 4))
                            : (s.change_mm < 0 ? QStringLiteral("−") : QStringLiteral("+")) +
                                  qs(fixed(std::abs(s.change_mm), 4)),
                      qs(fixed(s.u_mm, 4)), qs(fixed(s.after_mm, 4)));
  }
  const auto draws = desk_.plan().fresh(results::draws);
  if (draws && static_cast<size_t>(i) < draws->drawn.size())
    words +=
        QStringLiteral("<tr><td>by draws&nbsp;&nbsp;</td><td></td><td>&nbsp;&nbsp;±%1</td><td>&nbsp;&nbsp;%2</td></tr>")
            .arg(qs(fixed(draws->drawn[static_cast<size_t>(i)].u_mm, 4)),
                 qs(fixed(draws->drawn[static_cast<size_t>(i)].mean_mm, 4)));
  QToolTip::showText(h->globalPos(), words + QStringLiteral("</table>"), this);
  return true;
}

void ChainView::paintEvent(QPaintEvent*) {
  const Job& job = desk_.job();
  const auto r = desk_.plan().fresh(results::size);
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!r || r->predictions.size() != job.original.sizes.size() || job.original.sizes.empty()) return;
  const Units& u = desk_.units();
  const int n = static_cast<int>(job.original.sizes.size());
  row_ = std::clamp(height() / n, 58, 120);
  const qreal left = 178, right = width() - 118, mid = (left + right) / 2,
              gap = (right - left) * 0.30;  // half the gap between the walls
  for (int i = 0; i < n; ++i) {
    const MeasuredSize& s = job.original.sizes[static_cast<size_t>(i)];
    const Prediction& q = r->predictions[static_cast<size_t>(i)];
    const qreal top = i * row_, base = top + row_ - 12;
    if (s.id == marked_) {
      p.fillRect(QRectF(0, top + 2, width(), row_ - 4), pal().panel);
      p.fillRect(QRectF(0, top + 2, 3, row_ - 4), pal().act);
    }
    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(14, top + 8, left - 24, 20), Qt::AlignVCenter, qs(s.name));
    p.setFont(type_face(13));
    p.setPen(pal().quiet);
    p.drawText(QRectF(14, top + 28, left - 24, 18), Qt::AlignVCenter,
               u.inch ? u.length_text(s.lower_mm, 3) + QStringLiteral("–") + u.length_text(s.upper_mm, 3) +
                            QStringLiteral(" in")
                      : qs(limits_text(s)) + QStringLiteral(" mm"));

    const double centre = 0.5 * (s.lower_mm + s.upper_mm), half = std::max(0.5 * (s.upper_mm - s.lower_mm), 1e-6);
    const auto x = [&](double mm) { return mid + std::clamp((mm - centre) / half, -3.0, 3.0) * gap; };
    const qreal wall_l = x(s.lower_mm), wall_r = x(s.upper_mm);
    p.fillRect(QRectF(left, top + 8, wall_l - left, row_ - 18), pal().slip);
    p.fillRect(QRectF(wall_r, top + 8, right - wall_r, row_ - 18), pal().slip);
    p.setPen(QPen(pal().rule, 1, Qt::DotLine));
    p.drawLine(QPointF(mid, top + 6), QPointF(mid, base));
    p.save();
    p.setClipRect(QRectF(left, top, right - left, row_));
    // The predicted spread, on the floor of the row.
    const QColor curve = q.verdict == Verdict::holds  ? pal().act
                         : q.verdict == Verdict::risk ? pal().caution
                                                      : pal().stop;
    const double sigma = std::max(q.u_mm, 1e-6);
    QPainterPath bell;
    bell.moveTo(mid + (q.predicted_mm - 4 * sigma - centre) / half * gap, base);
    for (int k = -40; k <= 40; ++k) {
      const double z = k / 10.0;
      bell.lineTo(mid + (q.predicted_mm + z * sigma - centre) / half * gap,
                  base - (row_ - 34) * std::exp(-0.5 * z * z));
    }
    bell.closeSubpath();
    QColor fill = curve;
    fill.setAlphaF(0.32f);
    p.setBrush(fill);
    p.setPen(QPen(curve, 1.6));
    p.drawPath(bell);
    if (q.verdict != Verdict::holds) {  // hatched too: not by colour alone
      QColor line = curve;
      line.setAlphaF(0.5f);
      p.setPen(Qt::NoPen);
      p.setBrush(QBrush(line, q.verdict == Verdict::misses ? Qt::DiagCrossPattern : Qt::BDiagPattern));
      p.drawPath(bell);
    }
    // The ladder: each step a bar from where it starts to where it ends.
    qreal y = top + 9;
    double at = 0;
    for (const ChainStep& step : q.steps) {
      const double before = at;
      at = step.after_mm;
      if (step.kind == ChainStep::Kind::master || step.kind == ChainStep::Kind::pin) {
        p.setPen(QPen(pal().ink, 2));
        p.drawLine(QPointF(x(at), y - 1), QPointF(x(at), y + 5));
        continue;
      }
      const auto [colour, pattern] = step_look(step.kind);
      const QRectF bar = QRectF(QPointF(x(before), y), QPointF(x(at), y + 5)).normalized().adjusted(-0.5, 0, 0.5, 0);
      p.fillRect(bar, pattern == Qt::SolidPattern ? colour : QColor(colour.lighter(pal().dark ? 90 : 135)));
      p.fillRect(bar, QBrush(colour, pattern));
      p.setPen(QPen(colour, 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(bar);
      p.setPen(QPen(pal().quiet, 0.8));
      p.drawLine(QPointF(x(at), y + 5), QPointF(x(at), y + 8));
      y += 7;
    }
    p.restore();
    p.setPen(QPen(pal().ink, 3));
    p.drawLine(QPointF(wall_l, top + 4), QPointF(wall_l, base + 4));
    p.drawLine(QPointF(wall_r, top + 4), QPointF(wall_r, base + 4));
    p.setPen(QPen(curve, 1.2));
    p.drawLine(QPointF(left, base), QPointF(right, base));

    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(right + 8, top + 8, 106, 20), Qt::AlignVCenter | Qt::AlignRight,
               u.length_unit_text(q.predicted_mm, 3));
    p.setFont(type_face(13));
    p.setPen(q.verdict == Verdict::holds ? pal().quiet : curve.darker(pal().dark ? 90 : 125));
    p.drawText(QRectF(right + 8, top + 28, 106, 18), Qt::AlignVCenter | Qt::AlignRight,
               QStringLiteral("±%1 · %2 %").arg(u.length_text(2 * q.u_mm, 3), qs(fixed(100 * q.p_in_limits, 0))));
  }
}

}  // namespace palinform::app
