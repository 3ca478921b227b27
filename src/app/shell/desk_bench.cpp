// Desk: the bench run. A press is one transaction, or nothing.
#include <QDate>
#include <QDateTime>

#include "mix/shopping.hpp"
#include "shell/desk.hpp"

namespace palinform::app {

namespace {

WallSecond now_s() { return QDateTime::currentSecsSinceEpoch(); }

/// Under this a screen's pour, mould or casting is booked, once.
std::string booking_of(const BenchRun& run, int screen) {
  return run.job_id + "/" + std::to_string(run.begun) + "/" + std::to_string(screen);
}

/// A pour from several lots is booked once for each.
constexpr size_t most_lots = 8;
std::string further(const std::string& booking, size_t lot) { return booking + "/lot" + std::to_string(lot + 1); }

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
  run_ = *std::move(run);
  keep_run();
  return true;
}

void Desk::bench_next(std::optional<double> scale_g) {
  if (!run_ || finished(*run_) || read_only()) return;
  const int at = run_->at;
  BenchRun next = next_screen(*run_, now_s(), scale_g, job().size.room_c);
  press(std::move(next), [this, at](BenchRun& run) -> Status {
    for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
      if (r->screen == at) {
        const bool booked = std::exchange(r->booked, true);
        return booked ? Status{} : book(run, at, *r, booking_of(run, at));
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

Status Desk::book(const BenchRun& run, int at, const ScreenRecord& r, const std::string& booking) {
  const BenchScreen& s = run.screens[static_cast<size_t>(at)];
  const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
  const auto moulds = workshop_->moulds(job().id);
  if (!moulds) return moulds.error();
  if (s.makes_mould) {
    const int n = static_cast<int>(moulds->size()) + 1;
    const auto made = workshop_->save_mould(
        {0, job().id, job().name, job().name + ", mould " + std::to_string(n), today, 0, "", ""}, booking);
    if (!made) return made.error();
  }
  if (!s.material_id.empty()) {
    // What the scale showed counts for more than what was planned.
    const double poured_g = weighed_g(run, at).value_or(s.poured_g);
    PourRecord p{0, job().id, job().name, now_text(), s.title, s.material_id, poured_g, 0, 0, r.went_wrong, r.note};
    const auto draws = draw_lots(books_.lots, s.material_id, poured_g, today, most_lots);
    if (!draws.empty()) p.lot_id = draws.front().lot_id;
    if (s.is_casting)
      for (const MouldRecord& m : *moulds)
        if (m.retired_on.empty() && (run.mould_id == 0 || m.id == run.mould_id)) p.mould_id = m.id;
    // One lot may not hold all of it: the rest is booked to the next.
    if (draws.size() > 1) p.mass_g = draws.front().g;
    if (const auto booked = workshop_->book_pour(p, s.is_casting, booking); !booked) return booked.error();
    double left_g = poured_g - p.mass_g;
    for (size_t k = 1; k < draws.size(); ++k) {
      PourRecord more = p;
      more.lot_id = draws[k].lot_id;
      // What no lot holds any more stays with the last.
      more.mass_g = k + 1 == draws.size() ? left_g : draws[k].g;
      left_g -= more.mass_g;
      more.what += ", lot " + std::to_string(k + 1);
      if (const auto booked = workshop_->book_pour(more, false, further(booking, k)); !booked) return booked.error();
    }
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
  for (size_t k = 0; k < most_lots; ++k)
    if (auto ok = workshop_->take_back(k ? further(booking, k) : booking, now_text()); !ok) return ok;
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
