// Workshop: the shelf, a row a version.
#include <SQLiteCpp/SQLiteCpp.h>

#include "job/job.hpp"
#include "ledger/schema.hpp"
#include "ledger/scope.hpp"
#include "ledger/workshop.hpp"
#include "shelf/shelf_file.hpp"

namespace palinform {
namespace {

Result<Material> from_document(const std::string& document, const std::string& id, int version) {
  auto read = shelf_from_json(document, id);
  if (!read) return read.error();
  if (read->size() != 1) return Error{"the material cannot be read", id, ""};
  Material m = std::move(read->front());
  m.version = version;
  return m;
}

}  // namespace

Result<std::vector<Material>> Workshop::shelf() {
  std::lock_guard hold(mutex_);
  try {
    std::vector<Material> out;
    SQLite::Statement q(*db_,
                        "SELECT id, version, document, rowid FROM material AS m WHERE version = "
                        "(SELECT max(version) FROM material WHERE id = m.id) "
                        "ORDER BY (SELECT min(rowid) FROM material WHERE id = m.id)");
    while (q.executeStep()) {
      if (damage_->holds("material", q.getColumn(3).getInt64())) continue;
      auto m = from_document(q.getColumn(2).getString(), q.getColumn(0).getString(), q.getColumn(1).getInt());
      if (!m) return m.error();
      out.push_back(*std::move(m));
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Result<Material> Workshop::material(const std::string& id, int version) {
  std::lock_guard hold(mutex_);
  try {
    SQLite::Statement q(*db_,
                        "SELECT version, document, rowid FROM material WHERE id = ? AND (? = 0 OR version = ?) "
                        "ORDER BY version DESC LIMIT 1");
    q.bind(1, id);
    q.bind(2, version);
    q.bind(3, version);
    if (!q.executeStep() || damage_->holds("material", q.getColumn(2).getInt64()))
      return Error{"there is no such material on the shelf", id, "palin shelf WORKSHOP lists them."};
    return from_document(q.getColumn(1).getString(), id, q.getColumn(0).getInt());
  } catch (const std::exception& e) { return fault(e); }
}

Result<int> Workshop::keep_material(Material m) {
  if (read_only_) return reading_only();
  if (auto ok = check_material(m); !ok) return ok.error();
  std::lock_guard hold(mutex_);
  const auto before = material(m.id);
  m.version = before ? before->version : 0;
  if (before && *before == m) return m.version;
  ++m.version;
  try {
    Scope all(*this);
    ledger::put_material(*db_, m, now_text());
    all.commit();
    return m.version;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::retire_material(const std::string& id) {
  auto m = material(id);
  if (!m) return m.error();
  m->retired = true;
  const auto kept = keep_material(*m);
  return kept ? Status{} : Status(kept.error());
}

}  // namespace palinform
