#pragma once
/// The workshop file: one SQLite database with jobs, their castings and readings, and their meshes. Every edit is a
/// transaction; a kill at any moment loses at most the edit in hand.
#include <array>
#include <functional>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "mesh/tri_mesh.hpp"
#include "mix/left_over.hpp"
#include "mix/recipe.hpp"
#include "mix/stock.hpp"
#include "rules/equipment.hpp"
#include "rules/rules.hpp"
#include "shelf/material.hpp"
#include "stages/sizing.hpp"

namespace SQLite {
class Database;
}

namespace palinform {

class FileLock;
namespace ledger {
struct Damage;
}

constexpr int workshop_version = 11;  ///< PRAGMA user_version of the files written now

/// A bench run of some job: the document is run_to_json's.
struct RunRow {
  std::string job_id, job_name, document;
};
/// A photograph taken at the bench, as a scaled copy (JPEG).
struct PhotoRow {
  int64_t id = 0;
  std::string job_id, booking, taken_at, note;
};

struct JobRow {
  std::string id, name, client, changed_at;
  int castings = 0;
  std::string closed_on, promised;  ///< ISO dates; empty: open, nothing promised
  int copies = 1;
  std::string words;  ///< what else it is found by, in lower case: materials, parts, files
  std::string kind;   ///< of its moulds: "rubber id/form"
  bool open() const { return closed_on.empty(); }
};
/// Somebody the shop works for: what is known besides the name on the jobs.
struct Customer {
  std::string name;
  std::string reach;  ///< address, telephone, as written
  std::string note;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{200});
    f("reach", s.reach, AtMost{1000});
    f("note", s.note, AtMost{4000});
  }
};

/// Does the job answer to every one of the words, in whatever of its name, client, materials, parts or dates?
bool found_by(const JobRow& row, std::string_view words);

/// An edit of a job, and whether the job as it stood after it is kept.
struct EditRow {
  int64_t id = 0;
  std::string at, what, who;
  bool kept = false;
};

class Workshop {
 public:
  /// Opens or makes the file. Refuses in words, leaving the file untouched: what is no workshop, is damaged, or was
  /// written by a newer version. An older one is copied to "<path>.v<N>.bak" before it is migrated. When another window
  /// holds the workshop, it is opened for reading only.
  static Result<std::unique_ptr<Workshop>> open(const std::string& path);
  ~Workshop();
  Workshop(const Workshop&) = delete;
  Workshop& operator=(const Workshop&) = delete;

  bool read_only() const { return read_only_; }
  /// Is the file still where it was opened? False when it was moved, replaced or removed meanwhile.
  bool in_place() const;
  /// A verified copy beside the file, "<path>.2026-11-26.bak": one a day, the last ten are kept. Reads over a
  /// connection of its own and may be called from any thread; gives the copy's path, or nothing where today's is there
  /// already.
  Result<std::optional<std::string>> keep_copy(const std::string& today) const;
  /// The whole workshop as it stands, verified, as a new file; also where its own file was moved or removed. Refused
  /// where there is a file already.
  Status save_elsewhere(const std::string& path);
  /// Rows whose checksum did not fit when the workshop was opened, by name: "job Drum latch", "lot 12". They are shown
  /// nowhere and overwritten by nothing; the rest goes on.
  const std::vector<std::string>& damaged() const;
  const std::string& path() const { return path_; }

  /// The newest version of every material, retired ones too, in the order they came.
  Result<std::vector<Material>> shelf();
  /// One version of one; 0: the newest.
  Result<Material> material(const std::string& id, int version = 0);
  /// Keeps a material: as a new one, or as the next version where any figure differs. Gives the version that now holds.
  /// Refused: what cannot be (check_material); a material that comes back from being retired keeps its versions.
  Result<int> keep_material(Material material);
  /// It is no longer offered; jobs and books that name it keep it.
  Status retire_material(const std::string& id);

  /// The shop's own rules of thumb and equipment; the defaults where it has changed none.
  Result<Rules> rules();
  Status keep_rules(const Rules& rules);
  Result<Equipment> equipment();
  Status keep_equipment(const Equipment& equipment);
  /// Patch and cup tests, in the order they were kept. A trial without an id gets one.
  Result<std::vector<Trial>> trials();
  Status keep_trial(Trial trial);
  Status drop_trial(const std::string& id);
  /// Cups weighed after pouring; keeping one with a known id replaces it.
  Result<std::vector<EmptiedRecord>> emptied();
  Status keep_emptied(const EmptiedRecord& cup);
  Status drop_emptied(const std::string& id);
  /// Blocks as they were built, with what became of them.
  Result<std::vector<BlockLife>> block_lives();
  Status keep_block(const BlockBuilt& block);
  /// Colours and standing moulds by id; keeping one with a known id replaces it.
  Result<std::vector<ColourRecipe>> recipes();
  Status keep_recipe(const ColourRecipe& recipe);
  Status drop_recipe(const std::string& id);
  Result<std::vector<StandingMould>> standing_moulds();
  Status keep_standing_mould(const StandingMould& mould);
  Status drop_standing_mould(const std::string& id);

  Result<std::vector<JobRow>> jobs();
  Result<Job> load_job(const std::string& id);
  /// Job, castings, readings and the log line `what` in one transaction.
  Status save_job(const Job& job, const std::string& what);
  Status remove_job(const std::string& id);
  /// What `work` does is one transaction, safe on the disk before it ends: all of it or, where it gives an Error or the
  /// process is killed, nothing. For a press at the bench, which books, saves the job and the run.
  Status together(const std::function<Status()>& work);
  /// Log of edits to a job, oldest first: when and what.
  Result<std::vector<std::pair<std::string, std::string>>> edits(const std::string& id);
  /// The same with who and whether the state is kept.
  Result<std::vector<EditRow>> edit_rows(const std::string& id);
  /// The job as it stood after an edit, with the castings it has now: those are records, not plans.
  Result<Job> job_after(int64_t edit_id);
  /// Whoever works at this machine: stands beside every edit from now on.
  void set_who(const std::string& name);
  /// How the job stood on the wall when it was last worked out.
  Result<std::vector<std::string>> cards();
  Status keep_card(const std::string& job_id, const std::string& document);

  /// Lots, moulds and pours, newest first. Saving one with id 0 makes it and gives its id.
  Result<std::vector<Lot>> lots();
  Result<int64_t> save_lot(const Lot& lot);
  Result<std::vector<MouldRecord>> moulds(const std::string& job_id = "");
  Result<int64_t> save_mould(const MouldRecord& mould, const std::string& booking = "");
  Result<std::vector<MouldCare>> mould_cares();
  Status keep_mould_care(const MouldCare& care);
  /// Whom the shop works for, as far as more than a name is known.
  Result<std::vector<Customer>> customers();
  Status keep_customer(const Customer& customer);
  Result<std::vector<PourRecord>> pours(const std::string& job_id = "");
  /// Books a pour; draws its mass from the lot and counts a pull of the mould, all in one transaction. What carries a
  /// booking (run and screen) is booked once only: a second time gives the first one's id.
  Result<int64_t> book_pour(const PourRecord& pour, bool counts_as_pull, const std::string& booking = "");
  /// Takes what carries the booking back by a counter-entry: the mass returns to its lot, the pull is not counted, a
  /// mould is retired. It may then be booked again.
  Status take_back(const std::string& booking, const std::string& at);
  /// What castings taught, one record a pair of materials and job; adopting again replaces it (M11).
  Result<std::vector<LearnedRecord>> learned();
  Status adopt(const LearnedRecord& record);
  /// The bench run of a job as JSON text; empty when there is none.
  Result<std::string> run_document(const std::string& job_id);
  Status save_run(const std::string& job_id, const std::string& document);
  /// The runs of all jobs.
  Result<std::vector<RunRow>> runs();
  /// A run that was put away: kept as its tape. `begun`: seconds since 1970, as in the run.
  Status keep_done_run(const std::string& job_id, int64_t begun, const std::string& document);
  /// Those of a job, oldest first.
  Result<std::vector<std::string>> done_runs(const std::string& job_id);
  /// A pour of that booking failed, as was seen later: it stays in the books as failed.
  Status mark_failed(const std::string& booking, const std::string& why);
  /// Photographs: kept whole, listed without their bytes. Refused: what is no JPEG, or over 8 MB.
  Result<int64_t> keep_photo(const PhotoRow& photo, std::string_view jpeg);
  Result<std::vector<PhotoRow>> photos(const std::string& job_id);
  Result<std::string> photo(int64_t id);
  /// The picture a job's part is traced on, kept among its photographs; the same bytes once only. Gives its hash.
  Result<std::string> keep_picture(const std::string& job_id, const std::string& file, std::string_view bytes);
  Result<std::string> picture(const std::string& job_id, const std::string& hash);
  /// How the shop's work differs from the procedures, for all jobs.
  Result<OwnWays> habits();
  Status keep_habits(const OwnWays& habits);
  /// Edits of all jobs, newest first, at most `most`: when, job, what.
  Result<std::vector<std::array<std::string, 3>>> history(int most);

  /// Keeps a mesh under its content hash; gives the hash. Keeping the same mesh twice is free.
  Result<std::string> put_mesh(const TriMesh& mesh, const std::string& name);
  /// Read back and checked against its hash.
  Result<std::shared_ptr<const TriMesh>> mesh(const std::string& hash);

 private:
  Workshop() = default;
  Error fault(const std::exception& e) const;
  static Error reading_only();
  class Scope;
  struct Paper {
    std::string id, document;
  };
  Result<std::vector<Paper>> papers(const char* kind);
  Status keep_paper(const char* kind, const std::string& id, const std::string& document);
  Status drop_paper(const char* kind, const std::string& id);
  template <class T>
  Result<std::vector<T>> read_papers(const char* kind);
  std::optional<int64_t> booked(const char* table, const std::string& booking);
  int64_t enter_pour(const PourRecord& pour, const std::string& booking, bool pull);
  void free_booking(const char* table, int64_t id);

  std::string path_;
  std::unique_ptr<FileLock> lock_;
  bool read_only_ = false;
  std::unique_ptr<ledger::Damage> damage_;
  std::unique_ptr<SQLite::Database> db_;
  std::recursive_mutex mutex_;
  std::string who_;
  bool together_ = false;                     ///< inside together(): the calls in it open no transaction of their own
  std::unique_ptr<SQLite::Database> meshes_;  ///< the same file over a connection of its own
  std::mutex meshes_mutex_;
  std::string cached_hash_;
  std::shared_ptr<const TriMesh> cached_;
};

/// $XDG_DATA_HOME/palinform/workshop.sqlite, or under ~/.local/share.
std::string default_workshop_path();

/// Mesh as bytes and back; little-endian, doubles.
std::string pack_mesh(const TriMesh& mesh);
Result<TriMesh> unpack_mesh(std::string_view bytes);

}  // namespace palinform
