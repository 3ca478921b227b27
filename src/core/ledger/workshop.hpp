#pragma once
/// The workshop file: one SQLite database with jobs, their castings and readings, and their meshes. Every edit is a
/// transaction; a kill at any moment loses at most the edit in hand.
#include <array>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "job/sizing.hpp"
#include "mesh/tri_mesh.hpp"
#include "mix/stock.hpp"

namespace SQLite {
class Database;
}

namespace palinform {

constexpr int workshop_version = 4;  ///< PRAGMA user_version of the files written now

struct JobRow {
  std::string id, name, client, changed_at;
  int castings = 0;
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
  const std::string& path() const { return path_; }

  Result<std::vector<JobRow>> jobs();
  Result<Job> load_job(const std::string& id);
  /// Job, castings, readings and the log line `what` in one transaction.
  Status save_job(const Job& job, const std::string& what);
  Status remove_job(const std::string& id);
  /// Log of edits to a job, oldest first: when and what.
  Result<std::vector<std::pair<std::string, std::string>>> edits(const std::string& id);

  /// Lots, moulds and pours, newest first. Saving one with id 0 makes it and gives its id.
  Result<std::vector<Lot>> lots();
  Result<int64_t> save_lot(const Lot& lot);
  Result<std::vector<MouldRecord>> moulds(const std::string& job_id = "");
  Result<int64_t> save_mould(const MouldRecord& mould);
  Result<std::vector<PourRecord>> pours(const std::string& job_id = "");
  /// Books a pour; draws its mass from the lot and counts a pull of the mould, all in one transaction.
  Result<int64_t> book_pour(const PourRecord& pour, bool counts_as_pull);
  /// What castings taught, one record a pair of materials and job; adopting again replaces it (M11).
  Result<std::vector<LearnedRecord>> learned();
  Status adopt(const LearnedRecord& record);
  /// The bench run of a job as JSON text; empty when there is none.
  Result<std::string> run_document(const std::string& job_id);
  Status save_run(const std::string& job_id, const std::string& document);
  /// Edits of all jobs, newest first, at most `most`: when, job, what.
  Result<std::vector<std::array<std::string, 3>>> history(int most);

  /// Keeps a mesh under its content hash; gives the hash. Keeping the same mesh twice is free.
  Result<std::string> put_mesh(const TriMesh& mesh, const std::string& name);
  /// Read back and checked against its hash.
  Result<std::shared_ptr<const TriMesh>> mesh(const std::string& hash);

 private:
  Workshop() = default;
  std::string path_;
  int lock_ = -1;
  bool read_only_ = false;
  std::unique_ptr<SQLite::Database> db_;
  std::mutex mutex_;
  std::string cached_hash_;
  std::shared_ptr<const TriMesh> cached_;
};

/// $XDG_DATA_HOME/palinform/workshop.sqlite, or under ~/.local/share.
std::string default_workshop_path();

/// Mesh as bytes and back; little-endian, doubles.
std::string pack_mesh(const TriMesh& mesh);
Result<TriMesh> unpack_mesh(std::string_view bytes);

}  // namespace palinform
