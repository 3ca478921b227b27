#include "bench/bench_window.hpp"

#include <cmath>
#include <QApplication>
#include <QDateTime>
#include <QKeyEvent>
#include <QPainter>
#include <QTimer>

#include "base/text.hpp"
#include "bench/clocks.hpp"
#include "bench/device_hub.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

QPushButton* big(const QString& words, const QString& name, QWidget* parent, bool main) {
  auto* b = new QPushButton(words, parent);
  b->setObjectName(name);
  b->setProperty("kind", main ? "main" : "");
  b->setStyleSheet(
      QStringLiteral("QPushButton { font-size: 22px; border-radius: 34px; min-height: 66px; border-width: 2px; %1 }")
          .arg(main ? QStringLiteral("font-weight: 700;")
                    : QStringLiteral("color: %1; border-color: %1;").arg(pal().ink.name())));
  b->setCursor(Qt::PointingHandCursor);
  return b;
}

}  // namespace

BenchWindow::BenchWindow(Desk& desk, DeviceHub& devices) : desk_(desk), devices_(devices) {
  setWindowTitle(QStringLiteral("Palinform at the bench"));
  setMinimumSize(1000, 640);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QStringLiteral("Bench"));
  back_ = big(QStringLiteral("Back"), QStringLiteral("bench-back"), this, false);
  note_ = big(QStringLiteral("Note what happened"), QStringLiteral("bench-note"), this, false);
  done_ = big(QStringLiteral("Done · space bar or pedal"), QStringLiteral("bench-done"), this, true);
  leave_ = new QPushButton(QStringLiteral("Leave the bench"), this);
  leave_->setProperty("kind", "bare");
  leave_->setObjectName(QStringLiteral("bench-leave"));
  typed_ = new QLineEdit(this);
  typed_->setObjectName(QStringLiteral("bench-typed"));
  typed_->setPlaceholderText(QStringLiteral("scale reads, typed"));
  typed_->setAccessibleName(QStringLiteral("Scale reading, typed"));
  note_line_ = new QLineEdit(this);
  note_line_->setObjectName(QStringLiteral("bench-note-line"));
  note_line_->setAccessibleName(QStringLiteral("What happened"));
  note_line_->setPlaceholderText(QStringLiteral("what happened"));
  keep_ = new QPushButton(QStringLiteral("Keep the note"), this);
  keep_->setObjectName(QStringLiteral("bench-keep"));
  wrong_ = new QPushButton(QStringLiteral("This went wrong"), this);
  wrong_->setObjectName(QStringLiteral("bench-wrong"));
  wrong_->setStyleSheet(QStringLiteral("color: %1; border-color: %1;").arg(pal().stop.name()));
  for (QPushButton* b : {back_, note_, done_, leave_, keep_, wrong_}) b->setFocusPolicy(Qt::TabFocus);
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->hide();
  connect(back_, &QPushButton::clicked, &desk_, &Desk::bench_back);
  connect(note_, &QPushButton::clicked, this, &BenchWindow::ask_note);
  connect(done_, &QPushButton::clicked, this, &BenchWindow::go_on);
  connect(leave_, &QPushButton::clicked, this, &QWidget::close);
  connect(keep_, &QPushButton::clicked, this, [this] { keep_note(false); });
  connect(wrong_, &QPushButton::clicked, this, [this] { keep_note(true); });
  connect(note_line_, &QLineEdit::returnPressed, this, [this] { keep_note(false); });
  connect(typed_, &QLineEdit::textEdited, this, [this] { clear_fault(typed_); });
  connect(typed_, &QLineEdit::returnPressed, this, [this] {
    if (const auto v = parse_number(typed_->text().toStdString()))
      type_scale(desk_.units().grams(*v));
    else
      mark_fault(typed_, QStringLiteral("Digits only."));
    setFocus();
  });
  connect(&devices_, &DeviceHub::scale_read, this, [this](double g, bool stable) {
    if (typed_holds_) return;  // what a person typed stands until it is used
    scale_ = g;
    stable_ = stable;
    from_device_ = true;
    why_lost_.clear();
    update();
  });
  connect(&devices_, &DeviceHub::scale_lost, this, [this](const QString& why) {
    if (!from_device_) return;
    scale_.reset();
    from_device_ = false;
    why_lost_ = why;
    update();
  });
  connect(&desk_, &Desk::changed, this, &BenchWindow::refresh);
  timer_ = new QTimer(this);
  timer_->setInterval(250);
  connect(timer_, &QTimer::timeout, this, &BenchWindow::tick);
  timer_->start();
  refresh();
}

void BenchWindow::type_scale(double g) {
  scale_ = g;
  stable_ = true;
  from_device_ = false;
  typed_holds_ = true;
  update();
}

QString BenchWindow::mended_by(const BenchRun& run) const {
  const auto next = scale_ ? next_target_g(run, *scale_) : std::nullopt;
  return next ? QStringLiteral(": leave it, the next goes to %1").arg(desk_.units().mass_text(*next, 1)) : QString();
}

QString BenchWindow::headline() const {
  const auto& run = desk_.run();
  if (!run) return {};
  if (finished(*run)) return QStringLiteral("The run is done");
  const BenchScreen& s = run->screens[static_cast<size_t>(run->at)];
  return qs(s.told.empty() ? s.instruction : s.told + " " + s.instruction);
}

void BenchWindow::refresh() {
  const auto& run = desk_.run();
  const bool weighing = run && !finished(*run) && run->screens[static_cast<size_t>(run->at)].target_g;
  typed_->setVisible(weighing);  // typing is always possible
  back_->setEnabled(run && run->at > 0);
  done_->setText(run && finished(*run) ? QStringLiteral("Leave the bench")
                                       : QStringLiteral("Done · space bar or pedal"));
  update();
}

void BenchWindow::tick() {
  if (!isVisible()) return;
  const auto rung = desk_.ring();
  if (!rung.empty()) {
    QApplication::beep();
    flash_ = 16;
    flash_words_ = qs(rung.front()) + QStringLiteral(": time is up");
  }
  if (flash_ > 0) --flash_;
  update();
}

void BenchWindow::go_on() {
  const auto& run = desk_.run();
  if (!run) return;
  if (finished(*run)) {
    close();
    return;
  }
  const bool weighing = run->screens[static_cast<size_t>(run->at)].target_g.has_value();
  // From the scale only what stands still and was read twice alike; else the screen is left without a reading.
  const std::optional<double> reading = typed_holds_ || !from_device_ ? scale_ : devices_.settled_g();
  desk_.bench_next(weighing ? reading : std::nullopt);
  if (!from_device_) scale_.reset();
  typed_holds_ = false;
  typed_->clear();
  refresh();
}

void BenchWindow::ask_note() {
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->show();
  note_line_->setFocus();
}

void BenchWindow::keep_note(bool wrong) {
  desk_.bench_note(note_line_->text(), wrong);
  note_line_->clear();
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->hide();
  setFocus();
}

void BenchWindow::keyPressEvent(QKeyEvent* e) {
  if (e->isAutoRepeat()) return;  // a foot that stays on the pedal is one press
  switch (e->key()) {
    case Qt::Key_Space:
    case Qt::Key_PageDown:
      return go_on();  // not Return: a line that is typed into lets it through
    case Qt::Key_PageUp:
    case Qt::Key_Backspace:
      return desk_.bench_back();
    case Qt::Key_N:
      return ask_note();
    case Qt::Key_Escape:
      close();
      return;
    default:
      QWidget::keyPressEvent(e);
  }
}

void BenchWindow::resizeEvent(QResizeEvent*) {
  const int y = height() - 94, w = width() - 72;
  back_->setGeometry(36, y, static_cast<int>(w * 0.24), 70);
  note_->setGeometry(36 + static_cast<int>(w * 0.26), y, static_cast<int>(w * 0.25), 70);
  done_->setGeometry(36 + static_cast<int>(w * 0.53), y, w - static_cast<int>(w * 0.53), 70);
  leave_->setGeometry(width() - 190, 56, 160, 32);
  typed_->setGeometry(36, typed_->y(), 260, 40);
  note_line_->setGeometry(36, height() - 168, width() - 420 - 420, 44);
  keep_->setGeometry(width() - 420 - 370, height() - 166, 170, 40);
  wrong_->setGeometry(width() - 420 - 190, height() - 166, 170, 40);
}

void BenchWindow::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QColor back = flash_ % 4 >= 2 ? pal().caution.lighter(150) : pal().ground;
  p.fillRect(rect(), back);
  const int side = width() - 420;
  p.fillRect(QRectF(side, 92, 420, height() - 92 - 118), pal().slip);
  p.setPen(pal().rule);
  p.drawLine(0, 92, width(), 92);
  p.drawLine(0, height() - 118, width(), height() - 118);
  const auto& run = desk_.run();
  if (!run) return;
  const Units& u = desk_.units();
  const int n = static_cast<int>(run->screens.size());
  const bool over = finished(*run);
  const BenchScreen* s = over ? nullptr : &run->screens[static_cast<size_t>(run->at)];
  p.setPen(pal().ink);
  p.setFont(type_face(28, 700));
  const QString title = over ? QStringLiteral("Done") : qs(s->title);
  p.drawText(QRectF(36, 20, width() * 0.62, 52), Qt::AlignVCenter, title);
  p.setFont(type_face(20));
  p.setPen(pal().quiet);
  const QString where =
      QStringLiteral("screen %1 of %2 · %3").arg(std::min(run->at + 1, n)).arg(n).arg(qs(desk_.job().name));
  p.drawText(QRectF(width() - 640, 14, 610, 40), Qt::AlignVCenter | Qt::AlignRight,
             where + QStringLiteral(" · %1 %2 · %3")
                         .arg(qs(fixed(u.temperature(desk_.job().size.room_c), 0)), u.temperature_name(),
                              QTime::currentTime().toString(QStringLiteral("HH:mm"))));

  double y = 122;
  p.setPen(pal().ink);
  p.setFont(type_face(over ? 34 : s->target_g ? 34 : 30, 600));
  const QRectF instruction(36, y, side - 76, 400);
  const QRectF used = p.boundingRect(instruction, Qt::TextWordWrap, headline());
  p.drawText(instruction, Qt::TextWordWrap, headline());
  y += used.height() + 14;
  if (s && s->target_g) {
    const int digits = desk_.job().mix.scale_division_g < 0.05 ? 2 : desk_.job().mix.scale_division_g < 0.5 ? 1 : 0;
    const QString figure = qs(fixed(u.mass(*s->target_g), u.ounce ? digits + 2 : digits));
    QFont huge = type_face(150, 700);
    p.setFont(huge);
    p.drawText(QRectF(30, y, side - 60, 170), Qt::AlignVCenter, figure);
    const int w = text_width(huge, figure);
    p.setFont(type_face(56));
    p.drawText(QRectF(44 + w, y + 88, 120, 74), Qt::AlignVCenter, u.mass_name());
    y += 184;
    // The bar runs from what the cup weighed to a little past the target; the allowed band is boxed.
    const double from = s->from_g.value_or(0), band = s->band_g.value_or(1),
                 span_g = std::max(*s->target_g - from, 1e-6), to = *s->target_g + std::max(0.06 * span_g, 2.2 * band);
    const QRectF bar(36, y, side - 96, 36);
    const auto x = [&](double g) { return bar.left() + bar.width() * std::clamp((g - from) / (to - from), 0.0, 1.0); };
    p.setPen(Qt::NoPen);
    p.setBrush(pal().slip);
    p.drawRoundedRect(bar, 5, 5);
    const bool inside = scale_ && std::abs(*scale_ - *s->target_g) <= band,
               past = scale_ && *scale_ > *s->target_g + band;
    if (scale_) {
      p.setBrush(past ? pal().stop : pal().act);
      p.drawRoundedRect(QRectF(bar.left(), bar.top(), std::max(2.0, x(*scale_) - bar.left()), bar.height()), 5, 5);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(pal().ink, 1.5, Qt::DashLine));
    p.drawRect(QRectF(x(*s->target_g - band), bar.top() - 7,
                      std::max(6.0, x(*s->target_g + band) - x(*s->target_g - band)), bar.height() + 14));
    p.setPen(QPen(pal().ink, 3));
    p.drawLine(QPointF(x(*s->target_g), bar.top() - 10), QPointF(x(*s->target_g), bar.bottom() + 10));
    y += 48;
    p.setFont(type_face(20));
    p.setPen(pal().quiet);
    p.drawText(QRectF(36, y, side - 96, 28), Qt::AlignRight | Qt::AlignVCenter,
               QStringLiteral("±%1 is near enough").arg(u.mass_text(band, 1)));
    y += 34;
    p.setFont(type_face(26));
    p.setPen(pal().ink);
    QString words = why_lost_.isEmpty() ? QStringLiteral("Scale: nothing read yet") : why_lost_;
    if (scale_) {
      words = QStringLiteral("Scale now %1").arg(u.mass_text(*scale_, 1));
      words += inside ? QStringLiteral(" · right")
               : past ? QStringLiteral(" · %1 too much").arg(u.mass_text(*scale_ - *s->target_g, 1)) + mended_by(*run)
                      : QStringLiteral(" · %1 to go").arg(u.mass_text(*s->target_g - *scale_, 1));
      if (!stable_) words += QStringLiteral(" …");
    }
    if (past) p.setPen(pal().stop);
    // The field for a typed reading stands on the same line, left of the words.
    if (typed_->isVisible() && typed_->y() != static_cast<int>(y)) typed_->move(36, static_cast<int>(y));
    p.drawText(QRectF(typed_->isVisible() ? 312 : 36, y, side - 340, 40), Qt::AlignVCenter, words);
    y += 54;
  }
  if (s && !s->caution.empty()) {
    p.setFont(type_face(18));
    const QRectF box(52, std::min<double>(y + 10, height() - 260), side - 110, 90);
    p.fillRect(QRectF(36, box.top(), 5, 62), pal().stop);
    p.setPen(pal().stop.darker(pal().dark ? 80 : 115));
    p.drawText(box, Qt::TextWordWrap, qs(s->caution));
  }
  // Right: pot life, clocks, what comes next.
  double ry = 116;
  const double rx = side + 28, rw = 420 - 56;
  const auto left = pot_life_left_min(*run, now_s());
  if (s && s->pot_life_min > 0) {
    p.setFont(type_face(19));
    p.setPen(pal().quiet);
    p.drawText(QRectF(rx, ry, rw, 28), Qt::AlignVCenter,
               left ? QStringLiteral("Pot life left") : QStringLiteral("Pot life starts when B touches A"));
    ry += 30;
    p.setFont(type_face(84, 700));
    p.setPen(left && *left < 2 ? pal().stop : pal().ink);
    p.drawText(QRectF(rx, ry, rw, 100), Qt::AlignVCenter,
               span(static_cast<WallSecond>((left ? *left : s->pot_life_min) * 60)));
    ry += 108;
    const double whole = s->pot_life_min;
    double x = rx;
    const QColor colours[3] = {pal().note, pal().caution, pal().act};
    const Qt::BrushStyle patterns[3] = {Qt::NoBrush, Qt::Dense6Pattern, Qt::BDiagPattern};
    QString words;
    int k = 0;
    for (const auto& [name, min] : s->pot_life_pieces) {
      if (min > 0 && x < rx + rw) {
        const double w = std::min(rw * min / whole, rx + rw - x);
        fill_pattern(p, QRectF(x, ry, w, 36), colours[k % 3], patterns[k % 3]);
        x += w;
        words += QStringLiteral("%1 %2 · ").arg(qs(name), qs(fixed(min, 0)));
      }
      ++k;
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(pal().quiet, 1.2, Qt::DashLine));
    p.drawRect(QRectF(rx, ry, rw, 36));
    if (left) {
      const double used_x = rx + rw * std::clamp(1 - *left / whole, 0.0, 1.0);
      p.setPen(QPen(pal().ink, 4));
      p.drawLine(QPointF(used_x, ry - 6), QPointF(used_x, ry + 42));
    }
    ry += 42;
    p.setFont(type_face(17));
    p.setPen(pal().ink);
    p.drawText(QRectF(rx, ry, rw, 26), Qt::AlignVCenter, words + QStringLiteral("of %1 min").arg(qs(fixed(whole, 0))));
    ry += 40;
  }
  for (const BenchClock& c : run->clocks) {
    if (c.rung && now_s() - c.ends > 3600) continue;
    const WallSecond to_go = c.ends - now_s();
    p.setFont(type_face(17));
    p.setPen(to_go <= 0 ? pal().stop : pal().quiet);
    p.drawText(QRectF(rx, ry, rw, 24), Qt::AlignVCenter, qs(c.label));
    p.setFont(type_face(38, 700));
    p.setPen(to_go <= 0 ? pal().stop : pal().ink);
    p.drawText(QRectF(rx, ry + 22, rw, 46), Qt::AlignVCenter, to_go <= 0 ? QStringLiteral("time is up") : span(to_go));
    ry += 74;
    if (ry > height() - 330) break;
  }
  p.setFont(type_face(19, 600));
  p.setPen(pal().ink);
  ry = std::max(ry + 6, 330.0);
  p.drawText(QRectF(rx, ry, rw, 28), Qt::AlignVCenter, QStringLiteral("Then"));
  ry += 32;
  p.setFont(type_face(18));
  p.setPen(pal().quiet);
  for (int i = run->at + 1; i < std::min(n, run->at + 5) && ry < height() - 150; ++i) {
    const BenchScreen& next = run->screens[static_cast<size_t>(i)];
    QString words = next.target_g ? QStringLiteral("%1 %2").arg(qs(next.instruction).section(QLatin1Char(' '), 0, 3),
                                                                u.mass_text(*next.target_g, 1))
                                  : qs(next.title);
    const QRectF box(rx, ry, rw, 200);
    const double h = p.boundingRect(box, Qt::TextWordWrap, words).height();
    p.drawText(box, Qt::TextWordWrap, words);
    ry += h + 6;
  }
  if (flash_ > 0) {
    p.setFont(type_face(30, 700));
    p.setPen(pal().stop);
    p.drawText(QRectF(36, height() - 160, side - 60, 40), Qt::AlignVCenter, flash_words_);
  }
}

}  // namespace palinform::app
