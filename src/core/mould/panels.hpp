#pragma once
/// The box: panels to cut, bricks to stack, or a tub to take off the shelf (M5).
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/drawing.hpp"
#include "base/fields.hpp"
#include "base/names.hpp"
#include "mould/box.hpp"

namespace palinform {

struct PinPlan;

enum class BoxStyle { screwed, glued, cut_in_two, bricks, tub, tube };
template <>
inline constexpr std::array names<BoxStyle>{"screwed"sv, "glued"sv, "cut-in-two"sv, "bricks"sv, "tub"sv, "tube"sv};
std::string_view words_of(BoxStyle s);  ///< "Screwed panels", …

struct Tub {
  std::string name;
  Vec3 inner_mm;
  static void fields(auto& s, auto&& f) {
    f("name", s.name);
    f("inner_mm", s.inner_mm);
  }
};

struct BoxRules {
  double sheet_mm = 6;
  double brick_mm = 8, brick_high_mm = 9.6;  ///< pitch of stacking bricks, and their height
  double rim_mm = 8;                         ///< the panels stand over the last fill line
  double screw_from_edge_mm = 12, screw_every_mm = 60;
  std::vector<Tub> tubs{
      {"round-cornered tub, small", {130, 95, 70}}, {"deep tub", {180, 120, 95}}, {"tray", {260, 180, 80}}};
  static void fields(auto& s, auto&& f) {
    f("sheet_mm", s.sheet_mm, Within{0.5, 40});
    f("brick_mm", s.brick_mm, Within{1, 200});
    f("brick_high_mm", s.brick_high_mm, Within{1, 200});
    f("rim_mm", s.rim_mm, Within{0, 1000});
    f("screw_from_edge_mm", s.screw_from_edge_mm, Within{0, 1000});
    f("screw_every_mm", s.screw_every_mm, Within{5, 1000});
    f("tubs", s.tubs, AtMost{100});
  }
};

/// What is cut out of a panel for a pin or slide to come through.
struct PanelHole {
  std::string of;               ///< the pin's name
  std::vector<Point2> outline;  ///< from the lower left corner, seen from outside
};

struct CutPanel {
  std::string name;
  int count = 1;
  double width_mm = 0, height_mm = 0, thickness_mm = 0;
  bool overlaps = false;         ///< its ends cover the ends of its neighbours
  std::vector<Point2> holes_mm;  ///< screws, from the lower left corner
  double score_mm = 0;           ///< height of the line along which the frame is cut in two; 0: none
  std::vector<PanelHole> pin_holes = {};
};

/// A plate that closes off a part of a box.
struct DamPlate {
  std::string where;       ///< "across the box"
  double from_end_mm = 0;  ///< of its face towards the part, from the far end or side
  double wide_mm = 0, high_mm = 0;
  double saves_mm3 = 0;
};

struct BoxPlan {
  BoxStyle style = BoxStyle::screwed;
  bool works = true;
  std::string told;            ///< in a sentence
  Vec3 inner_mm;               ///< as built, at least as asked
  double more_rubber_mm3 = 0;  ///< than the smallest box; below nought for a tube round a round part
  std::vector<CutPanel> panels;
  int bricks = 0;
  std::string own;               ///< the shop's box that is taken, by name; empty: made to measure
  double below_brim_mm = 0;      ///< of an own box: from the rubber's top to its edge
  std::vector<DamPlate> plates;  ///< that stand in it; where none do, those that could
  bool dammed = false;           ///< they do
};

/// `inner_mm`: smallest box; `split_mm`: height of the split over the floor, kept clear of screws; `round_mm`: inside
/// diameter of a tube that holds the part and its wall (0: unknown).
BoxPlan plan_box(const Vec3& inner_mm, double split_mm, BoxStyle style, const BoxRules& rules = {},
                 double round_mm = 0);

/// The panels with a hole wherever a pin or slide comes through a wall or the floor of the box, its clearance all
/// round; a side that has one becomes a panel of its own ("front, for Slide 1"). Pins that leave through the open top
/// need none. `block`: as the box stands round it.
BoxPlan with_pin_holes(BoxPlan plan, const Mould& block, const std::vector<PinPlan>& pins, double clear_mm = 0.3);

/// That diameter: twice the farthest reach of the part from the middle of its plan, plus both walls.
double tube_for(const TriMesh& mesh, const Transform& frame, double wall_mm);

/// The cut list at true scale, panels side by side, screws and score lines on them.
Drawing panel_drawing(const BoxPlan& plan, const std::string& job_name);

/// Outlines of a stepped rim from stacked sheet: the outer ring and the inner step, with the kerf given to each side.
Drawing rim_drawing(const Box3& inner_mm, double ring_mm, double sheet_mm, int layers, double kerf_mm,
                    const std::string& job_name);

/// What to go over before rubber is poured.
std::vector<std::string> leak_list(BoxStyle style);

/// Force to hold the halves shut against the resin's head and a pressure, N; and what to use (rule of thumb).
struct Clamping {
  double force_n = 0;
  std::string with;
};
Clamping clamp_force(double area_mm2, double head_mm, double resin_density_g_cm3, double pressure_kpa);

}  // namespace palinform
