#include "bench/running_view.hpp"

#include <QMouseEvent>
#include <QPainter>

#include "base/text.hpp"
#include "bench/clocks.hpp"
#include "bench/tape.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {
constexpr double run_row_px = 86, ring_px = 40;
}

RunningView::RunningView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setAccessibleName(QStringLiteral("All runs at the bench"));
}

void RunningView::lay_out() {
  const auto runs = desk_.all_runs();
  setMinimumHeight(static_cast<int>(60 + run_row_px * static_cast<double>(runs.size()) +
                                    ring_px * static_cast<double>(next_rings(runs).size())));
  QStringList words;
  for (const auto& [name, run] : runs) words << qs(name);
  setAccessibleDescription(words.join(QStringLiteral(", ")));
  update();
}

void RunningView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), pal().ground);
  rows_.clear();
  const auto runs = desk_.all_runs();
  if (runs.empty()) {
    p.setFont(type_face(16));
    p.setPen(pal().quiet);
    p.drawText(
        rect(), Qt::AlignCenter,
        QStringLiteral("No run is on at the bench. Begin one: it shows here with its clocks, whatever job is open."));
    return;
  }
  double y = 8;
  for (const auto& [name, run] : runs) {
    const QRectF card(12, y, width() - 24.0, run_row_px - 10);
    rows_.emplace_back(card, run.job_id);
    const bool mine = run.job_id == desk_.job().id;
    p.setPen(QPen(mine ? pal().act : pal().rule, mine ? 2 : 1.2));
    p.setBrush(pal().panel);
    p.drawRoundedRect(card, 8, 8);
    p.setFont(type_face(16, 600));
    p.setPen(pal().ink);
    p.drawText(card.adjusted(14, 8, -14, 0), Qt::AlignLeft | Qt::AlignTop,
               qs(name) + (run.title.empty() ? QString() : QStringLiteral(" · ") + qs(run.title)));
    p.setFont(type_face(14));
    p.setPen(pal().quiet);
    const QString here = finished(run)
                             ? QStringLiteral("done; put it away")
                             : QStringLiteral("in hand: ") + qs(run.screens[static_cast<size_t>(run.at)].title);
    p.drawText(card.adjusted(14, 32, -14, 0), Qt::AlignLeft | Qt::AlignTop, here);
    const QRectF bar(card.left() + 14, card.bottom() - 16, card.width() - 28, 6);
    p.setPen(Qt::NoPen);
    p.setBrush(pal().slip);
    p.drawRoundedRect(bar, 3, 3);
    p.setBrush(pal().act);
    p.drawRoundedRect(QRectF(bar.left(), bar.top(),
                             bar.width() * run.at / std::max<double>(1, static_cast<double>(run.screens.size())), 6),
                      3, 3);
    y += run_row_px;
  }
  p.setFont(type_face(16, 600));
  p.setPen(pal().ink);
  const auto rings = next_rings(runs);
  p.drawText(QRectF(14, y, width() - 28.0, 30), Qt::AlignVCenter,
             rings.empty() ? QStringLiteral("No clock is running") : QStringLiteral("What rings next"));
  y += 34;
  for (const NextRing& r : rings) {
    const WallSecond to_go = r.at - now_s();
    p.setFont(type_face(24, 700));
    p.setPen(to_go <= 0 ? pal().stop : pal().ink);
    p.drawText(QRectF(14, y, 130, ring_px), Qt::AlignVCenter, to_go <= 0 ? QStringLiteral("now") : span(to_go));
    p.setFont(type_face(15));
    p.setPen(pal().ink);
    p.drawText(QRectF(150, y, width() - 164.0, ring_px), Qt::AlignVCenter,
               qs(r.label) + QStringLiteral("  ·  ") + qs(r.job_name));
    y += ring_px;
  }
}

void RunningView::mousePressEvent(QMouseEvent* e) {
  for (const auto& [card, id] : rows_)
    if (card.contains(e->position())) return emit job_chosen(QString::fromStdString(id));
}

}  // namespace palinform::app
