#pragma once
/// The forms a mould can take, each worked out from the part: rubber, hands, waste, life, risk; and the one to take
/// (trade.md, "Schools"; M5).
#include <array>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "base/fields.hpp"
#include "base/names.hpp"
#include "mould/box.hpp"
#include "mould/form_builds.hpp"
#include "mould/jacket.hpp"
#include "mould/strip.hpp"
#include "split/bores.hpp"
#include "split/ways.hpp"

namespace palinform {

enum class Form { open, two_part, squeeze, cut, skin, putty, cup_core, strip, pieces };
constexpr int form_count = 9;
template <>
inline constexpr std::array names<Form>{"open"sv,  "two-part"sv, "squeeze"sv, "cut"sv,   "skin"sv,
                                        "putty"sv, "cup-core"sv, "strip"sv,   "pieces"sv};
std::string_view words_of(Form f);  ///< "Open face", "Two-part block", …

/// Two halves that part along the surface, with keys on it.
inline bool in_halves(Form f) { return f == Form::two_part || f == Form::squeeze || f == Form::pieces; }
/// Rubber poured round the master in a box with walls, which takes several masters side by side as well.
inline bool in_a_box(Form f) { return in_halves(f) || f == Form::open || f == Form::cut; }

/// Rules of thumb.
struct FormRates {
  double coat_mm = 1.2, skin_mm = 5, jacket_mm = 4, putty_mm = 9, cup_wall_mm = 2.5;
  double print_price_per_cm3 = 0.08;
  double cut_risk_share = 0.5;      ///< of a mould's cost, that a blade goes astray or the cut does not close
  double steep_risk_share = 0.3;    ///< … that halves wedge where the line climbs over 45°
  double too_steep_risk_share = 2;  ///< … over 60°
  double cut_life_share = 0.7;      ///< of the usual pulls, of a mould that is cut open
  double hand_price_per_h = 40;     ///< the shop's one figure: DaysRules
  double squeeze_over_pct = 12;     ///< resin poured over in a squeeze mould
  double channel_pct = 15;          ///< resin that stays in gate and vents
  int strip_most = 12;
  double putty_lump_g = 150;            ///< that one pair of hands kneads at a time
  double tiny_mm = 45, large_mm = 200;  ///< largest extent under which parts are tiny, over which they are large
  static void fields(auto& s, auto&& f) {
    f("coat_mm", s.coat_mm, Within{0.1, 50});
    f("skin_mm", s.skin_mm, Within{0.5, 100});
    f("jacket_mm", s.jacket_mm, Within{0.5, 100});
    f("putty_mm", s.putty_mm, Within{1, 200});
    f("cup_wall_mm", s.cup_wall_mm, Within{0.4, 50});
    f("print_price_per_cm3", s.print_price_per_cm3, Within{0, 1e5});
    f("cut_risk_share", s.cut_risk_share, Within{0, 10});
    f("steep_risk_share", s.steep_risk_share, Within{0, 10});
    f("too_steep_risk_share", s.too_steep_risk_share, Within{0, 100});
    f("cut_life_share", s.cut_life_share, Within{0.05, 1});
    f("squeeze_over_pct", s.squeeze_over_pct, Within{0, 100});
    f("channel_pct", s.channel_pct, Within{0, 100});
    f("strip_most", s.strip_most, Within{1, 100});
    f("putty_lump_g", s.putty_lump_g, Within{1, 10'000});
    f("tiny_mm", s.tiny_mm, Within{1, 1000});
    f("large_mm", s.large_mm, Within{1, 10000});
  }
};

/// Thickness of each coat of a skin where nobody says otherwise, from the part outward.
std::vector<double> coats_by_rule_mm(const FormRates& rates);

struct FormPlan;

struct FormFacts {
  Walls walls;
  Vec3 own_size_mm;  ///< own_size_mm()
  double shore_a = 30, rubber_density_g_cm3 = 1.1, rubber_price_per_kg = 30;
  bool see_through = false, resin_is_rubber = false;
  double resin_density_g_cm3 = 1.05, resin_price_per_kg = 25;
  int pulls_simple = 40, pulls_undercut = 15;
  int copies = 1, undercuts = 0, need_help = 0, pins = 0, extra_pieces = 0;
  std::optional<Vec3> flat_normal;  ///< outward, of the face an open mould would be open at
  bool flat_lets_go = true;         ///< everything else leaves along it
  bool flat_marked = true;          ///< hidden, as the person said
  /// Of a clay bed, a splitter board and a printed one: could it be made, and the hours it prints.
  std::array<bool, 3> bed_works{true, false, false};
  std::array<double, 3> bed_print_h{};
  double cure_h = 16, wait_price_per_h = 0.6;
  std::string open_why = {}, open_offer = {};  ///< as WayFacts has them
  double witness_mm = 0;                       ///< of the line, that shows
  std::optional<Form> chosen = {};             ///< built as finely as it will be written
  double voxel_mm = 0.3;                       ///< that printed parts are written at
  double voxels_across = 80;                   ///< of the largest extent: how finely what is not chosen is built
  JacketRules jacket = {};
  StripRules strip = {};
  std::optional<Vec3> strip_up = {};         ///< where it was searched
  std::vector<StripPart> strip_others = {};  ///< further parts on the bar; then `strip_many` of the first
  int strip_many = 1;
  std::optional<double> over_pct = {};  ///< of a squeeze, where the job has it
  std::vector<double> coats_mm = {};    ///< of a skin, where the job has them
  /// Hand minutes of making one such mould on that bed: its procedure's. None: nought, and no cost has hands in it.
  std::function<double(const FormPlan&, Way bed)> hands_min = {};
};

struct FormPlan {
  Form form = Form::two_part;
  bool works = false;
  std::vector<std::string> reasons;  ///< for and against; the first says why not where it does not work
  Vec3 box_mm;                       ///< inside: across, across, up
  std::vector<RubberPour> pours;     ///< of rubber; coats of a brushed skin one by one
  double rubber_mm3 = 0;
  double hard_mm3 = 0;         ///< jacket with its flanges, what backs a brushed half, or printed cup and core
  double hard_b_mm3 = 0;       ///< of a jacket or backing: on side b
  double skin_mm = 0;          ///< of a skin: all its coats
  double resin_waste_mm3 = 0;  ///< a casting
  double hands_min = 0;
  int pulls = 0, boxes = 0, castings_a_pull = 1;
  double line_mm = 0;
  int struts = 0;                     ///< of a strip
  std::optional<StripCut> strip_cut;  ///< where its parts do not come out by themselves
  std::string line_quality;
  Way bed = Way::clay_bed;                            ///< of forms over a bed: the cheapest that could be made
  std::array<double, 3> bed_hands_min{}, bed_cost{};  ///< … and what each would come to
  double cost = 0;  ///< hands, rubber, print, waiting, risk and wasted resin for all copies, no currency
  bool recommended = false;
};

/// Every form in the order of the enum; one is recommended where any works. `two_part` is the mould already built,
/// `built` what the others are counted on.
Result<std::vector<FormPlan>> plan_forms(const FormBuilds& built, const TriMesh& mesh, const Split& split,
                                         const Mould& two_part, const std::vector<Bore>& bores, const FormFacts& facts,
                                         const FormRates& rates, const Progress& progress = Progress::none());
/// The same with all that is counted built first.
Result<std::vector<FormPlan>> plan_forms(const TriMesh& mesh, const RayScene& rays, const Split& split,
                                         const Mould& two_part, const std::vector<Bore>& bores, const FormFacts& facts,
                                         const FormRates& rates, const Progress& progress = Progress::none());

/// Rubber poured whole round a part in a box: volume under each height. `frame`: third row up. Walls with no floor: the
/// part stands on the box's.
Result<RubberPour> pour_around(const TriMesh& mesh, const Transform& frame, const Walls& walls, const std::string& name,
                               double pitch_mm = 0, const Progress& progress = Progress::none());

/// The bore a core would fill: the one with the largest section along its axis; null without bores.
const Bore* core_bore(const std::vector<Bore>& bores);

/// What is printed for a cup-and-core mould, in a frame along the bore: cup with draft outside, core with its
/// centring spigot, a plate with pour openings and a hole for the jacking screw.
struct CupAndCore {
  Transform frame;             ///< third row: along the bore, out of its mouth; the meshes stand in this frame
  TriMesh cup_a, cup_b, core;  ///< the cup in two halves along the parting surface
  double seat_mm = 0;          ///< that the core of a through bore stands in the cup's floor: centred at both ends
  double spigot_mm = 0, jack_hole_mm = 5, pour_hole_mm = 6, wall_mm = 0;
};
/// The voxel that cup and core are written at: as asked, no finer than 0.3 mm or a 220th of the part.
double cup_voxel_mm(const TriMesh& mesh, double asked_mm);
Result<CupAndCore> cup_and_core(const TriMesh& mesh, const RayScene& rays, const Split& split, const Bore& bore,
                                double wall_mm, double voxel_mm, const Progress& progress = Progress::none());

}  // namespace palinform
