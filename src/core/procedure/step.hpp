#pragma once
/// One step of the work as the hands do it: what, why, minutes, waits, what it needs, weighs, puts into the mould and
/// takes out of it. The one list of steps (procedure.hpp) is made of these; Days, Bench, the sheet and the costs read
/// it and have no words or minutes of their own.
#include <optional>
#include <string>
#include <vector>

#include "base/names.hpp"
#include "base/wall_time.hpp"
#include "mix/stock.hpp"

namespace palinform {

/// Parts of the work that all procedures share, in the order in which they usually come.
enum class Block { prepare, bed, box, mix, cure, turn, release, open, dress, cast, demould, finish, check, hand_on };
template <>
inline constexpr std::array names<Block>{"prepare"sv, "bed"sv,     "box"sv,   "mix"sv,    "cure"sv,
                                         "turn"sv,    "release"sv, "open"sv,  "dress"sv,  "cast"sv,
                                         "demould"sv, "finish"sv,  "check"sv, "hand-on"sv};
std::string_view words_of(Block b);  ///< "make the bed"

/// What the hands do.
enum class Act {
  clean,
  try_out,  ///< a patch or cup test
  plug,
  seal,
  wait,
  print,
  tape_over,
  fix,
  cut_board,
  bed,
  set_pins,
  box,
  weigh,
  stir,
  degas,
  stand,  ///< the cup, so that air rises by itself
  pour,
  brush,
  knead,
  press,
  set_keys,
  fence,
  lay_jacket,
  drill,
  turn,
  release,
  draw_rods,
  unbox,
  cut_open,
  draw_pins,
  open,
  cut_channels,
  trim_mould,
  post_cure,
  rest_mould,
  close,
  watch,
  cover,
  top_up,
  lower,  ///< the upper half onto the resin
  press_core,
  into_pot,
  into_chamber,
  demould,
  trim,
  finish,
  check,
  look,  ///< an old mould over
  label,
  own  ///< the shop's own step
};
template <>
inline constexpr std::array names<Act>{
    "clean"sv,        "try-out"sv,    "plug"sv,  "seal"sv,         "wait"sv,       "print"sv,      "tape-over"sv,
    "fix"sv,          "cut-board"sv,  "bed"sv,   "set-pins"sv,     "box"sv,        "weigh"sv,      "stir"sv,
    "degas"sv,        "stand"sv,      "pour"sv,  "brush"sv,        "knead"sv,      "press"sv,      "set-keys"sv,
    "fence"sv,        "lay-jacket"sv, "drill"sv, "turn"sv,         "release"sv,    "draw-rods"sv,  "unbox"sv,
    "cut-open"sv,     "draw-pins"sv,  "open"sv,  "cut-channels"sv, "trim-mould"sv, "post-cure"sv,  "rest-mould"sv,
    "close"sv,        "watch"sv,      "cover"sv, "top-up"sv,       "lower"sv,      "press-core"sv, "into-pot"sv,
    "into-chamber"sv, "demould"sv,    "trim"sv,  "finish"sv,       "check"sv,      "look"sv,       "label"sv,
    "own"sv};

/// A patch or cup test that a step makes, or reads.
struct TestWanted {
  TrialKind kind = TrialKind::patch;
  std::string surface;  ///< id of the master's; a cup test has none
  std::string material_id;
  int64_t lot_id = 0;  ///< 0: the books have no lot of it, so nothing can be kept
  bool operator==(const TestWanted&) const = default;
  static void fields(auto& s, auto&& f) {
    f("kind", s.kind);
    f("surface", s.surface);
    f("material", s.material_id);
    f("lot", s.lot_id);
  }
};

/// What stands in the mould, or round it, for a while: put in once, taken out once.
enum class Thing {
  master,
  tape,
  clay,
  board,
  keys,  ///< their formers in the bed
  gate_rod,
  vent_rods,
  pins,
  box,
  dams,
  fence,
  jacket_a,
  jacket_b,
  core,
  cup,
  clamps,
  wedge,
  cover,
  weight,
  pressure,
  bar  ///< that the masters of a strip hang from
};
template <>
inline constexpr std::array names<Thing>{"master"sv,    "tape"sv,     "clay"sv, "board"sv,  "keys"sv,  "gate-rod"sv,
                                         "vent-rods"sv, "pins"sv,     "box"sv,  "dams"sv,   "fence"sv, "jacket-a"sv,
                                         "jacket-b"sv,  "core"sv,     "cup"sv,  "clamps"sv, "wedge"sv, "cover"sv,
                                         "weight"sv,    "pressure"sv, "bar"sv};

/// What of the job to show while the step is done.
enum class StepPicture {
  none,
  part,     ///< the master as it stands
  bed,      ///< up to the line in clay, or on its board
  board,    ///< the printed board
  pins,     ///< in place, each with the way it is drawn
  boxed,    ///< the box with its fill line
  cup,      ///< on the scale
  poured,   ///< one half poured
  turned,   ///< turned over
  jacket,   ///< laid over the skin
  opened,   ///< halves apart, the master out
  closed,   ///< put together again
  tilted,   ///< on its wedge, with the stream where it goes in
  casting,  ///< as it comes out
  scars     ///< the casting with its gate, vents and line to trim
};
template <>
inline constexpr std::array names<StepPicture>{"none"sv,   "part"sv,   "bed"sv,    "board"sv,   "pins"sv,
                                               "boxed"sv,  "cup"sv,    "poured"sv, "turned"sv,  "jacket"sv,
                                               "opened"sv, "closed"sv, "tilted"sv, "casting"sv, "scars"sv};

/// What one step weighs or uses up.
struct Amount {
  std::string material_id, material;
  double g = 0;
  double ml = 0;      ///< as it fills the mould
  std::string ratio;  ///< "100 : 10 by weight"; empty where nothing is mixed
  bool operator==(const Amount&) const = default;
};

/// When a step may begin, counted from the end of another's hand work.
struct Window {
  std::string after;  ///< id
  double earliest_min = 0;
  std::optional<double> latest_min = {};  ///< no later than; none: any time
  bool operator==(const Window&) const = default;
  static void fields(auto& s, auto&& f) {
    f("after", s.after, AtMost{200});
    f("earliest_min", s.earliest_min, Within{0, 1e7});
    f("latest_min", s.latest_min, Within{0, 1e7});
  }
};

/// A thing with the number of what it belongs to: the mould that is made with it, or the casting.
struct Placing {
  Thing thing = Thing::master;
  int number = 0;
  bool operator==(const Placing&) const = default;
};

struct ProcedureStep {
  std::string id;
  std::string stem;  ///< the id without numbers of mould and casting: what a shop's habit is kept under
  Act act = Act::clean;
  Block block = Block::prepare;
  std::string part;  ///< it belongs to: "pour a", "coat 2", "casting 3"; empty: the whole
  std::string name;  ///< a few words
  std::string what;  ///< what the hands do, in sentences
  std::string why;
  double hands_min = 0;
  double wait_min = 0;                 ///< unattended afterwards: cure, drying, rest
  std::vector<std::string> after;      ///< ids that must be over, their waits too
  std::optional<Window> window;        ///< inside another's wait, or no later than its end
  bool at_once = false;                ///< follows the step before it without a pause
  bool may_split = false;              ///< may be laid down at closing time
  std::string needs;                   ///< "chamber", "pot", "oven": held while it is worked on, the pot while it waits
  std::vector<std::string> besides{};  ///< "fume place", "clamps": held with it, through its wait as well
  std::string holds;                   ///< "mould 1": is there from this step on
  std::vector<std::string> any_of;     ///< one of these moulds, whichever is free first
  std::string same_as;                 ///< goes on in the mould that the step of this id was given
  std::vector<Amount> amounts;
  std::vector<std::string> cautions;
  std::string look_for;     ///< before going on
  double figure = 0;        ///< the one that matters while it is done; 0: none
  std::string figure_unit;  ///< "mm", "min", "°", "kPa", "kg"
  StepPicture picture = StepPicture::none;
  bool can_go_back = true;  ///< nothing is spent by it
  std::vector<Placing> in, out;
  int mould = 0, casting = 0, cup = 0;  ///< counted from 1; 0: none
  std::string pour;                     ///< name of the pour it mixes or pours; "casting"
  std::optional<TestWanted> test = {};  ///< its outcome is kept
  bool changed = false;                 ///< its times or words are the person's own
  std::string skipped;                  ///< why it is left out; empty: it is done
  std::optional<WallMinute> pinned = {};
  bool mixes() const {
    return act == Act::weigh || act == Act::stir || act == Act::knead || act == Act::degas || act == Act::stand;
  }
  bool fills() const { return act == Act::pour || act == Act::brush || act == Act::press || act == Act::lay_jacket; }
  bool operator==(const ProcedureStep&) const = default;
};

}  // namespace palinform
