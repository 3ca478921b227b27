#include "wall/cords_view.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include "base/text.hpp"
#include "overview/day_list.hpp"
#include "shell/desk.hpp"
#include "shell/knot.hpp"
#include "theme/theme.hpp"
#include "wall/day_words.hpp"

namespace palinform::app {

namespace {

constexpr double names_px = 74, rail_y = 12, picture_y = 23, picture_high = 48, name_y = 73, cord_y = 130,
                 knot_step = 14.6, words_y = cord_y + 10 * knot_step + 4, foot_y = words_y + 38, high_px = foot_y + 38;

}  // namespace

CordsView::CordsView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setObjectName(QStringLiteral("cords"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAccessibleName(QStringLiteral("Open jobs"));
  setAccessibleDescription(QStringLiteral("Left and right choose a job, Enter opens it, M shows what can be done"));
  setFixedHeight(static_cast<int>(high_px));
  setCursor(Qt::PointingHandCursor);
}

double CordsView::column_px() const {
  const auto shop = desk_.shop_now();
  const auto n = static_cast<double>(shop ? std::max<size_t>(1, shop->jobs.size()) : 1);
  return std::clamp((width() - names_px - 10) / n, 96.0, 168.0);
}

int CordsView::wanted_width() const {
  const auto shop = desk_.shop_now();
  return static_cast<int>(names_px + 10 + 96.0 * static_cast<double>(shop ? shop->jobs.size() : 0));
}

void CordsView::choose(int job) {
  const auto shop = desk_.shop_now();
  if (!shop || shop->jobs.empty()) return;
  chosen_ = std::clamp(job, 0, static_cast<int>(shop->jobs.size()) - 1);
  update();
}

int CordsView::job_at(const QPointF& p) const {
  const auto shop = desk_.shop_now();
  if (!shop || p.x() < names_px) return -1;
  const int at = static_cast<int>((p.x() - names_px) / column_px());
  return at < static_cast<int>(shop->jobs.size()) ? at : -1;
}

QRectF CordsView::acts_box(int job) const {
  const double w = column_px(), x = names_px + w * job;
  return {x + w - 32, picture_y - 6, 28, 26};
}

void CordsView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  const auto shop = desk_.shop_now();
  if (!shop) {
    p.setPen(pal().quiet);
    p.setFont(type_face(14));
    p.drawText(rect(), Qt::AlignCenter, QStringLiteral("Looking through the jobs …"));
    return;
  }
  if (shop->jobs.empty()) {
    p.setPen(QPen(pal().ink, 5, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(names_px, rail_y), QPointF(width() - 10, rail_y));
    p.setPen(pal().quiet);
    p.setFont(type_face(14));
    p.drawText(rect(), Qt::AlignCenter, QStringLiteral("No job is open. Begin one with \"New job\"."));
    return;
  }
  const double w = column_px();
  const auto n = static_cast<int>(shop->jobs.size());
  // The rail, and the stages' names once.
  p.setPen(QPen(pal().ink, 5, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(QPointF(names_px - 6, rail_y), QPointF(names_px + w * n, rail_y));
  p.setFont(type_face(12));
  for (int s = 0; s < stage_count; ++s) {
    p.setPen(pal().quiet);
    p.drawText(QRectF(0, cord_y + knot_step * s, names_px - 10, knot_step), Qt::AlignVCenter | Qt::AlignRight,
               QString::fromUtf8(name_of(static_cast<Stage>(s)).data()));
  }
  for (int j = 0; j < n; ++j) {
    const OpenJobNow& job = shop->jobs[static_cast<size_t>(j)];
    const double x = names_px + w * j, mid = x + w / 2;
    const QRectF column(x + 2, rail_y + 6, w - 4, high_px - rail_y - 8);
    const bool mine = desk_.has_job() && desk_.job().id == job.id;
    if (j == hovered_ || mine || (hasFocus() && j == chosen_)) {
      p.setPen(Qt::NoPen);
      QColor c = pal().panel;
      if (j == hovered_ && !mine) c.setAlphaF(0.6f);
      p.setBrush(c);
      p.drawRoundedRect(column, 8, 8);
    }
    if (hasFocus() && j == chosen_) {
      p.setPen(QPen(pal().act, 2));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(column, 8, 8);
    }
    // It hangs by its letter.
    p.setPen(QPen(pal().rule.darker(pal().dark ? 80 : 120), 2.4));
    p.drawLine(QPointF(mid, rail_y), QPointF(mid, picture_y));
    p.drawLine(QPointF(mid, cord_y - 7), QPointF(mid, cord_y + stage_count * knot_step));
    p.setPen(Qt::NoPen);
    p.setBrush(pal().ink);
    p.drawEllipse(QPointF(mid, rail_y), 10, 10);
    p.setPen(pal().ground);
    p.setFont(type_face(12, 700));
    p.drawText(QRectF(mid - 12, rail_y - 10, 24, 20), Qt::AlignCenter, qs(job_letter(static_cast<size_t>(j))));
    const QImage picture = desk_.part_picture(job.mesh);
    const QRectF frame(mid - 34, picture_y, 68, picture_high);
    if (!picture.isNull()) {
      p.drawImage(frame, picture);
    } else {
      p.setPen(QPen(pal().rule, 1.4, Qt::DashLine));
      p.setBrush(Qt::NoBrush);
      p.drawRoundedRect(frame.adjusted(14, 8, -14, -8), 6, 6);
    }
    p.setPen(pal().quiet);
    if (j == hovered_ || (hasFocus() && j == chosen_)) {
      p.setFont(type_face(16, 700));
      p.drawText(acts_box(j), Qt::AlignCenter, QStringLiteral("⋮"));
    }
    p.setPen(mine ? pal().act : pal().ink);
    p.setFont(type_face(13, 600));
    p.drawText(QRectF(x + 5, name_y, w - 10, 50), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, qs(job.name));
    for (int s = 0; s < stage_count; ++s)
      draw_knot(p, QPointF(mid, cord_y + knot_step * (s + 0.5)), job.card.knots[static_cast<size_t>(s)], 5.2);
    p.setFont(type_face(12));
    QString words;
    QColor colour = pal().quiet;
    if (!job.refused.empty())
      words = QStringLiteral("no plan"), colour = pal().stop;
    else if (!job.card_there)
      words = QStringLiteral("on its way …");
    else if (job.all_made() && job.made > 0)
      words = QStringLiteral("all are cast");
    else if (job.card.stops > 0)
      words = qs(counted(job.card.stops, "stop", "stops")), colour = pal().stop;
    else if (job.card.cautions > 0)
      words = QStringLiteral("%1 to decide").arg(job.card.cautions), colour = pal().ink;
    else if (!job.card.planned)
      words = QStringLiteral("not planned yet");
    else
      words = QStringLiteral("nothing open");
    if (job.made > 0 && !job.parts.empty() && !job.all_made() && job.card.stops == 0) {
      words.clear();
      for (const PartCount& part : job.parts)
        words += (words.isEmpty() ? QString() : QStringLiteral(", ")) +
                 QStringLiteral("%1 %2/%3").arg(qs(part.name)).arg(part.made).arg(part.wanted);
    }
    if (job.card_there && job.in_plan && shop->planned) {
      const PlacedJob& placed = shop->plan.jobs[*job.in_plan];
      words += placed.refused.empty() ? QStringLiteral("\nready ") + date_words(placed.schedule.finish)
                                      : QStringLiteral("\nno time found");
    }
    p.setPen(colour);
    p.drawText(QRectF(x + 2, words_y, w - 4, 34), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, words);
    // Castings as beads on the end of the cord: made ones solid.
    const int beads = std::min(job.copies, 12);
    const double step = std::min(9.0, (w - 16) / std::max(1, beads)), first = mid - step * (beads - 1) / 2;
    for (int k = 0; k < beads; ++k) {
      const bool made = k < job.made * beads / std::max(1, job.copies);
      p.setPen(QPen(pal().ink, 1.2));
      p.setBrush(made ? QBrush(pal().ink) : QBrush(pal().ground));
      p.drawEllipse(QPointF(first + step * k, foot_y + 2), 3.2, 3.2);
    }
    p.setFont(type_face(12, 600));
    if (job.due) {
      PromiseState state = PromiseState::unplanned;
      for (const WallPromise& promise : shop->wall.promises)
        if (promise.job == static_cast<size_t>(j)) state = promise.state;
      const WallMinute day = *job.due - 1;
      const bool late = state == PromiseState::late;
      const QString date = late ? date_words(day) : day_words(day);
      const QRectF tag(mid - w / 2 + 5, foot_y + 12, w - 10, 22);
      p.setPen(QPen(state == PromiseState::late ? pal().stop : pal().rule, 1.4));
      p.setBrush(state == PromiseState::late ? QBrush(pal().stop, Qt::BDiagPattern) : QBrush(pal().panel));
      p.drawRoundedRect(tag, 4, 4);
      if (state == PromiseState::late) {
        p.setPen(Qt::NoPen);
        p.setBrush(pal().panel);
        p.drawRect(tag.adjusted(6, 3, -6, -3));
      }
      p.setPen(state == PromiseState::late ? pal().stop : pal().ink);
      p.drawText(tag, Qt::AlignCenter,
                 (state == PromiseState::late ? QStringLiteral("late ") : QStringLiteral("by ")) + date);
    }
  }
}

void CordsView::mousePressEvent(QMouseEvent* e) {
  const int j = job_at(e->position());
  if (j < 0) return;
  choose(j);
  if (e->button() == Qt::RightButton || acts_box(j).contains(e->position())) {
    emit acts_wanted(j, mapToGlobal(e->position().toPoint()));
    return;
  }
  emit opened(qs(desk_.shop_now()->jobs[static_cast<size_t>(j)].id));
}

void CordsView::mouseMoveEvent(QMouseEvent* e) {
  const int j = job_at(e->position());
  if (j == hovered_) return;
  hovered_ = j;
  update();
}

void CordsView::leaveEvent(QEvent*) {
  hovered_ = -1;
  update();
}

void CordsView::keyPressEvent(QKeyEvent* e) {
  const auto shop = desk_.shop_now();
  if (!shop || shop->jobs.empty()) return QWidget::keyPressEvent(e);
  switch (e->key()) {
    case Qt::Key_Left:
      return choose(chosen_ - 1);
    case Qt::Key_Right:
      return choose(chosen_ + 1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      emit opened(qs(shop->jobs[static_cast<size_t>(chosen_)].id));
      return;
    case Qt::Key_M:
    case Qt::Key_Menu:
      emit acts_wanted(chosen_, mapToGlobal(acts_box(chosen_).center().toPoint()));
      return;
    default:
      QWidget::keyPressEvent(e);
  }
}

bool CordsView::event(QEvent* e) {
  if (e->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(e);
    const int j = job_at(help->pos());
    const auto shop = desk_.shop_now();
    if (j < 0 || !shop) return true;
    const OpenJobNow& job = shop->jobs[static_cast<size_t>(j)];
    QString words = qs(job.name) + (job.client.empty() ? QString() : QStringLiteral(", for ") + qs(job.client));
    const int s = static_cast<int>((help->pos().y() - cord_y) / knot_step);
    if (help->pos().y() >= cord_y && s < stage_count)
      words += QStringLiteral("\n%1: %2, %3")
                   .arg(QString::fromUtf8(name_of(static_cast<Stage>(s)).data()),
                        QLatin1String(state_word(job.card.knots[static_cast<size_t>(s)])),
                        qs(job.card.figures[static_cast<size_t>(s)]));
    if (!job.card.worst.empty()) words += QLatin1Char('\n') + qs(job.card.worst);
    if (!job.refused.empty()) words += QLatin1Char('\n') + qs(job.refused);
    QToolTip::showText(help->globalPos(), words, this);
    return true;
  }
  return QWidget::event(e);
}

}  // namespace palinform::app
