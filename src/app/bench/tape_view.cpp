#include "bench/tape_view.hpp"

#include <cmath>
#include <QDateTime>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr double tape_head_px = 34, line_px = 30, note_px = 20, photo_px = 76;

QString hour(WallSecond s) { return QDateTime::fromSecsSinceEpoch(s).toString(QStringLiteral("ddd HH:mm")); }

}  // namespace

TapeView::TapeView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QStringLiteral("Tape of the run"));
  setAccessibleDescription(QStringLiteral("Up and down choose a line"));
}

double TapeView::height_of(const TapeLine& l) const {
  return line_px + (l.note.empty() ? 0 : note_px) + (l.photos > 0 ? photo_px : 0);
}

void TapeView::show_run(std::optional<BenchRun> run) {
  run_ = std::move(run);
  lines_ = run_ ? tape_of(*run_) : std::vector<TapeLine>{};
  if (chosen_ >= static_cast<int>(lines_.size())) chosen_ = -1;
  double high = tape_head_px + 12;
  for (const TapeLine& l : lines_) high += height_of(l);
  setMinimumHeight(static_cast<int>(high));
  update();
}

void TapeView::choose(int line) {
  chosen_ = std::clamp(line, 0, static_cast<int>(lines_.size()) - 1);
  update();
  emit line_chosen(chosen_);
}

void TapeView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), pal().ground);
  if (lines_.empty()) {
    p.setFont(type_face(16));
    p.setPen(pal().quiet);
    p.drawText(rect(), Qt::AlignCenter,
               QStringLiteral("Nothing was done at the bench yet: the tape grows with every step."));
    return;
  }
  const Units& u = desk_.units();
  const QRectF paper(12, 4, width() - 24.0, height() - 8.0);
  p.setPen(pal().rule);
  p.setBrush(pal().panel);
  p.drawRect(paper);
  // Columns: when, step, planned, done, a bar of how far off, minutes, room or gauge.
  const double w = paper.width(), x0 = paper.left() + 10;
  const double at[] = {x0, x0 + 0.105 * w, x0 + 0.44 * w, x0 + 0.535 * w, x0 + 0.63 * w, x0 + 0.8 * w, x0 + 0.88 * w};
  const char* heads[] = {"when", "step", "planned", "done", "off", "min", "room · gauge"};
  p.setFont(type_face(12, 600));
  p.setPen(pal().quiet);
  for (size_t i = 0; i < 7; ++i)
    p.drawText(QRectF(at[i], paper.top() + 4, 160, 24), Qt::AlignVCenter, QString::fromUtf8(heads[i]));
  double y = paper.top() + tape_head_px;
  WallSecond day = 0;
  for (size_t i = 0; i < lines_.size(); ++i) {
    const TapeLine& l = lines_[i];
    const double h = height_of(l);
    if (static_cast<int>(i) == chosen_) p.fillRect(QRectF(paper.left() + 2, y, w - 4, h), pal().slip);
    p.setPen(QPen(pal().rule, 1, Qt::DotLine));
    p.drawLine(QPointF(paper.left() + 6, y), QPointF(paper.right() - 6, y));
    const auto text = [&](double x, double wide, const QString& s, const QColor& colour, int weight = 400) {
      p.setFont(type_face(13, weight));
      p.setPen(colour);
      p.drawText(QRectF(x, y, wide, line_px), Qt::AlignVCenter, s);
    };
    const WallSecond when = l.done ? l.done : l.started;
    text(at[0], 90,
         when / 86400 == day ? QDateTime::fromSecsSinceEpoch(when).toString(QStringLiteral("HH:mm")) : hour(when),
         pal().quiet);
    day = when / 86400;
    QString title = qs(l.title) + (l.planned_g ? QStringLiteral(" · ") + qs(l.what) : QString());
    QFont f = type_face(13, 600);
    for (int px = 13; px > 11 && text_width(f, title) > at[2] - at[1] - 8; --px) f = type_face(px, 600);
    p.setFont(f);
    p.setPen(l.went_wrong ? pal().stop : pal().ink);
    p.drawText(QRectF(at[1], y, at[2] - at[1] - 6, line_px), Qt::AlignVCenter, title);
    if (l.planned_g) text(at[2], 90, u.mass_text(*l.planned_g, 1), pal().ink);
    if (l.weighed_g)
      text(at[3], 90, u.mass_text(*l.weighed_g, 1), l.out_of_band ? pal().stop : pal().ink, 600);
    else if (l.planned_g && l.done)
      text(at[3], 90, QStringLiteral("not read"), pal().quiet);
    if (l.off_pct) {
      // From the middle to the side it is off; 5 % fills it.
      const double mid = at[4] + 0.045 * w, reach = 0.045 * w, off = std::clamp(*l.off_pct / 5, -1.0, 1.0) * reach;
      p.setPen(QPen(pal().rule.darker(120), 1));
      p.drawLine(QPointF(mid, y + 7), QPointF(mid, y + line_px - 7));
      p.fillRect(QRectF(std::min(mid, mid + off), y + 10, std::max(2.0, std::abs(off)), line_px - 20),
                 QBrush(l.out_of_band ? pal().stop : pal().act, l.out_of_band ? Qt::BDiagPattern : Qt::SolidPattern));
      p.setFont(type_face(12));
      p.setPen(l.out_of_band ? pal().stop : pal().quiet);
      p.drawText(QRectF(mid + reach + 4, y, 60, line_px), Qt::AlignVCenter,
                 QStringLiteral("%1 %").arg(qs(fixed(*l.off_pct, 1))));
    }
    if (l.took_min)
      text(at[5], 110,
           QStringLiteral("%1 of %2").arg(qs(fixed(*l.took_min, 0)), qs(fixed(l.planned_min.value_or(0), 0))),
           *l.took_min > l.planned_min.value_or(1e9) ? pal().stop : pal().ink);
    else if (l.done)
      text(at[5], 90, qs(fixed(static_cast<double>(l.done - l.started) / 60, 0)), pal().quiet);
    else
      text(at[5], 90, QStringLiteral("in hand"), pal().act, 600);
    QString air;
    if (l.room_c) air = QStringLiteral("%1 %2").arg(qs(fixed(u.temperature(*l.room_c), 0)), u.temperature_name());
    if (l.gauge_high_kpa)
      air += QStringLiteral(" · %1–%2 kPa").arg(qs(fixed(*l.gauge_low_kpa, 0)), qs(fixed(*l.gauge_high_kpa, 0)));
    text(at[6], paper.right() - at[6] - 4, air, pal().quiet);
    double below = y + line_px;
    if (!l.note.empty()) {
      p.setFont(type_face(13));
      p.setPen(l.went_wrong ? pal().stop : pal().ink);
      p.drawText(QRectF(at[1], below - 4, paper.right() - at[1] - 10, note_px), Qt::AlignVCenter,
                 (l.went_wrong ? QStringLiteral("went wrong: ") : QString()) + qs(l.note));
      below += note_px;
    }
    if (l.photos > 0 && run_) {
      double px = at[1];
      for (const ScreenRecord& r : run_->records)
        if (r.screen == l.screen && r.started == l.started)
          for (const int64_t id : r.photos) {
            const QImage image = desk_.bench_picture(id);
            if (image.isNull() || px > paper.right() - 90) continue;
            const QImage small =
                image.scaled(120, static_cast<int>(photo_px) - 10, Qt::KeepAspectRatio, Qt::SmoothTransformation);
            p.drawImage(QPointF(px, below), small);
            px += small.width() + 8;
          }
    }
    y += h;
  }
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(paper.adjusted(1, 1, -1, -1));
  }
}

void TapeView::mousePressEvent(QMouseEvent* e) {
  setFocus();
  double y = 4 + tape_head_px;
  for (size_t i = 0; i < lines_.size(); ++i) {
    const double h = height_of(lines_[i]);
    if (e->position().y() >= y && e->position().y() < y + h) return choose(static_cast<int>(i));
    y += h;
  }
}

void TapeView::keyPressEvent(QKeyEvent* e) {
  if (lines_.empty() || (e->key() != Qt::Key_Up && e->key() != Qt::Key_Down)) return QWidget::keyPressEvent(e);
  choose(chosen_ + (e->key() == Qt::Key_Down ? 1 : -1));
}

}  // namespace palinform::app
