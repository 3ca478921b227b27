#include "days/days_page.hpp"

#include <cmath>
#include <QFileDialog>
#include <QFrame>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

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

RibbonView::RibbonView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QStringLiteral("Days and nights"));
  setAccessibleDescription(QStringLiteral("Up and down choose a step"));
}

int RibbonView::wanted_height() const {
  const auto r = days_of(desk_);
  if (!r || r->steps.empty()) return 0;
  const int64_t first = r->schedule.start / day_min, last = r->schedule.finish / day_min;
  return static_cast<int>(last - first + 1) * row_px + 6;
}

void RibbonView::select(const std::string& id) {
  selected_ = id;
  update();
}

void RibbonView::paintEvent(QPaintEvent*) {
  const auto r = days_of(desk_);
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
    if (s.end <= s.hands_end) continue;
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
    for (const auto& piece : s.hands) p.fillRect(block_of(piece), chosen ? pal().stop : pal().act);
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
  if (hasFocus()) {
    p.setPen(QPen(pal().act, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
  }
}

void RibbonView::mousePressEvent(QMouseEvent* e) {
  setFocus();
  for (auto b = blocks_.rbegin(); b != blocks_.rend(); ++b)
    if (b->first.contains(e->position())) {
      select(b->second);
      emit chosen(selected_);
      return;
    }
}
void RibbonView::keyPressEvent(QKeyEvent* e) {
  const auto r = days_of(desk_);
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

DaysPage::DaysPage(Desk& desk, QWidget* parent) : StagePage(desk, parent) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 12, 16, 10);
  col->setSpacing(8);
  top_ = new QWidget;
  auto* row = new QHBoxLayout(top_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(10);
  start_ = add_line(row, QStringLiteral("Work begins"), QStringLiteral("days-start"), 156);
  auto* days = new QVBoxLayout;
  days->setSpacing(2);
  auto* dl = new QLabel(QStringLiteral("Bench days"));
  dl->setProperty("role", "small");
  days->addWidget(dl);
  auto* chips = new QHBoxLayout;
  chips->setSpacing(3);
  const char* names[7] = {"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"};
  for (int i = 0; i < 7; ++i) {
    auto* b = chip(QString::fromLatin1(names[i]), QStringLiteral("bench-%1").arg(i), true);
    b->setStyleSheet(QStringLiteral(
        "QPushButton { padding: 0 6px; min-width: 22px; } QPushButton:checked, QPushButton:focus { padding: 0 5px; }"));
    connect(b, &QPushButton::clicked, this, [this, i](bool on) {
      Job next = desk_.job();
      next.days.bench.days[static_cast<size_t>(i)] = on;
      desk_.edit(next, QStringLiteral("bench days"));
    });
    chips->addWidget(b);
    day_.push_back(b);
  }
  days->addLayout(chips);
  row->addLayout(days);
  from_ = add_line(row, QStringLiteral("from"), QStringLiteral("bench-from"), 66);
  to_ = add_line(row, QStringLiteral("to"), QStringLiteral("bench-to"), 66);
  moulds_ = new FigureField(QStringLiteral("Moulds"), QStringLiteral("days-moulds"), 60);
  moulds_->set_range(1, 20);
  row->addWidget(moulds_);
  row->addStretch(1);
  export_ = chip(QStringLiteral("Calendar file…"), QStringLiteral("days-export"));
  row->addWidget(export_, 0, Qt::AlignBottom);
  col->addWidget(top_);
  curve_ = new MouldsCurve(desk_, this);
  col->addWidget(curve_);
  ribbon_ = new RibbonView(desk_, this);
  scroll_ = new QScrollArea;
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setWidget(ribbon_);
  col->addWidget(scroll_, 1);
  card_ = new QFrame;
  card_->setObjectName(QStringLiteral("card"));
  auto* cr = new QHBoxLayout(card_);
  cr->setContentsMargins(14, 8, 14, 10);
  cr->setSpacing(12);
  step_ = new QLabel;
  step_->setTextFormat(Qt::RichText);
  step_->setWordWrap(true);
  cr->addWidget(step_, 1);
  hands_ = new FigureField(QStringLiteral("By hand"), QStringLiteral("step-hands"), 84);
  hands_->set_range(0, 5000);
  wait_ = new FigureField(QStringLiteral("Then leave it"), QStringLiteral("step-wait"), 96);
  wait_->set_range(0, 3000);
  cr->addWidget(hands_);
  cr->addWidget(wait_);
  pin_ = add_line(cr, QStringLiteral("Not before"), QStringLiteral("step-pin"), 156);
  pin_->setPlaceholderText(QStringLiteral("as early as it can"));
  reset_ = new QPushButton(QStringLiteral("As planned"));
  reset_->setProperty("kind", "bare");
  reset_->setObjectName(QStringLiteral("step-reset"));
  cr->addWidget(reset_, 0, Qt::AlignBottom);
  col->addWidget(card_);
  empty_ = remark();
  empty_->setAlignment(Qt::AlignCenter);
  col->addWidget(empty_, 1);

  connect(start_, &QLineEdit::editingFinished, this, [this] {
    Job next = desk_.job();
    const auto t = parse_wall_time(start_->text().trimmed().toStdString());
    if (!t) return mark_fault(start_, QStringLiteral("Write day and time like 2026-11-30 08:00."));
    next.days.start = wall_text(*t);
    desk_.edit(next, QStringLiteral("start of work"));
  });
  const auto hour = [this](QLineEdit* e, int BenchHours::*member) {
    connect(e, &QLineEdit::editingFinished, this, [this, e, member] {
      const auto m = parse_clock(e->text());
      if (!m) return mark_fault(e, QStringLiteral("Write a time like 8:30."));
      Job next = desk_.job();
      next.days.bench.*member = *m;
      desk_.edit(next, QStringLiteral("bench hours"));
    });
  };
  hour(from_, &BenchHours::from_min);
  hour(to_, &BenchHours::to_min);
  const auto set_moulds = [this](int n) {
    Job next = desk_.job();
    next.days.moulds = n;
    desk_.edit(next, QStringLiteral("number of moulds"));
  };
  connect(moulds_, &FigureField::entered, this, [set_moulds](double v) { set_moulds(static_cast<int>(v)); });
  connect(curve_, &MouldsCurve::chosen, this, set_moulds);
  connect(ribbon_, &RibbonView::chosen, this, [this] { refresh(); });
  connect(hands_, &FigureField::entered, this,
          [this](double v) { change_step([&](StepChange& c) { c.hands_min = v; }, QStringLiteral("time of a step")); });
  connect(wait_, &FigureField::entered, this, [this](double v) {
    change_step([&](StepChange& c) { c.wait_min = v * 60; }, QStringLiteral("wait of a step"));
  });
  connect(pin_, &QLineEdit::editingFinished, this, [this] {
    if (!pin_->isModified()) return;
    pin_->setModified(false);
    const QString s = pin_->text().trimmed();
    if (s.isEmpty()) return change_step([](StepChange& c) { c.pinned.reset(); }, QStringLiteral("step not pinned"));
    const auto t = parse_wall_time(s.toStdString());
    if (!t) return mark_fault(pin_, QStringLiteral("Write day and time like 2026-11-30 08:00."));
    change_step([&](StepChange& c) { c.pinned = *t; }, QStringLiteral("step pinned"));
  });
  connect(reset_, &QPushButton::clicked, this, [this] {
    Job next = desk_.job();
    next.days.changes.erase(ribbon_->selected());
    desk_.edit(next, QStringLiteral("step as planned"));
  });
  connect(export_, &QPushButton::clicked, this, [this] {
    QString path =
        QFileDialog::getSaveFileName(this, QStringLiteral("Calendar file"),
                                     qs(desk_.job().name) + QStringLiteral(".ics"), QStringLiteral("Calendar (*.ics)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".ics"))) path += QStringLiteral(".ics");
    desk_.write_calendar(path);
  });
}

void DaysPage::change_step(const std::function<void(StepChange&)>& change, const QString& what) {
  Job next = desk_.job();
  StepChange& c = next.days.changes[ribbon_->selected()];
  change(c);
  if (c == StepChange{}) next.days.changes.erase(ribbon_->selected());
  desk_.edit(next, what);
}

void DaysPage::refresh() {
  const Job& job = desk_.job();
  const auto r = days_of(desk_);
  const bool ok = r != nullptr;
  for (QWidget* w : {static_cast<QWidget*>(curve_), static_cast<QWidget*>(scroll_), static_cast<QWidget*>(export_)})
    w->setVisible(ok);
  empty_->setVisible(!ok);
  top_->setVisible(desk_.has_job());
  empty_->setText(
      job.days.start.empty()
          ? QStringLiteral("Say when the work begins.")
          : QStringLiteral("The days follow from the mould and the mix: choose silicone and resin in Size."));
  if (!start_->hasFocus()) start_->setText(qs(job.days.start).replace(QLatin1Char('T'), QLatin1Char(' ')));
  if (!from_->hasFocus()) from_->setText(clock_words(job.days.bench.from_min));
  if (!to_->hasFocus()) to_->setText(clock_words(job.days.bench.to_min));
  for (size_t i = 0; i < day_.size(); ++i) day_[i]->setChecked(job.days.bench.days[i]);
  moulds_->show_value(job.days.moulds, 0, {});
  const Step* chosen = nullptr;
  const Placed* placed = nullptr;
  if (ok)
    for (const Placed& p : r->schedule.placed)
      if (r->steps[p.step].id == ribbon_->selected()) chosen = &r->steps[p.step], placed = &p;
  if (ok && !chosen && !r->steps.empty()) {
    ribbon_->select(r->steps.front().id);
    chosen = &r->steps.front();
    placed = &r->schedule.placed.front();
  }
  card_->setVisible(chosen != nullptr);
  if (chosen) {
    QString words = QStringLiteral("<b>%1</b><br><font color='%2'>%3 to %4")
                        .arg(qs(chosen->name).toHtmlEscaped(), pal().quiet.name(), qs(short_text(placed->start)),
                             qs(short_text(placed->hands_end)).mid(4));
    if (placed->end > placed->hands_end) words += QStringLiteral(", then until %1").arg(qs(short_text(placed->end)));
    if (!chosen->needs.empty()) words += QStringLiteral(" · needs the ") + qs(chosen->needs);
    words += chosen->changed ? QStringLiteral(" · your times") : QStringLiteral(" · hand times are guesses");
    step_->setText(words + QStringLiteral("</font>"));
    hands_->show_value(chosen->hands_min, 0, QStringLiteral("min"));
    wait_->show_value(chosen->wait_min / 60, 1, QStringLiteral("h"));
    if (!pin_->isModified()) {
      pin_->setText(chosen->pinned ? qs(wall_text(*chosen->pinned)).replace(QLatin1Char('T'), QLatin1Char(' '))
                                   : QString());
      pin_->setModified(false);
    }
    reset_->setVisible(chosen->changed);
  }
  ribbon_->setMinimumHeight(ribbon_->wanted_height());
  ribbon_->update();
  curve_->update();
}

void DaysPage::point_at(const Finding& f) {
  ribbon_->select(f.where.step);
  refresh();
}

}  // namespace palinform::app
