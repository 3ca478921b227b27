#include "shell/main_window.hpp"

#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QShortcut>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "bench/bench_page.hpp"
#include "bench/device_hub.hpp"
#include "check/check_page.hpp"
#include "days/days_page.hpp"
#include "flow/flow_page.hpp"
#include "job/parts.hpp"
#include "ledger/ledger_page.hpp"
#include "ledger/shelf_view.hpp"
#include "mix/mix_page.hpp"
#include "mould/mould_page.hpp"
#include "original/original_page.hpp"
#include "shell/desk.hpp"
#include "shell/findings_panel.hpp"
#include "shell/parts_card.hpp"
#include "shell/strand.hpp"
#include "size/size_page.hpp"
#include "split/split_page.hpp"
#include "theme/theme.hpp"
#include "wall/wall_page.hpp"

namespace palinform::app {

namespace {

constexpr size_t part_chips_most = 4;  // in the top line; more of them are on the card

class Mark : public QWidget {
 public:
  Mark() { setFixedSize(30, 30); }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    draw_mark(p, QRectF(2, 2, 26, 26));
  }
};

QPushButton* bare(const QString& words, const QString& name) {
  auto* b = new QPushButton(words);
  b->setProperty("kind", "bare");
  b->setObjectName(name);
  return b;
}

}  // namespace

MainWindow::MainWindow(std::unique_ptr<Desk> desk) : desk_(std::move(desk)) {
  setWindowTitle(QStringLiteral("Palinform"));
  setWindowIcon(program_icon());
  setMinimumSize(1080, 700);
  resize(1280, 800);

  auto* all = new QWidget;
  auto* rows = new QVBoxLayout(all);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(0);

  auto* top = new QWidget;
  top->setFixedHeight(46);
  top->setObjectName(QStringLiteral("topline"));
  auto* tl = new QHBoxLayout(top);
  tl->setContentsMargins(14, 0, 10, 0);
  tl->setSpacing(6);
  name_ = bare({}, QStringLiteral("job-name"));
  name_->setToolTip(QStringLiteral("Other jobs, a new job, rename"));
  name_->setAccessibleName(QStringLiteral("Job"));
  client_ = new QLabel;
  client_->setProperty("role", "quiet");
  units_ = bare({}, QStringLiteral("units"));
  undo_ = bare(QStringLiteral("Undo"), QStringLiteral("undo"));
  redo_ = bare(QStringLiteral("Redo"), QStringLiteral("redo"));
  saved_ = new QLabel;
  saved_->setProperty("role", "quiet");
  saved_->setObjectName(QStringLiteral("saved"));
  fold_ = bare(QStringLiteral("Findings ▸"), QStringLiteral("fold"));
  wall_button_ = bare(QStringLiteral("Wall"), QStringLiteral("wall"));
  wall_button_->setCheckable(true);
  wall_button_->setToolTip(QStringLiteral("All open jobs: what needs hands, cures, is short, is promised · key W"));
  connect(wall_button_, &QPushButton::clicked, this, [this](bool on) { show_wall(on); });
  tl->addWidget(new Mark);
  tl->addWidget(wall_button_);
  tl->addWidget(name_);
  tl->addWidget(client_);
  tl->addSpacing(10);
  part_chips_ = new PartChips(*desk_, QStringLiteral("part"), part_chips_most);
  parts_ = bare({}, QStringLiteral("parts-button"));
  parts_->setToolTip(QStringLiteral("Further parts in the same mould: left and right hand, mates"));
  tl->addWidget(part_chips_);
  tl->addWidget(parts_);
  tl->addStretch(1);
  tl->addWidget(units_);
  tl->addWidget(undo_);
  tl->addWidget(redo_);
  tl->addWidget(saved_);
  keep_tried_ = chip(QStringLiteral("Keep it"), QStringLiteral("keep-tried"));
  drop_tried_ = chip(QStringLiteral("Put it back"), QStringLiteral("drop-tried"));
  connect(keep_tried_, &QPushButton::clicked, this, [this] { desk_->end_trial(true); });
  connect(drop_tried_, &QPushButton::clicked, this, [this] { desk_->end_trial(false); });
  tl->addWidget(keep_tried_);
  tl->addWidget(drop_tried_);
  tl->addSpacing(8);
  tl->addWidget(fold_);
  rows->addWidget(top);
  auto* line = new QFrame;
  line->setObjectName(QStringLiteral("hair"));
  line->setFixedHeight(1);
  rows->addWidget(line);

  message_bar_ = new QWidget;
  message_bar_->setObjectName(QStringLiteral("message-bar"));
  auto* ml = new QHBoxLayout(message_bar_);
  ml->setContentsMargins(16, 6, 10, 6);
  message_ = new QLabel;
  message_->setWordWrap(true);
  message_->setObjectName(QStringLiteral("message"));
  auto* close = bare(QStringLiteral("Close"), QStringLiteral("close-message"));
  connect(close, &QPushButton::clicked, message_bar_, &QWidget::hide);
  elsewhere_ = bare(QStringLiteral("Save elsewhere…"), QStringLiteral("save-elsewhere"));
  connect(elsewhere_, &QPushButton::clicked, this, &MainWindow::ask_elsewhere);
  ml->addWidget(message_, 1);
  ml->addWidget(elsewhere_);
  ml->addWidget(close);
  message_bar_->hide();
  rows->addWidget(message_bar_);

  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  devices_ = new DeviceHub(this);
  strand_ = new Strand(*desk_);
  stack_ = new QStackedWidget;
  findings_ = new FindingsPanel(*desk_);
  pages_ = {original_ = new OriginalPage(*desk_), size_ = new SizePage(*desk_),
            split_ = new SplitPage(*desk_),       mould_ = new MouldPage(*desk_),
            flow_ = new FlowPage(*desk_),         mix_ = new MixPage(*desk_),
            days_ = new DaysPage(*desk_),         bench_ = new BenchPage(*desk_, *devices_),
            check_ = new CheckPage(*desk_),       ledger_ = new LedgerPage(*desk_)};
  for (StagePage* p : pages_) stack_->addWidget(p);
  wall_ = new WallPage(*desk_);
  wall_->hide();
  connect(wall_, &WallPage::opened, this, [this] { show_wall(false); });
  middle->addWidget(strand_);
  middle->addWidget(stack_, 1);
  middle->addWidget(findings_);
  middle->addWidget(wall_, 1);
  rows->addLayout(middle, 1);

  auto* line2 = new QFrame;
  line2->setObjectName(QStringLiteral("hair"));
  line2->setFixedHeight(1);
  rows->addWidget(line2);
  tally_ = new QWidget;
  tally_->setFixedHeight(40);
  tally_->setAccessibleName(QStringLiteral("Tally"));
  auto* bl = new QHBoxLayout(tally_);
  bl->setContentsMargins(18, 0, 18, 0);
  bl->setSpacing(28);
  for (size_t i = 0; i < tally_items_.size(); ++i) {
    tally_items_[i] = new QLabel;
    tally_items_[i]->setTextFormat(Qt::RichText);
    if (i + 1 == tally_items_.size()) bl->addStretch(1);
    bl->addWidget(tally_items_[i]);
  }
  rows->addWidget(tally_);
  setCentralWidget(all);
  parts_card_ = new PartsCard(*desk_, all);
  connect(parts_, &QPushButton::clicked, this, [this, all] {
    const QPoint at = parts_->mapTo(all, QPoint(0, parts_->height() + 4));
    parts_card_->toggle_at(at + QPoint(parts_card_->width(), 0), {});
  });
  build_menus();

  connect(strand_, &Strand::stage_chosen, this, &MainWindow::go);
  connect(findings_, &FindingsPanel::pointed, this, [this](const OpenFinding& f) {
    go(f.stage);
    page(f.stage)->point_at(f.finding);
  });
  connect(desk_.get(), &Desk::changed, this, &MainWindow::refresh);
  connect(desk_.get(), &Desk::message, this, &MainWindow::show_message);
  connect(desk_.get(), &Desk::bottle_wanted, this, [this](const QString& id) {
    go(Stage::ledger);
    ledger_->show_view(1);
    ledger_->shelf()->open(id.toStdString());
  });
  connect(desk_.get(), &Desk::unit_question, this, [this](double extent, LengthUnit used, LengthUnit guess) {
    auto* box = new QMessageBox(this);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setObjectName(QStringLiteral("unit-question"));
    box->setWindowTitle(QStringLiteral("Which unit?"));
    const auto word = [](LengthUnit u) {
      return u == LengthUnit::inch ? QStringLiteral("inches")
             : u == LengthUnit::m  ? QStringLiteral("metres")
                                   : QStringLiteral("millimetres");
    };
    box->setText(QStringLiteral("Read in %1, this is %2 mm long. Is the file in %3?")
                     .arg(word(used), qs(significant(extent * mm_per(used), 3)), word(guess)));
    auto* yes = box->addButton(QStringLiteral("Yes, %1").arg(word(guess)), QMessageBox::AcceptRole);
    box->addButton(QStringLiteral("No, %1").arg(word(used)), QMessageBox::RejectRole);
    connect(box, &QMessageBox::buttonClicked, this, [this, yes, guess](QAbstractButton* b) {
      if (b == yes) desk_->rescale_mesh(guess);
    });
    box->open();
  });
  connect(undo_, &QPushButton::clicked, desk_.get(), &Desk::undo);
  connect(redo_, &QPushButton::clicked, desk_.get(), &Desk::redo);
  connect(fold_, &QPushButton::clicked, this, [this] { fold_findings(findings_->isVisible()); });
  for (int i = 0; i < stage_count; ++i) {
    auto* s = new QShortcut(QKeySequence(QString::number((i + 1) % 10)), this);
    connect(s, &QShortcut::activated, this, [this, i] { go(static_cast<Stage>(i)); });
  }
  auto* wall = new QShortcut(QKeySequence(Qt::Key_W), this);
  connect(wall, &QShortcut::activated, this, [this] { show_wall(wall_->isHidden()); });
  auto* bottle = new QShortcut(QKeySequence(Qt::Key_B), this);
  connect(bottle, &QShortcut::activated, this, [this] {
    if (stage_ == Stage::mix) mix_->show_bottle();
    if (stage_ == Stage::size) desk_->show_bottle(desk_->job().mix.silicone_id);
  });
  auto* escape = new QShortcut(QKeySequence(Qt::Key_Escape), this);
  connect(escape, &QShortcut::activated, this, [this] {
    original_->begin_adding(false);
    message_bar_->hide();
  });
  set_dusk_theme(QSettings().value(QStringLiteral("dusk")).toBool());
  refresh();
}

MainWindow::~MainWindow() {
  // Pages read the desk while they go: it must outlive them.
  delete takeCentralWidget();
}

void MainWindow::closeEvent(QCloseEvent* e) {
  if (auto* w = QApplication::focusWidget()) w->clearFocus();  // what is being typed counts
  desk_->try_to_keep();
  if (desk_->not_kept() && !close_anyway_) {
    e->ignore();
    auto* box = new QMessageBox(this);
    box->setObjectName(QStringLiteral("not-kept"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setText(
        QStringLiteral("The last edits could not be kept in the workshop. Closing now loses them. Export the job "
                       "from the File menu to save it elsewhere."));
    box->addButton(QStringLiteral("Stay"), QMessageBox::RejectRole);
    auto* lose = box->addButton(QStringLiteral("Close and lose them"), QMessageBox::DestructiveRole);
    connect(box, &QMessageBox::buttonClicked, this, [this, lose](QAbstractButton* b) {
      if (b != lose) return;
      close_anyway_ = true;
      close();
    });
    box->open();
    return;
  }
  QMainWindow::closeEvent(e);
}

void MainWindow::show_wall(bool on) {
  if (on == !wall_->isHidden()) return;
  if (on) folded_ = findings_->isHidden();
  for (QWidget* w : {static_cast<QWidget*>(strand_), static_cast<QWidget*>(stack_), tally_}) w->setVisible(!on);
  findings_->setVisible(!on && !folded_);
  wall_->setVisible(on);
  refresh();
  if (!on) page(stage_)->refresh();
}

void MainWindow::go(Stage s) {
  show_wall(false);
  stage_ = s;
  strand_->choose(s);
  findings_->set_stage(s);
  stack_->setCurrentWidget(page(s));
  page(s)->refresh();
}

void MainWindow::fold_findings(bool fold) {
  findings_->setVisible(!fold);
  refresh();
}

void MainWindow::set_dusk_theme(bool on) {
  set_dusk(on);
  dusk_action_->setChecked(on);
  qApp->setStyleSheet(style_sheet());
  const Palette& c = pal();
  setStyleSheet(
      QStringLiteral(
          "QFrame#hair { background: %1; border: 0; } QWidget#topline { background: %2; } QPushButton#job-name { "
          "font-size: 16px; font-weight: 700; color: %3; } QWidget#message-bar { background: %4; }")
          .arg(c.rule.name(), c.ground.name(), c.ink.name(), c.panel.name()));
  for (StagePage* p : pages_)
    if (p->isVisible()) p->refresh();
  strand_->refresh();
  findings_->refresh();
  refresh();
  update();
}

void MainWindow::show_message(const QString& text, bool fault) {
  message_->setText(text);
  message_->setStyleSheet(QStringLiteral("color: %1; font-weight: %2;")
                              .arg(fault ? pal().stop.darker(pal().dark ? 85 : 115).name() : pal().ink.name(),
                                   fault ? QStringLiteral("600") : QStringLiteral("400")));
  elsewhere_->setVisible(fault && desk_->workshop_lost());
  message_bar_->show();
}

void MainWindow::ask_elsewhere() {
  QString path =
      QFileDialog::getSaveFileName(this, QStringLiteral("Save the workshop elsewhere"),
                                   QStringLiteral("workshop.sqlite"), QStringLiteral("Workshops (*.sqlite)"));
  if (path.isEmpty()) return;
  if (!path.endsWith(QStringLiteral(".sqlite"))) path += QStringLiteral(".sqlite");
  desk_->save_workshop_elsewhere(path);
}
QString MainWindow::message_text() const { return message_bar_->isVisible() ? message_->text() : QString(); }

void MainWindow::refresh() {
  const bool has = desk_->has_job();
  const Job& job = desk_->job();
  const bool on_wall = !wall_->isHidden();
  wall_button_->setChecked(on_wall);
  if (on_wall) wall_->refresh();
  for (QWidget* w : {static_cast<QWidget*>(fold_), static_cast<QWidget*>(undo_), static_cast<QWidget*>(redo_),
                     static_cast<QWidget*>(client_), static_cast<QWidget*>(part_chips_), static_cast<QWidget*>(saved_)})
    w->setVisible(!on_wall);
  name_->setText((has ? qs(job.name) : QStringLiteral("Choose a job")) + QStringLiteral(" ▾"));
  client_->setText(has ? (job.client.empty() ? QString() : qs(job.client) + QStringLiteral(" · ")) +
                             qs(counted(job.copies, "copy", "copies")) +
                             (job.parts.empty() ? QString() : QStringLiteral(" of ") + qs(name_in_hand(job)))
                       : QString());
  part_chips_->refresh();
  const std::vector<std::string> parts = part_names(job);
  parts_->setVisible(has && !on_wall);
  parts_->setText(
      parts.size() == 1 ? QStringLiteral("One part ▾")
      : parts.size() > part_chips_most
          ? QStringLiteral("%1, part %2 of %3 ▾").arg(qs(name_in_hand(job))).arg(job.part_at + 1).arg(parts.size())
          : QStringLiteral("Parts ▾"));
  if (!has) parts_card_->hide();
  if (parts_card_->isVisible()) parts_card_->refresh();
  units_->setText(desk_->units().summary());
  undo_->setEnabled(desk_->can_undo() && !desk_->read_only());
  redo_->setEnabled(desk_->can_redo() && !desk_->read_only());
  undo_->setToolTip(desk_->can_undo() ? QStringLiteral("Undo: ") + desk_->undo_text() : QString());
  undo_action_->setEnabled(undo_->isEnabled());
  redo_action_->setEnabled(redo_->isEnabled());
  for (QPushButton* b : {keep_tried_, drop_tried_}) b->setVisible(desk_->trying() && !on_wall);
  saved_->setText(desk_->saved_state());
  const StoreWeight kept = desk_->plan().memory();
  saved_->setToolTip(QStringLiteral("Results kept for undo and quick changes: %1 of %2 MB")
                         .arg(kept.bytes / 1'000'000)
                         .arg(kept.limit_bytes / 1'000'000));
  fold_->setText(findings_->isHidden() ? QStringLiteral("Findings ◂") : QStringLiteral("Findings ▸"));
  const Tally t = tally_of(job, desk_->plan());
  const Units& u = desk_->units();
  const auto item = [&](size_t i, const QString& what, const QString& value) {
    tally_items_[i]->setText(
        QStringLiteral("<font color='%1'>%2</font>&nbsp; <b>%3</b>")
            .arg(pal().quiet.name(), what, value.isEmpty() ? QStringLiteral("–") : value.toHtmlEscaped()));
  };
  item(0, QStringLiteral("Rubber"), t.rubber_g ? u.mass_text(*t.rubber_g, 0) : QString());
  item(1, QStringLiteral("Resin"), t.resin_g ? u.mass_text(*t.resin_g, 0) : QString());
  item(2, t.hands_min ? QStringLiteral("Cost") : QStringLiteral("Materials"),
       t.cost ? u.money_text(*t.cost, 2) : QString());
  item(3, QStringLiteral("Hands on"),
       t.hands_min ? QStringLiteral("%1 h %2")
                         .arg(static_cast<int>(*t.hands_min) / 60)
                         .arg(static_cast<int>(*t.hands_min) % 60, 2, 10, QLatin1Char('0'))
                   : QString());
  item(4, QStringLiteral("Ready"), qs(t.ready));
  item(5, QStringLiteral("Tightest"), qs(t.tightest));
}

QString MainWindow::tally_text() const {
  QStringList out;
  for (const QLabel* l : tally_items_)
    out << l->text().remove(QRegularExpression(QStringLiteral("<[^>]*>"))).replace(QStringLiteral("&nbsp;"), QString());
  return out.join(QStringLiteral(" · "));
}

}  // namespace palinform::app
