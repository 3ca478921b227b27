#pragma once
/// The ways to make the split, each worked out for this part, and the one to take (trade.md, "Schools").
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/hash.hpp"
#include "base/names.hpp"
#include "base/shown.hpp"
#include "base/vec.hpp"

namespace palinform {

enum class Way { clay_bed, splitter_board, printed_board, pour_and_cut, open_face, pieces };
constexpr int way_count = 6;
template <>
inline constexpr std::array names<Way>{"clay-bed"sv,     "splitter-board"sv, "printed-board"sv,
                                       "pour-and-cut"sv, "open-face"sv,      "pieces"sv};
std::string_view words_of(Way w);  ///< "Clay bed"

/// What is known of the part and its split.
struct WayFacts {
  Vec3 extent_mm;  ///< across, across, along the pull
  double part_mm3 = 0, wall_mm = 10;
  double line_mm = 0, climb_mm = 0, steepest_deg = 0, smooth_mm = 0, show_mm = 0, feather_mm = 0;
  int shut_offs = 0;
  int need_help = 0;     ///< undercuts that do not flex and have no pin, plug or tape
  int pins = 0;          ///< bores across the pull, each formed by a pin
  int extra_pieces = 0;  ///< that would free them
  double left_mm2 = 0;   ///< locked area that even those leave
  double hidden_flat_mm2 = 0;
  std::optional<Vec3> flat_normal;  ///< outward, of the flat face an open mould would be open at; none: there is none
  bool flat_marked = true;          ///< the person said that it is hidden; else it only lets go
  bool open_flexes = true;          ///< drawn off the flat face, the rubber lets go, if need be with a slit
  std::string open_why = {};        ///< how, or why not, in a sentence (M21)
  std::string open_offer = {};      ///< without a marked face: the best there is, in a sentence
  Vec3 open_extent_mm;              ///< across, across, along the flat face's normal
  double shore_a = 30, rubber_density_g_cm3 = 1.1, rubber_price_per_kg = 30;
  bool see_through = false;  ///< a knife can be guided to the part
  double cure_h = 16;
  int copies = 1;
};

/// Rules of thumb.
struct WayRates {
  double bed_base_min = 35, bed_min_per_mm = 0.2, bed_climb_min_per_mm = 0.8;
  double board_base_min = 25, board_min_per_mm = 0.06, board_flat_mm = 1;
  double print_base_min = 12, print_mm3_per_min = 180;
  double cut_base_min = 15, cut_min_per_mm = 0.05, cut_depth_per_pass_mm = 9;
  double open_base_min = 20;
  double piece_base_min = 45, pin_min = 12;
  double pour_min = 25;          ///< box, mix, pour, clean, a pour
  double hand_price_per_h = 40;  ///< the shop's one figure: DaysRules
  double wait_price_per_h = 0.6;
  static void fields(auto& s, auto&& f) {
    f("bed_base_min", s.bed_base_min, Within{0, 5000});
    f("bed_min_per_mm", s.bed_min_per_mm, Within{0, 1000});
    f("bed_climb_min_per_mm", s.bed_climb_min_per_mm, Within{0, 1000});
    f("board_base_min", s.board_base_min, Within{0, 5000});
    f("board_min_per_mm", s.board_min_per_mm, Within{0, 1000});
    f("board_flat_mm", s.board_flat_mm, Within{0, 1000});
    f("print_base_min", s.print_base_min, Within{0, 5000});
    f("print_mm3_per_min", s.print_mm3_per_min, Within{1, 1e6});
    f("cut_base_min", s.cut_base_min, Within{0, 5000});
    f("cut_min_per_mm", s.cut_min_per_mm, Within{0, 1000});
    f("cut_depth_per_pass_mm", s.cut_depth_per_pass_mm, Within{0.1, 1000});
    f("open_base_min", s.open_base_min, Within{0, 5000});
    f("piece_base_min", s.piece_base_min, Within{0, 5000});
    f("pin_min", s.pin_min, Within{0, 5000});
    f("pour_min", s.pour_min, Within{0, 5000});
    f("wait_price_per_h", s.wait_price_per_h, Within{0, 1e5});
  }
};

/// A cut that registers itself: a zig-zag whose teeth are deep enough to hold and shallow enough to spread open.
struct WaveCut {
  double height_mm = 0, pitch_mm = 0;  ///< tooth, peak to valley and peak to peak
  double depth_mm = 0;                 ///< from the block's outside to the part
  double pass_mm = 0;                  ///< depth of each pass
  int passes = 0;
  double path_mm = 0;  ///< along the block's outside, teeth in
};
WaveCut wave_cut(double wall_mm, double height_mm, double girth_mm, double pass_mm);
/// The one round a block of that size.
WaveCut wave_round(const Vec3& block_mm, double wall_mm, double pass_mm);
/// The one round the part's block.
WaveCut wave_of(const WayFacts& facts, const WayRates& rates);
std::string words_of(const WaveCut& wave, const Shown& shown);  ///< "6.0 mm teeth every 12.0 mm, 3 passes of 9.0 mm"

struct WayPlan {
  Way way = Way::clay_bed;
  bool works = false;
  std::vector<std::string> reasons;  ///< for and against, short sentences; the first says why it does not work
  double line_mm = 0, hands_min = 0, days = 0, rubber_g = 0, extra_rubber_g = 0;
  int pours = 0;
  std::optional<WaveCut> wave;
  double wait_h = 0;         ///< cures and prints
  bool recommended = false;  ///< it belongs to the whole way that is advised (mould/whole_ways.hpp)
};

/// All ways in the order of the enum, each with what it asks for; which is best is judged of whole ways.
/// `extra_rubber_g` is against the leanest way that works.
std::vector<WayPlan> ways_to_split(const WayFacts& facts, const WayRates& rates);

}  // namespace palinform
