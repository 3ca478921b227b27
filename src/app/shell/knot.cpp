#include "shell/knot.hpp"

#include <QPainterPath>

#include "theme/theme.hpp"

namespace palinform::app {

const char* state_word(Knot k) {
  switch (k) {
    case Knot::moving:
      return "working";
    case Knot::settled:
      return "settled";
    case Knot::needs_answer:
      return "needs an answer";
    case Knot::stopped:
      return "stopped";
    default:
      return "untouched";
  }
}

void draw_knot(QPainter& p, const QPointF& c, Knot knot, double r, double progress, int turn) {
  const QRectF box(c.x() - r, c.y() - r, 2 * r, 2 * r);
  p.setPen(QPen(pal().ink, 2));
  switch (knot) {
    case Knot::untouched:
      p.setBrush(pal().ground);
      p.drawEllipse(box.adjusted(1.5, 1.5, -1.5, -1.5));
      break;
    case Knot::moving:
      p.setBrush(pal().ground);
      p.setPen(QPen(pal().rule, 3));
      p.drawEllipse(box);
      p.setPen(QPen(pal().act, 3));
      p.drawArc(box, -turn * 16, -qMax(40, static_cast<int>(progress * 360)) * 16);
      break;
    case Knot::settled:
      p.setBrush(pal().ink);
      p.drawEllipse(box.adjusted(1, 1, -1, -1));
      break;
    case Knot::needs_answer: {  // a wedge cut out, as with a file
      QPainterPath path(c);
      path.arcTo(box, 80, 320);
      path.closeSubpath();
      p.setBrush(pal().caution);
      p.setPen(QPen(pal().ink, 1.6));
      p.drawPath(path);
      break;
    }
    case Knot::stopped:
      p.setBrush(pal().stop);
      p.drawEllipse(box);
      p.setPen(QPen(pal().dark ? pal().ground : Qt::white, 3));
      p.drawLine(c - QPointF(0.6 * r, 0), c + QPointF(0.6 * r, 0));
      break;
  }
}

}  // namespace palinform::app
