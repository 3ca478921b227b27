#include "ledger/schema.hpp"

#include <bit>

#include "base/hash.hpp"
#include "ledger/workshop.hpp"
#include "shelf/catalogue_view.hpp"
#include "shelf/shelf_file.hpp"

namespace palinform::ledger {
namespace {

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
// A checksum for every row; bookings that can be made once only; meshes in pieces, so that storing one holds no lock
// for long.
constexpr const char* version_5 = R"(
ALTER TABLE job ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE casting ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE casting ADD COLUMN booking TEXT NOT NULL DEFAULT '';
ALTER TABLE edit ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE lot ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE mould ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE mould ADD COLUMN booking TEXT NOT NULL DEFAULT '';
ALTER TABLE pour ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE pour ADD COLUMN booking TEXT NOT NULL DEFAULT '';
ALTER TABLE pour ADD COLUMN pull INTEGER NOT NULL DEFAULT 0;
ALTER TABLE run ADD COLUMN sum TEXT NOT NULL DEFAULT '';
ALTER TABLE learned ADD COLUMN sum TEXT NOT NULL DEFAULT '';
CREATE UNIQUE INDEX pour_once ON pour(booking) WHERE booking <> '';
CREATE UNIQUE INDEX mould_once ON mould(booking) WHERE booking <> '';
CREATE TABLE mesh_part (hash TEXT NOT NULL, part INTEGER NOT NULL, data BLOB NOT NULL, PRIMARY KEY (hash, part));
)";

// Materials of the shop's own: a changed figure is a further version, so that jobs can say what they were planned with.
constexpr const char* version_6 = R"(
CREATE TABLE material (id TEXT NOT NULL, version INTEGER NOT NULL, name TEXT NOT NULL, document TEXT NOT NULL, at TEXT NOT NULL,
                       sum TEXT NOT NULL DEFAULT '', PRIMARY KEY (id, version));
)";

// What the shop keeps as documents: rules, equipment, trials, colours, standing moulds.
constexpr const char* version_7 = R"(
CREATE TABLE paper (kind TEXT NOT NULL, id TEXT NOT NULL, document TEXT NOT NULL, at TEXT NOT NULL, sum TEXT NOT NULL DEFAULT '',
                    PRIMARY KEY (kind, id));
)";

// Photographs taken at the bench.
constexpr const char* version_8 = R"(
CREATE TABLE photo (id INTEGER PRIMARY KEY, job_id TEXT NOT NULL, booking TEXT NOT NULL, taken_at TEXT NOT NULL, note TEXT NOT NULL, jpeg BLOB NOT NULL,
                    sum TEXT NOT NULL DEFAULT '');
)";

// What colour a casting really got.
constexpr const char* version_9 = "ALTER TABLE casting ADD COLUMN colour TEXT NOT NULL DEFAULT ''";
// What was seen on a casting, and how it came about.
constexpr const char* version_10 = "ALTER TABLE casting ADD COLUMN seen TEXT NOT NULL DEFAULT ''";

// By what a job is found in a list of thousands, made from it again whenever it is kept; how a job stood after each
// edit.
constexpr const char* version_11 = R"(
CREATE TABLE job_index (job_id TEXT PRIMARY KEY, closed_on TEXT NOT NULL, promised TEXT NOT NULL, copies INTEGER NOT NULL, words TEXT NOT NULL,
                        kind TEXT NOT NULL, sum TEXT NOT NULL DEFAULT '');
CREATE TABLE job_state (edit_id INTEGER PRIMARY KEY, job_id TEXT NOT NULL, who TEXT NOT NULL, document BLOB NOT NULL);
)";

struct Table {
  const char* name;
  const char* columns;  ///< that the checksum covers
  const char* word;     ///< what a row is called, with the column that names it
  const char* named_by;
};
constexpr Table tables[] = {
    {"job", "id, name, client, changed_at, document", "job", "name"},
    {"casting", "job_id, number, made_on, note, place, booking, colour, seen", "casting", "number"},
    {"edit", "job_id, at, what", "entry of the history", "id"},
    {"lot", "material_id, label, opened_on, expires_on, start_g, left_g", "lot", "label"},
    {"mould", "job_id, name, made_on, pulls, retired_on, retired_why, booking", "mould", "name"},
    {"pour", "job_id, at, what, material_id, mass_g, lot_id, mould_id, failed, note, booking, pull", "pour", "what"},
    {"run", "job_id, document", "bench run", "rowid"},
    {"learned", "silicone_id, resin_id, job_id, delta_pct, u_pct, castings, sizes, adopted_at, reason",
     "learned figure", "resin_id"},
    {"material", "id, version, name, document, at", "material", "name"},
    {"paper", "kind, id, document, at", "entry of the shop", "kind"},
    {"photo", "job_id, booking, taken_at, note, jpeg", "photograph", "taken_at"},
    {"job_index", "job_id, closed_on, promised, copies, words, kind", "line of the jobs' list", "job_id"}};

const Table& table_of(const std::string& name) {
  for (const Table& t : tables)
    if (name == t.name) return t;
  throw std::logic_error("no table " + name);
}

void add_column(Hasher& h, const SQLite::Column& c) {
  if (c.isNull())
    h.add(0);
  else if (c.isInteger())
    h.add(1).add(c.getInt64());
  else if (c.isFloat())
    h.add(2).add(c.getDouble());
  else
    h.add(3).add(std::string_view(static_cast<const char*>(c.getBlob()), static_cast<size_t>(c.getBytes())));
}

/// Checksums of rows; what a casting's readings are asked by is made ready once for all of them.
class RowSums {
 public:
  explicit RowSums(SQLite::Database& db) : db_(db) {}
  /// Of the row the statement stands on, its columns from `first` on.
  std::string of(const Table& t, SQLite::Statement& row, int first, int64_t rowid) {
    Hasher h;
    for (int i = first; i < row.getColumnCount(); ++i) add_column(h, row.getColumn(i));
    if (std::string_view(t.name) == "casting") {
      if (!readings_)
        readings_.emplace(db_,
                          "SELECT size_id, place, value_mm FROM reading WHERE casting_id = ? ORDER BY size_id, place");
      readings_->reset();
      readings_->bind(1, rowid);
      while (readings_->executeStep())
        for (int i = 0; i < 3; ++i) add_column(h, readings_->getColumn(i));
    }
    return h.done().hex();
  }

 private:
  SQLite::Database& db_;
  std::optional<SQLite::Statement> readings_;
};

/// Rows of a table whose checksum does not fit, with what they are called by.
std::vector<std::pair<int64_t, std::string>> unsealed(SQLite::Database& db, const Table& t) {
  std::vector<std::pair<int64_t, std::string>> out;
  RowSums sums(db);
  SQLite::Statement row(db, std::string("SELECT rowid, sum, ") + t.named_by + ", " + t.columns + " FROM " + t.name);
  while (row.executeStep()) {
    const int64_t id = row.getColumn(0).getInt64();
    if (sums.of(t, row, 3, id) != row.getColumn(1).getString()) out.emplace_back(id, row.getColumn(2).getString());
  }
  return out;
}

}  // namespace

bool is_workshop(SQLite::Database& db) {
  const int version = db.execAndGet("PRAGMA user_version").getInt();
  const auto has = [&](const char* table, std::initializer_list<const char*> columns) {
    std::set<std::string> there;
    SQLite::Statement q(db, "SELECT name FROM pragma_table_info(?)");
    q.bind(1, table);
    while (q.executeStep()) there.insert(q.getColumn(0).getString());
    for (const char* c : columns)
      if (!there.contains(c)) return false;
    return true;
  };
  if (version < 1) return db.execAndGet("SELECT count(*) FROM sqlite_master").getInt() == 0;
  return has("job", {"id", "name", "client", "changed_at", "document"}) &&
         has("mesh", {"hash", "name", "triangles", "data"}) && has("casting", {"job_id", "number", "made_on"}) &&
         has("reading", {"casting_id", "size_id", "value_mm"}) &&
         (version < 2 || has("edit", {"job_id", "at", "what"})) &&
         (version < 3 || (has("lot", {"label", "left_g"}) && has("mould", {"pulls"}) && has("pour", {"mass_g"}))) &&
         (version < 4 || has("learned", {"delta_pct"})) && (version < 5 || has("mesh_part", {"part"})) &&
         (version < 6 || has("material", {"id", "version", "document"})) &&
         (version < 7 || has("paper", {"kind", "id", "document"})) &&
         (version < 8 || has("photo", {"job_id", "jpeg"})) && (version < 9 || has("casting", {"colour"})) &&
         (version < 10 || has("casting", {"seen"})) &&
         (version < 11 || (has("job_index", {"job_id", "words"}) && has("job_state", {"edit_id", "document"})));
}

void put_material(SQLite::Database& db, const Material& m, const std::string& at) {
  SQLite::Statement q(db, "INSERT INTO material (id, version, name, document, at) VALUES (?, ?, ?, ?, ?)");
  q.bind(1, m.id);
  q.bind(2, m.version);
  q.bind(3, m.name);
  q.bind(4, shelf_to_json({m}));
  q.bind(5, at);
  q.exec();
  seal(db, "material", db.getLastInsertRowid());
}

void migrate(SQLite::Database& db, int version) {
  SQLite::Transaction all(db);
  if (version < 1) db.exec(version_1);
  if (version < 2) db.exec(version_2);
  if (version < 3) db.exec(version_3);
  if (version < 4) db.exec(version_4);
  if (version < 5) db.exec(version_5);
  if (version < 6) {
    db.exec(version_6);
    for (const Material& m : starting_shelf()) put_material(db, m, now_text());
  }
  if (version < 7) db.exec(version_7);
  if (version < 8) db.exec(version_8);
  if (version < 10) {
    // The checksum covers more columns: only what still fits the old one gets a new one.
    const Table was{"casting",
                    version < 9 ? "job_id, number, made_on, note, place, booking"
                                : "job_id, number, made_on, note, place, booking, colour",
                    "casting", "number"};
    std::vector<int64_t> good;
    if (version >= 5) {
      RowSums sums(db);
      SQLite::Statement q(db, std::string("SELECT id, sum, ") + was.columns + " FROM casting");
      while (q.executeStep())
        if (sums.of(was, q, 2, q.getColumn(0).getInt64()) == q.getColumn(1).getString())
          good.push_back(q.getColumn(0).getInt64());
    }
    if (version < 9) db.exec(version_9);
    db.exec(version_10);
    for (const int64_t id : good) seal(db, "casting", id);
  }
  if (version < 11) db.exec(version_11);
  if (version < 5)
    for (const Table& t : tables) {
      SQLite::Statement q(db, std::string("SELECT rowid FROM ") + t.name);
      std::vector<int64_t> ids;
      while (q.executeStep()) ids.push_back(q.getColumn(0).getInt64());
      for (const int64_t id : ids) seal(db, t.name, id);
    }
  db.exec("PRAGMA user_version = " + std::to_string(workshop_version));
  all.commit();
}

void seal(SQLite::Database& db, const std::string& name, int64_t rowid) {
  const Table& t = table_of(name);
  SQLite::Statement row(db, std::string("SELECT ") + t.columns + " FROM " + t.name + " WHERE rowid = ?");
  row.bind(1, rowid);
  if (!row.executeStep()) return;
  SQLite::Statement put(db, std::string("UPDATE ") + t.name + " SET sum = ? WHERE rowid = ?");
  put.bind(1, RowSums(db).of(t, row, 0, rowid));
  put.bind(2, rowid);
  put.exec();
}

bool is_sealed(SQLite::Database& db, const std::string& name, int64_t rowid) {
  const Table& t = table_of(name);
  SQLite::Statement row(db, std::string("SELECT sum, ") + t.columns + " FROM " + t.name + " WHERE rowid = ?");
  row.bind(1, rowid);
  return row.executeStep() && RowSums(db).of(t, row, 1, rowid) == row.getColumn(0).getString();
}

std::set<int64_t> unsealed_rows(SQLite::Database& db, const std::string& name) {
  std::set<int64_t> out;
  for (const auto& [id, by] : unsealed(db, table_of(name))) out.insert(id);
  return out;
}

Damage find_damage(SQLite::Database& db) {
  Damage out;
  for (const Table& t : tables)
    for (auto& [id, by] : unsealed(db, t)) {
      out.rows[t.name].insert(id);
      by.resize(std::min<size_t>(by.size(), 60));
      for (char& c : by)
        if (static_cast<unsigned char>(c) < 32) c = '?';
      out.names.push_back(std::string(t.word) + " " + by);
    }
  return out;
}

}  // namespace palinform::ledger
