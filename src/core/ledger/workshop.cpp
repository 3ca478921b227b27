#include "ledger/workshop.hpp"

#include <fcntl.h>
#include <sqlite3.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "base/json_fields.hpp"
#include "base/text.hpp"
#include "base/zip.hpp"
#include "job/job.hpp"
#include "ledger/file_lock.hpp"
#include "ledger/job_index.hpp"
#include "ledger/schema.hpp"
#include "ledger/scope.hpp"

namespace palinform {
namespace {

namespace fs = std::filesystem;

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

/// What went into a casting's cup, as the file keeps it.
struct InCup {
  std::vector<RecipeTint> tints;
  static void fields(auto& s, auto&& f) { f("tints", s.tints, AtMost{12}); }
};

/// What is seen on a casting and how it came about, as the file keeps it.
struct SeenOnCasting {
  Casting c;
  static void fields(auto& s, auto&& f) {
    f("faults", s.c.faults, AtMost{40});
    f("looked_at", s.c.looked_at);
    f("worth", s.c.worth);
    f("repair_min", s.c.repair_min, Within{0, 10'000});
    f("mate", s.c.mate);
    f("record", s.c.record);
    f("scan", s.c.scan, AtMost{64});
    f("scan_file", s.c.scan_file, AtMost{1000});
    f("photos", s.c.photos, AtMost{100});
  }
};
/// Empty where nothing is told.
std::string seen_text(const Casting& c) {
  static const std::string nothing = json::write(SeenOnCasting{}).dump();
  const std::string text = json::write(SeenOnCasting{c}).dump();
  return text == nothing ? std::string() : text;
}

void write_castings(SQLite::Database& db, const Job& job, const ledger::Damage& damage) {
  // A casting that cannot be read is not the job's to wipe.
  std::string spared = "(-1";
  if (const auto bad = damage.rows.find("casting"); bad != damage.rows.end())
    for (const int64_t id : bad->second) spared += ", " + std::to_string(id);
  SQLite::Statement wipe(db, "DELETE FROM casting WHERE job_id = ? AND id NOT IN " + spared + ")");
  wipe.bind(1, job.id);
  wipe.exec();
  SQLite::Statement casting(db,
                            "INSERT INTO casting (job_id, number, made_on, note, place, booking, colour, seen) VALUES "
                            "(?, ?, ?, ?, ?, ?, ?, ?)");
  SQLite::Statement reading(db, "INSERT INTO reading (casting_id, size_id, place, value_mm) VALUES (?, ?, ?, ?)");
  int place = 0;
  for (const Casting& c : job.check.castings) {
    casting.reset();
    casting.bind(1, job.id);
    casting.bind(2, c.number);
    casting.bind(3, c.made_on);
    casting.bind(4, c.note);
    casting.bind(5, place++);
    casting.bind(6, c.booking);
    casting.bind(7, c.colour.empty() ? std::string() : json::write(InCup{c.colour}).dump());
    casting.bind(8, seen_text(c));
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
    ledger::seal(db, "casting", id);
  }
}

}  // namespace

Error Workshop::fault(const std::exception& e) const {
  const auto* sql = dynamic_cast<const SQLite::Exception*>(&e);
  const auto told = [&](const char* what, const char* remedy) { return Error{what, path_, remedy}; };
  switch (sql ? sql->getErrorCode() : 0) {
    case SQLITE_FULL:
      return told("the disk is full: nothing could be kept", "Make room; the last saved state is kept.");
    case SQLITE_READONLY:
      return told("the workshop file may not be written", "Check its permissions and its folder's.");
    case SQLITE_CANTOPEN:
      return told("the workshop file cannot be opened", "Check the folder, its permissions and the disk.");
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
      return told("the workshop file is damaged",
                  "It was left as it is. Put back a copy, or look for a .bak file beside it.");
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
      return told("another program is writing to the workshop file", "Try again in a moment.");
    case SQLITE_CONSTRAINT:
      return told("this contradicts what is in the workshop already", "Please report it with the job.");
    case SQLITE_IOERR:
      return told("the disk could not be read or written", "Check the disk; the last saved state is kept.");
    default:
      return {std::string("the workshop file could not be used: ") + e.what(), path_,
              "Check the disk and its free space; the last saved state is kept."};
  }
}

Error Workshop::reading_only() { return {"this window is reading only", "workshop", "Close the other window first."}; }

Result<std::unique_ptr<Workshop>> Workshop::open(const std::string& path) {
  const Header header = look(path);
  const Error foreign{"this is no workshop file", path, "Choose another file; this one was left as it is."};
  if (!header.missing && ::access(path.c_str(), R_OK) != 0)
    return Error{"the workshop file may not be read", path, "Check its permissions."};
  if (!header.missing && !header.sqlite) return foreign;
  if (!header.missing && header.version > workshop_version)
    return Error{"this workshop was written by a newer Palinform (version " + std::to_string(header.version) + ")",
                 path, "Open it with that version; it was left as it is."};
  std::unique_ptr<Workshop> w(new Workshop);
  w->path_ = path;
  w->damage_ = std::make_unique<ledger::Damage>();
  std::error_code ec;
  if (!header.missing) {
    // Looked at for reading before anything is made beside it: a stranger's file is left without a trace.
    try {
      SQLite::Database db(path, SQLite::OPEN_READONLY, 2000);
      // The head of the file is not all: a newer version may still stand in the log beside it.
      if (const int stated = db.execAndGet("PRAGMA user_version").getInt(); stated > workshop_version)
        return Error{"this workshop was written by a newer Palinform (version " + std::to_string(stated) + ")", path,
                     "Open it with that version; it was left as it is."};
      if (!ledger::is_workshop(db)) return foreign;
    } catch (const SQLite::Exception&) {}  // damaged or shut: told below, in words
  }
  if (const auto folder = fs::path(path).parent_path(); !folder.empty()) fs::create_directories(folder, ec);
  w->lock_ = std::make_unique<FileLock>(path);
  w->read_only_ = !w->lock_->held() || (!header.missing && ::access(path.c_str(), W_OK) != 0);
  if (w->read_only_ && header.missing)
    return Error{"the workshop file cannot be made", path, "Check the folder and its permissions."};
  try {
    const int flags = w->read_only_ ? SQLite::OPEN_READONLY : SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE;
    w->db_ = std::make_unique<SQLite::Database>(path, flags, 2000);
    SQLite::Database& db = *w->db_;
    if (!header.missing) {
      // Indexes against their tables too: a row that is found under another's name is no better than a wrong one. Every
      // page of a large workshop would take seconds; above this size the rows' own checksums are read alone.
      constexpr uintmax_t whole_check_bytes = 200'000'000;
      const bool small = fs::file_size(path, ec) < whole_check_bytes;
      std::string verdict;
      try {
        SQLite::Statement check(
            db, small ? "PRAGMA integrity_check(1)" : "SELECT CASE WHEN count(document) >= 0 THEN 'ok' END FROM job");
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
      constexpr int palinform_id = 0x50414C4E;  // "PALN"
      if (header.missing) db.exec("PRAGMA application_id = " + std::to_string(palinform_id));
      const int version = db.execAndGet("PRAGMA user_version").getInt();
      if (!header.missing && version < workshop_version) {
        const std::string copy = path + ".v" + std::to_string(version) + ".bak";
        db.exec("PRAGMA wal_checkpoint(TRUNCATE)");
        fs::copy_file(path, copy, fs::copy_options::overwrite_existing, ec);
        if (ec)
          return Error{"no copy could be kept before bringing the workshop up to date", copy,
                       "Make room on the disk; the workshop was left as it is."};
      }
      if (version < workshop_version) ledger::migrate(db, version);
      ledger::keep_index(db);
      if (header.missing && !w->lock_->file_made())
        return Error{"the workshop file cannot be made", path, "Check the folder and its permissions."};
    } else if (db.execAndGet("PRAGMA user_version").getInt() < workshop_version) {
      return Error{"this workshop is of an older version and is in use elsewhere", path,
                   "Close the other window first."};
    }
    *w->damage_ = ledger::find_damage(db);
    w->meshes_ = std::make_unique<SQLite::Database>(path, flags & ~SQLite::OPEN_CREATE, 5000);
    if (!w->read_only_) w->meshes_->exec("PRAGMA synchronous = NORMAL");
  } catch (const std::exception& e) { return w->fault(e); }
  return w;
}

Workshop::~Workshop() {
  meshes_.reset();
  db_.reset();
}

Status Workshop::together(const std::function<Status()>& work) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  if (together_) return work();
  try {
    // What is booked must be on the disk before the next cup is poured.
    db_->exec("PRAGMA synchronous = FULL");
    Status ok;
    {
      SQLite::Transaction all(*db_);
      together_ = true;
      ok = work();
      together_ = false;
      if (ok) all.commit();
    }
    db_->exec("PRAGMA synchronous = NORMAL");
    return ok;
  } catch (const std::exception& e) {
    together_ = false;
    return fault(e);
  }
}

Result<std::optional<std::string>> Workshop::keep_copy(const std::string& today) const {
  constexpr size_t kept = 10;
  const std::string copy = path_ + "." + today + ".bak", unfinished = copy + ".part";
  std::error_code ec;
  if (fs::exists(copy, ec)) return std::optional<std::string>();
  try {
    fs::remove(unfinished, ec);
    {
      SQLite::Database db(path_, SQLite::OPEN_READONLY, 5000);
      SQLite::Statement into(db, "VACUUM INTO ?");
      into.bind(1, unfinished);
      into.exec();
    }
    SQLite::Database made(unfinished, SQLite::OPEN_READONLY);
    SQLite::Statement check(made, "PRAGMA quick_check(1)");
    if (!check.executeStep() || check.getColumn(0).getString() != "ok" || !ledger::find_damage(made).names.empty()) {
      fs::remove(unfinished, ec);
      return Error{"the day's copy of the workshop does not read back", copy,
                   "Check the disk; the workshop itself goes on."};
    }
  } catch (const std::exception& e) {
    fs::remove(unfinished, ec);
    return fault(e);
  }
  fs::rename(unfinished, copy, ec);
  if (ec)
    return Error{"the day's copy of the workshop could not be kept", copy, "Check the folder and its permissions."};
  // Dated names sort by age; copies that migrations made ("….v4.bak") are left alone.
  std::vector<std::string> dated;
  const std::string head = fs::path(path_).filename().string() + ".2";
  for (const auto& e : fs::directory_iterator(fs::path(path_).parent_path(), ec)) {
    const std::string name = e.path().filename().string();
    if (name.starts_with(head) && name.ends_with(".bak") && name.size() == head.size() + 13)
      dated.push_back(e.path().string());
  }
  std::sort(dated.begin(), dated.end());
  for (size_t i = 0; i + kept < dated.size(); ++i) fs::remove(dated[i], ec);
  return std::optional(copy);
}

Status Workshop::save_elsewhere(const std::string& path) {
  std::lock_guard hold(mutex_);
  std::error_code ec;
  if (fs::exists(path, ec)) return Error{"there is a file already", path, "Choose another name."};
  const std::string unfinished = path + ".part";
  fs::remove(unfinished, ec);
  try {
    // Over the connection that is open: the file may be reachable by no name any more.
    {
      SQLite::Statement into(*db_, "VACUUM INTO ?");
      into.bind(1, unfinished);
      into.exec();
    }
    SQLite::Database made(unfinished, SQLite::OPEN_READONLY);
    SQLite::Statement check(made, "PRAGMA quick_check(1)");
    if (!check.executeStep() || check.getColumn(0).getString() != "ok")
      return Error{"the copy does not read back", path, "Check the disk, or choose another folder."};
  } catch (const std::exception& e) {
    fs::remove(unfinished, ec);
    return fault(e);
  }
  const int fd = ::open(unfinished.c_str(), O_RDONLY | O_CLOEXEC);
  const bool on_disk = fd >= 0 && ::fsync(fd) == 0;
  if (fd >= 0) ::close(fd);
  if (!on_disk) return Error{"the copy could not be kept", path, "Check the disk and the space left."};
  fs::rename(unfinished, path, ec);
  if (ec) return Error{"the copy could not be kept", path, "Check the folder and its permissions."};
  return {};
}

bool Workshop::in_place() const { return lock_->in_place(); }
const std::vector<std::string>& Workshop::damaged() const { return damage_->names; }

Result<std::vector<JobRow>> Workshop::jobs() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<JobRow> rows;
    SQLite::Statement q(*db_,
                        "SELECT id, name, client, changed_at, coalesce(made.n, 0), job.rowid, "
                        "coalesce(closed_on, ''), coalesce(promised, ''), coalesce(copies, 1), coalesce(words, ''), "
                        "coalesce(kind, '') "
                        "FROM job LEFT JOIN job_index ON job_index.job_id = job.id LEFT JOIN (SELECT job_id, count(*) "
                        "AS n FROM casting GROUP BY job_id) AS made ON made.job_id = job.id "
                        "ORDER BY changed_at DESC, job.rowid DESC");
    while (q.executeStep())
      if (!damage_->holds("job", q.getColumn(5).getInt64()))
        rows.push_back({q.getColumn(0).getString(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                        q.getColumn(3).getString(), q.getColumn(4).getInt(), q.getColumn(6).getString(),
                        q.getColumn(7).getString(), q.getColumn(8).getInt(), q.getColumn(9).getString(),
                        q.getColumn(10).getString()});
    return rows;
  } catch (const std::exception& e) { return fault(e); }
}

Result<Job> Workshop::load_job(const std::string& id) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_, "SELECT document, rowid FROM job WHERE id = ?");
    q.bind(1, id);
    if (!q.executeStep()) return Error{"there is no such job in this workshop", id, "Choose one from the list."};
    if (damage_->holds("job", q.getColumn(1).getInt64()))
      return Error{"this job is damaged in the workshop file", id, "Put back a copy; it was left as it is."};
    auto job = job_from_json(q.getColumn(0).getString(), "job " + id);
    if (!job) return job;
    job->id = id;
    SQLite::Statement c(
        *db_, "SELECT id, number, made_on, note, booking, colour, seen FROM casting WHERE job_id = ? ORDER BY place");
    SQLite::Statement r(*db_, "SELECT size_id, value_mm FROM reading WHERE casting_id = ? ORDER BY rowid");
    c.bind(1, id);
    while (c.executeStep()) {
      if (damage_->holds("casting", c.getColumn(0).getInt64())) continue;
      Casting casting{c.getColumn(1).getInt(),    c.getColumn(2).getString(),
                      c.getColumn(3).getString(), {},
                      c.getColumn(4).getString(), {}};
      if (const std::string text = c.getColumn(5).getString(); !text.empty()) {
        InCup in;
        try {
          json::read(json::Given::parse(text), in, "colour");
        } catch (const std::exception&) { in.tints.clear(); }  // the casting counts without it
        casting.colour = std::move(in.tints);
      }
      if (const std::string text = c.getColumn(6).getString(); !text.empty()) {
        SeenOnCasting in{casting};
        try {
          json::read(json::Given::parse(text), in, "casting");
          casting = std::move(in.c);
        } catch (const std::exception&) {}  // the casting counts without it
      }
      r.reset();
      r.bind(1, c.getColumn(0).getInt64());
      while (r.executeStep()) {
        const std::string size = r.getColumn(0).getString();
        if (casting.readings.empty() || casting.readings.back().size_id != size) casting.readings.push_back({size, {}});
        casting.readings.back().values_mm.push_back(r.getColumn(1).getDouble());
      }
      job->check.castings.push_back(std::move(casting));
    }
    return job;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::save_job(const Job& job, const std::string& what) {
  if (read_only_)
    return Error{"this window is reading only", path_,
                 "Another window has the workshop; close it and open this job again."};
  if (auto ok = check_job(job); !ok) return ok;
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement put(
        *db_,
        "INSERT INTO job (id, name, client, changed_at, document) VALUES (?, ?, ?, ?, ?) ON CONFLICT(id) DO UPDATE SET "
        "name = excluded.name, client = excluded.client, changed_at = excluded.changed_at, document = "
        "excluded.document");
    const std::string at = now_text(), document = job_to_json(job, false);
    put.bind(1, job.id);
    put.bind(2, job.name);
    put.bind(3, job.client);
    put.bind(4, at);
    put.bind(5, document);
    put.exec();
    SQLite::Statement row(*db_, "SELECT rowid FROM job WHERE id = ?");
    row.bind(1, job.id);
    if (row.executeStep()) ledger::seal(*db_, "job", row.getColumn(0).getInt64());
    ledger::write_index(*db_, job);
    write_castings(*db_, job, *damage_);
    SQLite::Statement log(*db_, "INSERT INTO edit (job_id, at, what) VALUES (?, ?, ?)");
    log.bind(1, job.id);
    log.bind(2, at);
    log.bind(3, what);
    log.exec();
    const int64_t edit = db_->getLastInsertRowid();
    ledger::seal(*db_, "edit", edit);
    if (const auto packed = make_zip({{"job.json", document}})) {
      SQLite::Statement state(*db_, "INSERT INTO job_state (edit_id, job_id, who, document) VALUES (?, ?, ?, ?)");
      state.bind(1, edit);
      state.bind(2, job.id);
      state.bind(3, who_);
      state.bind(4, packed->data(), static_cast<int>(packed->size()));
      state.exec();
    }
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::remove_job(const std::string& id) {
  if (read_only_) return Error{"this window is reading only", path_, "Close the other window first."};
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    for (const char* sql : {"DELETE FROM job WHERE id = ?", "DELETE FROM job_index WHERE job_id = ?",
                            "DELETE FROM job_state WHERE job_id = ?"}) {
      SQLite::Statement q(*db_, sql);
      q.bind(1, id);
      q.exec();
    }
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<std::pair<std::string, std::string>>> Workshop::edits(const std::string& id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<std::pair<std::string, std::string>> out;
    SQLite::Statement q(*db_, "SELECT at, what FROM edit WHERE job_id = ? ORDER BY id");
    q.bind(1, id);
    while (q.executeStep()) out.emplace_back(q.getColumn(0).getString(), q.getColumn(1).getString());
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<std::vector<EditRow>> Workshop::edit_rows(const std::string& id) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<EditRow> out;
    SQLite::Statement q(
        *db_,
        "SELECT edit.id, at, what, coalesce(who, ''), edit_id IS NOT NULL FROM edit LEFT JOIN job_state ON "
        "job_state.edit_id = edit.id WHERE edit.job_id = ? ORDER BY edit.id");
    q.bind(1, id);
    while (q.executeStep())
      if (!damage_->holds("edit", q.getColumn(0).getInt64()))
        out.push_back({q.getColumn(0).getInt64(), q.getColumn(1).getString(), q.getColumn(2).getString(),
                       q.getColumn(3).getString(), q.getColumn(4).getInt() != 0});
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<Job> Workshop::job_after(int64_t edit_id) {
  std::string packed, id;
  {
    std::lock_guard hold(mutex_);
    try {
      SQLite::Statement q(*db_, "SELECT job_id, document FROM job_state WHERE edit_id = ?");
      q.bind(1, edit_id);
      if (!q.executeStep()) return Error{"how the job stood then is not kept", "the history", "Choose a later edit."};
      id = q.getColumn(0).getString();
      packed = q.getColumn(1).getString();
    } catch (const std::exception& e) { return fault(e); }
  }
  // The archive's own checksum says whether it is what was written.
  const auto files = unzip(packed, "the history");
  if (!files) return files.error();
  auto job = job_from_json(files->begin()->second, "the history");
  if (!job) return job;
  const auto now = load_job(id);
  if (!now) return now.error();
  job->id = id;
  job->check.castings = now->check.castings;
  return job;
}

void Workshop::set_who(const std::string& name) {
  std::lock_guard hold(mutex_);
  who_ = name.substr(0, 80);
}

std::string default_workshop_path() {
  const char* data = std::getenv("XDG_DATA_HOME");
  const char* home = std::getenv("HOME");
  const std::string base = data && *data ? data : std::string(home ? home : ".") + "/.local/share";
  return base + "/palinform/workshop.sqlite";
}

}  // namespace palinform
