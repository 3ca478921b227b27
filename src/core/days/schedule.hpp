#pragma once
/// Days, plain (M13 without the solver): steps with hands-on minutes and unattended hours, laid against bench hours.
/// Hands-on parts lie inside them, one person does one at a time, cures run through nights and weekends.
#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/hash.hpp"
#include "base/progress.hpp"
#include "base/result.hpp"
#include "base/wall_time.hpp"

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

/// Earliest start ≥ `from` such that `minutes` in one piece lie inside bench hours. Refuses a calendar without any
/// hours and work longer than the longest bench day.
Result<WallMinute> next_bench_time(const std::vector<BenchHours>& bench, WallMinute from, double minutes);

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
  bool operator==(const Step&) const = default;
};

struct Placed {
  size_t step = 0;
  WallMinute start = 0, hands_end = 0, end = 0;          ///< end includes the wait
  std::vector<std::pair<WallMinute, WallMinute>> hands;  ///< its hands-on pieces: one, or more where it was split
  std::string held;                                      ///< of `any_of`: what it was given
};

struct Schedule {
  std::vector<Placed> placed;  ///< in the order of the steps
  WallMinute start = 0, finish = 0;
  double hands_min = 0;
};

/// Serial schedule in the given order: each step as early as what it follows, the person and what it holds allow. Steps
/// marked `at_once` are placed together with the one before them, so that the whole run fits one bench day. A step
/// longer than the longest bench day is split where it may be, else refused by name.
Result<Schedule> lay_out(const std::vector<Step>& steps, const std::vector<BenchHours>& bench, WallMinute start,
                         const Progress& progress = Progress::none());

/// A calendar file (iCalendar, floating times) with one event a hands-on piece.
std::string calendar_text(const std::vector<Step>& steps, const Schedule& s, const std::string& title);

/// The job's own steps (M13): making the moulds, a test casting, the rest, checking. Times in minutes; the hand times
/// are guesses from the rules unless changed by id.
struct StepMinutes {
  double prepare_min = 45, seal_min = 10, seal_wait_min = 240, box_min = 60, turn_over_min = 30, release_min = 10,
         release_wait_min = 15;
  double open_min = 30, rest_min = 24 * 60, demould_min = 10, trim_min = 10, check_min = 15, post_cure_min = 0;
  double coat_wait_min = 60, print_min = 30, print_wait_min = 12 * 60;
  static void fields(auto& s, auto&& f) {
    f("prepare_min", s.prepare_min, Within{0, 5000});
    f("seal_min", s.seal_min, Within{0, 5000});
    f("seal_wait_min", s.seal_wait_min, Within{0, 50'000});
    f("box_min", s.box_min, Within{0, 5000});
    f("turn_over_min", s.turn_over_min, Within{0, 5000});
    f("release_min", s.release_min, Within{0, 5000});
    f("release_wait_min", s.release_wait_min, Within{0, 50'000});
    f("open_min", s.open_min, Within{0, 5000});
    f("rest_min", s.rest_min, Within{0, 50'000});
    f("demould_min", s.demould_min, Within{0, 5000});
    f("trim_min", s.trim_min, Within{0, 5000});
    f("check_min", s.check_min, Within{0, 5000});
    f("post_cure_min", s.post_cure_min, Within{0, 50'000});
    f("coat_wait_min", s.coat_wait_min, Within{0, 50'000});
    f("print_min", s.print_min, Within{0, 5000});
    f("print_wait_min", s.print_wait_min, Within{0, 50'000});
  }
};
/// The same for one job, with what its materials ask.
struct StepTimes : StepMinutes {
  StepTimes() = default;
  StepTimes(const StepMinutes& rules) : StepMinutes(rules) {}
  double rubber_cure_min = 16 * 60;
  double cast_mix_min = 3, cast_degas_min = 0, cast_pour_min = 2, cast_cure_min = 240;
  bool pot = false;  ///< castings cure in the pressure pot
  /// The rubber pours in order, each with its own minutes. "a", "b": halves, turned over and released between; coats
  /// follow each other once the last has gelled; none: the mould is printed.
  struct Pour {
    std::string name;
    double mix_min = 3, degas_min = 5, pour_min = 3;
  };
  std::vector<Pour> pours{{"a"}, {"b"}};
};
/// "coat 2" as it stands in step ids: "coat-2".
std::string pour_slug(std::string pour_name);
struct StepChange {
  std::optional<double> hands_min, wait_min;
  std::optional<WallMinute> pinned;
  bool operator==(const StepChange&) const = default;
  static void fields(auto& s, auto&& f) {
    f("hands_min", s.hands_min, Within{0, 5000});
    f("wait_min", s.wait_min, Within{0, 200'000});
    f("pinned", s.pinned, AsWallTime{});
  }
};
std::vector<Step> job_steps(const StepTimes& t, int castings, int moulds,
                            const std::map<std::string, StepChange>& changes = {});

}  // namespace palinform
