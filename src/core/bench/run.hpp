#pragma once
/// A run at the bench: one screen after the other, clocks that go on by wall time, and what really happened. A plain
/// value; the workshop keeps it after every press, so a kill loses nothing but the second in hand.
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/result.hpp"
#include "mould/wall_learnt.hpp"
#include "procedure/step.hpp"

namespace palinform {

/// Seconds since 1970.
using WallSecond = int64_t;

/// What one screen asks for. Weighing screens carry the scale reading to reach and the band that keeps the ratio.
struct BenchScreen {
  std::string step_id, title, instruction;
  std::optional<double> target_g, band_g, from_g;  ///< from_g: what the scale reads before pouring
  std::string part;                                ///< "A" or "B"; empty: none of them
  double part_g = 0;                               ///< what is to be poured here, as planned
  double ratio_to_last = 0;        ///< it is so much of what the first part weighed: B of A; 0: a mass of its own
  std::string adds_id, adds_name;  ///< pigment, filler … weighed here; empty: one of the parts
  double adds_share = 1;           ///< of what is weighed here; less than all of a master batch
  std::string told;                ///< why the target is another than planned
  bool starts_pot_life = false;    ///< when this screen is left, B has touched A
  bool ends_pot_life = false;
  double pot_life_min = 0;
  std::vector<std::pair<std::string, double>> pot_life_pieces;  ///< "stir" 3, "vacuum" 5, "pour" 2
  double wait_min = 0;                                          ///< a clock started when the screen is left
  std::string clock_label;
  std::string caution;
  std::string material_id;  ///< poured when the screen is left; empty: nothing
  double poured_g = 0;
  double wets_mm2 = 0, density_g_cm3 = 1;  ///< of the cup that is emptied here; 0: it is not weighed again
  double share = 1;                        ///< of what was mixed; less where one batch serves several jobs
  std::string for_job;                     ///< whose casting it is; empty: the run's own job's
  std::optional<TestWanted> test;          ///< its outcome is kept: left as done it cured, gone wrong it did not
  bool is_casting = false;                 ///< the pour is a casting
  bool demoulds = false;                   ///< a casting comes out here
  bool makes_mould = false;                ///< a mould stands ready here
  bool last_of_step = true;
  Act act = Act::own;
  StepPicture picture = StepPicture::none;
  std::string why, look_for;
  double figure = 0;  ///< ProcedureStep::figure
  std::string figure_unit = {};
  int mould = 0, casting = 0, cup = 0;
  double each_g = 0;  ///< of the cup that is weighed here, as planned
  long drops = 0;     ///< to be counted; 0: poured
  double drop_g = 0;
  /// A clock more, started when the screen is left, that stops when its step is done.
  struct Ring {
    std::string label, step;
    double minutes = 0;
    bool operator==(const Ring&) const = default;
  };
  std::vector<Ring> rings;  ///< a window opens, a window closes
  bool operator==(const BenchScreen&) const = default;
};

struct ScreenRecord {
  int screen = 0;
  WallSecond started = 0, done = 0;  ///< done 0: in hand
  std::string note;
  bool went_wrong = false;
  std::optional<double> scale_g;  ///< what the scale read when it was left
  std::optional<double> room_c;
  bool booked = false;  ///< its pour, mould or casting is in the books: going back and on again books nothing
  std::vector<std::pair<WallSecond, double>> gauge_kpa = {};  ///< of pot or chamber, while the screen was in hand
  std::vector<int64_t> photos = {};                           ///< kept in the workshop under these ids
  bool operator==(const ScreenRecord&) const = default;
};

struct BenchClock {
  std::string label;
  WallSecond started = 0, ends = 0;
  bool rung = false;      ///< its end was noticed
  int screen = -1;        ///< that started it; left again, the screen starts the same clock anew
  std::string step = {};  ///< it reminds of that step, and is over when the step is done
  bool operator==(const BenchClock&) const = default;
};

struct BenchRun {
  std::string job_id;
  std::vector<BenchScreen> screens;  ///< as planned when the run began: later edits of the job do not shift them
  WallSecond begun = 0;
  int at = 0;  ///< screen in hand; as many as there are screens: finished
  std::vector<ScreenRecord> records;
  std::vector<BenchClock> clocks;
  std::optional<WallSecond> pot_life_started;
  std::string title;     ///< "One more casting"; empty: the whole work
  int64_t mould_id = 0;  ///< of the shelf, that is cast in; 0: the newest
  bool touched = false;  ///< the scale has seen B touch A; else the clock counts from where A was left
  std::map<std::string, int64_t> lots = {};  ///< by material id: the lot it is taken from, as scanned or typed
  BlockBuilt block = {};                     ///< the block it makes; no wall where it makes none
  bool operator==(const BenchRun&) const = default;
};

BenchRun begin_run(const std::string& job_id, std::vector<BenchScreen> screens, WallSecond now);
/// What the next screen would have to read if this one were left at `scale_g`: it begins where this ends, and B
/// follows A, over or short. Nothing where the next one weighs nothing of the same cup.
std::optional<double> next_target_g(const BenchRun& run, double scale_g);
/// What really went into the cups that are poured at `screen`: A and B of every batch since the pour before, off the
/// scale. Nothing where one of them was not weighed.
std::optional<double> weighed_g(const BenchRun& run, int screen);
/// Pigment, filler and the like in those cups, one entry a material: off the scale, as planned where it was not read.
struct Added {
  std::string material_id, name;
  double g = 0;
  bool operator==(const Added&) const = default;
};
std::vector<Added> added_to(const BenchRun& run, int screen);
/// What stayed in the cup that was emptied at `screen`: the scale read it as the screen was left. Nothing where nobody
/// put it back, or what the scale read is no emptied cup.
std::optional<double> left_in_cup_g(const BenchRun& run, int screen);
/// Leaves the screen in hand: the next target follows what the scale really read; records it, starts its clock (once,
/// however often it is left), moves on. Nothing changes when the run is finished.
BenchRun next_screen(BenchRun run, WallSecond now, std::optional<double> scale_g = std::nullopt,
                     std::optional<double> room_c = std::nullopt);
/// Back to the screen before; its record is kept and opened again.
BenchRun previous_screen(BenchRun run, WallSecond now);
/// The scale reads `scale_g` while the second part is poured: from the moment it rises over what the first left, B
/// touches A, and the pot life counts from there. Once a cup; true where it has just begun.
bool note_touch(BenchRun& run, double scale_g, WallSecond now);
/// A pressure of the gauge onto the screen in hand: kept when it moved by 1 kPa, or after a minute.
void note_gauge(BenchRun& run, double kpa, WallSecond now);
/// Seconds left of the minutes the screen in hand asks for (stirring, vacuum, standing), counted from when it came up;
/// below nought when they are over. Nothing where it asks for none.
std::optional<WallSecond> act_left_s(const BenchRun& run, WallSecond now);
/// Out of the band of the screen in hand; nothing where nothing is weighed.
bool out_of_band(const BenchRun& run, double scale_g);
/// Drops counted by the scale's steps: how many of `drop_g` have fallen since the screen began.
std::optional<long> drops_fallen(const BenchScreen& s, double scale_g);

/// Adds a note to the screen in hand.
BenchRun note_screen(BenchRun run, const std::string& note, bool went_wrong, WallSecond now);
/// Marks clocks that have ended as rung; gives their labels.
std::vector<std::string> ring_clocks(BenchRun& run, WallSecond now);
bool finished(const BenchRun& run);
/// Minutes of pot life left; nothing while no pot life runs.
std::optional<double> pot_life_left_min(const BenchRun& run, WallSecond now);

std::string run_to_json(const BenchRun& run);
Result<BenchRun> run_from_json(std::string_view text);

/// A half band on B that keeps the ratio within the tolerance: tolerance % of B, at least one scale division.
double ratio_band_g(double part_b_g, double tolerance_pct, double division_g);

}  // namespace palinform
