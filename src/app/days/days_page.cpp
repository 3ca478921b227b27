#include "days/days_page.hpp"

#include <QFileDialog>
#include <QFrame>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

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

}  // namespace

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
  ends_ = new ChoiceField(QStringLiteral("Ends with"), QStringLiteral("days-ends"), 196);
  std::vector<std::pair<std::string, QString>> ends;
  for (int i = 0; i < count_of<Ends>(); ++i) {
    const auto words = words_of(static_cast<Ends>(i));
    ends.emplace_back(std::string(name_of(static_cast<Ends>(i))),
                      QString::fromUtf8(words.data(), static_cast<int>(words.size())));
  }
  ends_->set_items(ends);
  connect(ends_, &ChoiceField::chosen, this, [this](const std::string& id) {
    Job next = desk_.job();
    next.days.ends = named<Ends>(id).value_or(Ends::both);
    desk_.edit(next, QStringLiteral("what the job ends with"));
  });
  curve_ = new MouldsCurve(desk_, this);
  auto* choices = new QHBoxLayout;
  choices->setSpacing(10);
  auto* left = new QVBoxLayout;
  left->setSpacing(6);
  auto* ends_row = new QHBoxLayout;
  ends_row->setSpacing(8);
  ends_row->addWidget(ends_, 0, Qt::AlignTop);
  promised_ = add_line(ends_row, QStringLiteral("Promised for"), QStringLiteral("days-promised"), 104);
  promised_->setPlaceholderText(QStringLiteral("no day"));
  ends_row->addStretch(1);
  left->addLayout(ends_row);
  auto* scope_row = new QHBoxLayout;
  scope_row->setSpacing(8);
  scope_ = new Chips;
  scope_->add(QStringLiteral("This job"), QStringLiteral("days-this"));
  scope_->add(QStringLiteral("All jobs"), QStringLiteral("days-all"));
  scope_->set_current(0);
  scope_row->addWidget(scope_);
  try_ = chip(QStringLiteral("Only try"), QStringLiteral("days-try"));
  try_->setToolTip(QStringLiteral("What is changed from now on is not kept until you say so"));
  connect(try_, &QPushButton::clicked, &desk_, &Desk::begin_trial);
  scope_row->addWidget(try_);
  scope_row->addStretch(1);
  left->addLayout(scope_row);
  left->addStretch(1);
  choices->addLayout(left);
  choices->addWidget(curve_, 1);
  col->addLayout(choices);
  among_ = remark();
  among_->setObjectName(QStringLiteral("days-among"));
  among_->setWordWrap(true);
  col->addWidget(among_);
  shop_ = new ShopRibbon(desk_, this);
  shop_->hide();
  col->addWidget(shop_, 1);
  connect(scope_, &Chips::chosen, this, &DaysPage::show_scope);
  connect(shop_, &ShopRibbon::opened, this, [this](const QString& id) {
    if (desk_.job().id != id.toStdString()) desk_.open_job(id.toStdString());
    show_scope(0);
  });
  connect(&desk_, &Desk::shop_changed, this, [this] {
    if (isVisible()) shop_->update();
  });
  ribbon_ = new RibbonView(desk_, this);
  scroll_ = new QScrollArea;
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setWidget(ribbon_);
  col->addWidget(scroll_, 1);
  card_ = new QFrame;
  card_->setObjectName(QStringLiteral("card"));
  auto* cc = new QVBoxLayout(card_);
  cc->setContentsMargins(14, 8, 14, 10);
  cc->setSpacing(6);
  auto* cr = new QHBoxLayout;
  cr->setSpacing(12);
  cc->addLayout(cr);
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
  make_own_row(cc);
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
  const auto set_moulds = [this](int n, bool from_casting) {
    Job next = desk_.job();
    next.days.moulds = n;
    next.days.from_first_casting = from_casting;
    desk_.edit(next, from_casting ? QStringLiteral("further moulds from the first casting")
                                  : QStringLiteral("number of moulds"));
  };
  connect(moulds_, &FigureField::entered, this,
          [this, set_moulds](double v) { set_moulds(static_cast<int>(v), desk_.job().days.from_first_casting); });
  connect(curve_, &MouldsCurve::chosen, this, set_moulds);
  connect(ribbon_, &RibbonView::chosen, this, [this] { refresh(); });
  connect(ribbon_, &RibbonView::dropped, this, &DaysPage::drop_step);
  connect(promised_, &QLineEdit::editingFinished, this, [this] {
    const QString day = promised_->text().trimmed();
    if (!day.isEmpty() && !parse_wall_time((day + QStringLiteral("T00:00")).toStdString()))
      return mark_fault(promised_, QStringLiteral("Write a day like 2026-12-18."));
    clear_fault(promised_);
    Job next = desk_.job();
    if (next.days.promised == day.toStdString()) return;
    next.days.promised = day.toStdString();
    desk_.edit(next, day.isEmpty() ? QStringLiteral("promise taken back") : QStringLiteral("promised for ") + day);
  });
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

void DaysPage::show_scope(int i) {
  scope_->set_current(i);
  if (i == 1) shop_->show_days(Desk::wall_now(), 7);
  refresh();
}

void DaysPage::drop_step(const std::string& step, WallMinute at, const PinTry& tried) {
  if (!tried.holds) {
    emit desk_.message(QStringLiteral("It cannot be done then: %1.").arg(qs(tried.why)), true);
    return;
  }
  ribbon_->select(step);
  change_step([&](StepChange& c) { c.pinned = at; }, QStringLiteral("step moved"));
}

void DaysPage::refresh() {
  const Job& job = desk_.job();
  const auto r = desk_.plan().fresh(results::days);
  const bool all = scope_->current() == 1;
  const bool ok = r != nullptr && !all;
  for (QWidget* w : {static_cast<QWidget*>(curve_), static_cast<QWidget*>(scroll_)}) w->setVisible(ok);
  export_->setVisible(r != nullptr);
  shop_->setVisible(all);
  scope_->setVisible(desk_.watches_shop());
  try_->setVisible(desk_.has_job() && !desk_.trying() && !desk_.read_only());
  if (!promised_->hasFocus()) promised_->setText(qs(job.days.promised));
  QString among;
  if (r && r->among_others && !all) {
    among = QStringLiteral("Laid round what the other open jobs take of hands and machines.");
    if (r->alone_finish && *r->alone_finish < r->schedule.finish)
      among += QStringLiteral(" By itself it would be ready %1.").arg(qs(short_text(*r->alone_finish)));
  } else if (all) {
    const auto shop = desk_.shop_now();
    if (shop && shop->planned)
      among = QStringLiteral("All open jobs, a week from today: hands as blocks, cures hatched. ") +
              (shop->plan.proven ? QStringLiteral("No plan is better.")
                                 : QStringLiteral("At most %1 h could be gained.").arg(qs(fixed(shop->plan.gap_h, 0))));
  }
  among_->setText(among);
  among_->setVisible(!among.isEmpty());
  empty_->setVisible(!ok && !all);
  top_->setVisible(desk_.has_job());
  ends_->setVisible(desk_.has_job());
  empty_->setText(
      job.days.start.empty()
          ? QStringLiteral("Say when the work begins.")
          : QStringLiteral("The days follow from the mould and the mix: choose silicone and resin in Size."));
  if (!start_->hasFocus()) start_->setText(qs(job.days.start).replace(QLatin1Char('T'), QLatin1Char(' ')));
  if (!from_->hasFocus()) from_->setText(clock_words(job.days.bench.from_min));
  if (!to_->hasFocus()) to_->setText(clock_words(job.days.bench.to_min));
  for (size_t i = 0; i < day_.size(); ++i) day_[i]->setChecked(job.days.bench.days[i]);
  moulds_->show_value(job.days.moulds, 0, {});
  ends_->show_current(std::string(name_of(job.days.ends)));
  const Step* chosen = nullptr;
  const Placed* placed = nullptr;
  if (ok)
    for (const Placed& p : r->schedule.placed)
      if (r->steps[p.step].id == ribbon_->selected()) chosen = &r->steps[p.step], placed = &p;
  if (ok && !chosen && !r->steps.empty()) {
    // The first that is still to do.
    const auto next =
        std::find_if(r->schedule.placed.begin(), r->schedule.placed.end(), [](const Placed& p) { return !p.done; });
    placed = next == r->schedule.placed.end() ? &r->schedule.placed.front() : &*next;
    chosen = &r->steps[placed->step];
    ribbon_->select(chosen->id);
  }
  card_->setVisible(chosen != nullptr && !all);
  if (chosen) {
    QString words = QStringLiteral("<b>%1</b><br><font color='%2'>%3 to %4")
                        .arg(qs(chosen->name).toHtmlEscaped(), pal().quiet.name(), qs(short_text(placed->start)),
                             qs(short_text(placed->hands_end)).mid(4));
    if (placed->no_hour())
      words = QStringLiteral("<b>%1</b><br><font color='%2'>done")
                  .arg(qs(chosen->name).toHtmlEscaped(), pal().quiet.name());
    else if (placed->end > placed->hands_end)
      words += QStringLiteral(", then until %1").arg(qs(short_text(placed->end)));
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
    reset_->setVisible(chosen->changed && job.days.changes.contains(chosen->id));
  }
  show_own(chosen);
  ribbon_->setMinimumHeight(ribbon_->wanted_height());
  ribbon_->update();
  curve_->update();
}

void DaysPage::point_at(const Finding& f) {
  ribbon_->select(f.where.step);
  refresh();
}

}  // namespace palinform::app
