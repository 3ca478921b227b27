#pragma once
/// The hard pin that takes the rubber peg's place in a bore: what to make, and a drawing to make it from (M4).
#include <array>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/drawing.hpp"
#include "base/fields.hpp"
#include "mesh/fill_between.hpp"
#include "mesh/rays.hpp"
#include "split/bores.hpp"

namespace palinform {

struct PinRules {
  double into_wall_mm = 8;   ///< reach into the rubber at each open end (rule of thumb: a diameter, at least this)
  double grip_mm = 10;       ///< stands out of the box on the draw side, to pull by
  double flat_share = 0.15;  ///< of the diameter, ground off the grip as a key against turning
  double stock_step_mm = 0;  ///< rods come in steps of this; 0: turned to size
  std::vector<std::array<double, 2>> bars_mm;  ///< flat bars of the shop, wide × thick: slides are cut from them
  static void fields(auto& s, auto&& f) {
    f("into_wall_mm", s.into_wall_mm, Within{0, 1000});
    f("grip_mm", s.grip_mm, Within{0, 1000});
    f("flat_share", s.flat_share, Within{0, 0.5});
    f("stock_step_mm", s.stock_step_mm, Within{0, 50});
    f("bars_mm", s.bars_mm, AtMost{100});
  }
};

struct PinPlan {
  std::string name;  ///< "Pin 1"
  Vec3 draw;         ///< unit: the way it is pulled out
  Vec3 foot_mm;      ///< centre of its inner end, in the part's frame
  bool through = false;
  /// Of a slide that is not round: about its axis, in the plane of any_perpendicular(draw) and its cross product.
  std::vector<Point2> outline_mm = {};
  double diameter_mm = 0;           ///< what it must measure: the bore's, or the size asked for; of a slide, across all
  double bore_mm = 0;               ///< as found on the part
  double forms_mm = 0;              ///< length that forms the bore
  double tail_mm = 0, head_mm = 0;  ///< into the rubber beyond the bore, at the foot and on the draw side
  double grip_mm = 0;
  double flat_mm = 0;  ///< depth of the flat along head and grip
  double chamfer_mm = 0.3;
  /// One that follows its opening's own wall: the whole of it, in the part's frame. `outline_mm` then is its head's.
  std::shared_ptr<const TriMesh> body = {};
  /// Of one that forms a pocket: what it takes out of the rubber, its play and its grip with it, in the part's frame;
  /// and what all of it measures.
  std::shared_ptr<const TriMesh> socket = {};
  double volume_mm3 = 0;
  std::vector<Point2> tail_outline_mm = {};          ///< of such a one: its tail's, about the same axis
  double locked_mm2 = 0;                             ///< of its wall, what holds it back as it is drawn
  std::string meets = {};                            ///< the other slide that its foot meets; empty: none
  std::optional<std::array<double, 2>> bar_mm = {};  ///< the shop's bar it is cut from
  double section_mm2() const;
  double tail_section_mm2() const;
  Point2 across_mm() const;  ///< of a slide's outline
  double length_mm() const { return tail_mm + forms_mm + head_mm + grip_mm; }
};

/// `wall_mm`: rubber around the part. `wanted_mm`: the pin's diameter where a size is formed by it. A blind bore is
/// drawn out of its mouth; a through bore toward the end nearer to the outside, of equals the one nearest to +x+y+z.
PinPlan plan_pin(const RayScene& rays, const Bore& bore, double wall_mm, std::optional<double> wanted_mm,
                 const std::string& name, const PinRules& rules = {});

/// The slide that takes the rubber's place in an opening of any outline; keyed by its outline, where that is not round.
/// `outline_mm`: where it is narrowest, about a point of its straight way; Drawn out of that mouth along `draw`.
PinPlan plan_slide(const std::vector<Vec3>& outline_mm, const Vec3& mouth_mm, const Vec3& draw, double forms_mm,
                   double wall_mm, const std::string& name, const PinRules& rules = {});

/// The slide that fills an opening as it is, stepped, tapered or of any outline: from one mouth to the other, or, with
/// `meeting` 1 or 2, from that mouth to where it meets the other slide, `meet_mm` along the way. `body`: as
/// body_between() has it along `axis` (mouth 1 to 2).
PinPlan plan_shaped_slide(PassageBody body, const Vec3& axis, int mouth, int meeting, double forms_mm, double wall_mm,
                          const std::string& name, const PinRules& rules = {});
/// How far a slide goes on past its mouth, head and grip together, and past its foot.
double slide_head_mm(double wall_mm, const PinRules& rules);
double slide_tail_mm(double wall_mm, const PinRules& rules);

/// The same pin, moved.
PinPlan moved(PinPlan pin, const Transform& by);
/// The same pin with so much more between what it forms and its grip.
PinPlan lengthened(PinPlan pin, double by_mm);

/// Play of a socket round its pin, on the radius.
constexpr double pin_slack_mm = 0.05;

/// What the pin takes out of the rubber, `slack_mm` wider all round; of one that forms a pocket as it was planned.
TriMesh pin_socket(const PinPlan& pin, double slack_mm);

/// The pin as a solid to print, where it lies in the part's frame: round, chamfered, its head ground flat on one side.
TriMesh pin_mesh(const PinPlan& pin);

/// Side view and end view at true scale with measures; fits an A4 sheet or grows beyond it.
Drawing pin_drawing(const PinPlan& pin, const std::string& job_name);

}  // namespace palinform
