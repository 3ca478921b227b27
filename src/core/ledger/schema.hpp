#pragma once
// For this room: the workshop's tables, how older ones are brought up to date, and the checksum every row carries.
#include <SQLiteCpp/SQLiteCpp.h>

#include <map>
#include <set>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "shelf/material.hpp"

namespace palinform::ledger {

/// Rows that are not what was written, by table: rowids. What is told of them, by name.
struct Damage {
  std::map<std::string, std::set<int64_t>> rows;
  std::vector<std::string> names;  ///< "job Drum latch", "lot 12"
  bool holds(const std::string& table, int64_t rowid) const {
    const auto t = rows.find(table);
    return t != rows.end() && t->second.contains(rowid);
  }
};

/// Is this SQLite file a workshop, or empty? Looks at its tables, not only at the version it states.
bool is_workshop(SQLite::Database& db);
/// From `version` (0: empty) to the present, in one transaction.
void migrate(SQLite::Database& db, int version);

/// Enters a version of a material, sealed. Throws where that version is there already.
void put_material(SQLite::Database& db, const Material& material, const std::string& at);

/// Sets the checksum of a row from its columns (and a casting's readings). Call after every write, in its transaction.
void seal(SQLite::Database& db, const std::string& table, int64_t rowid);
/// Is the row what was written?
bool is_sealed(SQLite::Database& db, const std::string& table, int64_t rowid);
/// All rows of a table whose checksum does not fit, by one walk over it.
std::set<int64_t> unsealed_rows(SQLite::Database& db, const std::string& table);
/// Reads every row against its checksum. Rows of older workshops have none until they are migrated.
Damage find_damage(SQLite::Database& db);

}  // namespace palinform::ledger
