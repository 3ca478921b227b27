#include "ledger/job_index.hpp"

#include "base/text.hpp"
#include "ledger/really_taken.hpp"
#include "ledger/schema.hpp"
#include "ledger/workshop.hpp"

namespace palinform {

bool found_by(const JobRow& row, std::string_view words) {
  const std::string all = lower_ascii(row.name) + " " + lower_ascii(row.client) + " " + row.words + " " + row.promised +
                          " " + row.changed_at;
  for (size_t at = 0; at < words.size();) {
    const size_t end = std::min(words.find(' ', at), words.size());
    const std::string one = lower_ascii(words.substr(at, end - at));
    if (!one.empty() && all.find(one) == std::string::npos) return false;
    at = end + 1;
  }
  return true;
}

namespace ledger {

std::string words_of(const Job& job) {
  std::string out;
  const auto add = [&](std::string_view s) {
    if (!s.empty()) out += (out.empty() ? "" : " ") + lower_ascii(s);
  };
  add(job.part_name);
  const auto mesh_of = [&](const OriginalPart& o) { add(o.mesh.file); };
  mesh_of(job.original);
  for (const JobPart& p : job.parts) {
    add(p.name);
    mesh_of(p.original);
  }
  if (job.mix.rubber) add(job.mix.rubber->name);
  if (job.mix.resin) add(job.mix.resin->name);
  if (!job.mix.rubber) add(job.mix.silicone_id);
  if (!job.mix.resin) add(job.mix.resin_id);
  add(name_of(job.mould.planned_form()));
  return out;
}

void write_index(SQLite::Database& db, const Job& job) {
  SQLite::Statement put(
      db,
      "INSERT INTO job_index (job_id, closed_on, promised, copies, words, kind) VALUES (?, ?, ?, ?, ?, ?) ON "
      "CONFLICT(job_id) DO UPDATE SET closed_on = excluded.closed_on, promised = excluded.promised, "
      "copies = excluded.copies, words = excluded.words, kind = excluded.kind");
  put.bind(1, job.id);
  put.bind(2, job.closed_on);
  put.bind(3, job.days.promised);
  put.bind(4, job.copies);
  put.bind(5, words_of(job));
  put.bind(6, kind_of_moulds(job));
  put.exec();
  SQLite::Statement row(db, "SELECT rowid FROM job_index WHERE job_id = ?");
  row.bind(1, job.id);
  if (row.executeStep()) seal(db, "job_index", row.getColumn(0).getInt64());
}

void keep_index(SQLite::Database& db) {
  std::vector<std::pair<std::string, int64_t>> wanted;  // id, row of the job
  {
    const std::set<int64_t> spoilt = unsealed_rows(db, "job_index");
    SQLite::Statement q(db,
                        "SELECT job.id, job.rowid, coalesce(job_index.rowid, -1) FROM job LEFT JOIN job_index ON "
                        "job_index.job_id = job.id");
    while (q.executeStep())
      if (const int64_t row = q.getColumn(2).getInt64(); row < 0 || spoilt.contains(row))
        wanted.emplace_back(q.getColumn(0).getString(), q.getColumn(1).getInt64());
    SQLite::Statement stray(db, "SELECT count(*) FROM job_index WHERE job_id NOT IN (SELECT id FROM job)");
    if (wanted.empty() && stray.executeStep() && stray.getColumn(0).getInt() == 0) return;
  }
  SQLite::Transaction all(db);
  db.exec("DELETE FROM job_index WHERE job_id NOT IN (SELECT id FROM job)");
  for (const auto& [id, row] : wanted) {
    if (!is_sealed(db, "job", row)) continue;  // damaged: told elsewhere, and found by nothing
    SQLite::Statement q(db, "SELECT document FROM job WHERE id = ?");
    q.bind(1, id);
    if (!q.executeStep()) continue;
    auto job = job_from_json(q.getColumn(0).getString(), "job " + id);
    if (!job) continue;
    job->id = id;
    write_index(db, *job);
  }
  all.commit();
}

}  // namespace ledger
}  // namespace palinform
