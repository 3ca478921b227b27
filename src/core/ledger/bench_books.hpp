#pragma once
/// A press at the bench, as the workshop keeps it: what it books, the job and the run in one transaction, or nothing of
/// it. A press that comes twice, or a kill between two writes, books once; going back writes a counter-entry.
#include "bench/run.hpp"
#include "job/job.hpp"
#include "ledger/workshop.hpp"

namespace palinform {

struct Pressed {
  BenchRun run;
  Job job;           ///< with a casting more, or one less
  std::string what;  ///< happened to the job; empty: nothing
};

/// Under this a screen's pour, mould or casting is booked, once.
std::string booking_of(const BenchRun& run, int screen);

/// Leaves the screen in hand: next_screen(), and what leaving it books. `today`: ISO date.
Result<Pressed> press_next(Workshop& workshop, const Job& job, const BenchRun& run, WallSecond now,
                           const std::string& today, std::optional<double> scale_g, std::optional<double> room_c);
/// Back to the screen before; what it had booked is taken back.
Result<Pressed> press_back(Workshop& workshop, const Job& job, const BenchRun& run, WallSecond now);
/// What was booked at `screen` went wrong, as was seen later: it stays in the books, as failed.
Result<Pressed> press_failed(Workshop& workshop, const Job& job, const BenchRun& run, int screen,
                             const std::string& why);

}  // namespace palinform
