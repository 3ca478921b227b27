#include "ledger/workshop.hpp"

#include <fcntl.h>
#include <sqlite3.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/file.h>
#include <unistd.h>

#include <cmath>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "base/text.hpp"
#include "job/job.hpp"

namespace palinform {
namespace {

namespace fs = std::filesystem;

constexpr const char* version_1 = R"(
CREATE TABLE job (id TEXT PRIMARY KEY, name TEXT NOT NULL, client TEXT NOT NULL, changed_at TEXT NOT NULL, document TEXT NOT NULL);
CREATE TABLE mesh (hash TEXT PRIMARY KEY, name TEXT NOT NULL, triangles INTEGER NOT NULL, data BLOB NOT NULL);
CREATE TABLE casting (id INTEGER PRIMARY KEY, job_id TEXT NOT NULL REFERENCES job(id) ON DELETE CASCADE, number INTEGER NOT NULL,
                      made_on TEXT NOT NULL, note TEXT NOT NULL, place INTEGER NOT NULL);
CREATE TABLE reading (casting_id INTEGER NOT NULL REFERENCES casting(id) ON DELETE CASCADE, size_id TEXT NOT NULL, place INTEGER NOT NULL,
                      value_mm REAL NOT NULL, PRIMARY KEY (casting_id, size_id, place));
CREATE INDEX casting_of_job ON casting(job_id);
)";
constexpr const char* version_2 = R"(
CREATE TABLE edit (id INTEGER PRIMARY KEY, job_id TEXT NOT NULL, at TEXT NOT NULL, what TEXT NOT NULL);
CREATE INDEX edit_of_job ON edit(job_id);
)";

constexpr const char* version_3 = R"(
CREATE TABLE lot (id INTEGER PRIMARY KEY, material_id TEXT NOT NULL, label TEXT NOT NULL, opened_on TEXT NOT NULL, expires_on TEXT NOT NULL,
                  start_g REAL NOT NULL, left_g REAL NOT NULL);
CREATE TABLE mould (id INTEGER PRIMARY KEY, job_id TEXT NOT NULL, name TEXT NOT NULL, made_on TEXT NOT NULL, pulls INTEGER NOT NULL,
                    retired_on TEXT NOT NULL, retired_why TEXT NOT NULL);
CREATE TABLE pour (id INTEGER PRIMARY KEY, job_id TEXT NOT NULL, at TEXT NOT NULL, what TEXT NOT NULL, material_id TEXT NOT NULL, mass_g REAL NOT NULL,
                   lot_id INTEGER REFERENCES lot(id), mould_id INTEGER REFERENCES mould(id), failed INTEGER NOT NULL, note TEXT NOT NULL);
CREATE TABLE run (job_id TEXT PRIMARY KEY, document TEXT NOT NULL);
CREATE INDEX pour_of_job ON pour(job_id);
)";

constexpr const char* version_4 = R"(
CREATE TABLE learned (silicone_id TEXT NOT NULL, resin_id TEXT NOT NULL, job_id TEXT NOT NULL, delta_pct REAL NOT NULL, u_pct REAL NOT NULL,
                      castings INTEGER NOT NULL, sizes INTEGER NOT NULL, adopted_at TEXT NOT NULL, reason TEXT NOT NULL,
                      PRIMARY KEY (silicone_id, resin_id, job_id));
)";

const Error& read_only_fault() {
  static const Error e{"this window is reading only", "workshop", "Close the other window first."};
  return e;
}

Error storage_fault(const std::string& path, const std::exception& e) {
  return {std::string("the workshop file could not be used: ") + e.what(), path,
          "Check the disk and its free space; the last saved state is kept."};
}

/// What can be told from the first hundred bytes without touching the file.
struct Header {
  bool missing = false, sqlite = false;
  uint32_t version = 0;
};
Header look(const std::string& path) {
  Header h;
  std::error_code ec;
  if (!fs::exists(path, ec) || fs::file_size(path, ec) == 0) {
    h.missing = true;
    return h;
  }
  char bytes[100] = {};
  std::ifstream(path, std::ios::binary).read(bytes, sizeof bytes);
  h.sqlite = std::memcmp(bytes, "SQLite format 3", 16) == 0;
  const auto* b = reinterpret_cast<const unsigned char*>(bytes) + 60;
  h.version = uint32_t{b[0]} << 24 | uint32_t{b[1]} << 16 | uint32_t{b[2]} << 8 | b[3];
  return h;
}

void write_castings(SQLite::Database& db, const Job& job) {
  SQLite::Statement wipe(db, "DELETE FROM casting WHERE job_id = ?");
  wipe.bind(1, job.id);
  wipe.exec();
  SQLite::Statement casting(db, "INSERT INTO casting (job_id, number, made_on, note, place) VALUES (?, ?, ?, ?, ?)");
  SQLite::Statement reading(db, "INSERT INTO reading (casting_id, size_id, place, value_mm) VALUES (?, ?, ?, ?)");
  int place = 0;
  for (const Casting& c : job.castings) {
    casting.reset();
    casting.bind(1, job.id);
    casting.bind(2, c.number);
    casting.bind(3, c.made_on);
    casting.bind(4, c.note);
    casting.bind(5, place++);
    casting.exec();
    const int64_t id = db.getLastInsertRowid();
    for (const CastReading& r : c.readings)
      for (size_t i = 0; i < r.values_mm.size(); ++i) {
        reading.reset();
        reading.bind(1, id);
        reading.bind(2, r.size_id);
        reading.bind(3, static_cast<int>(i));
        reading.bind(4, r.values_mm[i]);
        reading.exec();
      }
  }
}

}  // namespace

Result<std::unique_ptr<Workshop>> Workshop::open(const std::string& path) {
  const Header header = look(path);
  if (!header.missing && !header.sqlite)
    return Error{"this is no workshop file", path, "Choose another file; this one was left as it is."};
  if (!header.missing && header.version > workshop_version)
    return Error{"this workshop was written by a newer Palinform (version " + std::to_string(header.version) + ")",
                 path, "Open it with that version; it was left as it is."};
  std::unique_ptr<Workshop> w(new Workshop);
  w->path_ = path;
  std::error_code ec;
  if (const auto folder = fs::path(path).parent_path(); !folder.empty()) fs::create_directories(folder, ec);
  // The kernel drops this lock however the program ends, so a kill never leaves the workshop shut.
  const std::string lock_path = path + ".lock";
  w->lock_ = ::open(lock_path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  w->read_only_ = w->lock_ < 0 || ::flock(w->lock_, LOCK_EX | LOCK_NB) != 0;
  if (w->read_only_ && header.missing)
    return Error{"the workshop file cannot be made", path, "Check the folder and its permissions."};
  try {
    const int flags = w->read_only_ ? SQLite::OPEN_READONLY : SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE;
    w->db_ = std::make_unique<SQLite::Database>(path, flags, 2000);
    SQLite::Database& db = *w->db_;
    if (!header.missing) {
      // Every page of a large workshop would take seconds; above this size the jobs' own rows are read instead.
      constexpr uintmax_t whole_check_bytes = 200'000'000;
      const bool small = fs::file_size(path, ec) < whole_check_bytes;
      std::string verdict;
      try {
        SQLite::Statement check(
            db, small ? "PRAGMA quick_check(1)" : "SELECT CASE WHEN count(document) >= 0 THEN 'ok' END FROM job");
        verdict = check.executeStep() ? check.getColumn(0).getString() : "empty";
      } catch (const SQLite::Exception& e) { verdict = e.what(); }
      if (verdict != "ok")
        return Error{"the workshop file is damaged (" + verdict + ")", path,
                     "It was left as it is. Put back a copy, or look for a .bak file beside it."};
    }
    if (!w->read_only_) {
      db.exec("PRAGMA journal_mode = WAL");
      db.exec("PRAGMA synchronous = NORMAL");
      db.exec("PRAGMA foreign_keys = ON");
      int version = db.execAndGet("PRAGMA user_version").getInt();
      if (!header.missing && version < workshop_version) {
        const std::string copy = path + ".v" + std::to_string(version) + ".bak";
        db.exec("PRAGMA wal_checkpoint(TRUNCATE)");
        fs::copy_file(path, copy, fs::copy_options::overwrite_existing, ec);
        if (ec)
          return Error{"no copy could be kept before bringing the workshop up to date", copy,
                       "Make room on the disk; the workshop was left as it is."};
      }
      if (version < workshop_version) {
        SQLite::Transaction all(db);
        if (version < 1) db.exec(version_1);
        if (version < 2) db.exec(version_2);
        if (version < 3) db.exec(version_3);
        if (version < 4) db.exec(version_4);
        db.exec("PRAGMA user_version = " + std::to_string(workshop_version));
        all.commit();
      }
    } else if (db.execAndGet("PRAGMA user_version").getInt() < workshop_version) {
      return Error{"this workshop is of an older version and is in use elsewhere", path,
                   "Close the other window first."};
    }
  } catch (const std::exception& e) { return storage_fault(path, e); }
  return w;
}

Workshop::~Workshop() {
  db_.reset();
  if (lock_ >= 0) ::close(lock_);
}

Result<std::vector<JobRow>> Workshop::jobs() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<JobRow> rows;
    SQLite::Statement q(*db_,
                        "SELECT id, name, client, changed_at, (SELECT count(*) FROM casting WHERE job_id = job.id) "
                        "FROM job ORDER BY changed_at DESC, rowid DESC");
    while (q.executeStep())
      rows.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                      q.getColumn(3).getString(), q.getColumn(4).getInt()});
    return rows;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<Job> Workshop::load_job(const std::string& id) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "SELECT document FROM job WHERE id = ?");
    q.bind(1, id);
    if (!q.executeStep()) return Error{"there is no such job in this workshop", id, "Choose one from the list."};
    auto job = job_from_json(q.getColumn(0).getString(), "job " + id);
    if (!job) return job;
    job->id = id;
    SQLite::Statement c(*db_, "SELECT id, number, made_on, note FROM casting WHERE job_id = ? ORDER BY place");
    SQLite::Statement r(*db_, "SELECT size_id, value_mm FROM reading WHERE casting_id = ? ORDER BY rowid");
    c.bind(1, id);
    while (c.executeStep()) {
      Casting casting{c.getColumn(1).getInt(), c.getColumn(2).getString(), c.getColumn(3).getString(), {}};
      r.reset();
      r.bind(1, c.getColumn(0).getInt64());
      while (r.executeStep()) {
        const std::string size = r.getColumn(0).getString();
        if (casting.readings.empty() || casting.readings.back().size_id != size) casting.readings.push_back({size, {}});
        casting.readings.back().values_mm.push_back(r.getColumn(1).getDouble());
      }
      job->castings.push_back(std::move(casting));
    }
    return job;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Status Workshop::save_job(const Job& job, const std::string& what) {
  if (read_only_)
    return Error{"this window is reading only", path_,
                 "Another window has the workshop; close it and open this job again."};
  if (auto ok = check_job(job); !ok) return ok;
  std::lock_guard hold(mutex_);
  try {
    SQLite::Transaction all(*db_);
    SQLite::Statement put(
        *db_,
        "INSERT INTO job (id, name, client, changed_at, document) VALUES (?, ?, ?, ?, ?) ON CONFLICT(id) DO UPDATE SET "
        "name = excluded.name, client = excluded.client, changed_at = excluded.changed_at, document = "
        "excluded.document");
    const std::string at = now_text();
    put.bind(1, job.id);
    put.bind(2, job.name);
    put.bind(3, job.client);
    put.bind(4, at);
    put.bind(5, job_to_json(job, false));
    put.exec();
    write_castings(*db_, job);
    SQLite::Statement log(*db_, "INSERT INTO edit (job_id, at, what) VALUES (?, ?, ?)");
    log.bind(1, job.id);
    log.bind(2, at);
    log.bind(3, what);
    log.exec();
    all.commit();
    return {};
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Status Workshop::remove_job(const std::string& id) {
  if (read_only_) return Error{"this window is reading only", path_, "Close the other window first."};
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "DELETE FROM job WHERE id = ?");
    q.bind(1, id);
    q.exec();
    return {};
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<std::vector<std::pair<std::string, std::string>>> Workshop::edits(const std::string& id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<std::pair<std::string, std::string>> out;
    SQLite::Statement q(*db_, "SELECT at, what FROM edit WHERE job_id = ? ORDER BY id");
    q.bind(1, id);
    while (q.executeStep()) out.emplace_back(q.getColumn(0).getString(), q.getColumn(1).getString());
    return out;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<std::vector<Lot>> Workshop::lots() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<Lot> out;
    SQLite::Statement q(
        *db_, "SELECT id, material_id, label, opened_on, expires_on, start_g, left_g FROM lot ORDER BY id DESC");
    while (q.executeStep())
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getDouble(),
                     q.getColumn(6).getDouble()});
    return out;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<int64_t> Workshop::save_lot(const Lot& lot) {
  if (read_only_) return read_only_fault();
  if (lot.material_id.empty() || trim(lot.label).empty())
    return Error{"a lot needs a material and a label", "lot", "Copy the lot number from the bottle."};
  if (!(lot.start_g >= 0) || !(lot.left_g >= 0) || lot.start_g > 1e7 || lot.left_g > lot.start_g + 1e-6)
    return Error{"what is left of a lot lies between nothing and what it held", lot.label, "Weigh the bottle again."};
  std::lock_guard hold(mutex_);
  try {
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
    return lot.id ? lot.id : db_->getLastInsertRowid();
  } catch (const std::exception& e) { return storage_fault(path_, e); }
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
    while (q.executeStep())
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getInt(),
                     q.getColumn(6).getString(), q.getColumn(7).getString()});
    return out;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<int64_t> Workshop::save_mould(const MouldRecord& m) {
  if (read_only_) return read_only_fault();
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(
        *db_,
        m.id ? "UPDATE mould SET job_id=?, name=?, made_on=?, pulls=?, retired_on=?, retired_why=? WHERE id=?"
             : "INSERT INTO mould (job_id, name, made_on, pulls, retired_on, retired_why) VALUES (?, ?, ?, ?, ?, ?)");
    q.bind(1, m.job_id);
    q.bind(2, m.name);
    q.bind(3, m.made_on);
    q.bind(4, m.pulls);
    q.bind(5, m.retired_on);
    q.bind(6, m.retired_why);
    if (m.id) q.bind(7, m.id);
    q.exec();
    return m.id ? m.id : db_->getLastInsertRowid();
  } catch (const std::exception& e) { return storage_fault(path_, e); }
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
    while (q.executeStep())
      out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getString(), q.getColumn(4).getString(), q.getColumn(5).getString(),
                     q.getColumn(6).getDouble(), q.getColumn(7).getInt64(), q.getColumn(8).getInt64(),
                     q.getColumn(9).getInt() != 0, q.getColumn(10).getString()});
    return out;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<int64_t> Workshop::book_pour(const PourRecord& p, bool counts_as_pull) {
  if (read_only_) return read_only_fault();
  if (!(p.mass_g >= 0) || p.mass_g > 1e7) return Error{"the poured mass is out of reason", p.what, "Weigh it again."};
  std::lock_guard hold(mutex_);
  try {
    SQLite::Transaction all(*db_);
    SQLite::Statement q(*db_,
                        "INSERT INTO pour (job_id, at, what, material_id, mass_g, lot_id, mould_id, failed, note) "
                        "VALUES (?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?, ?)");
    q.bind(1, p.job_id);
    q.bind(2, p.at);
    q.bind(3, p.what);
    q.bind(4, p.material_id);
    q.bind(5, p.mass_g);
    q.bind(6, p.lot_id);
    q.bind(7, p.mould_id);
    q.bind(8, p.failed ? 1 : 0);
    q.bind(9, p.note);
    q.exec();
    const int64_t id = db_->getLastInsertRowid();
    if (p.lot_id) {
      SQLite::Statement draw(*db_, "UPDATE lot SET left_g = max(0, left_g - ?) WHERE id = ?");
      draw.bind(1, p.mass_g);
      draw.bind(2, p.lot_id);
      draw.exec();
    }
    if (p.mould_id && counts_as_pull) {
      SQLite::Statement pull(*db_, "UPDATE mould SET pulls = pulls + 1 WHERE id = ?");
      pull.bind(1, p.mould_id);
      pull.exec();
    }
    all.commit();
    return id;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<std::string> Workshop::run_document(const std::string& job_id) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "SELECT document FROM run WHERE job_id = ?");
    q.bind(1, job_id);
    return q.executeStep() ? q.getColumn(0).getString() : std::string();
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Status Workshop::save_run(const std::string& job_id, const std::string& document) {
  if (read_only_) return read_only_fault();
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, document.empty() ? "DELETE FROM run WHERE job_id = ?1"
                                               : "INSERT INTO run (job_id, document) VALUES (?1, ?2) ON "
                                                 "CONFLICT(job_id) DO UPDATE SET document = excluded.document");
    q.bind(1, job_id);
    if (!document.empty()) q.bind(2, document);
    q.exec();
    return {};
  } catch (const std::exception& e) { return storage_fault(path_, e); }
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
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<std::string> Workshop::put_mesh(const TriMesh& mesh, const std::string& name) {
  if (read_only_) return Error{"this window is reading only", path_, "Close the other window first."};
  const std::string hash = hash_of(mesh).hex(), bytes = pack_mesh(mesh);
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "INSERT OR IGNORE INTO mesh (hash, name, triangles, data) VALUES (?, ?, ?, ?)");
    q.bind(1, hash);
    q.bind(2, name);
    q.bind(3, static_cast<int64_t>(mesh.triangles.size()));
    q.bindNoCopy(4, bytes.data(), static_cast<int>(bytes.size()));
    q.exec();
    return hash;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Result<std::shared_ptr<const TriMesh>> Workshop::mesh(const std::string& hash) {
  std::string bytes;
  {
    std::lock_guard hold(mutex_);
    if (cached_ && cached_hash_ == hash) return cached_;
    try {
      SQLite::Statement q(*db_, "SELECT data FROM mesh WHERE hash = ?");
      q.bind(1, hash);
      if (!q.executeStep()) return Error{"the job's mesh is not in this workshop", hash, "Open the mesh file again."};
      const SQLite::Column data = q.getColumn(0);
      bytes.assign(static_cast<const char*>(data.getBlob()), static_cast<size_t>(data.getBytes()));
    } catch (const std::exception& e) { return storage_fault(path_, e); }
  }
  auto mesh = unpack_mesh(bytes);
  if (!mesh || hash_of(*mesh).hex() != hash)
    return Error{"the job's mesh is damaged in the workshop", hash, "Open the mesh file again."};
  auto shared = std::make_shared<const TriMesh>(*std::move(mesh));
  std::lock_guard hold(mutex_);
  cached_hash_ = hash;
  cached_ = shared;
  return shared;
}

Result<std::vector<LearnedRecord>> Workshop::learned() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<LearnedRecord> out;
    SQLite::Statement q(
        *db_,
        "SELECT silicone_id, resin_id, job_id, delta_pct, u_pct, castings, sizes, adopted_at, reason FROM "
        "learned ORDER BY adopted_at, job_id");
    while (q.executeStep())
      out.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                     q.getColumn(3).getDouble(), q.getColumn(4).getDouble(), q.getColumn(5).getInt(),
                     q.getColumn(6).getInt(), q.getColumn(7).getString(), q.getColumn(8).getString()});
    return out;
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

Status Workshop::adopt(const LearnedRecord& r) {
  if (read_only_) return read_only_fault();
  if (r.silicone_id.empty() || r.resin_id.empty() || r.job_id.empty() || !std::isfinite(r.delta_pct) || !(r.u_pct > 0))
    return Error{"this figure cannot be adopted", "learning", "It needs both materials and an uncertainty above zero."};
  std::lock_guard hold(mutex_);
  try {
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
    return {};
  } catch (const std::exception& e) { return storage_fault(path_, e); }
}

std::string default_workshop_path() {
  const char* data = std::getenv("XDG_DATA_HOME");
  const char* home = std::getenv("HOME");
  const std::string base = data && *data ? data : std::string(home ? home : ".") + "/.local/share";
  return base + "/palinform/workshop.sqlite";
}

std::string pack_mesh(const TriMesh& mesh) {
  const uint64_t head[3] = {0x3148534D4C4150ull /* "PALMSH1" */, mesh.points.size(), mesh.triangles.size()};
  std::string out(sizeof head + mesh.points.size() * sizeof(Vec3) + mesh.triangles.size() * sizeof(Triangle), '\0');
  std::memcpy(out.data(), head, sizeof head);
  std::memcpy(out.data() + sizeof head, mesh.points.data(), mesh.points.size() * sizeof(Vec3));
  std::memcpy(out.data() + sizeof head + mesh.points.size() * sizeof(Vec3), mesh.triangles.data(),
              mesh.triangles.size() * sizeof(Triangle));
  return out;
}

Result<TriMesh> unpack_mesh(std::string_view bytes) {
  const Error damaged{"the stored mesh is damaged", "", "Open the mesh file again."};
  uint64_t head[3];
  if (bytes.size() < sizeof head) return damaged;
  std::memcpy(head, bytes.data(), sizeof head);
  if (head[0] != 0x3148534D4C4150ull || head[1] > 100'000'000 || head[2] > 100'000'000) return damaged;
  if (bytes.size() != sizeof head + head[1] * sizeof(Vec3) + head[2] * sizeof(Triangle)) return damaged;
  TriMesh mesh;
  mesh.points.resize(head[1]);
  mesh.triangles.resize(head[2]);
  std::memcpy(mesh.points.data(), bytes.data() + sizeof head, head[1] * sizeof(Vec3));
  std::memcpy(mesh.triangles.data(), bytes.data() + sizeof head + head[1] * sizeof(Vec3), head[2] * sizeof(Triangle));
  for (const Triangle& t : mesh.triangles)
    for (const uint32_t v : t)
      if (v >= mesh.points.size()) return damaged;
  return mesh;
}

}  // namespace palinform
