// Desk: the bench run. A press is one transaction, or nothing.
#include <QDate>
#include <QDateTime>

#include "overview/bench_screens.hpp"
#include "shell/desk.hpp"

namespace palinform::app {

namespace {

WallSecond now_s() { return QDateTime::currentSecsSinceEpoch(); }

/// Under this a screen's pour, mould or casting is booked, once.
std::string booking_of(const BenchRun& run, int screen) {
  return run.job_id + "/" + std::to_string(run.begun) + "/" + std::to_string(screen);
}

}  // namespace

void Desk::keep_run() {
  if (!read_only()) {
    if (const auto ok = workshop_->save_run(job().id, run_ ? run_to_json(*run_) : std::string()); !ok)
      emit message(qs(ok.error().text()), true);
  }
  emit changed();
}

bool Desk::begin_bench() {
  const auto days = plan().fresh(results::days);
  const auto mix = plan().fresh(results::mix);
  if (!days || !mix || read_only()) return false;
  run_ = begin_run(job().id, bench_screens(job(), *days, *mix), now_s());
  keep_run();
  return true;
}

void Desk::bench_next(std::optional<double> scale_g) {
  if (!run_ || finished(*run_) || read_only()) return;
  const BenchScreen screen = run_->screens[static_cast<size_t>(run_->at)];
  const int at = run_->at;
  BenchRun next = next_screen(*run_, now_s(), scale_g, job().size.room_c);
  press(std::move(next), [this, screen, at](BenchRun& run) -> Status {
    for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
      if (r->screen == at) {
        const bool booked = std::exchange(r->booked, true);
        return booked ? Status{} : book(screen, *r, booking_of(run, at));
      }
    return {};
  });
}

void Desk::press(BenchRun next, const std::function<Status(BenchRun&)>& book) {
  const Job before = job();
  const auto ok = workshop_->together([&]() -> Status {
    if (auto booked = book(next); !booked) return booked;
    return workshop_->save_run(next.job_id, run_to_json(next));
  });
  if (ok) {
    run_ = std::move(next);
  } else {
    // Nothing of the press stands: neither in the books nor here.
    if (!(job() == before)) history_->undo();
    emit message(qs(ok.error().text()), true);
  }
  read_books();
  emit changed();
}

Status Desk::book(const BenchScreen& s, const ScreenRecord& r, const std::string& booking) {
  const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
  const auto moulds = workshop_->moulds(job().id);
  if (!moulds) return moulds.error();
  if (s.step_id.starts_with("open") && s.last_of_step) {
    const int n = static_cast<int>(moulds->size()) + 1;
    const auto made = workshop_->save_mould(
        {0, job().id, job().name, job().name + ", mould " + std::to_string(n), today, 0, "", ""}, booking);
    if (!made) return made.error();
  }
  if (!s.material_id.empty()) {
    PourRecord p{0, job().id, job().name, now_text(), s.title, s.material_id, s.poured_g, 0, 0, r.went_wrong, r.note};
    if (const Lot* l = lot_to_use(books_.lots, s.material_id, s.poured_g, today)) p.lot_id = l->id;
    if (s.is_casting)
      for (const MouldRecord& m : *moulds)
        if (m.retired_on.empty()) p.mould_id = m.id;
    if (const auto booked = workshop_->book_pour(p, s.is_casting, booking); !booked) return booked.error();
  }
  if (s.demoulds) {
    Job next = job();
    Casting c;
    for (const Casting& k : next.check.castings) {
      c.number = std::max(c.number, k.number + 1);
      if (k.booking == booking) return {};  // it came out at this screen already
    }
    c.made_on = today;
    c.note = r.note;
    c.booking = booking;
    next.check.castings.push_back(std::move(c));
    return keep_in_press(next, QStringLiteral("casting out of the mould"));
  }
  return {};
}

Status Desk::keep_in_press(const Job& next, const QString& what) {
  if (auto ok = check_job(next); !ok) return ok;
  if (auto ok = workshop_->save_job(next, what.toStdString()); !ok) return ok;
  history_->edit(next, what.toStdString());
  return {};
}

void Desk::bench_back() {
  if (!run_ || read_only() || run_->at == 0) return;
  press(previous_screen(*run_, now_s()), [this](BenchRun& run) -> Status {
    for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
      if (r->screen == run.at) return std::exchange(r->booked, false) ? take_back(booking_of(run, run.at)) : Status{};
    return {};
  });
}

Status Desk::take_back(const std::string& booking) {
  if (auto ok = workshop_->take_back(booking, now_text()); !ok) return ok;
  // A casting that was measured is a fact; one that was only booked goes again.
  Job next = job();
  if (!std::erase_if(next.check.castings, [&](const Casting& c) { return c.booking == booking && c.readings.empty(); }))
    return {};
  return keep_in_press(next, QStringLiteral("casting taken back"));
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

}  // namespace palinform::app
