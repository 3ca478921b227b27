#include "days/ribbon_view.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <utility>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

constexpr int row_px = 74, left_px = 78;

QString span_words(double minutes) {
  if (minutes < 90) return QStringLiteral("%1 min").arg(qs(fixed(minutes, 0)));
  return QStringLiteral("%1 h").arg(qs(fixed(minutes / 60, minutes < 600 ? 1 : 0)));
}

}  // namespace

RibbonView::RibbonView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QStringLiteral("Days and nights"));
  setAccessibleDescription(QStringLiteral("Up and down choose a step; drag it to another hour"));
}

int RibbonView::wanted_height() const {
  const auto r = desk_.plan().fresh(results::days);
  if (!r || r->steps.empty()) return 0;
  const int64_t first = r->schedule.start / day_min, last = r->schedule.finish / day_min;
  return static_cast<int>(last - first + 1) * row_px + 6;
}

void RibbonView::select(const std::string& id) {
  selected_ = id;
  update();
}

void RibbonView::paintEvent(QPaintEvent*) {
  const auto r = desk_.plan().fresh(results::days);
  if (!r) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  blocks_.clear();
  const int64_t first = r->schedule.start / day_min, last = r->schedule.finish / day_min;
  const double wide = width() - left_px - 8.0;
  const auto x = [&](int64_t minute) { return left_px + wide * static_cast<double>(minute) / day_min; };
  const BenchHours& bench = desk_.job().days.bench;
  QColor night = pal().ink;
  night.setAlphaF(pal().dark ? 0.10f : 0.09f);
  for (int64_t d = first; d <= last; ++d) {
    const double y = static_cast<double>(d - first) * row_px;
    p.fillRect(QRectF(left_px, y + 2, wide, row_px - 4), night);
    if (bench.days[static_cast<size_t>(weekday_of(d * day_min))]) {
      p.fillRect(QRectF(x(bench.from_min), y + 2, x(bench.to_min) - x(bench.from_min), row_px - 4), pal().panel);
      p.setPen(QPen(pal().rule, 1));
      p.drawLine(QPointF(x(bench.from_min), y + 2), QPointF(x(bench.from_min), y + row_px - 2));
      p.drawLine(QPointF(x(bench.to_min), y + 2), QPointF(x(bench.to_min), y + row_px - 2));
    }
    const QString name = qs(short_text(d * day_min)).left(3), date = qs(wall_text(d * day_min)).mid(5, 5);
    p.setPen(pal().ink);
    p.setFont(type_face(14, 600));
    p.drawText(QRectF(4, y + 14, left_px - 8, 20), Qt::AlignVCenter, name);
    p.setFont(type_face(12));
    p.setPen(pal().quiet);
    p.drawText(QRectF(4, y + 34, left_px - 8, 18), Qt::AlignVCenter,
               date.mid(3) + QStringLiteral(".") + date.left(2) + QStringLiteral("."));
  }
  // Waits below, each on a line of its own that is free; hands-on pieces above.
  std::vector<int64_t> lane_free;
  for (const Placed& s : r->schedule.placed) {
    const Step& step = r->steps[s.step];
    if (s.end <= s.hands_end || s.no_hour()) continue;
    size_t lane = 0;
    while (lane < lane_free.size() && lane_free[lane] > s.hands_end) ++lane;
    if (lane == lane_free.size()) lane_free.push_back(0);
    lane_free[lane] = s.end;
    const double dy = 44 + 9.0 * static_cast<double>(std::min<size_t>(lane, 2));
    const bool chosen = step.id == selected_;
    for (int64_t d = s.hands_end / day_min; d <= (s.end - 1) / day_min; ++d) {
      const double y = static_cast<double>(d - first) * row_px + dy;
      const double x0 = x(std::max(s.hands_end, d * day_min) - d * day_min),
                   x1 = x(std::min(s.end, (d + 1) * day_min) - d * day_min);
      p.fillRect(QRectF(x0, y, std::max(2.0, x1 - x0), 7),
                 QBrush(chosen ? pal().stop : pal().caution, Qt::BDiagPattern));
      p.setPen(QPen(chosen ? pal().stop : pal().caution, 1.2));
      p.drawLine(QPointF(x0, y + 7), QPointF(x1, y + 7));
    }
    // The wait's length stands where it is longest.
    if (s.end - s.hands_end >= 4 * 60) {
      const int64_t d = s.hands_end / day_min;
      const double x0 = x(s.hands_end - d * day_min), room = x(std::min<int64_t>(day_min, s.end - d * day_min)) - x0;
      const QString words = span_words(static_cast<double>(s.end - s.hands_end));
      p.setFont(type_face(12));
      if (room > text_width(type_face(12), words) + 190 && lane == 0) {
        p.setPen(pal().quiet);
        p.drawText(QRectF(x0 + 4, static_cast<double>(d - first) * row_px + 28, room, 16),
                   Qt::AlignVCenter | Qt::AlignRight, words);
      }
    }
  }
  double last_label[64] = {};
  for (const Placed& s : r->schedule.placed) {
    const Step& step = r->steps[s.step];
    if (s.hands.empty()) continue;
    const bool chosen = step.id == selected_;
    // Work over closing time comes in pieces, the first with its name.
    const auto block_of = [&](const std::pair<WallMinute, WallMinute>& piece) {
      const int64_t on = piece.first / day_min;
      return QRectF(x(piece.first - on * day_min), static_cast<double>(on - first) * row_px + 8,
                    std::max(3.0, x(piece.second - on * day_min) - x(piece.first - on * day_min)), 18);
    };
    for (const auto& piece : s.hands)
      p.fillRect(block_of(piece), chosen ? pal().stop : s.done ? pal().quiet : pal().act);
    const int64_t d = s.start / day_min;
    const double y = static_cast<double>(d - first) * row_px;
    const QRectF block = block_of(s.hands.front());
    if (step.pinned) {
      p.setBrush(pal().ink);
      p.setPen(Qt::NoPen);
      p.drawEllipse(QPointF(block.left() + 1, block.top()), 3.5, 3.5);
    }
    blocks_.emplace_back(block.adjusted(-4, -6, 4, 8), step.id);
    double& after = last_label[std::min<int64_t>(d - first, 63)];
    const QString words = qs(step.name);
    p.setFont(type_face(12, chosen ? 600 : 400));
    const double w = text_width(p.font(), words);
    if (block.left() >= after || chosen) {
      p.setPen(pal().ink);
      const double lx = std::min(block.left(), width() - w - 4);
      if (chosen) p.fillRect(QRectF(lx - 2, y + 27, w + 4, 15), pal().panel);
      p.drawText(QRectF(lx, y + 26, w + 4, 16), Qt::AlignVCenter, words);
      after = std::max(after, lx + w + 10);
    }
  }
  const int64_t end_day = r->schedule.finish / day_min;
  p.setPen(QPen(pal().ink, 2.4));
  const double fx = x(r->schedule.finish - end_day * day_min), fy = static_cast<double>(end_day - first) * row_px;
  p.drawLine(QPointF(fx, fy + 2), QPointF(fx, fy + row_px - 4));
  p.setFont(type_face(13, 600));
  const QString done = QStringLiteral("ready %1").arg(qs(short_text(r->schedule.finish)));
  const double dw = text_width(p.font(), done);
  p.drawText(QRectF(fx + 6 + dw > width() ? fx - dw - 6 : fx + 6, fy + 4, dw + 4, 20), Qt::AlignVCenter, done);
  if (drag_ && drag_->moved) paint_drag(p);
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
  }
}

void RibbonView::paint_drag(QPainter& p) const {
  const auto r = desk_.plan().fresh(results::days);
  if (!r) return;
  const int64_t first = r->schedule.start / day_min;
  const double wide = width() - left_px - 8.0;
  const auto step = std::find_if(r->steps.begin(), r->steps.end(), [&](const Step& s) { return s.id == drag_->step; });
  if (step == r->steps.end()) return;
  const int64_t day = day_number(drag_->at);
  const double y = static_cast<double>(day - first) * row_px + 8;
  const double x = left_px + wide * static_cast<double>(drag_->at - day * day_min) / day_min;
  const QRectF block(x, y, std::max(4.0, wide * step->hands_min / day_min), 18);
  const bool holds = drag_->tried && drag_->tried->holds;
  p.setBrush(holds ? QBrush(pal().act) : QBrush(pal().stop, Qt::BDiagPattern));
  p.setPen(QPen(holds ? pal().act : pal().stop, 2));
  p.drawRect(block);
  QString words = qs(short_text(drag_->at)) + QStringLiteral(": ");
  if (!drag_->tried) {
    words += drag_->refused;
  } else if (!holds) {
    words += qs(drag_->tried->why);
  } else {
    const int64_t later = drag_->tried->later_min;
    words += QStringLiteral("it holds, ready %1").arg(qs(short_text(drag_->tried->schedule.finish)));
    if (later != 0)
      words += QStringLiteral(", %1 %2").arg(span_words(static_cast<double>(std::abs(later))),
                                             later > 0 ? QStringLiteral("later") : QStringLiteral("sooner"));
    if (!drag_->tried->why.empty()) words += QStringLiteral("; ") + qs(drag_->tried->why);
  }
  p.setFont(type_face(13, 600));
  const double w = std::min<double>(text_width(p.font(), words) + 16, width() - 8);
  QRectF tag(std::clamp(x, 4.0, width() - w - 4), y + 24, w, 0);
  tag.setHeight(p.boundingRect(QRectF(0, 0, w - 12, 200), Qt::TextWordWrap, words).height() + 8);
  if (tag.bottom() > height()) tag.moveBottom(y - 4);
  p.setBrush(pal().panel);
  p.setPen(QPen(holds ? pal().act : pal().stop, 1.6));
  p.drawRoundedRect(tag, 5, 5);
  p.setPen(pal().ink);
  p.drawText(tag.adjusted(6, 4, -6, -4), Qt::TextWordWrap, words);
}

void RibbonView::try_at(const QPointF& at) {
  const auto r = desk_.plan().fresh(results::days);
  if (!r || !drag_) return;
  constexpr int64_t snap_min = 5;
  const double wide = width() - left_px - 8.0;
  const int64_t day = r->schedule.start / day_min + static_cast<int64_t>(std::floor(at.y() / row_px));
  const double minute = std::clamp((at.x() - left_px) / wide, 0.0, 0.999) * day_min;
  const WallMinute wanted = day * day_min + static_cast<int64_t>(minute / snap_min) * snap_min;
  if (wanted == drag_->at && drag_->moved) return;
  drag_->moved = true;
  drag_->at = wanted;
  drag_->tried.reset();
  const auto t = try_pin(r->steps, {desk_.job().days.bench}, *parse_wall_time(desk_.job().days.start),
                         desk_.books().others, desk_.books().begun, r->schedule, drag_->step, wanted);
  if (t)
    drag_->tried = *t;
  else
    drag_->refused = qs(t.error().what);
  update();
}

void RibbonView::mouseMoveEvent(QMouseEvent* e) {
  if (!drag_ || desk_.read_only()) return;
  if (!drag_->moved && (e->position() - drag_->from).manhattanLength() < 7) return;
  // The block is held where it was taken.
  try_at(e->position());
}

void RibbonView::mouseReleaseEvent(QMouseEvent*) {
  if (!drag_) return;
  const Drag done = *std::exchange(drag_, std::nullopt);
  update();
  if (!done.moved) return;
  PinTry tried;
  if (done.tried)
    tried = *done.tried;
  else
    tried.why = done.refused.toStdString();
  emit dropped(done.step, done.at, tried);
}

void RibbonView::mousePressEvent(QMouseEvent* e) {
  setFocus();
  for (auto b = blocks_.rbegin(); b != blocks_.rend(); ++b)
    if (b->first.contains(e->position())) {
      select(b->second);
      emit chosen(selected_);
      drag_ = Drag{selected_, e->position(), false, 0, std::nullopt, {}};
      return;
    }
}

void RibbonView::keyPressEvent(QKeyEvent* e) {
  const auto r = desk_.plan().fresh(results::days);
  const int by = e->key() == Qt::Key_Down || e->key() == Qt::Key_Right ? 1
                 : e->key() == Qt::Key_Up || e->key() == Qt::Key_Left  ? -1
                                                                       : 0;
  if (!r || by == 0) return QWidget::keyPressEvent(e);
  int at = -1;
  for (size_t i = 0; i < r->steps.size(); ++i)
    if (r->steps[i].id == selected_) at = static_cast<int>(i);
  at = std::clamp(at + by, 0, static_cast<int>(r->steps.size()) - 1);
  select(r->steps[static_cast<size_t>(at)].id);
  emit chosen(selected_);
}

}  // namespace palinform::app
