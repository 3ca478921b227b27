// Desk: what goes out to files and comes in from them, each an errand in the background.
#include "shell/desk.hpp"

#include <QBuffer>
#include <QDateTime>
#include <QFileInfo>
#include <QImageReader>

#include <future>

#include "base/background.hpp"
#include "base/text.hpp"
#include "bench/tape.hpp"
#include "foreign/apart.hpp"
#include "job/other_mesh.hpp"
#include "job/other_originals.hpp"
#include "job/parts.hpp"
#include "ledger/archive.hpp"
#include "mesh/save.hpp"
#include "original/size_csv.hpp"
#include "overview/sheet.hpp"
#include "sheet_pdf.hpp"
#include "stages/judging.hpp"
#include "stages/preparation.hpp"

namespace palinform::app {

void Desk::import_job(const QString& path) {
  run_errand(QStringLiteral("reading the job"), [this, path](const Progress& progress) -> std::function<void()> {
    const auto bytes = read_file(path.toStdString());
    auto archive = bytes ? read_archive(*bytes, base_name(path.toStdString())) : Result<JobArchive>(bytes.error());
    if (!archive) return [this, e = archive.error()] { emit message(qs(e.text()), true); };
    if (archive->mesh)
      if (auto hash = workshop_->put_mesh(*archive->mesh, archive->job.original.mesh.file); !hash)
        return [this, e = hash.error()] { emit message(qs(e.text()), true); };
    for (const TriMesh& m : archive->joined)
      if (auto hash = workshop_->put_mesh(m, "joined half"); !hash)
        return [this, e = hash.error()] { emit message(qs(e.text()), true); };
    if (progress.cancelled()) return [] {};
    return [this, job = archive->job, picture = archive->picture]() mutable {
      if (const auto rows = workshop_->jobs(); rows)
        for (const JobRow& r : *rows)
          if (r.id == job.id) job.id = new_id();  // a copy comes in beside the job it was made from, never over it
      take_materials(job);
      if (!picture.empty())
        if (const auto kept = workshop_->keep_picture(job.id, job.original.drawn.tracing.file, picture); !kept)
          emit message(qs(kept.error().text()), true);
      replace_job(std::move(job));
      keep(QStringLiteral("job brought in"));
      emit changed();
    };
  });
}

void Desk::export_job(const QString& path) {
  run_errand(QStringLiteral("writing the job"), [this, path, job = job()](const Progress&) -> std::function<void()> {
    std::shared_ptr<const TriMesh> mesh;
    if (!job.original.mesh.hash.empty()) {
      auto got = workshop_->mesh(job.original.mesh.hash);
      if (!got) return [this, e = got.error()] { emit message(qs(e.text()), true); };
      mesh = *got;
    }
    std::vector<std::shared_ptr<const TriMesh>> joined;
    for (const std::string& hash : further_meshes(job)) {
      auto got = workshop_->mesh(hash);
      if (!got) return [this, e = got.error()] { emit message(qs(e.text()), true); };
      joined.push_back(*got);
    }
    std::string picture;
    if (const std::string& hash = job.original.drawn.tracing.picture; !hash.empty())
      if (auto got = workshop_->picture(job.id, hash)) picture = *std::move(got);
    const auto bytes = archive_bytes(job, mesh.get(), joined, picture);
    return say_written(bytes ? write_file(path.toStdString(), *bytes) : Status(bytes.error()), path);
  });
}

void Desk::write_calendar(const QString& path) {
  const auto r = plan().fresh(results::days);
  if (!r) return;
  run_errand(QStringLiteral("writing the calendar"), [this, path, r, title = job().name](const Progress&) {
    return say_written(write_file(path.toStdString(), calendar_text(r->steps, r->schedule, title)), path);
  });
}

void Desk::write_sheet(const QString& path, bool letter) {
  run_errand(QStringLiteral("writing the sheet"),
             [this, path, letter, sheet = make_sheet(job(), plan(), shop_)](const Progress&) {
               const auto ok = write_sheet_pdf(sheet, path.toStdString(), letter ? Paper::letter : Paper::a4);
               return say_written(ok ? Status() : Status(ok.error()), path);
             });
}

namespace {

Sheet tape_sheet(const Job& job, const BenchRun& run, const Units& u) {
  const auto hour = [](WallSecond s) {
    return QDateTime::fromSecsSinceEpoch(s).toString(QStringLiteral("yyyy-MM-dd HH:mm")).toStdString();
  };
  Sheet s;
  s.title = job.name;
  s.subtitle = "Tape of the run begun " + hour(run.begun) + (run.title.empty() ? "" : " · " + run.title);
  SheetTable t{"Plan and done", {"done", "step", "planned", "done", "off", "min", "room", "gauge", "note"}, {}, ""};
  for (const TapeLine& l : tape_of(run)) {
    const auto mass = [&](const std::optional<double>& g) {
      return g ? u.mass_text(*g, 1).toStdString() : std::string();
    };
    t.rows.push_back(
        {l.done ? hour(l.done) : "in hand", l.title + (l.planned_g ? ", " + l.what : ""), mass(l.planned_g),
         mass(l.weighed_g), l.off_pct ? fixed(*l.off_pct, 1) + " %" : "",
         l.took_min ? fixed(*l.took_min, 0) + " of " + fixed(l.planned_min.value_or(0), 0)
         : l.done   ? fixed(static_cast<double>(l.done - l.started) / 60, 0)
                    : "",
         l.room_c ? fixed(u.temperature(*l.room_c), 0) + " " + u.temperature_name().toStdString() : "",
         l.gauge_high_kpa ? fixed(*l.gauge_low_kpa, 0) + "–" + fixed(*l.gauge_high_kpa, 0) + " kPa" : "",
         (l.went_wrong ? "WENT WRONG " : "") + l.note +
             (l.photos ? " (" + counted(static_cast<long long>(l.photos), "photograph", "photographs") + ")" : "")});
  }
  s.tables.push_back(std::move(t));
  return s;
}

}  // namespace

void Desk::write_tape(const BenchRun& run, const QString& path) {
  run_errand(QStringLiteral("writing the tape"), [this, path, sheet = tape_sheet(job(), run, units_)](const Progress&) {
    const auto ok = write_sheet_pdf(sheet, path.toStdString(), Paper::a4);
    return say_written(ok ? Status() : Status(ok.error()), path);
  });
}

std::function<void()> Desk::say_written(const Status& ok, const QString& path) {
  const QString words = ok ? QStringLiteral("Written: ") + path : qs(ok.error().text());
  return [this, words, fault = !ok] { emit message(words, fault); };
}

void Desk::run_errand(const QString& what, std::function<std::function<void()>(const Progress&)> work, bool for_job) {
  if (errand_.running) {
    emit message(QStringLiteral("One thing at a time: ") + errand_.what + QStringLiteral(" is still going on."), true);
    return;
  }
  if (errand_thread_.joinable()) errand_thread_.join();
  errand_ = {true, what, 0};
  errand_progress_ = std::make_shared<Progress>(in_hundredths([this](double f) {
    QMetaObject::invokeMethod(
        this,
        [this, f] {
          errand_.progress = f;
          emit changed();
        },
        Qt::QueuedConnection);
  }));
  // The result belongs to this job and mesh: it goes there or nowhere.
  const std::string id = has_job_ ? job().id : std::string(),
                    mesh = has_job_ ? job().original.mesh.hash : std::string();
  const int part = has_job_ ? job().part_at : 0;  // both hands of a part lie on one mesh
  errand_thread_ = std::thread([this, what, id, mesh, part, for_job, progress = errand_progress_,
                                work = std::move(work)] {
    work_in_background();
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
        [this, what, id, mesh, part, for_job, then = std::move(then)] {
          errand_.running = false;
          const bool here =
              !for_job ||
              (has_job_ ? job().id == id && job().original.mesh.hash == mesh && job().part_at == part : id.empty());
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

void Desk::read_mesh(const QString& path, std::optional<LengthUnit> unit, std::function<void(const MeshRead&)> then,
                     bool outlined) {
  if (read_only()) {
    emit message(QStringLiteral("This window is reading only."), true);
    return;
  }
  const std::string file = path.toStdString();
  run_errand(
      QStringLiteral("reading ") + qs(base_name(file)),
      [this, file, unit, outlined, then = std::move(then)](const Progress& progress) -> std::function<void()> {
        auto loaded = load_mesh_apart(file, unit, progress);
        if (!loaded)
          return [this, e = loaded.error()] {
            if (!e.cancelled) emit message(qs(e.text()), true);
          };
        Box3 box;
        for (const Vec3& p : loaded->mesh.points) box.add(p);
        const Vec3 size = box.size();
        MeshRead read;
        auto outline = std::async(std::launch::async, [&]() -> std::shared_ptr<const Shape> {
          if (!outlined) return nullptr;
          auto shape = scan_outline(loaded->mesh);
          return shape ? *std::move(shape) : nullptr;
        });
        const auto hash = workshop_->put_mesh(loaded->mesh, base_name(file));
        read.outline = outline.get();
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        read.ref = {*hash,         base_name(file),      loaded->unit, loaded->mesh.triangles.size(),
                    loaded->exact, loaded->deflection_mm};
        read.extent = std::max({size.x, size.y, size.z}) / mm_per(loaded->unit);
        read.unit_guess = loaded->unit_guess, read.question = loaded->question;
        return [then, read = std::move(read)] { then(read); };
      },
      true);
}

void Desk::ask_about(const MeshRead& read) {
  if (!read.question.empty()) emit message(qs(read.question), true);
  if (read.unit_guess) emit unit_question(read.extent, read.ref.unit, *read.unit_guess);
}

void Desk::open_mesh(const QString& path, std::optional<LengthUnit> unit) {
  read_mesh(path, unit, [this](const MeshRead& read) {
    if (!has_job_) new_job();
    Job next = job();
    if (next.original.mesh.hash.empty() && next.name == Job{}.name) next.name = read.name();
    const int anchored = anchored_on_mesh(next);
    edit(with_other_mesh(std::move(next), read.ref), QStringLiteral("mesh opened"));
    const int back = anchored_on_mesh(job());
    QStringList words;
    if (anchored > 0)
      words << qs(counted(anchored, "thing", "things")) +
                   QStringLiteral(" marked or answered on the old mesh are set aside: they come back with it.");
    if (back > 0)
      words << qs(counted(back, "thing", "things")) +
                   QStringLiteral(" marked or answered on this mesh before are back.");
    if (!words.isEmpty()) emit message(words.join(QLatin1Char(' ')), false);
    ask_about(read);
  });
}

void Desk::add_part(const QString& path) {
  read_mesh(path, std::nullopt, [this](const MeshRead& read) {
    JobPart part;
    part.original.mesh = read.ref;
    part.name = read.name();
    auto next = with_new_part(job(), std::move(part));
    if (!next) {
      emit message(qs(next.error().text()), true);
      return;
    }
    edit(*next, QStringLiteral("part added"));
    ask_about(read);
  });
}

bool Desk::draw(const Drawn& drawn, const QString& what, const QString& merge) {
  if (!has_job_) new_job();
  return edit(with_drawing(job(), drawn), what, merge);
}

void Desk::trace_picture(const QString& path) {
  if (read_only()) {
    emit message(QStringLiteral("This window is reading only."), true);
    return;
  }
  if (!has_job_) new_job();
  run_errand(
      QStringLiteral("reading the picture"),
      [this, path, id = job().id](const Progress&) -> std::function<void()> {
        const QString name = QFileInfo(path).fileName();
        QImageReader reader(path);
        reader.setAutoTransform(true);
        QImage image = reader.read();
        if (image.isNull())
          return [this, name] {
            emit message(name + QStringLiteral(" is no picture that can be read: take a PNG or JPEG file."), true);
          };
        const double dots = image.dotsPerMeterX() * 0.0254;
        double shrunk = 1;
        constexpr int most_px = 3000;
        if (const int longest = std::max(image.width(), image.height()); longest > most_px) {
          shrunk = static_cast<double>(most_px) / longest;
          image = image.scaled(most_px, most_px, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        }
        QByteArray bytes;
        QBuffer buffer(&bytes);
        buffer.open(QIODevice::WriteOnly);
        image.convertToFormat(QImage::Format_RGB32).save(&buffer, "JPEG", 93);
        const auto hash =
            workshop_->keep_picture(id, name.toStdString(), {bytes.constData(), static_cast<size_t>(bytes.size())});
        if (!hash) return [this, e = hash.error()] { emit message(qs(e.text()), true); };
        Tracing t;
        t.picture = *hash, t.file = name.toStdString(), t.width_px = image.width(), t.height_px = image.height();
        // A scanner writes its dots; cameras write 72 or 96, which says nothing.
        if (dots > 140 && dots < 5000)
          t.scale.way = PhotoScale::Way::dots, t.scale.dpi = std::round(dots * shrunk * 100) / 100;
        return [this, t] {
          Drawn next = job().original.drawn;
          next.tracing = t;
          draw(next, QStringLiteral("picture to trace"));
        };
      },
      true);
}

QImage Desk::traced_picture() {
  const std::string& hash = job().original.drawn.tracing.picture;
  if (hash.empty()) return {};
  const auto bytes = workshop_->picture(job().id, hash);
  if (!bytes) return {};
  return QImage::fromData(reinterpret_cast<const uchar*>(bytes->data()), static_cast<int>(bytes->size()));
}

void Desk::rescale_mesh(LengthUnit unit) {
  const MeshRef old = job().original.mesh;
  run_errand(
      QStringLiteral("changing the unit"),
      [this, old, unit](const Progress&) -> std::function<void()> {
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
  const MeshRef old = job().original.mesh;
  run_errand(
      QStringLiteral("mending the mesh"),
      [this, old](const Progress& progress) -> std::function<void()> {
        auto mesh = workshop_->mesh(old.hash);
        if (!mesh) return [this, e = mesh.error()] { emit message(qs(e.text()), true); };
        auto mended = mend_apart(**mesh, {}, progress);
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
          next.original.mesh = ref;
          edit(next, QStringLiteral("mesh mended"));
          emit message(qs(ref.mended), false);
        };
      },
      true);
}

void Desk::join_mesh(const QString& path) {
  read_mesh(path, std::nullopt, [this](const MeshRead& read) {
    Job next = job();
    next.original.master_steps.push_back({MasterStep::Kind::join, 0, {}, 0, read.ref.hash, read.ref.file});
    edit(next, QStringLiteral("half joined"));
  });
}

void Desk::cast_in_mesh(const QString& path) {
  read_mesh(path, std::nullopt, [this](const MeshRead& read) {
    Job next = job();
    Insert in;
    in.kind = Insert::Kind::mesh;
    in.hold = Insert::Hold::wire;
    in.name = read.name();
    in.mesh_hash = read.ref.hash, in.file = read.ref.file;
    next.split.inserts.push_back(std::move(in));
    edit(next, QStringLiteral("mesh cast in"));
    ask_about(read);
  });
}

void Desk::scan_casting(const QString& path, int number) {
  read_mesh(
      path, std::nullopt,
      [this, number](const MeshRead& read) {
        outlined_ = read.ref.hash, outline_ = read.outline;
        Job next = job();
        for (Casting& c : next.check.castings)
          if (c.number == number) c.scan = read.ref.hash, c.scan_file = read.ref.file;
        edit(next, QStringLiteral("scan of casting %1").arg(number));
      },
      true);
}

void Desk::scan_original(const QString& path) {
  read_mesh(path, std::nullopt, [this](const MeshRead& read) {
    const auto original = plan().fresh(results::original);
    if (!original) {
      emit message(QStringLiteral("There is no mesh of the part to lay the scan on."), true);
      return;
    }
    run_errand(
        QStringLiteral("measuring the other original"),
        [this, original, read, sizes = job().original.sizes](const Progress& progress) -> std::function<void()> {
          const auto refuse = [this](const Error& e) -> std::function<void()> {
            return [this, e] {
              if (!e.cancelled) emit message(qs(e.text()), true);
            };
          };
          const auto scan = workshop_->mesh(read.ref.hash);
          if (!scan) return refuse(scan.error());
          const auto found = sizes_of_other(*original, **scan, sizes, progress);
          if (!found) return refuse(found.error());
          return [this, read, found = *found] {
            edit(with_other_original(job(), {read.name(), "", read.ref.hash, read.ref.file}, found),
                 QStringLiteral("another original from its scan"));
            emit message(qs(counted(static_cast<long long>(found.size()), "size is", "sizes are") + " taken from it."),
                         false);
          };
        },
        true);
  });
}

void Desk::write_master(const QString& path) {
  const auto master = plan().fresh(results::master);
  if (!master) return;
  run_errand(QStringLiteral("writing the master"), [this, path, master, job = job()](const Progress&) {
    return say_written(save_mesh(master_file(*master, job, shop_).mesh, path.toStdString()), path);
  });
}

void Desk::write_in_background(const QString& what, const QString& path, std::function<Status(const Progress&)> write) {
  run_errand(what, [this, path, write = std::move(write)](const Progress& progress) {
    return say_written(write(progress), path);
  });
}

void Desk::build_in_background(const QString& what, const QString& path,
                               std::function<Result<std::vector<Finding>>(const Progress&)> write) {
  run_errand(what, [this, path, write = std::move(write)](const Progress& progress) -> std::function<void()> {
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
    s.id = new_size_id(next);
    next.original.sizes.push_back(std::move(s));
  }
  if (edit(next, QStringLiteral("sizes from a table")))
    emit message(
        qs(counted(static_cast<long long>(sizes->size()), "size", "sizes")) + QStringLiteral(" read from the table."),
        false);
}

void Desk::write_sizes(const QString& path) {
  say_written(write_file(path.toStdString(), sizes_to_csv(job().original.sizes)), path)();
}

}  // namespace palinform::app
