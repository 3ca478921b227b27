#include "shell/desk.hpp"

#include <atomic>
#include <QDate>
#include <QFile>
#include <QSettings>
#include <QTime>
#include <QTimer>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "ledger/shop_books.hpp"

namespace palinform::app {

std::string Desk::next_morning() {
  QDate d = QDate::currentDate().addDays(1);
  while (d.dayOfWeek() > 5) d = d.addDays(1);
  return d.toString(Qt::ISODate).toStdString() + "T08:00";
}

Desk::Desk(std::unique_ptr<Workshop> workshop, const Shop& shop, std::shared_ptr<ResultStore> store, const Study& study,
           QObject* parent)
    : QObject(parent),
      workshop_(std::move(workshop)),
      shop_(shop),
      study_(study),
      history_(std::make_unique<History>(Job{})) {
  QSettings settings;
  units_ = {settings.value("units/inch").toBool(), settings.value("units/ounce").toBool(),
            settings.value("units/fahrenheit").toBool(), settings.value("units/money").toString()};
  shop_.shown = {units_.inch, units_.ounce, units_.fahrenheit};
  store_ = store ? std::move(store) : std::make_shared<ResultStore>();
  begin_planner();
  settle_ = new QTimer(this);
  settle_->setSingleShot(true);
  settle_->setInterval(250);
  connect(settle_, &QTimer::timeout, this, [this] {
    history_->settle();
    keep(pending_);
    emit changed();
  });
  if (const auto& bad = workshop_->damaged(); !bad.empty()) {
    QStringList names;
    for (size_t i = 0; i < bad.size() && i < 5; ++i) names << qs(bad[i]);
    if (bad.size() > 5) names << qs(counted(static_cast<long long>(bad.size() - 5), "more", "more"));
    // Once somebody listens: the window is made after the desk.
    QMetaObject::invokeMethod(
        this,
        [this, told = names.join(QStringLiteral(", "))] {
          emit message(
              QStringLiteral("Damaged in the workshop's file, left as it is and not shown: %1. The rest goes on; "
                             "a copy of an earlier day lies beside the file.")
                  .arg(told),
              true);
        },
        Qt::QueuedConnection);
  }
  // The day's copy, beside everything else: it holds up nothing.
  if (!workshop_->read_only())
    copy_thread_ = std::thread([this, today = QDate::currentDate().toString(Qt::ISODate).toStdString()] {
      if (const auto kept = workshop_->keep_copy(today); !kept)
        QMetaObject::invokeMethod(
            this, [this, e = kept.error()] { emit message(qs(e.text()), true); }, Qt::QueuedConnection);
    });
  workshop_->set_who(who().toStdString());
  saved_ = workshop_->read_only() ? QStringLiteral("reading only") : QString();
}

void Desk::begin_planner() {
  // What stands on this workshop's shelf; without one that can be read, what every workshop starts with.
  std::vector<Error> faults;
  shop_ = shop_of(*workshop_, std::move(shop_), faults);
  for (const Error& e : faults) emit message(qs(e.text()), true);
  if (auto equipment = workshop_->equipment()) books_.equipment = *std::move(equipment);
  planner_ = std::make_unique<Planner>(
      job_nodes(shop_, [this](const std::string& hash) { return workshop_->mesh(hash); }), 2, store_);
  // However often the workers call while the interface is busy, it looks once: each look fills the whole window anew.
  const auto called = std::make_shared<std::atomic<bool>>(false);
  planner_->on_wake([this, called] {
    if (called->exchange(true)) return;
    QMetaObject::invokeMethod(
        this,
        [this, called] {
          called->store(false);
          planner_->collect();
          if (opening_ && !planner_->busy()) mark_opening({});  // all of it was worked out: no danger
          if (watching_ && has_job_ && !in_hand_ && !planner_->busy() && card_key(job(), shop_) != shop_key_)
            look_at_shop();
          emit changed();
        },
        Qt::QueuedConnection);
  });
}

Desk::~Desk() {
  if (trial_) end_trial(false);
  if (settle_->isActive()) keep(pending_);
  if (opening_) mark_opening({});
  watching_ = false;
  stop_shop_work();
  if (errand_progress_) errand_progress_->cancel();
  if (errand_thread_.joinable()) errand_thread_.join();
  if (copy_thread_.joinable()) copy_thread_.join();
  planner_.reset();  // its workers read the workshop
}

void Desk::set_units(const Units& u) {
  if (u == units_) return;
  units_ = u;
  // Steps are told in the shop's units: they are written anew, nothing else is.
  shop_.shown = {u.inch, u.ounce, u.fahrenheit};
  shelf_changed();
  QSettings settings;
  settings.setValue("units/inch", u.inch);
  settings.setValue("units/ounce", u.ounce);
  settings.setValue("units/fahrenheit", u.fahrenheit);
  settings.setValue("units/money", u.money);
  emit changed();
}

void Desk::keep(const QString& what) {
  settle_->stop();
  if (!has_job_) return;
  if (trial_) {
    saved_ = QStringLiteral("only tried");
    return;
  }
  if (workshop_->read_only()) {
    saved_ = QStringLiteral("reading only");
    return;
  }
  if (!workshop_->in_place()) {
    saved_ = QStringLiteral("not kept");
    emit message(QStringLiteral("The workshop's file was moved or removed while it is open: nothing is kept any more. "
                                "Save it elsewhere, or put the file back."),
                 true);
    return;
  }
  const auto ok = workshop_->save_job(job(), what.toStdString());
  saved_ = ok ? QStringLiteral("kept ") + QTime::currentTime().toString(QStringLiteral("HH:mm"))
              : QStringLiteral("not kept");
  if (!ok) emit message(qs(ok.error().text()), true);
  look_at_shop();
}

void Desk::try_to_keep() {
  if (settle_->isActive() || not_kept()) keep(pending_);
}

bool Desk::edit(const Job& wanted, const QString& what, const QString& merge) {
  Job next = wanted;
  // Whoever chooses one of them has looked at them.
  if (next.mix.guessed && next.id == job().id &&
      (next.mix.silicone_id != job().mix.silicone_id || next.mix.silicone_b_id != job().mix.silicone_b_id ||
       next.mix.resin_id != job().mix.resin_id))
    next.mix.guessed = false;
  next.mix = with_copies(std::move(next.mix), shop_);
  if (read_only()) {
    emit message(
        QStringLiteral(
            "This window is reading only: another one has the workshop. Close that one and open the job again."),
        true);
    emit changed();
    return false;
  }
  if (const auto ok = check_job(next); !ok) {
    emit message(qs(ok.error().text()), true);
    emit changed();
    return false;
  }
  if (!merge.isEmpty() && settle_->isActive() && pending_ != what) keep(pending_);
  if (!history_->edit(next, what.toStdString(), merge.toStdString())) return true;
  replan();
  if (merge.isEmpty()) {
    keep(what);
  } else {
    pending_ = what;
    settle_->start();
  }
  emit changed();
  return true;
}

void Desk::undo() {
  if (settle_->isActive()) keep(pending_);
  const QString what = undo_text();
  if (!history_->undo()) return;
  replan();
  keep(QStringLiteral("undone: ") + what);
  emit changed();
}
void Desk::redo() {
  if (!history_->redo()) return;
  replan();
  keep(QStringLiteral("done again: ") + undo_text());
  emit changed();
}

void Desk::replan() {
  if (!has_job_) return;
  Study study = study_;
  study.in_hand = in_hand_;
  planner_->set(Subject{job(), books_, study});
}

void Desk::take_in_hand(bool on) {
  if (in_hand_ == on) return;
  in_hand_ = on;
  replan();
}

void Desk::read_books() {
  Books fresh = books_of(*workshop_, QDate::currentDate().toString(Qt::ISODate).toStdString());
  fresh.equipment = std::move(books_.equipment);
  fresh.others = std::move(books_.others);
  fresh.begun = std::move(books_.begun);
  books_ = std::move(fresh);
  lay_round_others();
  replan();
}

void Desk::replace_job(Job job) {
  if (trial_) end_trial(false);
  if (settle_->isActive()) keep(pending_);
  job.mix = with_copies(std::move(job.mix), shop_);
  history_ = std::make_unique<History>(std::move(job));
  has_job_ = true;
  run_.reset();
  const auto document = workshop_->run_document(history_->now().id);
  if (!document) emit message(qs(document.error().text()), true);
  if (document && !document->empty()) {
    if (auto run = run_from_json(*document))
      run_ = *std::move(run);
    else
      emit message(qs(run.error().text()), true);
  }
  read_runs();
  read_books();
  emit changed();
}

void Desk::shelf_changed() {
  planner_.reset();  // its workers read the shop
  begin_planner();
  replan();
  emit changed();
}

void Desk::go_on_in(std::unique_ptr<Workshop> workshop) {
  planner_.reset();  // its workers read the workshop
  stop_shop_work();
  if (copy_thread_.joinable()) copy_thread_.join();
  workshop_ = std::move(workshop);
  workshop_->set_who(who().toStdString());
  begin_planner();
  saved_.clear();
}

bool Desk::save_workshop_elsewhere(const QString& path) {
  if (errand_.running) {
    emit message(QStringLiteral("Wait until %1 has ended.").arg(errand_.what), true);
    return false;
  }
  const auto refused = [&](const Error& e) {
    emit message(qs(e.text()), true);
    return false;
  };
  if (const auto ok = workshop_->save_elsewhere(path.toStdString()); !ok) return refused(ok.error());
  auto opened = Workshop::open(path.toStdString());
  if (!opened) return refused(opened.error());
  go_on_in(*std::move(opened));
  replan();
  keep(pending_);
  emit message(QStringLiteral("The workshop goes on in %1.").arg(path), false);
  emit changed();
  return true;
}

void Desk::open_job(const std::string& id) {
  // The other window may be gone by now: opening a job again is when one looks. Not under an errand that reads the
  // file.
  if (read_only() && !errand_.running)
    if (auto again = Workshop::open(workshop_->path()); again && !(*again)->read_only()) go_on_in(*std::move(again));
  auto job = workshop_->load_job(id);
  if (!job) {
    emit message(qs(job.error().text()), true);
    return;
  }
  mark_opening(id);
  replace_job(*std::move(job));
  if (!planner_->busy()) mark_opening({});  // remembered, so nothing is worked out
}

namespace {
QString opening_mark(const Workshop& w) { return qs(w.path()) + QStringLiteral(".opening"); }
}  // namespace

void Desk::mark_opening(const std::string& id) {
  if (read_only()) return;
  QFile mark(opening_mark(*workshop_));
  if (id.empty()) {
    mark.remove();
  } else if (mark.open(QIODevice::WriteOnly)) {
    mark.write(id.c_str());
  }
  opening_ = !id.empty();
}

std::string Desk::interrupted_opening() const {
  QFile mark(opening_mark(*workshop_));
  return mark.open(QIODevice::ReadOnly) ? mark.read(200).trimmed().toStdString() : std::string();
}

void Desk::new_job() {
  Job job;
  job.id = new_id();
  job.days.start = next_morning();
  // What the shop worked with last stands in at once, marked as a guess, so that one opened mesh gives a whole plan.
  const auto rows = workshop_->jobs();
  for (const JobRow& r : rows ? *rows : std::vector<JobRow>{})
    if (const auto last = workshop_->load_job(r.id);
        last && catalogue().silicone(last->mix.silicone_id) && catalogue().resin(last->mix.resin_id)) {
      job.mix = last->mix;
      job.mix.needs = {};
      job.mix.rubber.reset(), job.mix.resin.reset();  // a new job takes the shelf as it is now
      job.mould.build = last->mould.build;
      job.days.bench = last->days.bench;
      break;
    }
  if (job.mix.silicone_id.empty() && !catalogue().silicones.empty())
    job.mix.silicone_id = catalogue().silicones.front().id;
  if (job.mix.resin_id.empty() && !catalogue().resins.empty()) job.mix.resin_id = catalogue().resins.front().id;
  // What the shop says is usual goes before what it happened to do last.
  const Equipment& e = books_.equipment;
  if (shop_.shelf.silicone(e.usual_rubber)) job.mix.silicone_id = e.usual_rubber;
  if (shop_.shelf.resin(e.usual_resin)) job.mix.resin_id = e.usual_resin;
  for (const OwnScale& s : e.scales)
    if (s.name == e.usual_scale) job.mix.scale_division_g = s.division_g;
  for (const OwnCup& c : e.cups)
    if (c.name == e.usual_cup) {
      job.mix.cup_name = c.name, job.mix.cup_ml = c.brim_ml, job.mix.cup_tare_g = c.empty_g;
      job.mix.cup_bottom_mm = c.bottom_mm, job.mix.cup_top_mm = c.top_mm, job.mix.cup_high_mm = c.high_mm;
    }
  job.mix.people = std::min(9, e.people);
  job.mix.guessed = true;
  replace_job(std::move(job));
  keep(QStringLiteral("job begun"));
  emit changed();
}

void Desk::adopt_learned(const QString& reason) {
  const auto r = plan().fresh(results::learn);
  if (!r || read_only()) return;
  LearnedRecord record = r->record;
  record.adopted_at = now_text();
  record.reason = reason.toStdString();
  if (const auto ok = workshop_->adopt(record); !ok) {
    emit message(qs(ok.error().text()), true);
    return;
  }
  Job next = job();
  next.size.learned = learned_for(record.silicone_id, record.resin_id);
  edit(next, QStringLiteral("learnt from castings: ") + reason);
  read_books();
  emit changed();
}

std::optional<LearnedShrink> Desk::learned_for(const std::string& silicone_id, const std::string& resin_id) {
  const auto records = workshop_->learned();
  return records ? workshop_figure(*records, shop_, silicone_id, resin_id) : std::nullopt;
}

void Desk::apply(const Remedy& remedy, const QString& what) {
  if (std::holds_alternative<edits::MendMesh>(remedy.edit)) return repair_mesh();
  const auto next = edited(job(), remedy.edit);
  if (!next)
    emit message(qs(next.error().text()), true);
  else
    edit(*next, what);
}

void Desk::accept(const Finding& finding, const QString& reason) {
  const auto next = accept_finding(job(), finding, reason.toStdString());
  if (!next)
    emit message(qs(next.error().text()), true);
  else
    edit(*next, QStringLiteral("accepted: ") + qs(finding.what));
}

void Desk::books_changed() {
  read_books();
  look_at_shop();
  emit changed();
}

std::array<StageState, stage_count> Desk::stages() const {
  auto s = stage_states(job(), *planner_);
  // Bench and Ledger are told by the workshop, not by an analysis.
  StageState& bench = s[static_cast<size_t>(Stage::bench)];
  if (run_) {
    const int n = static_cast<int>(run_->screens.size());
    bench.knot = finished(*run_) ? Knot::settled : Knot::needs_answer;
    bench.figure = finished(*run_) ? "run done" : "screen " + std::to_string(run_->at + 1) + " of " + std::to_string(n);
  }
  StageState& ledger = s[static_cast<size_t>(Stage::ledger)];
  if (has_job_)
    if (!books_.lots.empty()) {
      ledger.knot = Knot::settled;
      ledger.figure = counted(static_cast<long long>(books_.lots.size()), "lot", "lots");
    }
  if (errand_.running) {
    s[0].knot = Knot::moving;
    s[0].progress = errand_.progress;
    s[0].figure = errand_.what.toStdString() + ", " + fixed(100 * errand_.progress, 0) + " %";
    s[0].node = "errand";
  }
  return s;
}

void Desk::cancel(Stage stage) {
  const StageState s = stages()[static_cast<size_t>(stage)];
  if (s.node == "errand") {
    if (errand_progress_) errand_progress_->cancel();
  } else {
    planner_->cancel(s.node);
  }
}
void Desk::retry(Stage stage) {
  planner_->retry(stages()[static_cast<size_t>(stage)].node);
  emit changed();
}

}  // namespace palinform::app
