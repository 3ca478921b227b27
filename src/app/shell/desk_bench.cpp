// Desk: the bench run. A press is one transaction, or nothing; runs of other jobs go on beside it.
#include <QBuffer>
#include <QDate>
#include <QDateTime>
#include <QFileInfo>
#include <QImage>

#include "base/text.hpp"
#include "ledger/bench_books.hpp"
#include "shell/desk.hpp"
#include "stages/forming.hpp"

namespace palinform::app {

namespace {

WallSecond now_s() { return QDateTime::currentSecsSinceEpoch(); }
std::string today() { return QDate::currentDate().toString(Qt::ISODate).toStdString(); }

}  // namespace

void Desk::keep_run() {
  if (!read_only()) {
    if (const auto ok = workshop_->save_run(job().id, run_ ? run_to_json(*run_) : std::string()); !ok)
      emit message(qs(ok.error().text()), true);
  }
  emit changed();
}

bool Desk::begin_bench(const BenchBeginning& beginning) {
  const auto days = plan().fresh(results::days);
  const auto mix = plan().fresh(results::mix);
  const auto work = plan().fresh(results::procedure);
  if (!work || !mix || read_only()) return false;
  auto run = begin_bench_run(job(), *work, *mix, days.get(), shop_, beginning, now_s());
  if (!run) {
    emit message(qs(run.error().text()), true);
    return false;
  }
  const auto mould = plan().fresh(results::mould);
  const auto master = plan().fresh(results::master);
  if (mould && master) run->block = block_of(job(), shop_, *mould, *master);
  if (run_) put_away();
  run_ = *std::move(run);
  keep_run();
  read_runs();
  return true;
}

void Desk::take_press(const Result<Pressed>& pressed) {
  if (pressed) {
    run_ = pressed->run;
    if (!pressed->what.empty()) history_->edit(pressed->job, pressed->what);
  } else {
    emit message(qs(pressed.error().text()), true);
  }
  read_books();
  look_at_shop();
  emit changed();
}

void Desk::bench_next(std::optional<double> scale_g, std::optional<double> room_c) {
  if (!run_ || finished(*run_) || read_only()) return;
  take_press(press_next(*workshop_, job(), *run_, now_s(), today(), scale_g, room_c ? room_c : job().size.room_c));
}

void Desk::bench_back() {
  if (!run_ || read_only() || run_->at == 0) return;
  take_press(press_back(*workshop_, job(), *run_, now_s()));
}

void Desk::bench_failed(int screen, const QString& why) {
  if (!run_ || read_only()) return;
  take_press(press_failed(*workshop_, job(), *run_, screen, why.trimmed().toStdString()));
}

void Desk::bench_note(const QString& note, bool went_wrong) {
  if (!run_ || read_only()) return;
  run_ = note_screen(*run_, note.trimmed().toStdString(), went_wrong, now_s());
  keep_run();
}

void Desk::bench_scale(double g) {
  if (run_ && !read_only() && note_touch(*run_, g, now_s())) keep_run();
}

void Desk::bench_gauge(double kpa) {
  if (!run_) return;
  note_gauge(*run_, kpa, now_s());
  // A reading a second is no edit: the curve is kept twice a minute, and with the next press.
  if (now_s() - gauge_kept_ < 30) return;
  gauge_kept_ = now_s();
  keep_run();
}

bool Desk::bench_lot(const QString& code) {
  if (!run_ || finished(*run_) || read_only()) return false;
  // Of the material that is poured next.
  for (size_t i = static_cast<size_t>(run_->at); i < run_->screens.size(); ++i) {
    const std::string& id = run_->screens[i].material_id;
    if (id.empty()) continue;
    for (const Lot& l : books_.lots)
      if (l.material_id == id && QString::fromStdString(l.label).compare(code.trimmed(), Qt::CaseInsensitive) == 0) {
        run_->lots[id] = l.id;
        keep_run();
        return true;
      }
    const Material* m = shop_.bottle(id);
    emit message(QStringLiteral("No lot \"%1\" of %2 is in the books.").arg(code.trimmed(), m ? qs(m->name) : qs(id)),
                 true);
    return false;
  }
  return false;
}

std::optional<int64_t> Desk::keep_photo(const QString& path, const std::string& booking) {
  if (read_only()) return std::nullopt;
  QImage image(path);
  if (image.isNull()) {
    emit message(QStringLiteral("%1 is no photograph that can be read: take a PNG or JPEG file.")
                     .arg(QFileInfo(path).fileName()),
                 true);
    return std::nullopt;
  }
  if (std::max(image.width(), image.height()) > 1600)
    image = image.scaled(1600, 1600, Qt::KeepAspectRatio, Qt::SmoothTransformation);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  image.convertToFormat(QImage::Format_RGB32).save(&buffer, "JPEG", 86);
  const auto id = workshop_->keep_photo({0, job().id, booking, now_text(), QFileInfo(path).fileName().toStdString()},
                                        std::string_view(bytes.constData(), static_cast<size_t>(bytes.size())));
  if (!id) {
    emit message(qs(id.error().text()), true);
    return std::nullopt;
  }
  return *id;
}

bool Desk::bench_photo(const QString& path) {
  if (!run_) return false;
  const int at = std::min(run_->at, static_cast<int>(run_->screens.size()) - 1);
  const auto id = keep_photo(path, booking_of(*run_, at));
  if (!id) return false;
  if (!finished(*run_)) run_ = note_screen(*run_, "", false, now_s());
  for (auto r = run_->records.rbegin(); r != run_->records.rend(); ++r)
    if (r->screen == at) {
      r->photos.push_back(*id);
      break;
    }
  keep_run();
  emit message(QStringLiteral("Photograph kept with this step."), false);
  return true;
}

QImage Desk::bench_picture(int64_t photo) {
  const auto bytes = workshop_->photo(photo);
  return bytes ? QImage::fromData(QByteArray::fromStdString(*bytes), "JPEG") : QImage();
}

void Desk::put_away() {
  if (!run_ || read_only()) return;
  if (const auto ok = workshop_->keep_done_run(job().id, run_->begun, run_to_json(*run_)); !ok)
    emit message(qs(ok.error().text()), true);
  run_.reset();
}

void Desk::end_bench() {
  put_away();
  keep_run();
  read_runs();
}

std::vector<BenchRun> Desk::done_runs() {
  std::vector<BenchRun> out;
  if (const auto documents = workshop_->done_runs(job().id))
    for (const std::string& d : *documents)
      if (auto run = run_from_json(d)) out.push_back(*std::move(run));
  return out;
}

void Desk::read_runs() {
  others_.clear();
  const auto rows = workshop_->runs();
  if (!rows) return;
  for (const RunRow& r : *rows)
    if (!has_job_ || r.job_id != job().id)
      if (auto run = run_from_json(r.document)) others_.emplace_back(r.job_name, *std::move(run));
}

std::vector<std::pair<std::string, BenchRun>> Desk::all_runs() const {
  auto out = others_;
  if (run_) out.insert(out.begin(), {job().name, *run_});
  return out;
}

std::vector<std::string> Desk::ring() {
  std::vector<std::string> labels;
  if (run_) {
    labels = ring_clocks(*run_, now_s());
    if (!labels.empty()) keep_run();
  }
  for (auto& [name, run] : others_) {
    const auto rung = ring_clocks(run, now_s());
    for (const std::string& l : rung) labels.push_back(name + ": " + l);
    if (!rung.empty() && !read_only())
      if (const auto ok = workshop_->save_run(run.job_id, run_to_json(run)); !ok)
        emit message(qs(ok.error().text()), true);
  }
  return labels;
}

bool Desk::keep_habits(const OwnWays& habits) {
  if (const auto ok = workshop_->keep_habits(habits); !ok) {
    emit message(qs(ok.error().text()), true);
    return false;
  }
  shelf_changed();
  return true;
}

std::vector<MouldRecord> Desk::moulds() {
  auto m = workshop_->moulds(job().id);
  return m ? *std::move(m) : std::vector<MouldRecord>{};
}

void Desk::remember_cup(double empty_g) {
  for (OwnCup& c : books_.equipment.cups)
    if (c.name == job().mix.cup_name && std::abs(c.empty_g - empty_g) > 0.05) {
      Equipment next = books_.equipment;
      for (OwnCup& k : next.cups)
        if (k.name == c.name) k.empty_g = empty_g;
      keep_equipment(next);
      return;
    }
}

}  // namespace palinform::app
