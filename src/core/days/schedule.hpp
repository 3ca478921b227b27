#pragma once
/// Days, plain (M13 without the solver): steps with hands-on minutes and unattended hours, laid against bench hours.
/// Hands-on parts lie inside them, one person does one at a time, cures run through nights and weekends.
#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/hash.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "base/wall_time.hpp"
#include "procedure/procedure.hpp"

namespace palinform {

/// When somebody is at the bench.
struct BenchHours {
  std::array<bool, 7> days{true, true, true, true, true, false, false};  ///< Monday first
  int from_min = 8 * 60, to_min = 17 * 60;                               ///< minutes of the day
  bool operator==(const BenchHours&) const = default;
  static void fields(auto& s, auto&& f) {
    f("days", s.days);
    f("from_min", s.from_min, Within{0, 24 * 60});
    f("to_min", s.to_min, Within{0, 24 * 60});
  }
};
/// "mon-fri", "mon,wed,sat", "mon-sun".
Result<std::array<bool, 7>> parse_days(std::string_view text);

/// Earliest start ≥ `from` such that `minutes` in one piece lie inside bench hours, on no holiday (day_number()).
/// Refuses a calendar without any hours and work longer than the longest bench day.
Result<WallMinute> next_bench_time(const std::vector<BenchHours>& bench, WallMinute from, double minutes,
                                   const std::set<int64_t>& holidays = {});

/// From, to.
using WallSpan = std::pair<WallMinute, WallMinute>;

/// How many there are of what steps hold besides a machine, by name: places with an extractor, sets of clamps. Not told
/// or 0: as many as are wanted. Of each machine there is one.
using Places = std::map<std::string, int>;
/// Nothing where they are not counted.
std::optional<int> places_of(const Places& places, const std::string& name);

/// What other jobs have taken of the shop, and when nobody is there: a job is laid out round it.
struct ShopTime {
  int people = 1;
  std::set<int64_t> holidays;                             ///< day_number()
  std::vector<WallSpan> hands;                            ///< each by one person
  std::map<std::string, std::vector<WallSpan>> machines;  ///< "pot", "chamber", "oven"; "fume place", "clamps": held
  Places places;
  bool operator==(const ShopTime&) const = default;
  void hash_into(Hasher& h) const;
};

struct Step {
  std::string id, name;
  double hands_min = 0;               ///< hands-on, in one piece
  double wait_min = 0;                ///< unattended afterwards: cure, drying, rest
  std::vector<std::string> after;     ///< ids that must be over, waits included
  bool at_once = false;               ///< follows the step before it without a pause (pot life)
  std::string needs;                  ///< "chamber", "pot", … held while hands-on
  std::string holds;                  ///< "mould 1": held through the wait as well
  std::optional<WallMinute> pinned;   ///< not before this
  bool changed = false;               ///< its times are the person's own
  bool may_split = false;             ///< may be laid down at closing time and gone on with; not by itself shorter
  std::vector<std::string> any_of{};  ///< holds one of these, whichever lets it start first
  std::string same_as{};              ///< holds what the step of this id was given
  /// "fume place", "clamps": held through the wait as well, and from the end of the step of `same_as` on where that has
  /// them too.
  std::vector<std::string> besides{};
  std::optional<Window> window{};  ///< begins inside it; what it is counted from is put off where it must be
  bool operator==(const Step&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{200});
    f("name", s.name, AtMost{400});
    f("hands_min", s.hands_min, Within{0, 1e6});
    f("wait_min", s.wait_min, Within{0, 1e7});
    f("after", s.after, AtMost{1000});
    f("at_once", s.at_once);
    f("needs", s.needs, AtMost{80});
    f("holds", s.holds, AtMost{80});
    f("pinned", s.pinned, AsWallTime{});
    f("changed", s.changed);
    f("may_split", s.may_split);
    f("any_of", s.any_of, AtMost{100});
    f("same_as", s.same_as, AtMost{200});
    f("besides", s.besides, AtMost{10});
    f("window", s.window);
  }
};

/// Is what has that name held through the wait as well: the pot and the oven, while what is in them cures, a place with
/// an extractor, clamps?
bool held_through_wait(std::string_view machine);

struct Placed {
  size_t step = 0;
  WallMinute start = 0, hands_end = 0, end = 0;          ///< end includes the wait
  std::vector<std::pair<WallMinute, WallMinute>> hands;  ///< its hands-on pieces: one, or more where it was split
  std::string held;                                      ///< of `any_of`: what it was given
  bool done = false;                                     ///< it is, and stands where it was
  /// Is done, and nobody wrote down at which hour.
  bool no_hour() const { return done && hands.empty(); }
};

struct Schedule {
  std::vector<Placed> placed;  ///< in the order of the steps
  WallMinute start = 0, finish = 0;
  double hands_min = 0;
};

/// Serial schedule in the given order: each step as early as what it follows, the person and what it holds allow. Steps
/// marked `at_once` are placed together with the one before them, so that the whole run fits one bench day. A step
/// that has a window and misses it puts off the step it is counted from, with all that came after; refused by name
/// where no such time is found within 60 days. A step longer than the longest bench day is split where it may be, else
/// refused by name.
Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const Progress& progress = Progress::none());

/// A step that is done, as it really went.
struct DoneStep {
  std::string id;
  WallMinute start = 0, hands_end = 0;
  bool operator==(const DoneStep&) const = default;
  void hash_into(Hasher& h) const { h.add(id).add(start).add(hands_end); }
};
/// Where the work stands: what is done stays where it was, nothing else is put before `now` (0: no such limit).
struct Begun {
  std::vector<DoneStep> done;
  WallMinute now = 0;
  bool operator==(const Begun&) const = default;
  void hash_into(Hasher& h) const { h.add(done).add(now); }
};

/// The same round what others have taken (hands of as many people as the shop has, its machines, its holidays), going
/// on from where the work stands. A window that what is done has run out of holds nothing up any more.
Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const ShopTime& others, const Begun& begun = {}, const Progress& progress = Progress::none());

/// Adds what a schedule takes from `now` on to what is taken.
void take(ShopTime& shop, const std::vector<Step>& steps, const Schedule& s, WallMinute now = INT64_MIN);

/// One job's days in a calendar.
struct CalendarPart {
  std::string id, title;  ///< the job's; events of one id and hour replace each other
  const std::vector<Step>* steps = nullptr;
  const Schedule* schedule = nullptr;
};
/// A calendar file (iCalendar, floating times) with one event a hands-on piece, each with an alarm `warn_min` before it
/// (none: no alarms).
std::string calendar_text(const std::vector<CalendarPart>& parts, std::optional<int> warn_min = 10);
std::string calendar_text(const std::vector<Step>& steps, const Schedule& s, const std::string& title);

/// A procedure's steps as the schedule takes them; what is left out is left out.
std::vector<Step> timed_steps(const Procedure& procedure);

}  // namespace palinform
