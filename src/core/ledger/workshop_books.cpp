// Workshop: lots, moulds, pours, bench runs, what castings taught, the history.
#include <SQLiteCpp/SQLiteCpp.h>

#include <cmath>

#include "base/text.hpp"
#include "drawn/tracing.hpp"
#include "ledger/schema.hpp"
#include "ledger/scope.hpp"
#include "ledger/workshop.hpp"

namespace palinform {

Result<std::vector<Lot>> Workshop::lots() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<Lot> out;
    SQLite::Statement q(
        *db_, "SELECT id, material_id, label, opened_on, expires_on, start_g, left_g FROM lot ORDER BY id DESC");
    while (q.executeStep()) {
      if (damage_->holds("lot", q.getColumn(0).getInt64())) continue;
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getDouble(),
                     q.getColumn(6).getDouble()});
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<int64_t> Workshop::save_lot(const Lot& lot) {
  if (read_only_) return reading_only();
  if (lot.material_id.empty() || trim(lot.label).empty())
    return Error{"a lot needs a material and a label", "lot", "Copy the lot number from the bottle."};
  if (!(lot.start_g >= 0) || !(lot.left_g >= 0) || lot.start_g > 1e7 || lot.left_g > lot.start_g + 1e-6)
    return Error{"what is left of a lot lies between nothing and what it held", lot.label, "Weigh the bottle again."};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(
        *db_,
        lot.id
            ? "UPDATE lot SET material_id=?, label=?, opened_on=?, expires_on=?, start_g=?, left_g=? WHERE id=?"
            : "INSERT INTO lot (material_id, label, opened_on, expires_on, start_g, left_g) VALUES (?, ?, ?, ?, ?, ?)");
    q.bind(1, lot.material_id);
    q.bind(2, lot.label);
    q.bind(3, lot.opened_on);
    q.bind(4, lot.expires_on);
    q.bind(5, lot.start_g);
    q.bind(6, lot.left_g);
    if (lot.id) q.bind(7, lot.id);
    q.exec();
    const int64_t id = lot.id ? lot.id : db_->getLastInsertRowid();
    ledger::seal(*db_, "lot", id);
    all.commit();
    return id;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<MouldRecord>> Workshop::moulds(const std::string& job_id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<MouldRecord> out;
    SQLite::Statement q(*db_,
                        "SELECT mould.id, job_id, coalesce(job.name, ''), mould.name, made_on, pulls, retired_on, "
                        "retired_why FROM mould "
                        "LEFT JOIN job ON job.id = job_id WHERE ? = '' OR job_id = ? ORDER BY mould.id DESC");
    q.bind(1, job_id);
    q.bind(2, job_id);
    while (q.executeStep()) {
      if (damage_->holds("mould", q.getColumn(0).getInt64())) continue;
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getInt(),
                     q.getColumn(6).getString(), q.getColumn(7).getString()});
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<int64_t> Workshop::save_mould(const MouldRecord& m, const std::string& booking) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    if (const auto known = booked("mould", booking)) return *known;
    SQLite::Statement q(*db_,
                        m.id ? "UPDATE mould SET job_id=?, name=?, made_on=?, pulls=?, retired_on=?, retired_why=? "
                               "WHERE id=?"
                             : "INSERT INTO mould (job_id, name, made_on, pulls, retired_on, retired_why, booking) "
                               "VALUES (?, ?, ?, ?, ?, ?, ?)");
    q.bind(1, m.job_id);
    q.bind(2, m.name);
    q.bind(3, m.made_on);
    q.bind(4, m.pulls);
    q.bind(5, m.retired_on);
    q.bind(6, m.retired_why);
    if (m.id)
      q.bind(7, m.id);
    else
      q.bind(7, booking);
    q.exec();
    const int64_t id = m.id ? m.id : db_->getLastInsertRowid();
    ledger::seal(*db_, "mould", id);
    all.commit();
    return id;
  } catch (const std::exception& e) { return fault(e); }
}

std::optional<int64_t> Workshop::booked(const char* table, const std::string& booking) {
  if (booking.empty()) return std::nullopt;
  SQLite::Statement q(*db_, std::string("SELECT id FROM ") + table + " WHERE booking = ?");
  q.bind(1, booking);
  return q.executeStep() ? std::optional(q.getColumn(0).getInt64()) : std::nullopt;
}

Result<std::vector<PourRecord>> Workshop::pours(const std::string& job_id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<PourRecord> out;
    SQLite::Statement q(*db_,
                        "SELECT pour.id, job_id, coalesce(job.name, ''), at, what, material_id, mass_g, "
                        "coalesce(lot_id, 0), coalesce(mould_id, 0), failed, note "
                        "FROM pour LEFT JOIN job ON job.id = job_id WHERE ? = '' OR job_id = ? ORDER BY pour.id DESC");
    q.bind(1, job_id);
    q.bind(2, job_id);
    while (q.executeStep()) {
      if (damage_->holds("pour", q.getColumn(0).getInt64())) continue;
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getString(),
                     q.getColumn(6).getDouble(), q.getColumn(7).getInt64(), q.getColumn(8).getInt64(),
                     q.getColumn(9).getInt() != 0, q.getColumn(10).getString()});
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

int64_t Workshop::enter_pour(const PourRecord& p, const std::string& booking, bool pull) {
  SQLite::Statement q(
      *db_,
      "INSERT INTO pour (job_id, at, what, material_id, mass_g, lot_id, mould_id, failed, note, booking, "
      "pull) VALUES (?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)");
  q.bind(1, p.job_id);
  q.bind(2, p.at);
  q.bind(3, p.what);
  q.bind(4, p.material_id);
  q.bind(5, p.mass_g);
  q.bind(6, p.lot_id);
  q.bind(7, p.mould_id);
  q.bind(8, p.failed ? 1 : 0);
  q.bind(9, p.note);
  q.bind(10, booking);
  q.bind(11, pull ? 1 : 0);
  q.exec();
  const int64_t id = db_->getLastInsertRowid();
  ledger::seal(*db_, "pour", id);
  if (p.lot_id) {
    SQLite::Statement draw(*db_, "UPDATE lot SET left_g = min(start_g, max(0, left_g - ?)) WHERE id = ?");
    draw.bind(1, p.mass_g);
    draw.bind(2, p.lot_id);
    draw.exec();
    ledger::seal(*db_, "lot", p.lot_id);
  }
  if (p.mould_id && pull) {
    SQLite::Statement count(*db_, "UPDATE mould SET pulls = max(0, pulls + ?) WHERE id = ?");
    count.bind(1, p.mass_g < 0 ? -1 : 1);
    count.bind(2, p.mould_id);
    count.exec();
    ledger::seal(*db_, "mould", p.mould_id);
  }
  return id;
}

Result<int64_t> Workshop::book_pour(const PourRecord& p, bool counts_as_pull, const std::string& booking) {
  if (read_only_) return reading_only();
  if (!(p.mass_g >= 0) || p.mass_g > 1e7) return Error{"the poured mass is out of reason", p.what, "Weigh it again."};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    if (const auto known = booked("pour", booking)) return *known;
    const int64_t id = enter_pour(p, booking, counts_as_pull);
    all.commit();
    return id;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::take_back(const std::string& booking, const std::string& at) {
  if (read_only_) return reading_only();
  if (booking.empty()) return {};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    if (const auto id = booked("pour", booking)) {
      SQLite::Statement q(*db_,
                          "SELECT job_id, what, material_id, mass_g, coalesce(lot_id, 0), coalesce(mould_id, 0), pull "
                          "FROM pour WHERE id = ?");
      q.bind(1, *id);
      if (q.executeStep()) {
        PourRecord back{0,
                        q.getColumn(0).getString(),
                        "",
                        at,
                        "taken back: " + q.getColumn(1).getString(),
                        q.getColumn(2).getString(),
                        -q.getColumn(3).getDouble(),
                        q.getColumn(4).getInt64(),
                        q.getColumn(5).getInt64(),
                        false,
                        "the screen was gone back to"};
        enter_pour(back, "", q.getColumn(6).getInt() != 0);
      }
      free_booking("pour", *id);
    }
    if (const auto id = booked("mould", booking)) {
      SQLite::Statement q(*db_, "UPDATE mould SET retired_on = ?, retired_why = 'taken back' WHERE id = ?");
      q.bind(1, at.substr(0, 10));
      q.bind(2, *id);
      q.exec();
      free_booking("mould", *id);
    }
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

void Workshop::free_booking(const char* table, int64_t id) {
  SQLite::Statement q(*db_, std::string("UPDATE ") + table + " SET booking = '' WHERE id = ?");
  q.bind(1, id);
  q.exec();
  ledger::seal(*db_, table, id);
}

Result<std::string> Workshop::run_document(const std::string& job_id) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "SELECT document, rowid FROM run WHERE job_id = ?");
    q.bind(1, job_id);
    if (!q.executeStep()) return std::string();
    if (damage_->holds("run", q.getColumn(1).getInt64()))
      return Error{"the bench run of this job is damaged in the workshop file", job_id,
                   "Begin it again; the ledger keeps what was poured."};
    return q.getColumn(0).getString();
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::save_run(const std::string& job_id, const std::string& document) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(*db_, document.empty() ? "DELETE FROM run WHERE job_id = ?1"
                                               : "INSERT INTO run (job_id, document) VALUES (?1, ?2) ON "
                                                 "CONFLICT(job_id) DO UPDATE SET document = excluded.document");
    q.bind(1, job_id);
    if (!document.empty()) q.bind(2, document);
    q.exec();
    SQLite::Statement row(*db_, "SELECT rowid FROM run WHERE job_id = ?");
    row.bind(1, job_id);
    if (row.executeStep()) {
      ledger::seal(*db_, "run", row.getColumn(0).getInt64());
      damage_->rows["run"].erase(row.getColumn(0).getInt64());
    }
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<RunRow>> Workshop::runs() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<RunRow> out;
    SQLite::Statement q(*db_,
                        "SELECT run.job_id, COALESCE(job.name, ''), run.document, run.rowid FROM run LEFT JOIN job ON "
                        "job.id = run.job_id ORDER BY run.rowid");
    while (q.executeStep())
      if (!damage_->holds("run", q.getColumn(3).getInt64()))
        out.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString()});
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::mark_failed(const std::string& booking, const std::string& why) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement find(*db_, "SELECT id FROM pour WHERE booking = ?");
    find.bind(1, booking);
    while (find.executeStep()) {
      const int64_t id = find.getColumn(0).getInt64();
      SQLite::Statement q(*db_,
                          "UPDATE pour SET failed = 1, note = CASE WHEN note = '' THEN ?1 ELSE note || ' / ' || ?1 END "
                          "WHERE id = ?2");
      q.bind(1, why);
      q.bind(2, id);
      q.exec();
      ledger::seal(*db_, "pour", id);
    }
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

Result<int64_t> Workshop::keep_photo(const PhotoRow& photo, std::string_view jpeg) {
  if (read_only_) return reading_only();
  if (jpeg.size() < 4 || jpeg.substr(0, 2) != "\xFF\xD8")
    return Error{"this is no photograph", photo.note, "Take a PNG or JPEG file."};
  if (jpeg.size() > 8'000'000) return Error{"the photograph is too large", photo.note, "Scale it down to 8 MB."};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(*db_, "INSERT INTO photo (job_id, booking, taken_at, note, jpeg) VALUES (?, ?, ?, ?, ?)");
    q.bind(1, photo.job_id);
    q.bind(2, photo.booking);
    q.bind(3, photo.taken_at);
    q.bind(4, photo.note);
    q.bind(5, jpeg.data(), static_cast<int>(jpeg.size()));
    q.exec();
    const int64_t id = db_->getLastInsertRowid();
    ledger::seal(*db_, "photo", id);
    all.commit();
    return id;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::string> Workshop::keep_picture(const std::string& job_id, const std::string& file, std::string_view bytes) {
  const std::string hash = picture_hash(bytes);
  if (picture(job_id, hash)) return hash;
  const auto id = keep_photo({0, job_id, "trace " + hash, now_text(), file}, bytes);
  if (!id) return id.error();
  return hash;
}

Result<std::string> Workshop::picture(const std::string& job_id, const std::string& hash) {
  const auto rows = photos(job_id);
  if (!rows) return rows.error();
  for (const PhotoRow& r : *rows)
    if (r.booking == "trace " + hash) return photo(r.id);
  return Error{"the picture this part is traced on is not in the workshop", hash, "Open the picture again."};
}

Result<std::vector<PhotoRow>> Workshop::photos(const std::string& job_id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<PhotoRow> out;
    SQLite::Statement q(*db_, "SELECT id, job_id, booking, taken_at, note FROM photo WHERE job_id = ? ORDER BY id");
    q.bind(1, job_id);
    while (q.executeStep())
      if (!damage_->holds("photo", q.getColumn(0).getInt64()))
        out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                       q.getColumn(3).getString(), q.getColumn(4).getString()});
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::string> Workshop::photo(int64_t id) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "SELECT jpeg FROM photo WHERE id = ?");
    q.bind(1, id);
    if (!q.executeStep() || damage_->holds("photo", id))
      return Error{"that photograph is not there", std::to_string(id), ""};
    const SQLite::Column c = q.getColumn(0);
    return std::string(static_cast<const char*>(c.getBlob()), static_cast<size_t>(c.getBytes()));
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<std::array<std::string, 3>>> Workshop::history(int most) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<std::array<std::string, 3>> out;
    SQLite::Statement q(*db_,
                        "SELECT at, coalesce(job.name, 'removed job'), what FROM edit LEFT JOIN job ON job.id = job_id "
                        "ORDER BY edit.id DESC LIMIT ?");
    q.bind(1, most);
    while (q.executeStep())
      out.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString()});
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<LearnedRecord>> Workshop::learned() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<LearnedRecord> out;
    SQLite::Statement q(
        *db_,
        "SELECT silicone_id, resin_id, job_id, delta_pct, u_pct, castings, sizes, adopted_at, reason, rowid FROM "
        "learned ORDER BY adopted_at, job_id");
    while (q.executeStep()) {
      if (damage_->holds("learned", q.getColumn(9).getInt64())) continue;
      out.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getDouble(), q.getColumn(4).getDouble(), q.getColumn(5).getInt(),
                     q.getColumn(6).getInt(), q.getColumn(7).getString(), q.getColumn(8).getString()});
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::adopt(const LearnedRecord& r) {
  if (read_only_) return reading_only();
  if (r.silicone_id.empty() || r.resin_id.empty() || r.job_id.empty() || !std::isfinite(r.delta_pct) || !(r.u_pct > 0))
    return Error{"this figure cannot be adopted", "learning", "It needs both materials and an uncertainty above zero."};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(
        *db_,
        "INSERT OR REPLACE INTO learned (silicone_id, resin_id, job_id, delta_pct, u_pct, castings, sizes, "
        "adopted_at, reason) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)");
    q.bind(1, r.silicone_id);
    q.bind(2, r.resin_id);
    q.bind(3, r.job_id);
    q.bind(4, r.delta_pct);
    q.bind(5, r.u_pct);
    q.bind(6, r.castings);
    q.bind(7, r.sizes);
    q.bind(8, r.adopted_at);
    q.bind(9, r.reason);
    q.exec();
    ledger::seal(*db_, "learned", db_->getLastInsertRowid());
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

}  // namespace palinform
