#include "ledger/copies.hpp"

#include <SQLiteCpp/SQLiteCpp.h>

#include <algorithm>
#include <filesystem>

#include "base/text.hpp"
#include "ledger/file_lock.hpp"
#include "ledger/schema.hpp"
#include "ledger/workshop.hpp"

namespace palinform {
namespace {

namespace fs = std::filesystem;

CopyOf look_into(const std::string& path, const std::string& day) {
  CopyOf c;
  c.day = day, c.path = path;
  try {
    SQLite::Database db(path, SQLite::OPEN_READONLY, 2000);
    SQLite::Statement check(db, "PRAGMA quick_check(1)");
    if (!check.executeStep() || check.getColumn(0).getString() != "ok") c.fault = "it does not read back";
    c.jobs = db.execAndGet("SELECT count(*) FROM job").getInt();
    c.castings = db.execAndGet("SELECT count(*) FROM casting").getInt();
    c.pours = db.execAndGet("SELECT count(*) FROM pour").getInt();
    SQLite::Statement last(db, "SELECT at || ' ' || what FROM edit ORDER BY id DESC LIMIT 1");
    if (last.executeStep()) c.last_edit = last.getColumn(0).getString();
    if (const auto bad = ledger::find_damage(db); c.fault.empty() && !bad.names.empty())
      c.fault = counted(static_cast<long long>(bad.names.size()), "row is damaged", "rows are damaged");
  } catch (const std::exception& e) { c.fault = e.what(); }
  return c;
}

}  // namespace

std::vector<CopyOf> copies_of(const std::string& workshop) {
  std::vector<CopyOf> out;
  std::error_code ec;
  const fs::path at(workshop);
  const std::string head = at.filename().string() + ".";
  const fs::path folder = at.parent_path().empty() ? fs::path(".") : at.parent_path();
  for (const auto& e : fs::directory_iterator(folder, ec)) {
    const std::string name = e.path().filename().string();
    if (name.size() != head.size() + 14 || !name.starts_with(head) || !name.ends_with(".bak")) continue;
    const std::string day = name.substr(head.size(), 10);
    if (parse_wall_time(day + "T00:00")) out.push_back(look_into(e.path().string(), day));
  }
  std::sort(out.begin(), out.end(), [](const CopyOf& a, const CopyOf& b) { return a.day > b.day; });
  return out;
}

Result<std::string> put_back(const std::string& workshop, const std::string& day, const std::string& now) {
  const auto copies = copies_of(workshop);
  const auto copy = std::find_if(copies.begin(), copies.end(), [&](const CopyOf& c) { return c.day == day; });
  if (copy == copies.end())
    return Error{"there is no copy of " + day, base_name(workshop), "palin restore WORKSHOP lists those there are."};
  if (!copy->fault.empty())
    return Error{"the copy of " + day + " cannot be used: " + copy->fault, base_name(copy->path),
                 "Choose another day."};
  std::error_code ec;
  std::string kept = workshop + ".before-" + day + "-" + now + ".bak";
  std::replace(kept.begin() + static_cast<std::ptrdiff_t>(workshop.size()), kept.end(), ':', '-');
  if (fs::exists(workshop, ec)) {
    const FileLock lock(workshop);
    if (!lock.held())
      return Error{"a window has this workshop open", base_name(workshop), "Close it first; nothing was changed."};
    // What still stands in the log beside the file belongs to it.
    try {
      SQLite::Database db(workshop, SQLite::OPEN_READWRITE, 2000);
      db.exec("PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (const std::exception&) {}  // damaged: kept as it is, with its log
    for (const char* tail : {"-wal", "-shm"})
      if (fs::exists(workshop + tail, ec)) fs::rename(workshop + tail, kept + tail, ec);
    fs::rename(workshop, kept, ec);
    if (ec) return Error{"the workshop could not be kept aside", kept, "Check the folder and its permissions."};
  } else {
    kept.clear();
  }
  fs::copy_file(copy->path, workshop + ".part", fs::copy_options::overwrite_existing, ec);
  if (!ec) fs::rename(workshop + ".part", workshop, ec);
  if (ec) {
    std::error_code back;
    if (!kept.empty()) fs::rename(kept, workshop, back);
    return Error{"the copy could not be put in its place", workshop, "Check the disk; the workshop is as it was."};
  }
  return kept;
}

Result<Salvaged> salvage(const std::string& damaged, const std::string& into) {
  std::error_code ec;
  if (fs::exists(into, ec)) return Error{"there is a file already", into, "Choose another name."};
  if (!fs::exists(damaged, ec)) return Error{"there is no such file", damaged, ""};
  Salvaged out;
  {
    auto made = Workshop::open(into);
    if (!made) return made.error();
  }
  try {
    SQLite::Database from(damaged, SQLite::OPEN_READONLY, 2000);
    SQLite::Database to(into, SQLite::OPEN_READWRITE, 2000);
    to.exec("PRAGMA foreign_keys = OFF");
    SQLite::Transaction all(to);
    to.exec("DELETE FROM material");
    std::vector<std::string> tables;
    {
      SQLite::Statement q(to, "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'");
      while (q.executeStep()) tables.push_back(q.getColumn(0).getString());
    }
    for (const std::string& table : tables) {
      // Only the columns that both have: it may be of an older version.
      std::string columns, marks;
      int count = 0;
      try {
        std::set<std::string> theirs;
        SQLite::Statement there(from, "SELECT name FROM pragma_table_info('" + table + "')");
        while (there.executeStep()) theirs.insert(there.getColumn(0).getString());
        SQLite::Statement ours(to, "SELECT name FROM pragma_table_info('" + table + "')");
        while (ours.executeStep())
          if (const std::string name = ours.getColumn(0).getString(); theirs.contains(name)) {
            columns += (columns.empty() ? "" : ", ") + ("\"" + name + "\"");
            marks += count++ ? ", ?" : "?";
          }
      } catch (const std::exception&) { columns.clear(); }
      if (columns.empty()) {
        out.tables.push_back(table);
        continue;
      }
      SQLite::Statement put(
          to, "INSERT OR IGNORE INTO \"" + table + "\" (rowid, " + columns + ") VALUES (?, " + marks + ")");
      std::set<int64_t> seen;
      int64_t first = INT64_MAX, last = INT64_MIN;
      // From both ends towards the damage.
      for (const char* way : {"ASC", "DESC"}) {
        try {
          SQLite::Statement q(from, "SELECT rowid, " + columns + " FROM \"" + table + "\" ORDER BY rowid " + way);
          while (q.executeStep()) {
            const int64_t row = q.getColumn(0).getInt64();
            first = std::min(first, row), last = std::max(last, row);
            if (!seen.insert(row).second) break;
            put.reset();
            put.bind(1, row);
            for (int i = 0; i < count; ++i) {
              const SQLite::Column c = q.getColumn(i + 1);
              if (c.isNull())
                put.bind(i + 2);
              else if (c.isInteger())
                put.bind(i + 2, c.getInt64());
              else if (c.isFloat())
                put.bind(i + 2, c.getDouble());
              else if (c.isBlob())
                put.bind(i + 2, c.getBlob(), c.getBytes());
              else
                put.bind(i + 2, c.getString());
            }
            put.exec();
            ++out.rows;
          }
        } catch (const std::exception&) {}  // the other end may still give something
      }
      if (!seen.empty() && table != "mesh_part" && table != "reading" && table != "job_state")
        out.lost +=
            static_cast<int>(std::min<int64_t>(1'000'000, last - first + 1 - static_cast<int64_t>(seen.size())));
    }
    all.commit();
  } catch (const std::exception& e) {
    fs::remove(into, ec);
    return Error{std::string("nothing of it can be read: ") + e.what(), base_name(damaged), "Put back a dated copy."};
  }
  // Opened as any workshop is: what is not as it was written is told and shown nowhere.
  auto w = Workshop::open(into);
  if (!w) return w.error();
  out.lost += static_cast<int>((*w)->damaged().size());
  if (const auto rows = (*w)->jobs()) {
    out.jobs = static_cast<int>(rows->size());
    for (const JobRow& r : *rows) out.castings += r.castings;
  }
  if (out.rows == 0) {
    w->reset();
    fs::remove(into, ec);
    return Error{"nothing of it can be read", base_name(damaged), "Put back a dated copy."};
  }
  return out;
}

}  // namespace palinform
