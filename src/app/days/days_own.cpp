// Days: the shop's own way with the steps: other words, steps left out with a reason, steps of its own, another order,
// and what of it is the habit.
#include <QDialog>
#include <QDialogButtonBox>
#include <QInputDialog>
#include <QMenu>
#include <QVBoxLayout>

#include "days/days_page.hpp"
#include "procedure/own_ways.hpp"
#include "shell/desk.hpp"
#include "shell/flow_layout.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

namespace {

/// First step of the run that the step belongs to: what must follow at once is moved and left together.
size_t run_head(const Procedure& p, size_t i) {
  while (i > 0 && p.steps[i].at_once) --i;
  return i;
}
size_t run_end(const Procedure& p, size_t i) {
  while (i + 1 < p.steps.size() && p.steps[i + 1].at_once) ++i;
  return i;
}
std::optional<size_t> index_of(const Procedure& p, const std::string& id) {
  for (size_t i = 0; i < p.steps.size(); ++i)
    if (p.steps[i].id == id) return i;
  return std::nullopt;
}

}  // namespace

void DaysPage::make_own_row(QBoxLayout* into) {
  what_ = remark();
  what_->setWordWrap(true);
  into->addWidget(what_);
  auto* row = new QWidget;
  auto* flow = new FlowLayout(row);
  const auto add = [&](const char* words, const char* name, auto slot) {
    auto* b = chip(QString::fromUtf8(words), QString::fromLatin1(name));
    connect(b, &QPushButton::clicked, this, slot);
    flow->addWidget(b);
    return b;
  };
  words_ = add("Other words …", "step-words", &DaysPage::other_words);
  out_ = add("Leave it out …", "step-out", &DaysPage::leave_out);
  add_ = add("A step of ours after it …", "step-add", &DaysPage::add_own);
  earlier_ = add("Earlier", "step-earlier", [this] { shift(false); });
  later_ = add("Later", "step-later", [this] { shift(true); });
  habit_ = add("Keep as the shop's habit", "step-habit", &DaysPage::keep_habit);
  habits_ = add("Habits …", "step-habits", &DaysPage::offer_habits);
  into->addWidget(row);
  left_out_ = new QWidget;
  new FlowLayout(left_out_);
  into->addWidget(left_out_);
}

const ProcedureStep* DaysPage::chosen_step() const {
  const auto work = desk_.plan().newest(results::procedure);
  if (!work) return nullptr;
  const auto i = index_of(work->procedure, ribbon_->selected());
  return i ? &work->procedure.steps[*i] : nullptr;
}

void DaysPage::show_own(const Step* chosen) {
  const ProcedureStep* s = chosen ? chosen_step() : nullptr;
  const bool own = s && s->act == Act::own;
  for (QWidget* w : {static_cast<QWidget*>(words_), static_cast<QWidget*>(out_), static_cast<QWidget*>(add_),
                     static_cast<QWidget*>(earlier_), static_cast<QWidget*>(later_)})
    w->setEnabled(s && !desk_.read_only());
  what_->setText(s ? qs(s->what) + (s->why.empty() ? QString() : QStringLiteral("  ") + qs(s->why)) : QString());
  out_->setText(own ? QStringLiteral("Take it out") : QStringLiteral("Leave it out …"));
  habit_->setVisible(s && s->changed);
  const size_t kept = desk_.habits().changes.size() + desk_.habits().steps.size();
  habits_->setVisible(kept > 0);
  habits_->setText(QStringLiteral("Habits of the shop: %1 …").arg(kept));
  // One of them may be what was just pressed: they go when its signal is over.
  for (QPushButton* b : left_out_->findChildren<QPushButton*>()) {
    left_out_->layout()->removeWidget(b);
    b->hide();
    b->setObjectName({});
    b->deleteLater();
  }
  const auto work = desk_.plan().newest(results::procedure);
  bool any = false;
  if (work)
    for (const ProcedureStep& step : work->procedure.steps) {
      if (step.skipped.empty()) continue;
      any = true;
      auto* b = chip(QStringLiteral("Left out: %1, %2 · do it").arg(qs(step.name), qs(step.skipped)),
                     QStringLiteral("step-again"));
      connect(b, &QPushButton::clicked, this, [this, id = step.id, stem = step.stem] {
        DaysSetup next = desk_.job().days;
        for (const std::string& key : {id, stem})
          if (const auto at = next.changes.find(key); at != next.changes.end()) {
            at->second.skipped.clear();
            if (at->second == StepChange{}) next.changes.erase(at);
          }
        try_days(next, QStringLiteral("step done again"));
      });
      left_out_->layout()->addWidget(b);
    }
  left_out_->setVisible(any);
}

void DaysPage::try_days(const DaysSetup& next, const QString& what) {
  const auto work = desk_.plan().newest(results::procedure);
  if (!work) return;
  const Procedure plain = procedure(work->facts, desk_.shop().rules.days.steps);
  if (const auto ok = with_own_ways(plain, work->facts, desk_.habits(), next.own_ways()); !ok) {
    emit desk_.message(QStringLiteral("That cannot be done: ") + qs(ok.error().text()), true);
    return;
  }
  Job job = desk_.job();
  job.days = next;
  desk_.edit(job, what);
}

void DaysPage::leave_out() {
  const ProcedureStep* s = chosen_step();
  if (!s) return;
  DaysSetup next = desk_.job().days;
  if (s->act == Act::own) {
    const size_t had = next.own_steps.size();
    std::erase_if(next.own_steps, [&](const OwnStep& o) { return o.id == s->stem; });
    if (next.own_steps.size() == had) {
      emit desk_.message(QStringLiteral("This step is the shop's habit: take it out under Habits."), true);
      return;
    }
    return try_days(next, QStringLiteral("own step taken out"));
  }
  bool ok = false;
  const QString why =
      QInputDialog::getText(this, QStringLiteral("Leave it out"),
                            QStringLiteral("%1 is left out because").arg(qs(s->name)), QLineEdit::Normal, {}, &ok);
  if (!ok) return;
  if (why.trimmed().isEmpty()) {
    emit desk_.message(QStringLiteral("A step is left out with a reason: it stands on the sheet and on the tape."),
                       true);
    return;
  }
  next.changes[s->id].skipped = why.trimmed().toStdString();
  try_days(next, QStringLiteral("step left out"));
}

void DaysPage::add_own() {
  const ProcedureStep* s = chosen_step();
  if (!s) return;
  QDialog d(this);
  d.setWindowTitle(QStringLiteral("A step of the shop's own"));
  auto* col = new QVBoxLayout(&d);
  col->addWidget(remark(QStringLiteral("After \"%1\".").arg(qs(s->name))));
  auto* name = new QLineEdit;
  name->setObjectName(QStringLiteral("own-name"));
  name->setPlaceholderText(QStringLiteral("what it is called"));
  auto* what = new QLineEdit;
  what->setObjectName(QStringLiteral("own-what"));
  what->setPlaceholderText(QStringLiteral("what the hands do"));
  auto* hands = new FigureField(QStringLiteral("By hand, min"), QStringLiteral("own-hands"), 120);
  hands->set_range(0, 5000);
  hands->show_value(10, 0, QStringLiteral("min"));
  auto* wait = new FigureField(QStringLiteral("Then leave it, h"), QStringLiteral("own-wait"), 120);
  wait->set_range(0, 3000);
  wait->show_value(0, 1, QStringLiteral("h"));
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  for (QWidget* w : {static_cast<QWidget*>(name), static_cast<QWidget*>(what), static_cast<QWidget*>(hands),
                     static_cast<QWidget*>(wait), static_cast<QWidget*>(buttons)})
    col->addWidget(w);
  OwnStep o;
  connect(hands, &FigureField::entered, &d, [&](double v) { o.hands_min = v; });
  connect(wait, &FigureField::entered, &d, [&](double v) { o.wait_min = 60 * v; });
  connect(buttons, &QDialogButtonBox::accepted, &d, [&] {
    if (name->text().trimmed().isEmpty())
      mark_fault(name, QStringLiteral("A step has a name."));
    else
      d.accept();
  });
  connect(buttons, &QDialogButtonBox::rejected, &d, &QDialog::reject);
  name->setFocus();
  if (d.exec() != QDialog::Accepted) return;
  DaysSetup next = desk_.job().days;
  o.id = new_own_id(next.own_ways());
  o.after = s->id;
  o.name = name->text().trimmed().toStdString();
  o.what = what->text().trimmed().toStdString();
  next.own_steps.push_back(o);
  try_days(next, QStringLiteral("step of our own"));
}

void DaysPage::other_words() {
  const ProcedureStep* s = chosen_step();
  if (!s) return;
  bool ok = false;
  const QString words =
      QInputDialog::getMultiLineText(this, QStringLiteral("Other words"), qs(s->name), qs(s->what), &ok);
  if (!ok || words.trimmed().toStdString() == s->what) return;
  DaysSetup next = desk_.job().days;
  next.changes[s->id].what = words.trimmed().toStdString();
  try_days(next, QStringLiteral("words of a step"));
}

void DaysPage::shift(bool later) {
  const auto work = desk_.plan().newest(results::procedure);
  const auto at = work ? index_of(work->procedure, ribbon_->selected()) : std::nullopt;
  if (!at) return;
  const Procedure& p = work->procedure;
  const size_t head = run_head(p, *at), end = run_end(p, *at);
  std::string behind;
  if (later && end + 1 < p.steps.size()) behind = p.steps[run_end(p, end + 1)].id;
  if (!later && head > 0) {
    const size_t before = run_head(p, head - 1);
    if (before > 0) behind = p.steps[before - 1].id;
  }
  if (behind.empty()) {
    emit desk_.message(
        later ? QStringLiteral("It is the last step already.") : QStringLiteral("It cannot be earlier than the first."),
        true);
    return;
  }
  DaysSetup next = desk_.job().days;
  next.changes[p.steps[head].id].move_after = p.steps[run_head(p, *index_of(p, behind))].id;
  try_days(next, later ? QStringLiteral("step later") : QStringLiteral("step earlier"));
}

void DaysPage::keep_habit() {
  const ProcedureStep* s = chosen_step();
  if (!s) return;
  OwnWays habits = desk_.habits();
  if (s->act == Act::own) {
    for (const OwnStep& o : desk_.job().days.own_steps)
      if (o.id == s->stem) {
        OwnStep kept = o;
        kept.id = "habit-" + std::to_string(habits.steps.size() + 1);
        const auto work = desk_.plan().newest(results::procedure);
        if (const auto i = index_of(work->procedure, o.after)) kept.after = work->procedure.steps[*i].stem;
        habits.steps.push_back(std::move(kept));
      }
  } else if (const auto c = desk_.job().days.changes.find(s->id); c != desk_.job().days.changes.end()) {
    StepChange kept = c->second;
    kept.pinned.reset();  // a day belongs to the job
    habits.changes[s->stem] = kept;
  } else {
    return;
  }
  if (!desk_.keep_habits(habits)) return;
  // The habit does it from now on, in this job as well.
  DaysSetup next = desk_.job().days;
  if (s->act == Act::own)
    std::erase_if(next.own_steps, [&](const OwnStep& o) { return o.id == s->stem; });
  else if (next.changes[s->id].pinned)
    next.changes[s->id] = {std::nullopt, std::nullopt, next.changes[s->id].pinned};
  else
    next.changes.erase(s->id);
  Job job = desk_.job();
  job.days = next;
  desk_.edit(job, QStringLiteral("kept as the shop's habit"));
}

void DaysPage::offer_habits() {
  QMenu menu(this);
  const auto drop = [this](auto change) {
    OwnWays next = desk_.habits();
    change(next);
    desk_.keep_habits(next);
  };
  for (const auto& [stem, c] : desk_.habits().changes) {
    QStringList words;
    if (c.hands_min) words << QStringLiteral("%1 min by hand").arg(*c.hands_min);
    if (c.wait_min) words << QStringLiteral("then %1 h").arg(*c.wait_min / 60);
    if (!c.what.empty()) words << QStringLiteral("other words");
    if (!c.skipped.empty()) words << QStringLiteral("left out, ") + qs(c.skipped);
    if (!c.move_after.empty()) words << QStringLiteral("after ") + qs(c.move_after);
    menu.addAction(QStringLiteral("Forget: %1 (%2)").arg(qs(stem), words.join(QStringLiteral(", "))), this,
                   [drop, stem = stem] { drop([&](OwnWays& w) { w.changes.erase(stem); }); });
  }
  for (const OwnStep& o : desk_.habits().steps)
    menu.addAction(QStringLiteral("Forget: %1, after %2").arg(qs(o.name), qs(o.after)), this, [drop, id = o.id] {
      drop([&](OwnWays& w) { std::erase_if(w.steps, [&](const OwnStep& k) { return k.id == id; }); });
    });
  menu.exec(habits_->mapToGlobal(QPoint(0, habits_->height())));
}

}  // namespace palinform::app
