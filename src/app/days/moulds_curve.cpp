#include "days/moulds_curve.hpp"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

MouldsCurve::MouldsCurve(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedHeight(74);
  setAccessibleName(QStringLiteral("Finish by number of moulds"));
}

void MouldsCurve::paintEvent(QPaintEvent*) {
  const auto r = desk_.plan().fresh(results::days);
  if (!r || r->by_moulds.empty()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  int64_t soonest = INT64_MAX, latest = 0;
  for (const auto& c : r->by_moulds) soonest = std::min(soonest, c.finish), latest = std::max(latest, c.finish);
  const double step = static_cast<double>(width()) / static_cast<double>(r->by_moulds.size());
  for (size_t i = 0; i < r->by_moulds.size(); ++i) {
    const MouldsChoice& c = r->by_moulds[i];
    const DaysSetup& days = desk_.job().days;
    const bool now =
        c.moulds == days.moulds && c.from_casting == days.copies_its_casting(desk_.job().mould.planned_form());
    const double x = step * (static_cast<double>(i) + 0.04),
                 share = latest > soonest ? static_cast<double>(c.finish - r->schedule.start) /
                                                static_cast<double>(latest - r->schedule.start)
                                          : 1;
    p.setBrush(now ? pal().panel : Qt::transparent);
    p.setPen(QPen(now ? pal().act : pal().rule, now ? 2 : 1));
    p.drawRoundedRect(QRectF(x, 2, step * 0.92, 70), 8, 8);
    p.setPen(pal().ink);
    p.setFont(type_face(12, 600));
    const double room = step * 0.92 - 14;
    const QString count = qs(counted(c.moulds, "mould", "moulds")) +
                          (c.from_casting ? QStringLiteral(", copied") : QString()),
                  done = qs(short_text(c.finish));
    const bool wide = room > text_width(p.font(), count + QStringLiteral(" · ready ") + done);
    p.drawText(QRectF(x + 8, 5, room, 16), Qt::AlignVCenter,
               wide ? count + QStringLiteral(" · ready ") + done
                    : QStringLiteral("%1%2: %3")
                          .arg(c.moulds)
                          .arg(c.from_casting ? QStringLiteral(" copied") : QString(), done));
    p.fillRect(QRectF(x + 8, 24, room * share, 7), now ? pal().act : pal().quiet);
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    p.drawText(
        QRectF(x + 8, 35, room, 16), Qt::AlignVCenter,
        QStringLiteral("%1 days").arg(qs(fixed(static_cast<double>(c.finish - r->schedule.start) / day_min, 1))));
    p.drawText(
        QRectF(x + 8, 52, room, 16), Qt::AlignVCenter,
        QStringLiteral("%1, %2").arg(desk_.units().mass_text(c.rubber_g, 0), desk_.units().money_text(c.cost, 0)));
  }
}

void MouldsCurve::mousePressEvent(QMouseEvent* e) {
  const auto r = desk_.plan().fresh(results::days);
  if (!r || r->by_moulds.empty()) return;
  const size_t i = static_cast<size_t>(e->position().x() / width() * static_cast<double>(r->by_moulds.size()));
  if (i < r->by_moulds.size()) emit chosen(r->by_moulds[i].moulds, r->by_moulds[i].from_casting);
}

bool MouldsCurve::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    const auto r = desk_.plan().fresh(results::days);
    const auto at = static_cast<QHelpEvent*>(e)->pos();
    const size_t n = r ? r->by_moulds.size() : 0,
                 i = static_cast<size_t>(std::max(0, at.x()) * n / std::max(1, width()));
    if (i < n)
      QToolTip::showText(
          static_cast<QHelpEvent*>(e)->globalPos(),
          r->by_moulds[i].from_casting
              ? QStringLiteral("The first casting serves as master for the moulds after the first: sooner, "
                               "but their castings have shrunk once more")
              : QStringLiteral("Every mould from the master, one after the other"),
          this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace palinform::app
