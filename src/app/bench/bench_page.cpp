#include "bench/bench_page.hpp"

#include <cmath>
#include <QDateTime>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QStackedWidget>
#include <QTimer>
#include <utility>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "bench/clocks.hpp"
#include "bench/device_hub.hpp"
#include "bench/path_view.hpp"
#include "bench/running_view.hpp"
#include "bench/tape_view.hpp"
#include "bench/tone.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

BenchPage::BenchPage(Desk& desk, DeviceHub& devices, QWidget* parent) : StagePage(desk, parent), devices_(devices) {
  start_ = new QPushButton(this);
  start_->setObjectName(QStringLiteral("bench-start"));
  start_->setProperty("kind", "main");
  start_->setStyleSheet(QStringLiteral(
      "font-size: 18px; min-height: 44px; border-radius: 23px; padding-left: 26px; padding-right: 26px;"));
  elsewhere_ = chip(QStringLiteral("Begin elsewhere …"), QStringLiteral("bench-elsewhere"));
  end_ = chip(QStringLiteral("Put this run away"), QStringLiteral("bench-end"));
  head_ = remark();
  head_->setTextFormat(Qt::RichText);
  head_->setWordWrap(true);
  empty_ = remark();
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  views_ = new Chips;
  views_->add(QStringLiteral("Steps"), QStringLiteral("bench-steps"));
  views_->add(QStringLiteral("Tape"), QStringLiteral("bench-tape"));
  views_->add(QStringLiteral("All runs"), QStringLiteral("bench-running"));
  path_ = new PathView(desk_);
  tape_ = new TapeView(desk_);
  running_ = new RunningView(desk_);
  which_ = new QComboBox;
  which_->setObjectName(QStringLiteral("tape-which"));
  which_->setAccessibleName(QStringLiteral("Which run's tape"));
  failed_ = chip(QStringLiteral("The chosen step went wrong"), QStringLiteral("tape-failed"));
  print_ = chip(QStringLiteral("Tape as PDF …"), QStringLiteral("tape-print"));
  stack_ = new QStackedWidget;
  stack_->addWidget(scrolled(path_));
  auto* taped = new QWidget;
  auto* tc = new QVBoxLayout(taped);
  tc->setContentsMargins(0, 0, 0, 0);
  tape_row_ = new QWidget;
  auto* tr = new QHBoxLayout(tape_row_);
  tr->setContentsMargins(0, 0, 0, 0);
  tr->addWidget(which_);
  tr->addStretch(1);
  tr->addWidget(failed_);
  tr->addWidget(print_);
  tc->addWidget(tape_row_);
  tc->addWidget(scrolled(tape_), 1);
  stack_->addWidget(taped);
  stack_->addWidget(scrolled(running_));
  stack_->addWidget(empty_);
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(16, 14, 16, 12);
  col->setSpacing(8);
  auto* top = new QHBoxLayout;
  top->setSpacing(10);
  top->addWidget(start_);
  top->addWidget(elsewhere_);
  top->addWidget(end_);
  top->addStretch(1);
  top->addWidget(views_);
  col->addLayout(top);
  col->addWidget(head_);
  col->addWidget(stack_, 1);
  connect(start_, &QPushButton::clicked, this, [this] { start(); });
  connect(elsewhere_, &QPushButton::clicked, this, &BenchPage::offer_beginnings);
  connect(end_, &QPushButton::clicked, &desk_, &Desk::end_bench);
  connect(views_, &Chips::chosen, this, &BenchPage::show_view);
  connect(which_, &QComboBox::activated, this, [this] { tape_->show_run(this->taped()); });
  connect(tape_, &TapeView::line_chosen, this, &BenchPage::choose_line);
  connect(failed_, &QPushButton::clicked, this, [this] {
    const int line = tape_->chosen();
    if (line >= 0 && line < static_cast<int>(tape_->lines().size()))
      desk_.bench_failed(tape_->lines()[static_cast<size_t>(line)].screen, QStringLiteral("marked failed on the tape"));
  });
  connect(print_, &QPushButton::clicked, this, &BenchPage::print_tape);
  connect(running_, &RunningView::job_chosen, this, &BenchPage::job_wanted);
  connect(path_, &PathView::step_chosen, this, [this](const QString& id) {
    if (desk_.run()) return;
    QMenu menu(this);
    menu.addAction(QStringLiteral("Begin with this step"), this, [this, id] {
      BenchBeginning b;
      b.at = BeginAt::block;
      b.step = id.toStdString();
      begin(b);
    });
    menu.exec(QCursor::pos());
  });
  timer_ = new QTimer(this);
  timer_->setInterval(1000);
  connect(timer_, &QTimer::timeout, this, [this] {
    // Clocks ring whatever page is open, and whatever job they belong to.
    if (!window_ || !window_->isVisible())
      if (const auto rung = desk_.ring(); !rung.empty()) {
        ring_bell();
        missed_ = qs(rung.front()) + QStringLiteral(": time is up");
        emit desk_.message(qs(rung.front()) + QStringLiteral(": time is up"), false);
      }
    if (isVisible() && views_->current() == 2) running_->lay_out();
  });
  timer_->start();
  views_->set_current(0);
}

void BenchPage::open_window(bool full_screen) {
  if (!window_) window_ = std::make_unique<BenchWindow>(desk_, devices_);
  if (full_screen)
    window_->showFullScreen();
  else
    window_->show();
  window_->activateWindow();
  window_->setFocus();
  // A clock that rang while the bench was shut is shown when it opens.
  if (!missed_.isEmpty()) window_->flash(std::exchange(missed_, {}));
}

void BenchPage::start(bool full_screen) {
  if (!desk_.run() && !desk_.begin_bench()) return;
  open_window(full_screen);
}

void BenchPage::begin(const BenchBeginning& beginning, bool full_screen) {
  if (desk_.begin_bench(beginning)) open_window(full_screen);
}

void BenchPage::offer_beginnings() {
  const auto work = desk_.plan().fresh(results::procedure);
  if (!work) return;
  QMenu menu(this);
  menu.addAction(QStringLiteral("The whole work, from the first step"), this, [this] { begin({}); });
  auto* blocks = menu.addMenu(QStringLiteral("From this block on"));
  std::optional<Block> last;
  int casting = -1;
  for (const ProcedureStep& s : work->procedure.steps) {
    if (!s.skipped.empty() || s.at_once || (last == s.block && s.casting == casting)) continue;
    if (s.casting > 1) break;
    last = s.block, casting = s.casting;
    const std::string id = s.id;
    blocks->addAction(
        QStringLiteral("%1: %2").arg(
            QString::fromUtf8(words_of(s.block).data(), static_cast<int>(words_of(s.block).size())), qs(s.name)),
        this, [this, id] {
          BenchBeginning b;
          b.at = BeginAt::block;
          b.step = id;
          begin(b);
        });
  }
  if (!work->facts.casting.name.empty()) {
    const auto one_more = [this](int64_t mould) {
      BenchBeginning b;
      b.at = BeginAt::one_more;
      b.mould_id = mould;
      begin(b);
    };
    auto* cast = menu.addMenu(QStringLiteral("One more casting, or one for a failed one"));
    bool any = false;
    for (const MouldRecord& m : desk_.moulds()) {
      if (!m.retired_on.empty()) continue;
      any = true;
      cast->addAction(QStringLiteral("In %1 · %2").arg(qs(m.name), qs(counted(m.pulls, "pull", "pulls"))), this,
                      [one_more, id = m.id] { one_more(id); });
    }
    if (!any) cast->addAction(QStringLiteral("In a mould that is not in the books"), this, [one_more] { one_more(0); });
  }
  menu.addAction(QStringLiteral("A top-up, or a pour outside the plan …"), this, &BenchPage::ask_top_up);
  menu.exec(elsewhere_->mapToGlobal(QPoint(0, elsewhere_->height())));
}

void BenchPage::ask_top_up() {
  QDialog d(this);
  d.setWindowTitle(QStringLiteral("A small batch"));
  auto* col = new QVBoxLayout(&d);
  auto* what = new QComboBox;
  what->addItems({QStringLiteral("Casting material"), QStringLiteral("Rubber")});
  auto* grams =
      new FigureField(QStringLiteral("How much, %1").arg(desk_.units().mass_name()), QStringLiteral("top-up-g"), 160);
  grams->set_range(0.1, 20'000);
  grams->show_value(desk_.units().mass(10), 1, desk_.units().mass_name());
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  col->addWidget(what);
  col->addWidget(grams);
  col->addWidget(buttons);
  double g = 10;
  connect(grams, &FigureField::entered, &d, [&](double v) { g = desk_.units().grams(v); });
  connect(buttons, &QDialogButtonBox::accepted, &d, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, &d, &QDialog::reject);
  if (d.exec() != QDialog::Accepted) return;
  BenchBeginning b;
  b.at = BeginAt::top_up;
  b.resin = what->currentIndex() == 0;
  b.g = g;
  begin(b);
}

std::optional<BenchRun> BenchPage::taped() const {
  const int i = which_->currentIndex();
  const int live = desk_.run() ? 1 : 0;
  if (i < live) return desk_.run();
  const size_t k = done_.size() - 1 - static_cast<size_t>(i - live);
  return k < done_.size() ? std::optional(done_[k]) : std::nullopt;
}

void BenchPage::choose_line(int line) {
  const bool mine = desk_.run() && which_->currentIndex() == 0;
  failed_->setEnabled(mine && line >= 0 && !desk_.read_only());
}

void BenchPage::print_tape() {
  const auto run = taped();
  if (!run) return;
  QString path =
      QFileDialog::getSaveFileName(this, QStringLiteral("Tape as PDF"),
                                   qs(desk_.job().name) + QStringLiteral(" tape.pdf"), QStringLiteral("PDF (*.pdf)"));
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".pdf"))) path += QStringLiteral(".pdf");
  desk_.write_tape(*run, path);
}

void BenchPage::show_view(int view) {
  views_->set_current(view);
  refresh();
}

void BenchPage::refresh() {
  const bool ready = desk_.plan().fresh(results::procedure) != nullptr && desk_.plan().fresh(results::mix) != nullptr;
  const auto& run = desk_.run();
  start_->setVisible(run || ready);
  start_->setEnabled(!desk_.read_only());
  start_->setText(!run             ? QStringLiteral("Begin the run")
                  : finished(*run) ? QStringLiteral("Look at the run")
                                   : QStringLiteral("Go on at the bench"));
  elsewhere_->setVisible(ready);
  elsewhere_->setEnabled(!desk_.read_only());
  end_->setVisible(run.has_value());
  if (!run)
    head_->setText(
        QStringLiteral("One step at a time, full screen, space bar or foot switch for next. It can be left and gone on "
                       "with at any time; "
                       "a click on a step begins there."));
  else
    head_->setText(QStringLiteral("<b>Begun %1</b> · screen %2 of %3%4")
                       .arg(QDateTime::fromSecsSinceEpoch(run->begun).toString(QStringLiteral("ddd HH:mm")))
                       .arg(std::min<size_t>(static_cast<size_t>(run->at) + 1, run->screens.size()))
                       .arg(run->screens.size())
                       .arg(run->title.empty() ? QString() : QStringLiteral(" · ") + qs(run->title)));
  const int view = views_->current();
  empty_->setText(QStringLiteral("The run follows from the mould and the mix: see what is missing there."));
  stack_->setCurrentIndex(view == 0 && !run && !ready ? 3 : view);
  head_->setVisible(view != 2 && (run || ready));
  if (view == 0) path_->lay_out();
  if (view == 1) {
    done_ = desk_.done_runs();
    const int was = which_->currentIndex();
    which_->clear();
    if (run) which_->addItem(QStringLiteral("The run in hand"));
    for (auto r = done_.rbegin(); r != done_.rend(); ++r)
      which_->addItem(QDateTime::fromSecsSinceEpoch(r->begun).toString(QStringLiteral("ddd d MMM HH:mm")) +
                      (r->title.empty() ? QString() : QStringLiteral(" · ") + qs(r->title)));
    if (was >= 0 && was < which_->count()) which_->setCurrentIndex(was);
    which_->setVisible(which_->count() > 1);
    const auto shown = taped();
    tape_->show_run(shown);
    print_->setEnabled(shown.has_value());
    choose_line(tape_->chosen());
  }
  if (view == 2) running_->lay_out();
}

}  // namespace palinform::app
