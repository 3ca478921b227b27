#pragma once
// For this room: by what a job is found in a list of thousands. Made from the jobs, so a line that is missing or
// damaged is made again.
#include <SQLiteCpp/SQLiteCpp.h>

#include "job/job.hpp"

namespace palinform::ledger {

/// In lower case: name, client, parts, files, materials, form.
std::string words_of(const Job& job);
/// Enters the job's line, sealed.
void write_index(SQLite::Database& db, const Job& job);
/// Makes the lines that are missing or are not what was written.
void keep_index(SQLite::Database& db);

}  // namespace palinform::ledger
