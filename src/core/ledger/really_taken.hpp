#pragma once
/// What jobs have really taken, by the books, beside what was offered for them.
#include "bench/run.hpp"
#include "ledger/workshop.hpp"

namespace palinform {

/// Bench runs of a job, the one that is on first; one that cannot be read is left out.
std::vector<BenchRun> runs_of(Workshop& workshop, const std::string& job_id);

struct ReallyTaken {
  double materials = 0;  ///< at the shelf's prices, failed pours too
  double hours = 0;      ///< at the bench
  bool anything() const { return materials > 0 || hours > 0; }
};
Result<ReallyTaken> really_taken(Workshop& workshop, const Shop& shop, const std::string& job_id);

/// An ended or running job of the same kind as another, with what it took a casting.
struct DoneAlike {
  std::string job_id, name;
  int castings = 0;
  ReallyTaken real;
  double offered_hours = 0, asked = 0;  ///< as quoted, with the margin; 0: it was not
};
/// The last `most` jobs whose moulds are of that rubber and form (JobRow::kind) and that have taken anything, the
/// newest first; `but` itself is left out.
Result<std::vector<DoneAlike>> last_of_kind(Workshop& workshop, const Shop& shop, const std::string& kind,
                                            const std::string& but, size_t most = 3);

/// The kind that a job's moulds are of, as the jobs' list has it.
std::string kind_of_moulds(const Job& job);

/// Whom the shop works for: the names on its jobs, whoever had the last edit first, with what is known of them.
struct CustomerJobs {
  Customer customer;
  std::vector<JobRow> jobs;  ///< newest first
  size_t open = 0;
};
Result<std::vector<CustomerJobs>> customers_with_jobs(Workshop& workshop);

}  // namespace palinform
