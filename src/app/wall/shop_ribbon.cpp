#include "wall/shop_ribbon.hpp"

#include <algorithm>
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "overview/day_list.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"
#include "wall/day_words.hpp"

namespace palinform::app {

namespace {
constexpr double head_px = 20, hands_y = 24, hands_high = 26, cures_y = 58, lane_px = 9;
}

ShopRibbon::ShopRibbon(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setObjectName(QStringLiteral("shop-ribbon"));
  setAccessibleName(QStringLiteral("The shop's days"));
  setMinimumHeight(112);
  first_ = day_number(Desk::wall_now()) * day_min;
}

void ShopRibbon::show_days(WallMinute first, int count) {
  first_ = day_number(first) * day_min;
  days_ = std::max(1, count);
  update();
}

double ShopRibbon::x_of(WallMinute t) const {
  const WallMinute end = first_ + days_ * day_min;
  return names_px() + 2 +
         (width() - 4.0 - names_px()) * static_cast<double>(std::clamp(t, first_, end) - first_) /
             static_cast<double>(days_ * day_min);
}
double ShopRibbon::names_px() const { return height() > 240 ? 168 : 0; }

void ShopRibbon::paint_hands(QPainter& p, const OpenShop& shop, size_t j, const Placed& placed, double y,
                             bool letters) {
  const OpenJobNow& job = shop.jobs[j];
  const QString words = qs(job.name) + QStringLiteral(": ") + qs(shop.shop.jobs[*job.in_plan].steps[placed.step].name);
  for (const auto& [from, to] : placed.hands) {
    if (to <= first_ || from >= first_ + days_ * day_min) continue;
    const QRectF box(x_of(from), y, std::max(3.0, x_of(to) - x_of(from)), letters ? hands_high : 14);
    p.setPen(QPen(pal().panel, 1));
    p.setBrush(from < shop.now ? pal().quiet : pal().act);
    p.drawRect(box);
    if (letters && box.width() >= 13) {
      p.setPen(pal().on_act);
      p.setFont(type_face(12, 700));
      p.drawText(box, Qt::AlignCenter, qs(job_letter(j)));
    }
    blocks_.push_back({box.adjusted(-2, -4, 2, 4), qs(job.id),
                       words + QStringLiteral("\n%1 to %2").arg(qs(short_text(from)), qs(short_text(to)).mid(4))});
  }
}

void ShopRibbon::paint_by_job(QPainter& p, const OpenShop& shop) {
  const WallMinute end = first_ + days_ * day_min;
  std::vector<size_t> rows;
  for (size_t j = 0; j < shop.jobs.size(); ++j)
    if (shop.jobs[j].in_plan) rows.push_back(j);
  const double row =
      std::clamp((height() - head_px - 8) / static_cast<double>(std::max<size_t>(1, rows.size())), 26.0, 52.0);
  double y = head_px + 4;
  for (const size_t j : rows) {
    const OpenJobNow& job = shop.jobs[j];
    p.setPen(QPen(pal().rule, 1));
    p.drawLine(QPointF(0, y + row), QPointF(width(), y + row));
    p.setPen(pal().ink);
    p.setFont(type_face(12, 700));
    p.drawText(QRectF(2, y, 16, row), Qt::AlignVCenter, qs(job_letter(j)));
    p.setFont(type_face(12));
    p.drawText(QRectF(20, y, names_px() - 24, row), Qt::AlignVCenter | Qt::TextWordWrap, qs(job.name));
    blocks_.push_back({QRectF(0, y, names_px(), row), qs(job.id), qs(job.name)});
    const Schedule& schedule = shop.plan.jobs[*job.in_plan].schedule;
    for (const Placed& placed : schedule.placed)
      if (!placed.no_hour() && placed.end - placed.hands_end >= 60 && placed.end > first_ && placed.hands_end < end) {
        const QRectF box(x_of(placed.hands_end), y + row / 2 + 5,
                         std::max(2.0, x_of(placed.end) - x_of(placed.hands_end)), 7);
        p.fillRect(box, QBrush(pal().caution, Qt::BDiagPattern));
        p.setPen(QPen(pal().caution, 1.2));
        p.drawLine(box.bottomLeft(), box.bottomRight());
        blocks_.push_back({box.adjusted(0, -2, 0, 2), qs(job.id),
                           qs(job.name) + QStringLiteral(": ") +
                               qs(shop.shop.jobs[*job.in_plan].steps[placed.step].name) + QStringLiteral("\nuntil ") +
                               qs(short_text(placed.end))});
      }
    for (const Placed& placed : schedule.placed) paint_hands(p, shop, j, placed, y + row / 2 - 11, false);
    if (job.due && *job.due > first_ && *job.due <= end) {
      const bool late = shop.plan.jobs[*job.in_plan].late_h > 0;
      p.setPen(QPen(late ? pal().stop : pal().ink, 2.4));
      p.drawLine(QPointF(x_of(*job.due), y + 3), QPointF(x_of(*job.due), y + row - 3));
    }
    y += row;
  }
}

void ShopRibbon::paint_together(QPainter& p, const OpenShop& shop) {
  const WallMinute end = first_ + days_ * day_min;
  struct Cure {
    WallMinute from, to;
    size_t job;
    QString words;
  };
  std::vector<Cure> cures;
  for (size_t j = 0; j < shop.jobs.size(); ++j) {
    const OpenJobNow& job = shop.jobs[j];
    if (!job.in_plan) continue;
    const OpenJob& in = shop.shop.jobs[*job.in_plan];
    for (const Placed& placed : shop.plan.jobs[*job.in_plan].schedule.placed) {
      paint_hands(p, shop, j, placed, hands_y, true);
      if (!placed.no_hour() && placed.end - placed.hands_end >= 60 && placed.end > first_ && placed.hands_end < end)
        cures.push_back({placed.hands_end, placed.end, j,
                         qs(job.name) + QStringLiteral(": ") + qs(in.steps[placed.step].name) +
                             QStringLiteral("\nuntil ") + qs(short_text(placed.end))});
    }
  }
  std::sort(cures.begin(), cures.end(), [](const Cure& a, const Cure& b) { return a.from < b.from; });
  std::vector<WallMinute> free_at;
  const auto lanes = static_cast<size_t>(std::max(1.0, (height() - cures_y - 4) / (lane_px + 3)));
  for (const Cure& c : cures) {
    size_t lane = 0;
    while (lane < free_at.size() && free_at[lane] > c.from) ++lane;
    if (lane >= lanes) continue;
    if (lane == free_at.size()) free_at.push_back(0);
    free_at[lane] = c.to + 30;
    const double y = cures_y + static_cast<double>(lane) * (lane_px + 3);
    const QRectF box(x_of(c.from), y, std::max(2.0, x_of(c.to) - x_of(c.from)), lane_px);
    p.fillRect(box, QBrush(pal().caution, Qt::BDiagPattern));
    p.setPen(QPen(pal().caution, 1.2));
    p.drawLine(box.bottomLeft(), box.bottomRight());
    if (box.width() > 26) {
      p.setFont(type_face(12, 700));
      const QRectF letter(box.left() + 2, y - 4, 18, lane_px + 8);
      p.fillRect(letter.adjusted(0, 3, 0, -3), pal().ground);
      p.setPen(pal().ink);
      p.drawText(letter, Qt::AlignCenter, qs(job_letter(c.job)));
    }
    blocks_.push_back({box, qs(shop.jobs[c.job].id), c.words});
  }
}

void ShopRibbon::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  blocks_.clear();
  const auto shop = desk_.shop_now();
  const WallMinute end = first_ + days_ * day_min;
  const auto x = [&](WallMinute t) { return x_of(t); };
  QColor night = pal().ink;
  night.setAlphaF(pal().dark ? 0.10f : 0.08f);
  const BenchHours& bench = desk_.equipment().hours;
  const auto holidays = holidays_of(desk_.equipment());
  for (int d = 0; d < days_; ++d) {
    const WallMinute day = first_ + d * day_min;
    p.fillRect(QRectF(x(day), head_px, x(day + day_min) - x(day) - 1, height() - head_px), night);
    if (bench.days[static_cast<size_t>(weekday_of(day))] && !holidays.contains(day_number(day)))
      p.fillRect(
          QRectF(x(day + bench.from_min), head_px, x(day + bench.to_min) - x(day + bench.from_min), height() - head_px),
          pal().panel);
    p.setPen(pal().ink);
    p.setFont(type_face(13, 600));
    p.drawText(QRectF(x(day) + 4, 0, 120, head_px), Qt::AlignVCenter, day_words(day));
    const int every = days_ <= 1 ? 2 : days_ <= 2 ? 3 : 0;
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    for (int h = every; every && h < 24; h += every)
      if (x(day + h * 60) > x(day) + 84)
        p.drawText(QRectF(x(day + h * 60) - 20, 0, 40, head_px), Qt::AlignCenter, QString::number(h));
  }
  if (!shop || !shop->planned) {
    p.setPen(pal().quiet);
    p.setFont(type_face(13));
    p.drawText(QRectF(0, head_px, width(), height() - head_px), Qt::AlignCenter,
               QStringLiteral("The days are being worked out …"));
    return;
  }
  if (height() > 240)
    paint_by_job(p, *shop);
  else
    paint_together(p, *shop);
  if (shop->now >= first_ && shop->now < end) {
    p.setPen(QPen(pal().stop, 2));
    p.drawLine(QPointF(x(shop->now), head_px - 4), QPointF(x(shop->now), height()));
    p.setFont(type_face(12, 600));
    p.drawText(QRectF(x(shop->now) + 4, height() - 18, 80, 16), Qt::AlignVCenter, qs(wall_text(shop->now)).mid(11));
  }
}

void ShopRibbon::mousePressEvent(QMouseEvent* e) {
  for (auto b = blocks_.rbegin(); b != blocks_.rend(); ++b)
    if (b->box.contains(e->position())) {
      emit opened(b->id);
      return;
    }
}

bool ShopRibbon::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip) return QWidget::event(e);
  const auto* help = static_cast<QHelpEvent*>(e);
  for (auto b = blocks_.rbegin(); b != blocks_.rend(); ++b)
    if (b->box.contains(help->pos())) {
      QToolTip::showText(help->globalPos(), b->words, this);
      return true;
    }
  return true;
}

}  // namespace palinform::app
