#include "days/moulds_curve.hpp"

#include <QMouseEvent>
#include <QPainter>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {
namespace {

constexpr int row_px = 74, left_px = 78;
constexpr int64_t day_min = 24 * 60;

std::shared_ptr<const DaysResult> days_of(const Desk& desk) { return desk.plan().fresh(results::days); }
QString clock_words(int minutes) {
  return QStringLiteral("%1:%2").arg(minutes / 60, 2, 10, QLatin1Char('0')).arg(minutes % 60, 2, 10, QLatin1Char('0'));
}
/// "8:30" as minutes of the day.
std::optional<int> parse_clock(const QString& s) {
  const QStringList p = s.trimmed().split(QLatin1Char(':'));
  bool a = false, b = true;
  const int h = p.value(0).toInt(&a), m = p.size() > 1 ? p[1].toInt(&b) : 0;
  if (!a || !b || p.size() > 2 || h < 0 || h > 24 || m < 0 || m > 59 || h * 60 + m > day_min) return std::nullopt;
  return h * 60 + m;
}
QString span_words(double minutes) {
  if (minutes < 90) return QStringLiteral("%1 min").arg(qs(fixed(minutes, 0)));
  return QStringLiteral("%1 h").arg(qs(fixed(minutes / 60, minutes < 600 ? 1 : 0)));
}

}  // namespace

MouldsCurve::MouldsCurve(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedHeight(74);
  setAccessibleName(QStringLiteral("Finish by number of moulds"));
}

void MouldsCurve::paintEvent(QPaintEvent*) {
  const auto r = days_of(desk_);
  if (!r || r->by_moulds.empty()) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  int64_t soonest = INT64_MAX, latest = 0;
  for (const auto& c : r->by_moulds) soonest = std::min(soonest, c.finish), latest = std::max(latest, c.finish);
  const double step = static_cast<double>(width()) / static_cast<double>(r->by_moulds.size());
  for (size_t i = 0; i < r->by_moulds.size(); ++i) {
    const MouldsChoice& c = r->by_moulds[i];
    const bool now = c.moulds == desk_.job().days.moulds;
    const double x = step * (static_cast<double>(i) + 0.04),
                 share = latest > soonest ? static_cast<double>(c.finish - r->schedule.start) /
                                                static_cast<double>(latest - r->schedule.start)
                                          : 1;
    p.setBrush(now ? pal().panel : Qt::transparent);
    p.setPen(QPen(now ? pal().act : pal().rule, now ? 2 : 1));
    p.drawRoundedRect(QRectF(x, 2, step * 0.92, 70), 8, 8);
    p.setPen(pal().ink);
    p.setFont(type_face(13, 600));
    p.drawText(QRectF(x + 10, 6, step * 0.92 - 16, 18), Qt::AlignVCenter,
               QStringLiteral("%1 · ready %2").arg(qs(counted(c.moulds, "mould", "moulds")), qs(short_text(c.finish))));
    p.fillRect(QRectF(x + 10, 28, (step * 0.92 - 20) * share, 8), now ? pal().act : pal().quiet);
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    p.drawText(QRectF(x + 10, 42, step * 0.92 - 16, 24), Qt::AlignVCenter,
               QStringLiteral("%1 days · rubber %2 · cost %3")
                   .arg(qs(fixed(static_cast<double>(c.finish - r->schedule.start) / day_min, 1)),
                        desk_.units().mass_text(c.rubber_g, 0), desk_.units().money_text(c.cost, 0)));
  }
}

void MouldsCurve::mousePressEvent(QMouseEvent* e) {
  const auto r = days_of(desk_);
  if (!r || r->by_moulds.empty()) return;
  const size_t i = static_cast<size_t>(e->position().x() / width() * static_cast<double>(r->by_moulds.size()));
  if (i < r->by_moulds.size()) emit chosen(r->by_moulds[i].moulds);
}

}  // namespace palinform::app
