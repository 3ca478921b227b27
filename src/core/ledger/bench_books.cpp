#include "ledger/bench_books.hpp"

#include <algorithm>
#include <cmath>

#include "base/wall_time.hpp"
#include "bench/cast_record.hpp"
#include "mix/shopping.hpp"
#include "shelf/catalogue_view.hpp"

namespace palinform {
namespace {

/// A pour from several lots is booked once for each.
constexpr size_t most_lots = 8;
std::string further(const std::string& booking, size_t lot) { return booking + "/lot" + std::to_string(lot + 1); }
/// … and what is stirred into it, pigment and the like, once for each.
constexpr size_t most_added = 18;
std::string stirred_in(const std::string& booking, size_t k) { return booking + "/with" + std::to_string(k + 1); }

/// Every key that a pour booked so may have used.
std::vector<std::string> keys_of(const std::string& booking) {
  std::vector<std::string> out{booking};
  for (size_t k = 1; k < most_lots; ++k) out.push_back(further(booking, k));
  for (size_t k = 0; k < most_added; ++k) out.push_back(stirred_in(booking, k));
  return out;
}

/// From one ISO date to another; nothing where one of them is none.
std::optional<double> days_between(const std::string& from, const std::string& to) {
  const auto a = parse_wall_time(from + "T00:00"), b = parse_wall_time(to + "T00:00");
  if (!a || !b) return std::nullopt;
  return static_cast<double>(*b - *a) / static_cast<double>(day_min);
}

ScreenRecord* record_of(BenchRun& run, int screen) {
  for (auto r = run.records.rbegin(); r != run.records.rend(); ++r)
    if (r->screen == screen) return &*r;
  return nullptr;
}

Status keep_job(Workshop& w, Pressed& p, Job next, std::string what) {
  if (auto ok = check_job(next); !ok) return ok;
  if (auto ok = w.save_job(next, what); !ok) return ok;
  if (next.id != p.job.id) return {};
  p.job = std::move(next);
  p.what = std::move(what);
  return {};
}

/// Whose casting a screen is: the run's own job as it stands, or another, out of the workshop.
Result<Job> job_of(Workshop& w, const Pressed& p, const BenchScreen& s) {
  return s.for_job.empty() || s.for_job == p.job.id ? Result<Job>(p.job) : w.load_job(s.for_job);
}

Status book_pour_of(Workshop& w, const Pressed& p, const BenchScreen& s, const ScreenRecord& r, int at,
                    const std::string& booking, const std::string& today, const std::vector<MouldRecord>& moulds) {
  // What the scale showed counts for more than what was planned.
  const auto weighed = weighed_g(p.run, at);
  const double poured_g = weighed ? s.share * *weighed : s.poured_g;
  const std::string& whose = s.for_job.empty() ? p.job.id : s.for_job;
  PourRecord pour{0, whose, "", now_text(), s.title, s.material_id, poured_g, 0, 0, r.went_wrong, r.note};
  auto lots = w.lots();
  if (!lots) return lots.error();
  std::vector<Draw> draws = draw_lots(*lots, s.material_id, poured_g, today, most_lots);
  // The lot that was scanned comes before the one that expires first.
  if (const auto chosen = p.run.lots.find(s.material_id); chosen != p.run.lots.end()) {
    const auto lot = std::find_if(lots->begin(), lots->end(), [&](const Lot& l) { return l.id == chosen->second; });
    if (lot != lots->end() && lot->material_id == s.material_id) {
      std::vector<Lot> others;
      for (const Lot& l : *lots)
        if (l.id != lot->id) others.push_back(l);
      const double from_it = std::min(poured_g, lot->left_g);
      draws.clear();
      if (from_it > 0) draws.push_back({lot->id, lot->label, from_it});
      if (poured_g - from_it > 1e-9)
        for (const Draw& d : draw_lots(others, s.material_id, poured_g - from_it, today, most_lots - 1))
          draws.push_back(d);
      if (draws.empty()) draws.push_back({lot->id, lot->label, poured_g});
    }
  }
  if (!draws.empty()) pour.lot_id = draws.front().lot_id;
  if (s.is_casting)
    for (const MouldRecord& m : moulds)
      if (m.retired_on.empty() && (p.run.mould_id == 0 || !s.for_job.empty() || m.id == p.run.mould_id))
        pour.mould_id = m.id;
  // One lot may not hold all of it: the rest is booked to the next.
  if (draws.size() > 1) pour.mass_g = draws.front().g;
  if (const auto booked = w.book_pour(pour, s.is_casting, booking); !booked) return booked.error();
  double left_g = poured_g - pour.mass_g;
  for (size_t k = 1; k < draws.size(); ++k) {
    PourRecord more = pour;
    more.lot_id = draws[k].lot_id;
    // What no lot holds any more stays with the last.
    more.mass_g = k + 1 == draws.size() ? left_g : draws[k].g;
    left_g -= more.mass_g;
    more.what += ", lot " + std::to_string(k + 1);
    if (const auto booked = w.book_pour(more, false, further(booking, k)); !booked) return booked.error();
  }
  const auto added = added_to(p.run, at);
  for (size_t k = 0; k < added.size() && k < most_added; ++k) {
    PourRecord with = pour;
    with.what = added[k].name + ", in: " + s.title;
    with.material_id = added[k].material_id;
    with.mass_g = s.share * added[k].g;
    const auto from = draw_lots(*lots, with.material_id, with.mass_g, today, 1);
    with.lot_id = from.empty() ? 0 : from.front().lot_id;
    if (const auto booked = w.book_pour(with, false, stirred_in(booking, k)); !booked) return booked.error();
  }
  return {};
}

/// What went into the cup of the casting that comes out at screen `at`, as shares of all in it.
std::vector<RecipeTint> colour_of(const BenchRun& run, int at) {
  const int casting = run.screens[static_cast<size_t>(at)].casting;
  for (int i = at - 1; i >= 0; --i) {
    const BenchScreen& s = run.screens[static_cast<size_t>(i)];
    if (!s.is_casting || s.casting != casting) continue;
    const auto added = added_to(run, i);
    double all = weighed_g(run, i).value_or(s.poured_g);
    for (const Added& a : added) all += a.g;
    std::vector<RecipeTint> out;
    for (const Added& a : added)
      if (a.g > 0 && out.size() < 12) out.push_back({a.material_id, a.name, a.g / all});
    return out;
  }
  return {};
}

Status book(Workshop& w, Pressed& p, int at, const ScreenRecord& r, const std::string& today) {
  const BenchScreen& s = p.run.screens[static_cast<size_t>(at)];
  const std::string booking = booking_of(p.run, at);
  const auto moulds = w.moulds(s.for_job.empty() ? p.job.id : s.for_job);
  if (!moulds) return moulds.error();
  if (s.makes_mould) {
    const int n = static_cast<int>(moulds->size()) + 1;
    const auto made =
        w.save_mould({0, p.job.id, p.job.name, p.job.name + ", mould " + std::to_string(n), today, 0, "", ""}, booking);
    if (!made) return made.error();
    const bool copied = p.job.days.copies_its_casting(p.job.mould.planned_form()) && s.mould > 1;
    if (const int generation = p.job.size.generations + copied; generation > 1)
      if (auto ok = w.keep_mould_care({std::to_string(*made), "", generation, copied ? "casting 1" : "a casting", {}});
          !ok)
        return ok;
    if (p.run.block.wall_mm > 0) {
      BlockBuilt block = p.run.block;
      block.id = booking;
      if (auto ok = w.keep_block(block); !ok) return ok;
    }
  }
  if (!s.material_id.empty())
    if (auto ok = book_pour_of(w, p, s, r, at, booking, today, *moulds); !ok) return ok;
  if (const auto left = left_in_cup_g(p.run, at))
    if (auto ok = w.keep_emptied({booking, s.material_id, today, *left, s.wets_mm2, s.density_g_cm3}); !ok) return ok;
  if (s.test && s.test->lot_id > 0)
    if (auto ok = w.keep_trial({booking, s.test->lot_id, s.test->kind, s.test->surface, !r.went_wrong, today, r.note});
        !ok)
      return ok;
  if (!s.demoulds) return {};
  auto target = job_of(w, p, s);
  if (!target) return target.error();
  Job next = *std::move(target);
  Casting c;
  for (const Casting& k : next.check.castings) {
    c.number = std::max(c.number, k.number + 1);
    if (k.booking == booking) return {};  // it came out at this screen already
  }
  c.made_on = today;
  c.note = r.note;
  c.booking = booking;
  c.colour = colour_of(p.run, at);
  c.record = cast_record(p.run, at, r.done);
  // The tape has the pot life of the room that was planned; causes are read at the sheet's own temperature.
  if (next.mix.resin)
    if (const auto resin = resin_of(*next.mix.resin)) {
      c.record.reference_c = resin->reference_c;
      if (c.record.pot_life_min)
        c.record.pot_life_min = *c.record.pot_life_min * std::pow(2.0, (next.size.room_c - resin->reference_c) / 10);
    }
  c.record.tilt_planned_deg = next.flow.tilt_deg;
  for (const MouldRecord& m : *moulds)
    if (m.retired_on.empty() && (p.run.mould_id == 0 || m.id == p.run.mould_id)) c.record.pull = m.pulls;
  if (auto lots = w.lots()) {
    const auto chosen = p.run.lots.find(next.mix.resin_id);
    for (const Lot& l : *lots) {
      if (l.material_id != next.mix.resin_id || (chosen != p.run.lots.end() && l.id != chosen->second)) continue;
      if (chosen == p.run.lots.end() && l.left_g <= 0) continue;
      if (const auto days = days_between(l.expires_on, today)) c.record.lot_days_past = *days;
      if (const auto days = days_between(l.opened_on, today)) c.record.opened_days = std::max(0.0, *days);
      break;
    }
  }
  next.check.castings.push_back(std::move(c));
  return keep_job(w, p, std::move(next), "casting out of the mould");
}

Status take_back(Workshop& w, Pressed& p, int at, const std::string& booking) {
  const BenchScreen& s = p.run.screens[static_cast<size_t>(at)];
  if (s.wets_mm2 > 0)
    if (auto ok = w.drop_emptied(booking); !ok) return ok;
  if (s.test)
    if (auto ok = w.drop_trial(booking); !ok) return ok;
  for (const std::string& key : keys_of(booking))
    if (auto ok = w.take_back(key, now_text()); !ok) return ok;
  // A casting that was measured is a fact; one that was only booked goes again.
  if (!s.demoulds) return {};
  auto target = job_of(w, p, s);
  if (!target) return target.error();
  Job next = *std::move(target);
  if (!std::erase_if(next.check.castings, [&](const Casting& c) { return c.booking == booking && c.readings.empty(); }))
    return {};
  return keep_job(w, p, std::move(next), "casting taken back");
}

Result<Pressed> together(Workshop& w, Pressed p, const std::function<Status(Pressed&)>& work) {
  const auto ok = w.together([&]() -> Status {
    if (auto done = work(p); !done) return done;
    return w.save_run(p.run.job_id, run_to_json(p.run));
  });
  if (!ok) return ok.error();
  return p;
}

}  // namespace

std::string booking_of(const BenchRun& run, int screen) {
  return run.job_id + "/" + std::to_string(run.begun) + "/" + std::to_string(screen);
}

Result<Pressed> press_next(Workshop& w, const Job& job, const BenchRun& run, WallSecond now, const std::string& today,
                           std::optional<double> scale_g, std::optional<double> room_c) {
  if (finished(run)) return Pressed{run, job, ""};
  const int at = run.at;
  return together(w, {next_screen(run, now, scale_g, room_c), job, ""}, [&](Pressed& p) -> Status {
    ScreenRecord* r = record_of(p.run, at);
    if (!r || std::exchange(r->booked, true)) return {};
    const ScreenRecord kept = *r;
    return book(w, p, at, kept, today);
  });
}

Result<Pressed> press_back(Workshop& w, const Job& job, const BenchRun& run, WallSecond now) {
  if (run.at == 0) return Pressed{run, job, ""};
  return together(w, {previous_screen(run, now), job, ""}, [&](Pressed& p) -> Status {
    ScreenRecord* r = record_of(p.run, p.run.at);
    return r && std::exchange(r->booked, false) ? take_back(w, p, p.run.at, booking_of(p.run, p.run.at)) : Status{};
  });
}

Result<Pressed> press_failed(Workshop& w, const Job& job, const BenchRun& run, int screen, const std::string& why) {
  return together(w, {run, job, ""}, [&](Pressed& p) -> Status {
    ScreenRecord* r = record_of(p.run, screen);
    if (!r) return Error{"that step was not done yet", "bench", "Note it when it is."};
    r->went_wrong = true;
    if (!why.empty()) r->note += (r->note.empty() ? "" : " / ") + why;
    const std::string booking = booking_of(p.run, screen);
    for (const std::string& key : keys_of(booking))
      if (auto ok = w.mark_failed(key, why); !ok) return ok;
    return {};
  });
}

}  // namespace palinform
