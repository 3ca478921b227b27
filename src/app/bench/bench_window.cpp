// The bench's full screen: what its keys, buttons and devices do. Painted in bench_paint.cpp.
#include "bench/bench_window.hpp"

#include <cmath>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QKeyEvent>
#include <QMimeData>
#include <QTimer>

#include "base/text.hpp"
#include "bench/clocks.hpp"
#include "bench/device_hub.hpp"
#include "bench/step_picture.hpp"
#include "bench/tape.hpp"
#include "bench/tone.hpp"
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
  setMinimumSize(1000, 640);
  setFocusPolicy(Qt::StrongFocus);
  setAcceptDrops(true);
  view_ = new PartView(this);
  view_->setFocusPolicy(Qt::NoFocus);
  view_->setAccessibleName(QStringLiteral("Picture of this step"));
  back_ = big(QStringLiteral("Back · 2"), QStringLiteral("bench-back"), this, false);
  note_ = big(QStringLiteral("Note · 3"), QStringLiteral("bench-note"), this, false);
  photo_ = big(QStringLiteral("Photo · 4"), QStringLiteral("bench-photo"), this, false);
  done_ = big(QStringLiteral("Done · space bar or pedal"), QStringLiteral("bench-done"), this, true);
  leave_ = new QPushButton(QStringLiteral("Leave the bench · 0"), this);
  leave_->setProperty("kind", "bare");
  leave_->setObjectName(QStringLiteral("bench-leave"));
  typed_ = new QLineEdit(this);
  typed_->setObjectName(QStringLiteral("bench-typed"));
  typed_->setPlaceholderText(QStringLiteral("scale reads, typed"));
  typed_->setAccessibleName(QStringLiteral("Scale reading, typed"));
  lot_ = new QLineEdit(this);
  lot_->setObjectName(QStringLiteral("bench-lot"));
  lot_->setAccessibleName(QStringLiteral("Lot, scanned or typed"));
  note_line_ = new QLineEdit(this);
  note_line_->setObjectName(QStringLiteral("bench-note-line"));
  note_line_->setAccessibleName(QStringLiteral("What happened"));
  note_line_->setPlaceholderText(QStringLiteral("what happened"));
  keep_ = new QPushButton(QStringLiteral("Keep the note"), this);
  keep_->setObjectName(QStringLiteral("bench-keep"));
  wrong_ = new QPushButton(QStringLiteral("This went wrong"), this);
  wrong_->setObjectName(QStringLiteral("bench-wrong"));
  wrong_->setStyleSheet(QStringLiteral("color: %1; border-color: %1;").arg(pal().stop.name()));
  for (QPushButton* b : {back_, note_, photo_, done_, leave_, keep_, wrong_}) b->setFocusPolicy(Qt::TabFocus);
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->hide();
  connect(back_, &QPushButton::clicked, this, &BenchWindow::go_back);
  connect(note_, &QPushButton::clicked, this, &BenchWindow::ask_note);
  connect(photo_, &QPushButton::clicked, this, &BenchWindow::ask_photo);
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
  connect(lot_, &QLineEdit::textEdited, this, [this] { clear_fault(lot_); });
  connect(lot_, &QLineEdit::returnPressed, this, [this] {
    if (desk_.bench_lot(lot_->text()))
      lot_->clear();
    else
      mark_fault(lot_, QStringLiteral("No such lot of this material is in the books."));
    setFocus();
    refresh();
  });
  connect(&devices_, &DeviceHub::scale_read, this, [this](double g, bool stable) {
    if (typed_holds_) return;  // what a person typed stands until it is used
    scale_ = g;
    stable_ = stable;
    from_device_ = true;
    why_lost_.clear();
    desk_.bench_scale(g);
    update();
  });
  connect(&devices_, &DeviceHub::scale_lost, this, [this](const QString& why) {
    if (!from_device_) return;
    scale_.reset();
    from_device_ = false;
    why_lost_ = why;
    update();
  });
  connect(&devices_, &DeviceHub::gauge_read, this, [this](double kpa, bool) {
    const BenchScreen* s = screen();
    if (isVisible() && s && (s->act == Act::into_pot || s->act == Act::into_chamber || s->act == Act::degas))
      desk_.bench_gauge(kpa);
    update();
  });
  connect(&devices_, &DeviceHub::gauge_lost, this, [this] { update(); });
  connect(&devices_, &DeviceHub::room_read, this, [this] { update(); });
  connect(&desk_, &Desk::changed, this, &BenchWindow::refresh);
  view_->set_overlay([this](QPainter& p) {
    if (!show_) return;
    for (const StepShow::Line& l : show_->lines)
      draw_polyline(p, *view_, l.points_mm, QPen(l.colour, l.wide), l.closed);
    draw_tags(p, *view_, show_->tags, QRectF(view_->rect()).adjusted(8, 8, -8, -8));
  });
  timer_ = new QTimer(this);
  timer_->setInterval(250);
  connect(timer_, &QTimer::timeout, this, &BenchWindow::tick);
  timer_->start();
  refresh();
}

const BenchScreen* BenchWindow::screen() const {
  const auto& run = desk_.run();
  return run && !finished(*run) ? &run->screens[static_cast<size_t>(run->at)] : nullptr;
}

bool BenchWindow::settled() const { return !view_->isVisible() || view_->passes() >= PartView::settled_passes; }

void BenchWindow::type_scale(double g) {
  scale_ = g;
  stable_ = true;
  from_device_ = false;
  typed_holds_ = true;
  ask_.clear();
  update();
}

QString BenchWindow::mended_by(const BenchRun& run) const {
  const auto next = scale_ ? next_target_g(run, *scale_) : std::nullopt;
  return next ? QStringLiteral(": leave it, the next goes to %1").arg(desk_.units().mass_text(*next, 1)) : QString();
}

QString BenchWindow::scale_words(const BenchRun& run, const BenchScreen& s) const {
  const Units& u = desk_.units();
  if (!scale_) return why_lost_.isEmpty() ? QStringLiteral("Scale: nothing read yet") : why_lost_;
  const double band = s.band_g.value_or(1);
  QString words = QStringLiteral("Scale now %1").arg(u.mass_text(*scale_, 1));
  if (const auto drops = drops_fallen(s, *scale_))
    words += QStringLiteral(" · %1 of %2 drops").arg(*drops).arg(s.drops);
  words += std::abs(*scale_ - *s.target_g) <= band ? QStringLiteral(" · right")
           : *scale_ > *s.target_g + band
               ? QStringLiteral(" · %1 too much").arg(u.mass_text(*scale_ - *s.target_g, 1)) + mended_by(run)
               : QStringLiteral(" · %1 to go").arg(u.mass_text(*s.target_g - *scale_, 1));
  if (!stable_) words += QStringLiteral(" …");
  return words;
}

QString BenchWindow::headline() const {
  const auto& run = desk_.run();
  if (!run) return {};
  if (finished(*run)) return QStringLiteral("The run is done");
  const BenchScreen& s = run->screens[static_cast<size_t>(run->at)];
  return qs(s.told.empty() ? s.instruction : s.told + " " + s.instruction);
}

QString BenchWindow::read_out() const {
  const auto& run = desk_.run();
  if (!run) return {};
  const BenchScreen* s = screen();
  QString words = headline();
  if (!s) return words;
  words = qs(s->title) + QStringLiteral(". ") + words;
  if (s->target_g)
    words += QStringLiteral(" %1. ").arg(desk_.units().mass_text(*s->target_g, 1)) + scale_words(*run, *s) +
             QStringLiteral(".");
  if (!s->look_for.empty()) words += QStringLiteral(" Look for: ") + qs(s->look_for) + QStringLiteral(".");
  if (!s->caution.empty()) words += QStringLiteral(" Caution: ") + qs(s->caution);
  if (const auto left = pot_life_left_min(*run, now_s()))
    words += QStringLiteral(" Pot life left: %1 minutes.").arg(qs(fixed(*left, 0)));
  return words;
}

void BenchWindow::refresh() {
  const auto& run = desk_.run();
  const BenchScreen* s = screen();
  const bool weighing = s && s->target_g;
  typed_->setVisible(weighing);  // typing is always possible
  lot_->setVisible(weighing && s->part_g > 0);
  if (run && s) {
    QString lot = QStringLiteral("lot, scanned or typed");
    for (size_t i = static_cast<size_t>(run->at); i < run->screens.size(); ++i) {
      if (run->screens[i].material_id.empty()) continue;
      const auto chosen = run->lots.find(run->screens[i].material_id);
      for (const Lot& l : desk_.books().lots)
        if (chosen != run->lots.end() && l.id == chosen->second) lot = QStringLiteral("lot %1").arg(qs(l.label));
      break;
    }
    lot_->setPlaceholderText(lot);
  }
  back_->setEnabled(run && run->at > 0);
  photo_->setEnabled(run.has_value());
  done_->setText(!run || finished(*run) ? QStringLiteral("Leave the bench")
                 : !ask_.isEmpty()      ? QStringLiteral("Leave it so · once more")
                                        : QStringLiteral("Done · space bar or pedal"));
  setAccessibleName(s ? qs(s->title) : QStringLiteral("Bench"));
  setAccessibleDescription(read_out());
  show_picture();
  update();
}

void BenchWindow::show_picture() {
  const BenchScreen* s = screen();
  const std::string key = s ? s->step_id + "/" + std::string(name_of(s->picture)) : std::string();
  if (!s || s->picture == StepPicture::none || s->picture == StepPicture::cup) {
    view_->hide();
    shown_ = key;
    return;
  }
  show_ = std::make_shared<const StepShow>(step_show(*s, desk_));
  const StepShow& show = *show_;
  view_->setVisible(!show.scene.bodies.empty());
  if (show.scene.bodies.empty()) return;
  const bool other = shown_ != key;
  view_->set_scene(show.scene, other);
  if (other) {
    view_->look(show.azimuth_deg, show.elevation_deg);
    fill_view();
  }
  shown_ = key;
}

void BenchWindow::fill_view() {
  view_->fit();
  // As large as its outline lets it be: the fit keeps room for turning, which nobody does with gloves on.
  Camera c = view_->camera();
  const Box3 b = view_->scene().box_mm();
  if (b.max.x < b.min.x || c.width_px < 10) return;
  double x0 = 1e9, x1 = -1e9, y0 = 1e9, y1 = -1e9;
  for (int k = 0; k < 8; ++k) {
    const auto q = c.project({k & 1 ? b.max.x : b.min.x, k & 2 ? b.max.y : b.min.y, k & 4 ? b.max.z : b.min.z});
    x0 = std::min(x0, q.x), x1 = std::max(x1, q.x), y0 = std::min(y0, q.y), y1 = std::max(y1, q.y);
  }
  const double room = std::min(0.86 * c.width_px / std::max(1.0, x1 - x0), 0.86 * c.height_px / std::max(1.0, y1 - y0));
  if (room > 1.02) {
    c.mm_per_px /= room;
    view_->set_camera(c);
  }
}

void BenchWindow::flash(const QString& words) {
  flash_ = 16;
  flash_words_ = words;
  update();
}

void BenchWindow::tick() {
  if (!isVisible()) return;
  if (const auto rung = desk_.ring(); !rung.empty()) {
    ring_bell();
    flash(qs(rung.front()) + QStringLiteral(": time is up"));
  }
  // The minutes of stirring or vacuum are over: rings once.
  if (const auto& run = desk_.run(); run && !finished(*run)) {
    const auto left = act_left_s(*run, now_s());
    if (left && *left <= 0 && act_rung_ != run->at) {
      act_rung_ = run->at;
      if (*left > -5) {  // not when the window is opened long after
        ring_bell();
        flash(qs(run->screens[static_cast<size_t>(run->at)].title) + QStringLiteral(": long enough"));
      }
    }
    if (!left || *left > 0) act_rung_ = -1;
  }
  // What rings next stands in the title, whatever else is in front.
  const auto next = next_rings(desk_.all_runs());
  setWindowTitle(QStringLiteral("Palinform at the bench") +
                 (next.empty()
                      ? QString()
                      : QStringLiteral(" · %1 in %2").arg(qs(next.front().label), span(next.front().at - now_s()))));
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
  const BenchScreen s = run->screens[static_cast<size_t>(run->at)];
  const bool weighing = s.target_g.has_value();
  // From the scale only what stands still and was read twice alike; else the screen is left without a reading.
  const std::optional<double> reading = typed_holds_ || !from_device_ ? scale_ : devices_.settled_g();
  if (weighing && reading && out_of_band(*run, *reading) && ask_.isEmpty() && s.part_g > 0) {
    const double off = *reading - *s.target_g;
    ask_ = QStringLiteral("%1 %2 than the band allows%3. Press again to leave it so.")
               .arg(desk_.units().mass_text(std::abs(off), 1),
                    off > 0 ? QStringLiteral("more") : QStringLiteral("less"), off > 0 ? mended_by(*run) : QString());
    refresh();
    return;
  }
  ask_.clear();
  if (weighing && reading && s.part_g <= 0 && s.part.empty()) desk_.remember_cup(*reading);
  desk_.bench_next(weighing ? reading : std::nullopt, devices_.room_c());
  if (!from_device_) scale_.reset();
  typed_holds_ = false;
  typed_->clear();
  refresh();
}

void BenchWindow::go_back() {
  ask_.clear();
  desk_.bench_back();
}

void BenchWindow::ask_note() {
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->show();
  note_line_->setFocus();
}

void BenchWindow::ask_photo() {
  const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("A photograph of this step"), QString(),
                                                    QStringLiteral("Photographs (*.png *.jpg *.jpeg)"));
  if (!path.isEmpty()) desk_.bench_photo(path);
}

void BenchWindow::dragEnterEvent(QDragEnterEvent* e) {
  if (e->mimeData()->hasUrls()) e->acceptProposedAction();
}

void BenchWindow::dropEvent(QDropEvent* e) {
  for (const QUrl& url : e->mimeData()->urls())
    if (url.isLocalFile()) desk_.bench_photo(url.toLocalFile());
}

void BenchWindow::keep_note(bool wrong) {
  desk_.bench_note(note_line_->text(), wrong);
  note_line_->clear();
  for (QWidget* w : {static_cast<QWidget*>(note_line_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(wrong_)})
    w->hide();
  setFocus();
}

bool BenchWindow::event(QEvent* e) {
  // The digits are the bench's here, not the stages' of the window behind it.
  if (e->type() == QEvent::ShortcutOverride)
    if (const int key = static_cast<QKeyEvent*>(e)->key(); key >= Qt::Key_0 && key <= Qt::Key_4) {
      e->accept();
      return true;
    }
  return QWidget::event(e);
}

void BenchWindow::keyPressEvent(QKeyEvent* e) {
  if (e->isAutoRepeat()) return;  // a foot that stays on the pedal is one press
  switch (e->key()) {
    case Qt::Key_Space:
    case Qt::Key_PageDown:
    case Qt::Key_1:
      return go_on();  // not Return: a line that is typed into lets it through
    case Qt::Key_PageUp:
    case Qt::Key_Backspace:
    case Qt::Key_2:
      return go_back();
    case Qt::Key_N:
    case Qt::Key_3:
      return ask_note();
    case Qt::Key_4:
      return ask_photo();
    case Qt::Key_Escape:
    case Qt::Key_0:
      close();
      return;
    default:
      QWidget::keyPressEvent(e);
  }
}

void BenchWindow::resizeEvent(QResizeEvent*) {
  const int y = height() - 94, w = width() - 72;
  back_->setGeometry(36, y, static_cast<int>(w * 0.15), 70);
  note_->setGeometry(36 + static_cast<int>(w * 0.165), y, static_cast<int>(w * 0.15), 70);
  photo_->setGeometry(36 + static_cast<int>(w * 0.33), y, static_cast<int>(w * 0.15), 70);
  done_->setGeometry(36 + static_cast<int>(w * 0.53), y, w - static_cast<int>(w * 0.53), 70);
  leave_->setGeometry(width() - 210, 52, 190, 32);
  typed_->setGeometry(36, typed_->y(), 220, 40);
  lot_->setGeometry(268, typed_->y(), 210, 40);
  note_line_->setGeometry(36, height() - 168, width() - 420 - 420, 44);
  keep_->setGeometry(width() - 420 - 370, height() - 166, 170, 40);
  wrong_->setGeometry(width() - 420 - 190, height() - 166, 170, 40);
  place_children();
}

}  // namespace palinform::app
