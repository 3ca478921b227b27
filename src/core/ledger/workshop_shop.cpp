// Workshop: what the shop keeps as documents, each under its kind and id.
#include <SQLiteCpp/SQLiteCpp.h>

#include "base/json_fields.hpp"
#include "base/text.hpp"
#include "job/job.hpp"
#include "ledger/schema.hpp"
#include "ledger/scope.hpp"
#include "ledger/workshop.hpp"

namespace palinform {
namespace {

constexpr const char *rules_kind = "rules", *equipment_kind = "equipment", *trial_kind = "trial",
                     *emptied_kind = "emptied", *recipe_kind = "recipe", *standing_kind = "standing-mould",
                     *habits_kind = "habits", *block_kind = "block", *done_kind = "run-done", *card_kind = "card",
                     *care_kind = "mould-care", *customer_kind = "customer";

}  // namespace

Result<std::vector<Workshop::Paper>> Workshop::papers(const char* kind) {
  std::lock_guard hold(mutex_);
  try {
    std::vector<Paper> out;
    SQLite::Statement q(*db_, "SELECT id, document, rowid FROM paper WHERE kind = ? ORDER BY rowid");
    q.bind(1, kind);
    while (q.executeStep())
      if (!damage_->holds("paper", q.getColumn(2).getInt64()))
        out.push_back({q.getColumn(0).getString(), q.getColumn(1).getString()});
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::keep_paper(const char* kind, const std::string& id, const std::string& document) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(*db_,
                        "INSERT INTO paper (kind, id, document, at) VALUES (?, ?, ?, ?) "
                        "ON CONFLICT (kind, id) DO UPDATE SET document = excluded.document, at = excluded.at");
    q.bind(1, kind);
    q.bind(2, id);
    q.bind(3, document);
    q.bind(4, now_text());
    q.exec();
    SQLite::Statement row(*db_, "SELECT rowid FROM paper WHERE kind = ? AND id = ?");
    row.bind(1, kind);
    row.bind(2, id);
    if (row.executeStep()) ledger::seal(*db_, "paper", row.getColumn(0).getInt64());
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::drop_paper(const char* kind, const std::string& id) {
  if (read_only_) return reading_only();
  std::lock_guard hold(mutex_);
  try {
    Scope all(*this);
    SQLite::Statement q(*db_, "DELETE FROM paper WHERE kind = ? AND id = ?");
    q.bind(1, kind);
    q.bind(2, id);
    q.exec();
    all.commit();
    return {};
  } catch (const std::exception& e) { return fault(e); }
}

template <class T>
Result<std::vector<T>> Workshop::read_papers(const char* kind) {
  const auto rows = papers(kind);
  if (!rows) return rows.error();
  std::vector<T> out;
  for (const Paper& p : *rows) {
    T value;
    try {
      json::read(json::Given::parse(p.document), value, "");
    } catch (const json::Bad& b) {
      return Error{"an entry of the shop cannot be read: " + b.what, p.id, ""};
    } catch (const nlohmann::json::exception&) { return Error{"an entry of the shop cannot be read", p.id, ""}; }
    out.push_back(std::move(value));
  }
  return out;
}

Result<Rules> Workshop::rules() {
  const auto rows = papers(rules_kind);
  if (!rows) return rows.error();
  return rows->empty() ? Result<Rules>(starting_shop().rules) : read_rules(rows->front().document);
}
Status Workshop::keep_rules(const Rules& rules) {
  const std::string document = write_rules(rules);
  if (const auto again = read_rules(document); !again) return again.error();
  return keep_paper(rules_kind, "rules", document);
}

Result<std::vector<MouldCare>> Workshop::mould_cares() { return read_papers<MouldCare>(care_kind); }
Status Workshop::keep_mould_care(const MouldCare& c) {
  if (auto ok = check_fields(c); !ok) return ok;
  return keep_paper(care_kind, c.id, json::write(c).dump());
}

Result<std::vector<Customer>> Workshop::customers() { return read_papers<Customer>(customer_kind); }
Status Workshop::keep_customer(const Customer& c) {
  if (auto ok = check_fields(c); !ok) return ok;
  if (c.name.empty()) return Error{"a customer has a name", "customer", "Write it on the job first."};
  return keep_paper(customer_kind, lower_ascii(c.name), json::write(c).dump());
}

Result<std::vector<std::string>> Workshop::cards() {
  const auto rows = papers(card_kind);
  if (!rows) return rows.error();
  std::vector<std::string> out;
  for (const Paper& p : *rows) out.push_back(p.document);
  return out;
}
Status Workshop::keep_card(const std::string& job_id, const std::string& document) {
  return keep_paper(card_kind, job_id, document);
}

Status Workshop::keep_done_run(const std::string& job_id, int64_t begun, const std::string& document) {
  return keep_paper(done_kind, job_id + "/" + std::to_string(begun), document);
}
Result<std::vector<std::string>> Workshop::done_runs(const std::string& job_id) {
  const auto rows = papers(done_kind);
  if (!rows) return rows.error();
  std::vector<std::string> out;
  for (const Paper& p : *rows)
    if (p.id.starts_with(job_id + "/")) out.push_back(p.document);
  return out;
}

Result<OwnWays> Workshop::habits() {
  const auto kept = read_papers<OwnWays>(habits_kind);
  if (!kept) return kept.error();
  return kept->empty() ? OwnWays{} : kept->front();
}
Status Workshop::keep_habits(const OwnWays& habits) {
  if (auto ok = check_fields(habits); !ok) return ok;
  return keep_paper(habits_kind, "habits", json::write(habits).dump());
}

Result<Equipment> Workshop::equipment() {
  const auto rows = papers(equipment_kind);
  if (!rows) return rows.error();
  return rows->empty() ? Result<Equipment>(Equipment{}) : equipment_from_json(rows->front().document, "equipment");
}
Status Workshop::keep_equipment(const Equipment& e) {
  if (auto ok = check_equipment(e); !ok) return ok;
  return keep_paper(equipment_kind, "equipment", equipment_to_json(e));
}

Result<std::vector<Trial>> Workshop::trials() { return read_papers<Trial>(trial_kind); }
Status Workshop::keep_trial(Trial t) {
  if (auto ok = check_fields(t); !ok) return ok;
  if (t.lot_id <= 0) return Error{"a test is made on a lot", "test", "Choose the lot it was made with."};
  if (t.kind == TrialKind::patch && t.surface.empty())
    return Error{"a patch test is made on a surface", "test", "Say what the master's surface is."};
  if (t.on.empty()) return Error{"a test has a day", "test", "Write a date like 2026-11-25."};
  if (t.id.empty()) t.id = new_id();
  return keep_paper(trial_kind, t.id, json::write(t).dump());
}

Result<std::vector<EmptiedRecord>> Workshop::emptied() { return read_papers<EmptiedRecord>(emptied_kind); }
Status Workshop::keep_emptied(const EmptiedRecord& c) {
  if (auto ok = check_fields(c); !ok) return ok;
  return keep_paper(emptied_kind, c.id, json::write(c).dump());
}
Status Workshop::drop_emptied(const std::string& id) { return drop_paper(emptied_kind, id); }

Status Workshop::keep_block(const BlockBuilt& b) {
  if (auto ok = check_fields(b); !ok) return ok;
  return keep_paper(block_kind, b.id, json::write(b).dump());
}
Result<std::vector<BlockLife>> Workshop::block_lives() {
  const auto built = read_papers<BlockBuilt>(block_kind);
  if (!built) return built.error();
  std::lock_guard hold(mutex_);
  try {
    std::vector<BlockLife> out;
    SQLite::Statement q(*db_, "SELECT id, pulls, retired_on FROM mould WHERE booking = ?");
    for (const BlockBuilt& b : *built) {
      q.reset();
      q.bind(1, b.id);
      // One whose bench screen was taken back stands in no shelf.
      if (q.executeStep() && !damage_->holds("mould", q.getColumn(0).getInt64()))
        out.push_back({b.wall_mm, b.part_mm, b.shore_a, q.getColumn(1).getInt(), !q.getColumn(2).getString().empty()});
    }
    return out;
  } catch (const std::exception& e) { return fault(e); }
}

Status Workshop::drop_trial(const std::string& id) { return drop_paper(trial_kind, id); }

Result<std::vector<ColourRecipe>> Workshop::recipes() { return read_papers<ColourRecipe>(recipe_kind); }
Status Workshop::keep_recipe(const ColourRecipe& r) {
  if (auto ok = check_recipe(r); !ok) return ok;
  return keep_paper(recipe_kind, r.id, json::write(r).dump());
}
Status Workshop::drop_recipe(const std::string& id) { return drop_paper(recipe_kind, id); }

Result<std::vector<StandingMould>> Workshop::standing_moulds() { return read_papers<StandingMould>(standing_kind); }
Status Workshop::keep_standing_mould(const StandingMould& m) {
  if (auto ok = check_standing(m); !ok) return ok;
  return keep_paper(standing_kind, m.id, json::write(m).dump());
}
Status Workshop::drop_standing_mould(const std::string& id) { return drop_paper(standing_kind, id); }

}  // namespace palinform
