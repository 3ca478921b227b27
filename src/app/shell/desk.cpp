#include "shell/desk.hpp"

#include <QDate>
#include <QDateTime>
#include <QSettings>
#include <QTime>
#include <QTimer>
#include "job/other_mesh.hpp"

#include "base/text.hpp"
#include "job/bench_screens.hpp"
#include "job/preparation.hpp"
#include "job/sheet.hpp"
#include "ledger/archive.hpp"
#include "mesh/save.hpp"
#include "original/size_csv.hpp"
#include "sheet_pdf.hpp"

namespace palinform::app {

namespace {

/// The next working morning at eight.
std::string next_morning() {
  QDate d = QDate::currentDate().addDays(1);
  while (d.dayOfWeek() > 5) d = d.addDays(1);
  return d.toString(Qt::ISODate).toStdString() + "T08:00";
}

}  // namespace

Desk::Desk(std::unique_ptr<Workshop> workshop, const Catalogue& catalogue, QObject* parent)
    : QObject(parent),
      workshop_(std::move(workshop)),
      catalogue_(catalogue),
      history_(std::make_unique<History>(Job{})) {
  QSettings settings;
  units_ = {settings.value("units/inch").toBool(), settings.value("units/ounce").toBool(),
            settings.value("units/fahrenheit").toBool()};
  planner_ = std::make_unique<Planner>(
      slice_nodes(
          catalogue_, [this](const std::string& hash) { return workshop_->mesh(hash); },
          [this] {
            const auto lots = workshop_->lots();
            return Stock{lots ? *lots : std::vector<Lot>{}, QDate::currentDate().toString(Qt::ISODate).toStdString()};
          },
          [this] {
            const auto records = workshop_->learned();
            return records ? *records : std::vector<LearnedRecord>{};
          }),
      2);
  planner_->on_wake([this] {
    QMetaObject::invokeMethod(
        this,
        [this] {
          planner_->collect();
          emit changed();
        },
        Qt::QueuedConnection);
  });
  settle_ = new QTimer(this);
  settle_->setSingleShot(true);
  settle_->setInterval(250);
  connect(settle_, &QTimer::timeout, this, [this] {
    history_->settle();
    keep(pending_);
    emit changed();
  });
  saved_ = workshop_->read_only() ? QStringLiteral("reading only") : QString();
}

Desk::~Desk() {
  if (settle_->isActive()) keep(pending_);
  if (errand_progress_) errand_progress_->cancel();
  if (errand_thread_.joinable()) errand_thread_.join();
  planner_.reset();  // its workers read the workshop
}

void Desk::set_units(const Units& u) {
  if (u == units_) return;
  units_ = u;
  QSettings settings;
  settings.setValue("units/inch", u.inch);
  settings.setValue("units/ounce", u.ounce);
  settings.setValue("units/fahrenheit", u.fahrenheit);
  emit changed();
}

void Desk::keep(const QString& what) {
  settle_->stop();
  if (!has_job_) return;
  if (workshop_->read_only()) {
    saved_ = QStringLiteral("reading only");
    return;
  }
  const auto ok = workshop_->save_job(job(), what.toStdString());
  saved_ = ok ? QStringLiteral("kept ") + QTime::currentTime().toString(QStringLiteral("HH:mm"))
              : QStringLiteral("not kept");
  if (!ok) emit message(qs(ok.error().text()), true);
}

bool Desk::edit(const Job& next, const QString& what, const QString& merge) {
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
  planner_->set_job(job());
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
  planner_->set_job(job());
  keep(QStringLiteral("undone: ") + what);
  emit changed();
}
void Desk::redo() {
  if (!history_->redo()) return;
  planner_->set_job(job());
  keep(QStringLiteral("done again: ") + undo_text());
  emit changed();
}

void Desk::replace_job(Job job) {
  if (settle_->isActive()) keep(pending_);
  history_ = std::make_unique<History>(std::move(job));
  has_job_ = true;
  run_.reset();
  if (const auto document = workshop_->run_document(history_->now().id); document && !document->empty()) {
    if (auto run = run_from_json(*document))
      run_ = *std::move(run);
    else
      emit message(qs(run.error().text()), true);
  }
  planner_->set_job(history_->now());
  emit changed();
}

void Desk::open_job(const std::string& id) {
  auto job = workshop_->load_job(id);
  if (!job) {
    emit message(qs(job.error().text()), true);
    return;
  }
  replace_job(*std::move(job));
}

void Desk::new_job() {
  Job job;
  job.id = new_id();
  job.days.start = next_morning();
  replace_job(std::move(job));
  keep(QStringLiteral("job begun"));
  emit changed();
}

void Desk::import_job(const QString& path) {
  run_errand(QStringLiteral("reading the job"), [this, path](Progress& progress) -> std::function<void()> {
    const auto bytes = read_file(path.toStdString());
    auto archive = bytes ? read_archive(*bytes, base_name(path.toStdString())) : Result<JobArchive>(bytes.error());
    if (!archive) return [this, e = archive.error()] { emit message(qs(e.text()), true); };
    if (archive->mesh)
      if (auto hash = workshop_->put_mesh(*archive->mesh, archive->job.mesh.file); !hash)
        return [this, e = hash.error()] { emit message(qs(e.text()), true); };
    for (const TriMesh& m : archive->joined)
      if (auto hash = workshop_->put_mesh(m, "joined half"); !hash)
        return [this, e = hash.error()] { emit message(qs(e.text()), true); };
    if (progress.cancelled()) return [] {};
    return [this, job = archive->job]() mutable {
      if (const auto rows = workshop_->jobs(); rows)
        for (const JobRow& r : *rows)
          if (r.id == job.id) job.id = new_id();  // a copy comes in beside the job it was made from, never over it
      replace_job(std::move(job));
      keep(QStringLiteral("job brought in"));
      emit changed();
    };
  });
}

void Desk::export_job(const QString& path) {
  run_errand(QStringLiteral("writing the job"), [this, path, job = job()](Progress&) -> std::function<void()> {
    std::shared_ptr<const TriMesh> mesh;
    if (!job.mesh.hash.empty()) {
      auto got = workshop_->mesh(job.mesh.hash);
      if (!got) return [this, e = got.error()] { emit message(qs(e.text()), true); };
      mesh = *got;
    }
    std::vector<std::shared_ptr<const TriMesh>> joined;
    for (const std::string& hash : job.joined_meshes()) {
      auto got = workshop_->mesh(hash);
      if (!got) return [this, e = got.error()] { emit message(qs(e.text()), true); };
      joined.push_back(*got);
    }
    const auto bytes = archive_bytes(job, mesh.get(), joined);
    return say_written(bytes ? write_file(path.toStdString(), *bytes) : Status(bytes.error()), path);
  });
}

void Desk::write_calendar(const QString& path) {
  const auto r = plan().fresh<DaysResult>("days");
  if (!r) return;
  run_errand(QStringLiteral("writing the calendar"), [this, path, r, title = job().name](Progress&) {
    return say_written(write_file(path.toStdString(), calendar_text(r->steps, r->schedule, title)), path);
  });
}

void Desk::write_sheet(const QString& path, bool letter) {
  run_errand(QStringLiteral("writing the sheet"),
             [this, path, letter, sheet = make_sheet(job(), plan(), catalogue_)](Progress&) {
               return say_written(write_sheet_pdf(sheet, path.toStdString(), letter ? Paper::letter : Paper::a4), path);
             });
}

std::function<void()> Desk::say_written(const Status& ok, const QString& path) {
  const QString words = ok ? QStringLiteral("Written: ") + path : qs(ok.error().text());
  return [this, words, fault = !ok] { emit message(words, fault); };
}

void Desk::run_errand(const QString& what, std::function<std::function<void()>(Progress&)> work, bool for_job) {
  if (errand_.running) {
    emit message(QStringLiteral("One thing at a time: ") + errand_.what + QStringLiteral(" is still going on."), true);
    return;
  }
  if (errand_thread_.joinable()) errand_thread_.join();
  errand_ = {true, what, 0};
  errand_progress_ = std::make_shared<Progress>([this, last = 0.0](double f) mutable {
    if (f - last < 0.02 && f < 1) return;
    last = f;
    QMetaObject::invokeMethod(
        this,
        [this, f] {
          errand_.progress = f;
          emit changed();
        },
        Qt::QueuedConnection);
  });
  // The result belongs to this job and mesh: it goes there or nowhere.
  const std::string id = has_job_ ? job().id : std::string(), mesh = has_job_ ? job().mesh.hash : std::string();
  errand_thread_ = std::thread([this, what, id, mesh, for_job, progress = errand_progress_, work = std::move(work)] {
    std::function<void()> then;
    // Whatever a library throws is told, never the end of the program.
    const auto failed = [&](std::string why) {
      then = [this, text = what + QStringLiteral(": ") + qs(why)] { emit message(text, true); };
    };
    try {
      then = work(*progress);
    } catch (const std::bad_alloc&) { failed("there is not enough memory for it"); } catch (const std::exception& e) {
      failed(std::string("it could not be done: ") + e.what());
    }
    QMetaObject::invokeMethod(
        this,
        [this, what, id, mesh, for_job, then = std::move(then)] {
          errand_.running = false;
          const bool here = !for_job || (has_job_ ? job().id == id && job().mesh.hash == mesh : id.empty());
          if (here)
            then();
          else
            emit message(what + QStringLiteral(" came to its end after the job was left: nothing was changed. Do it "
                                               "again in the job it belongs to."),
                         true);
          emit changed();
        },
        Qt::QueuedConnection);
  });
  emit changed();
}

void Desk::open_mesh(const QString& path, std::optional<LengthUnit> unit) {
  if (read_only()) {
    emit message(QStringLiteral("This window is reading only."), true);
    return;
  }
  const std::string file = path.toStdString();
  run_errand(
      QStringLiteral("reading ") + qs(base_name(file)),
      [this, file, unit](Progress& progress) -> std::function<void()> {
        auto loaded = load_mesh(file, unit, progress);
        if (!loaded)
          return [this, e = loaded.error()] {
            if (!e.cancelled) emit message(qs(e.text()), true);
          };
        const Vec3 size = measure(loaded->mesh).box_mm.size();
        auto hash = workshop_->put_mesh(loaded->mesh, base_name(file));
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        MeshRef ref{*hash,         base_name(file),      loaded->unit, loaded->mesh.triangles.size(),
                    loaded->exact, loaded->deflection_mm};
        const double extent = std::max({size.x, size.y, size.z}) / mm_per(loaded->unit);
        return [this, ref, extent, guess = loaded->unit_guess] {
          if (!has_job_) new_job();
          Job next = job();
          if (next.mesh.hash.empty() && next.name == Job{}.name) next.name = ref.file.substr(0, ref.file.rfind('.'));
          const int anchored = anchored_on_mesh(next);
          edit(with_other_mesh(std::move(next), ref), QStringLiteral("mesh opened"));
          if (anchored > 0)
            emit message(qs(counted(anchored, "thing", "things")) +
                             QStringLiteral(" marked or answered on the old mesh went with it; undo brings "
                                            "mesh and marks back."),
                         false);
          if (guess) emit unit_question(extent, ref.unit, *guess);
        };
      },
      true);
}

void Desk::rescale_mesh(LengthUnit unit) {
  const MeshRef old = job().mesh;
  run_errand(
      QStringLiteral("changing the unit"),
      [this, old, unit](Progress&) -> std::function<void()> {
        auto mesh = workshop_->mesh(old.hash);
        if (!mesh) return [this, e = mesh.error()] { emit message(qs(e.text()), true); };
        const TriMesh bigger = scaled(**mesh, mm_per(unit) / mm_per(old.unit));
        auto hash = workshop_->put_mesh(bigger, old.file);
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        const double by = mm_per(unit) / mm_per(old.unit);
        MeshRef ref = old;
        ref.hash = *hash;
        ref.unit = unit;
        for (ExactFace& e : ref.exact) e.point_mm *= by, e.diameter_mm *= by, e.depth_mm *= by;
        if (ref.deflection_mm) *ref.deflection_mm *= by;
        return [this, ref, by] { edit(with_rescaled_mesh(job(), ref, by), QStringLiteral("unit changed")); };
      },
      true);
}

void Desk::repair_mesh() {
  const MeshRef old = job().mesh;
  run_errand(
      QStringLiteral("mending the mesh"),
      [this, old](Progress& progress) -> std::function<void()> {
        auto mesh = workshop_->mesh(old.hash);
        if (!mesh) return [this, e = mesh.error()] { emit message(qs(e.text()), true); };
        auto mended = mend(**mesh, {}, progress);
        if (!mended)
          return [this, e = mended.error()] {
            if (!e.cancelled) emit message(qs(e.text()), true);
          };
        auto hash = workshop_->put_mesh(mended->mesh, old.file);
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        MeshRef ref = old;
        ref.hash = *hash;
        ref.triangles = mended->mesh.triangles.size();
        ref.mended = mended->report.words();
        if (mended->report.method == MendReport::Method::wrapped) ref.exact.clear();
        return [this, ref] {
          Job next = job();
          next.mesh = ref;
          edit(next, QStringLiteral("mesh mended"));
          emit message(qs(ref.mended), false);
        };
      },
      true);
}

void Desk::join_mesh(const QString& path) {
  const std::string file = path.toStdString();
  run_errand(
      QStringLiteral("reading ") + qs(base_name(file)),
      [this, file](Progress& progress) -> std::function<void()> {
        auto loaded = load_mesh(file, std::nullopt, progress);
        if (!loaded)
          return [this, e = loaded.error()] {
            if (!e.cancelled) emit message(qs(e.text()), true);
          };
        auto hash = workshop_->put_mesh(loaded->mesh, base_name(file));
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        return [this, step = MasterStep{MasterStep::Kind::join, 0, {}, 0, *hash, base_name(file)}] {
          Job next = job();
          next.master_steps.push_back(step);
          edit(next, QStringLiteral("half joined"));
        };
      },
      true);
}

void Desk::write_master(const QString& path) {
  const auto master = plan().fresh<OriginalResult>("master");
  if (!master) return;
  run_errand(QStringLiteral("writing the master"), [this, path, master, job = job()](Progress&) {
    return say_written(save_mesh(master_file(*master, job, catalogue_).mesh, path.toStdString()), path);
  });
}

void Desk::write_in_background(const QString& what, const QString& path, std::function<Status(Progress&)> write) {
  run_errand(what,
             [this, path, write = std::move(write)](Progress& progress) { return say_written(write(progress), path); });
}

void Desk::build_in_background(const QString& what, const QString& path,
                               std::function<Result<std::vector<Finding>>(Progress&)> write) {
  run_errand(what, [this, path, write = std::move(write)](Progress& progress) -> std::function<void()> {
    const auto findings = write(progress);
    if (!findings) return say_written(findings.error(), path);
    if (findings->empty()) return say_written({}, path);
    QStringList words;
    for (const Finding& f : *findings) words << qs(f.what + ". " + f.why);
    return [this, path, words] {
      emit message(
          QStringLiteral("Written to %1, but look at this first: %2").arg(path, words.join(QStringLiteral(" "))), true);
    };
  });
}

void Desk::read_sizes(const QString& path) {
  const auto bytes = read_file(path.toStdString());
  auto sizes =
      bytes ? sizes_from_csv(*bytes, base_name(path.toStdString())) : Result<std::vector<MeasuredSize>>(bytes.error());
  if (!sizes) {
    emit message(qs(sizes.error().text()), true);
    return;
  }
  Job next = job();
  for (MeasuredSize& s : *sizes) {
    s.id = next.new_size_id();
    next.sizes.push_back(std::move(s));
  }
  if (edit(next, QStringLiteral("sizes from a table")))
    emit message(
        qs(counted(static_cast<long long>(sizes->size()), "size", "sizes")) + QStringLiteral(" read from the table."),
        false);
}

void Desk::write_sizes(const QString& path) {
  say_written(write_file(path.toStdString(), sizes_to_csv(job().sizes)), path)();
}

void Desk::adopt_learned(const QString& reason) {
  const auto r = plan().fresh<LearnResult>("learn");
  if (!r || read_only()) return;
  LearnedRecord record = r->record;
  record.adopted_at = now_text();
  record.reason = reason.toStdString();
  if (const auto ok = workshop_->adopt(record); !ok) {
    emit message(qs(ok.error().text()), true);
    return;
  }
  Job next = job();
  next.learned = learned_for(record.silicone_id, record.resin_id);
  edit(next, QStringLiteral("learnt from castings: ") + reason);
  planner_->set_job(job());
  emit changed();
}

std::optional<LearnedShrink> Desk::learned_for(const std::string& silicone_id, const std::string& resin_id) {
  const auto records = workshop_->learned();
  return records ? workshop_figure(*records, catalogue_, silicone_id, resin_id) : std::nullopt;
}

void Desk::apply(const Remedy& remedy, const QString& what) {
  if (remedy.code == "repair") return repair_mesh();
  const auto next = apply_remedy(job(), remedy);
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

namespace {
WallSecond now_s() { return QDateTime::currentSecsSinceEpoch(); }
}  // namespace

void Desk::keep_run() {
  if (!read_only()) {
    if (const auto ok = workshop_->save_run(job().id, run_ ? run_to_json(*run_) : std::string()); !ok)
      emit message(qs(ok.error().text()), true);
  }
  emit changed();
}

bool Desk::begin_bench() {
  const auto days = plan().fresh<DaysResult>("days");
  const auto mix = plan().fresh<MixResult>("mix");
  if (!days || !mix || read_only()) return false;
  run_ = begin_run(job().id, bench_screens(job(), *days, *mix), now_s());
  keep_run();
  return true;
}

void Desk::bench_next(std::optional<double> scale_g) {
  if (!run_ || finished(*run_) || read_only()) return;
  const BenchScreen screen = run_->screens[static_cast<size_t>(run_->at)];
  const int at = run_->at;
  run_ = next_screen(*run_, now_s(), scale_g, job().room_c);
  for (auto r = run_->records.rbegin(); r != run_->records.rend(); ++r)
    if (r->screen == at) {
      if (!r->booked) book(screen, *r);
      r->booked = true;
      break;
    }
  keep_run();
}

void Desk::book(const BenchScreen& s, const ScreenRecord& r) {
  const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
  const auto moulds = workshop_->moulds(job().id);
  if (s.step_id.starts_with("open") && s.last_of_step) {
    const int n = moulds ? static_cast<int>(moulds->size()) + 1 : 1;
    workshop_->save_mould({0, job().id, job().name, job().name + ", mould " + std::to_string(n), today, 0, "", ""});
  }
  if (!s.material_id.empty()) {
    PourRecord p{0, job().id, job().name, now_text(), s.title, s.material_id, s.poured_g, 0, 0, r.went_wrong, r.note};
    if (const auto lots = workshop_->lots())
      if (const Lot* l = lot_to_use(*lots, s.material_id, s.poured_g, today)) p.lot_id = l->id;
    if (s.is_casting && moulds)
      for (const MouldRecord& m : *moulds)
        if (m.retired_on.empty()) p.mould_id = m.id;
    if (const auto booked = workshop_->book_pour(p, s.is_casting); !booked)
      emit message(qs(booked.error().text()), true);
  }
  if (s.demoulds) {
    Job next = job();
    Casting c;
    for (const Casting& k : next.castings) c.number = std::max(c.number, k.number + 1);
    c.made_on = today;
    c.note = r.note;
    next.castings.push_back(std::move(c));
    edit(next, QStringLiteral("casting out of the mould"));
  }
  planner_->set_job(job());  // stock may have changed
}

void Desk::bench_back() {
  if (!run_ || read_only()) return;
  run_ = previous_screen(*run_, now_s());
  keep_run();
}
void Desk::bench_note(const QString& note, bool went_wrong) {
  if (!run_ || read_only()) return;
  run_ = note_screen(*run_, note.trimmed().toStdString(), went_wrong, now_s());
  keep_run();
}
void Desk::end_bench() {
  run_.reset();
  keep_run();
}
std::vector<std::string> Desk::ring() {
  if (!run_) return {};
  auto labels = ring_clocks(*run_, now_s());
  if (!labels.empty()) keep_run();
  return labels;
}
void Desk::books_changed() {
  if (has_job_) planner_->set_job(job());
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
    if (const auto lots = workshop_->lots(); lots && !lots->empty()) {
      ledger.knot = Knot::settled;
      ledger.figure = counted(static_cast<long long>(lots->size()), "lot", "lots");
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
