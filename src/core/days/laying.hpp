#pragma once
// For this room: a job's steps made ready to be laid out run by run, so that the runs of several jobs can be placed in
// turns. A run is a step with all that follows it at once.
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "days/schedule.hpp"

namespace palinform {

/// Whole minutes; a hair over is none.
inline int64_t whole_minutes(double minutes) { return static_cast<int64_t>(std::ceil(minutes - 1e-9)); }

/// Until when a placed step holds the machine, or the place, of that name.
inline WallMinute held_until(const Placed& p, std::string_view what) {
  return held_through_wait(what) ? p.end : p.hands_end;
}

inline bool has_besides(const Step& step, std::string_view what) {
  return std::find(step.besides.begin(), step.besides.end(), what) != step.besides.end();
}

/// From when to when placed step `k` holds what it has besides under that name; `same_as`: the place of that step of
/// it.
inline WallSpan held_besides(const std::vector<Step>& steps, const std::vector<Placed>& placed, size_t k,
                             std::optional<size_t> same_as, std::string_view what) {
  WallMinute since = placed[k].start;
  if (same_as && has_besides(steps[*same_as], what)) since = std::min(since, placed[*same_as].end);
  return {since, held_until(placed[k], what)};
}

/// What hands do, as how many are at work from each change on; everybody who is there can do one thing at a time.
struct Busy {
  int people = 1;
  std::vector<std::pair<WallMinute, int>> from{};  ///< at work from then on, in the order of time
  /// When somebody is free again, if everybody is at work at some time in a … b.
  std::optional<WallMinute> until(WallMinute a, WallMinute b) const;
  /// The first time from `a` on from which somebody is free for so many minutes.
  WallMinute room(WallMinute a, int64_t minutes) const;
  /// The first time in a … b at which everybody is at work.
  std::optional<WallMinute> begins(WallMinute a, WallMinute b) const;
  void add(WallSpan span, int hands = 1);
};

/// The shop as it stands while jobs are laid out in it.
struct ShopNow {
  Busy busy;
  std::map<std::string, Busy> machines;  ///< and whatever else is counted; its "people" are the places there are
  const std::set<int64_t>* holidays = nullptr;
  const Places* places = nullptr;
  /// Other jobs are laid out in it too: what is placed is written there as they must see it. Not so: one job alone.
  bool shared = false;
};

/// Takes one of the places of that name, or with `by` −1 gives it back; nothing where they are not counted.
void hold(ShopNow& shop, const std::string& name, WallSpan span, int by = 1);

/// A job made ready: every name looked up, every refusal that needs no calendar told.
struct ReadyJob {
  struct FromWindow {
    size_t from = 0;    ///< step it is counted from
    int64_t ahead = 0;  ///< minutes of the run before the step that has it
    int64_t earliest = 0;
    std::optional<int64_t> latest;  ///< nothing where what it is counted from is done
  };
  struct Run {
    size_t from = 0, to = 0;    ///< steps
    int64_t length = 0;         ///< to its last hands-on minute
    std::vector<size_t> after;  ///< steps before it
    std::vector<FromWindow> windows;
    std::vector<size_t> choice;  ///< of `names`: it is given one of them
    WallMinute pinned = INT64_MIN;
    bool split = false, anchor = false;  ///< another may put it off: a window counted from it, what is kept from it on
    bool in_order = false;               ///< not before others of its job that are in order too
    std::optional<size_t> kept_to;       ///< step that keeps what this run takes: laid out in one go with it
    const DoneStep* done = nullptr;
  };
  struct Piece {
    int64_t hands = 0, wait = 0;
    std::optional<size_t> holds, needs;  ///< of `names`
    std::optional<size_t> same_as;       ///< step
    std::vector<size_t> besides;         ///< of `names`
    std::vector<size_t> keeps;           ///< … of it, since the end of the step of `same_as`
  };
  const std::vector<Step>* steps = nullptr;
  const std::vector<BenchHours>* bench = nullptr;
  WallMinute start = 0;        ///< of what is left
  WallMinute first_start = 0;  ///< of what is done too
  WallMinute now = INT64_MIN;  ///< what is done and over by then keeps nobody from anything
  std::vector<Run> runs;
  std::vector<size_t> run_of;  ///< of each step
  std::vector<Piece> pieces;   ///< of each step
  std::vector<std::string> names;
  std::vector<bool> made;  ///< of each name: some step makes it, it is not there before
};

/// Keeps pointers to steps, bench and begun: they must outlive it.
Result<ReadyJob> ready_to_lay(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                              const Begun& begun);

/// How far a job is laid out.
struct LaidSoFar {
  struct Before {
    std::vector<WallMinute> held;
    double hands_min = 0;
    WallMinute finish = 0;
  };
  size_t next = 0;  ///< run
  std::vector<Placed> placed;
  std::vector<std::optional<size_t>> given;  ///< each step: of the job's names, of those that it could hold
  std::vector<WallMinute> held;              ///< of each name: taken until; INT64_MIN: never was
  double hands_min = 0;
  WallMinute finish = 0;
  WallMinute stands_by_until = INT64_MIN;  ///< hands of none of its runs wait in between after that
  // By the first step of a run:
  std::map<size_t, WallMinute> not_before, first_start;  ///< of those that were put off
  std::map<size_t, int> put_off;
  std::map<size_t, Before> before;  ///< of those that another may put off
};

LaidSoFar nothing_laid(const ReadyJob& job);
bool all_laid(const ReadyJob& job, const LaidSoFar& so_far);

/// Could this run be laid out now: is all that it follows?
bool may_be_next(const ReadyJob& job, const LaidSoFar& so_far, size_t run);
/// Makes it the next.
void bring_forward(ReadyJob& job, const LaidSoFar& so_far, size_t run);

/// When a run that may be next would be placed, windows that it misses apart; what is done: INT64_MIN. `no_sooner`: it
/// is known that it cannot before, and need not be sought there.
Result<WallMinute> begin_of(const ReadyJob& job, const LaidSoFar& so_far, size_t run, ShopNow& shop,
                            WallMinute no_sooner = INT64_MIN);

/// Places the next run as soon as may be; one whose window is missed, or that others kept from what it should have
/// kept, takes back the run that it is counted from, or keeps that from, instead.
Status lay_next(const ReadyJob& job, LaidSoFar& so_far, ShopNow& shop, WallMinute no_sooner = INT64_MIN);

/// Takes runs from `run` on out of a shared shop again.
void take_back(const ReadyJob& job, LaidSoFar& so_far, size_t run, ShopNow& shop);

Schedule schedule_of(const ReadyJob& job, LaidSoFar so_far);

}  // namespace palinform
