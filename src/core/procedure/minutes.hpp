#pragma once
/// Minutes of hand work and of waiting that no material's sheet gives: rules of thumb, changed for one job or as the
/// shop's habit.
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "base/wall_time.hpp"
#include "procedure/step.hpp"

namespace palinform {

/// Rules of thumb, minutes.
struct StepMinutes {
  double test_min = 10, test_read_min = 2;  ///< a patch or a cup to try, and to look at when it should be through
  double prepare_min = 45, seal_min = 10, seal_wait_min = 240;
  double bed_min = 60, board_cut_min = 30, board_set_min = 12, fix_min = 15, box_min = 40;
  double pin_min = 6;     ///< to make ready and set, each
  double piece_min = 45;  ///< to fence off a further piece and trim it
  double weigh_min = 3;   ///< a cup
  double brush_min = 12, knead_min = 3, press_min = 5;
  double syringe_min = 0.5, syringe_min_per_ml = 0.8;  ///< a groove, and what it holds
  double by_syringe_min(size_t grooves, double ml) const {
    return static_cast<double>(grooves) * syringe_min + ml * syringe_min_per_ml;
  }
  double jacket_min = 60, jacket_layer_min = 25, jacket_wait_min = 120, fence_min = 15;  ///< of each shell
  double turn_over_min = 30, release_min = 10, release_wait_min = 15;
  double unbox_min = 10, open_min = 20, cut_min = 40, channels_min = 10, rest_min = 24 * 60;
  double strip_bar_min = 10, strip_part_min = 2;
  double close_min = 6, clamp_min = 4, watch_min = 2, cover_min = 4, core_min = 5, chamber_min = 6, pot_min = 5;
  double demould_min = 10, trim_min = 10, finish_min = 8, check_min = 15, post_cure_min = 0, label_min = 10;
  double print_min = 30, print_wait_min = 12 * 60;
  static void fields(auto& s, auto&& f) {
    f("prepare_min", s.prepare_min, Within{0, 5000});
    f("test_min", s.test_min, Within{0, 500});
    f("test_read_min", s.test_read_min, Within{0, 500});
    f("seal_min", s.seal_min, Within{0, 5000});
    f("seal_wait_min", s.seal_wait_min, Within{0, 50'000});
    f("bed_min", s.bed_min, Within{0, 5000});
    f("board_cut_min", s.board_cut_min, Within{0, 5000});
    f("board_set_min", s.board_set_min, Within{0, 5000});
    f("fix_min", s.fix_min, Within{0, 5000});
    f("box_min", s.box_min, Within{0, 5000});
    f("pin_min", s.pin_min, Within{0, 5000});
    f("piece_min", s.piece_min, Within{0, 5000});
    f("weigh_min", s.weigh_min, Within{0, 5000});
    f("brush_min", s.brush_min, Within{0, 5000});
    f("knead_min", s.knead_min, Within{0, 5000});
    f("press_min", s.press_min, Within{0, 5000});
    f("syringe_min", s.syringe_min, Within{0, 500});
    f("syringe_min_per_ml", s.syringe_min_per_ml, Within{0, 500});
    f("jacket_min", s.jacket_min, Within{0, 5000});
    f("jacket_layer_min", s.jacket_layer_min, Within{0, 50'000});
    f("jacket_wait_min", s.jacket_wait_min, Within{0, 50'000});
    f("fence_min", s.fence_min, Within{0, 5000});
    f("turn_over_min", s.turn_over_min, Within{0, 5000});
    f("release_min", s.release_min, Within{0, 5000});
    f("release_wait_min", s.release_wait_min, Within{0, 50'000});
    f("unbox_min", s.unbox_min, Within{0, 5000});
    f("open_min", s.open_min, Within{0, 5000});
    f("cut_min", s.cut_min, Within{0, 5000});
    f("channels_min", s.channels_min, Within{0, 5000});
    f("rest_min", s.rest_min, Within{0, 50'000});
    f("strip_bar_min", s.strip_bar_min, Within{0, 5000});
    f("strip_part_min", s.strip_part_min, Within{0, 5000});
    f("close_min", s.close_min, Within{0, 5000});
    f("clamp_min", s.clamp_min, Within{0, 5000});
    f("watch_min", s.watch_min, Within{0, 5000});
    f("cover_min", s.cover_min, Within{0, 5000});
    f("core_min", s.core_min, Within{0, 5000});
    f("chamber_min", s.chamber_min, Within{0, 5000});
    f("pot_min", s.pot_min, Within{0, 5000});
    f("demould_min", s.demould_min, Within{0, 5000});
    f("trim_min", s.trim_min, Within{0, 5000});
    f("finish_min", s.finish_min, Within{0, 5000});
    f("check_min", s.check_min, Within{0, 5000});
    f("post_cure_min", s.post_cure_min, Within{0, 50'000});
    f("label_min", s.label_min, Within{0, 5000});
    f("print_min", s.print_min, Within{0, 5000});
    f("print_wait_min", s.print_wait_min, Within{0, 50'000});
  }
};

/// What a person changed of one step.
struct StepChange {
  std::optional<double> hands_min, wait_min;
  std::optional<WallMinute> pinned;
  std::string what = {};        ///< other words; empty: the procedure's
  std::string skipped = {};     ///< why it is left out; empty: it is done
  std::string move_after = {};  ///< id of the step it is done after instead; empty: where it stands
  bool operator==(const StepChange&) const = default;
  static void fields(auto& s, auto&& f) {
    f("hands_min", s.hands_min, Within{0, 5000});
    f("wait_min", s.wait_min, Within{0, 200'000});
    f("pinned", s.pinned, AsWallTime{});
    f("what", s.what, AtMost{2000});
    f("skipped", s.skipped, AtMost{500});
    f("move_after", s.move_after, AtMost{120});
  }
};

/// A step that the procedure does not have.
struct OwnStep {
  std::string id;     ///< "own-1"
  std::string after;  ///< id, or a stem where it is the shop's habit: then after each of them
  std::string name, what;
  double hands_min = 10, wait_min = 0;
  bool operator==(const OwnStep&) const = default;
  static void fields(auto& s, auto&& f) {
    f("id", s.id, AtMost{80});
    f("after", s.after, AtMost{120});
    f("name", s.name, AtMost{120});
    f("what", s.what, AtMost{2000});
    f("hands_min", s.hands_min, Within{0, 5000});
    f("wait_min", s.wait_min, Within{0, 200'000});
  }
};

/// How a job's, or a shop's, work differs from the procedure: by id, or for all jobs by stem.
struct OwnWays {
  std::map<std::string, StepChange> changes;
  std::vector<OwnStep> steps;
  bool operator==(const OwnWays&) const = default;
  static void fields(auto& s, auto&& f) {
    f("changes", s.changes, AtMost{10'000});
    f("steps", s.steps, AtMost{200});
  }
};

/// What a job ends with.
enum class Ends { both, mould, castings, master };
template <>
inline constexpr std::array names<Ends>{"both"sv, "mould"sv, "castings"sv, "master"sv};
std::string_view words_of(Ends e);  ///< "mould and castings"

}  // namespace palinform
