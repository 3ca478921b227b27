#pragma once
/// What a job says, stage by stage: plain values, each with the one list of its fields from which hash, JSON and check
/// follow (base/fields.hpp).
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "base/names.hpp"
#include "cast_in/insert.hpp"
#include "cast_in/thread.hpp"
#include "check/conformity.hpp"
#include "check/seen.hpp"
#include "days/schedule.hpp"
#include "drawn/solid.hpp"
#include "mesh/load.hpp"
#include "mix/air.hpp"
#include "mix/choose.hpp"
#include "mix/cup_film.hpp"
#include "mix/recipe.hpp"
#include "mix/stirred.hpp"
#include "mould/forms.hpp"
#include "mould/keys.hpp"
#include "mould/panels.hpp"
#include "original/master.hpp"
#include "original/size.hpp"
#include "procedure/minutes.hpp"
#include "shelf/material.hpp"
#include "size/chain.hpp"
#include "split/cut_labels.hpp"
#include "split/opening_choice.hpp"
#include "split/pocket_slide.hpp"
#include "split/pull_search.hpp"
#include "split/ways.hpp"

namespace palinform {

template <Named E>
constexpr bool names_a(std::string_view text) {
  return named<E>(text).has_value();
}

/// What the part does that somebody's safety may hang on (trade.md, "Safety that must be visible").
enum class Duty { load, vehicle, mains, pressure, food, child, medical };
template <>
inline constexpr std::array names<Duty>{"load"sv, "vehicle"sv, "mains"sv,  "pressure"sv,
                                        "food"sv, "child"sv,   "medical"sv};
std::string_view words_of(Duty d);  ///< "carries a load"

/// Which mesh the job speaks of. The triangles themselves are kept by content hash beside the job.
struct MeshRef {
  std::string hash;  ///< hex of the mesh's 128-bit hash; empty: none yet
  std::string file;  ///< where it came from, for people
  LengthUnit unit = LengthUnit::mm;
  uint64_t triangles = 0;
  std::vector<ExactFace> exact = {};         ///< as a STEP file states them
  std::optional<double> deflection_mm = {};  ///< of a STEP file's triangles
  std::string mended = {};                   ///< what was mended, in words; empty: nothing
  bool operator==(const MeshRef&) const = default;
  static void fields(auto& s, auto&& f) {
    f("hash", s.hash);
    f("file", s.file, AtMost{1000});
    f("unit", s.unit);
    f("triangles", s.triangles, Within{0, 1e8});
    f("exact_faces", s.exact, AtMost{100'000});
    f("deflection_mm", s.deflection_mm, Within{0, 1e4});
    f("mended", s.mended, AtMost{2000});
  }
};

/// What the part's shape comes from.
enum class PartFrom { nothing, mesh, drawn, volume };
template <>
inline constexpr std::array names<PartFrom>{"nothing"sv, "mesh"sv, "drawn"sv, "volume"sv};

/// Another surviving original of the part's kind; its readings stand with the sizes, in the same order.
struct OtherOriginal {
  std::string name, note;       ///< "left hand, no. 14"; how it is: worn, chipped
  std::string scan, scan_file;  ///< hash of its scan; its file's name
  bool operator==(const OtherOriginal&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("note", s.note, AtMost{2000});
    f("scan", s.scan, AtMost{64});
    f("scan_file", s.scan_file, AtMost{1000});
  }
};

struct OriginalPart {
  MeshRef mesh;
  Drawn drawn;  ///< used while there is no mesh: from measures, or traced on a picture
  std::vector<Duty> duties;
  std::vector<MeasuredSize> sizes;
  std::vector<OtherOriginal> others;  ///< of its kind: the k-th read in every size's k-th further readings
  BareOriginal bare;                  ///< used while there is neither: a stand-in of its box and volume
  std::vector<FaceMark> marks;
  Finish finish;
  std::vector<MasterStep> master_steps;
  bool operator==(const OriginalPart&) const = default;
  static void fields(auto& s, auto&& f) {
    f("mesh", s.mesh);
    f("drawn", s.drawn);
    f("duties", s.duties, AtMost{20});
    f("sizes", s.sizes, AtMost{1000});
    f("others", s.others, AtMost{200});
    f("bare", s.bare);
    f("marks", s.marks, AtMost{1000});
    f("finish", s.finish);
    f("master_steps", s.master_steps, AtMost{100});
  }
  const MeasuredSize* size(std::string_view id) const;
  PartFrom from() const;
  /// There is a shape to work on, or measures that make one.
  bool has_shape() const { return from() != PartFrom::nothing; }
  /// Tells one shape from another: the mesh's hash, or one of what it is made from; 32 letters, empty without a shape.
  std::string shape_key() const;
};

enum class MasterKind { original, scaled, scaled_per_axis };
template <>
inline constexpr std::array names<MasterKind>{"original"sv, "scaled"sv, "scaled-per-axis"sv};

/// What castings have taught about one pair of materials, adopted by a person (M11). Shifts the catalogue's shrinkage
/// of the resin in that rubber, at any section.
struct LearnedShrink {
  std::string silicone_id, resin_id;
  double delta_pct = 0, u_pct = 0.05;  ///< on the total shrinkage; u of the total
  std::string from;                    ///< "2 castings, 9 sizes, 2026-11-25"
  bool operator==(const LearnedShrink&) const = default;
  static void fields(auto& s, auto&& f) {
    f("silicone", s.silicone_id);
    f("resin", s.resin_id);
    f("delta_pct", s.delta_pct, Within{-20, 20});
    f("u_pct", s.u_pct, Within{1e-6, 20});
    f("from", s.from);
  }
};

struct SizeSetup {
  MasterKind master = MasterKind::original;
  double scale = 1;        ///< of a master scaled by one figure
  MasterScale axis_scale;  ///< of a master scaled along each axis
  int generations = 1;     ///< 2: the mould is taken from a casting
  double room_c = 21, gel_c = 21;
  std::optional<LearnedShrink> learned;
  bool operator==(const SizeSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("master", s.master);
    f("scale", s.scale, Within{0.2, 5});
    f("axis_scale", s.axis_scale);
    f("generations", s.generations, Within{1, 2});
    f("room_c", s.room_c, Within{-20, 60});
    f("gel_c", s.gel_c, Within{-20, 120});
    f("learned", s.learned);
  }
  /// The scale that acts: 1 for an original.
  MasterScale master_scale() const;
};

struct SplitSetup {
  std::optional<Vec3> pull;  ///< none: searched
  PullWeights pull_weights;
  SplitMarks marks;
  std::vector<BoreTreatment> bores;
  std::vector<OpeningChoice> openings;
  std::vector<PocketSlide> pockets;   ///< that hard slides form
  std::vector<Insert> inserts;        ///< cast in
  std::vector<ThreadChoice> threads;  ///< on bores and studs
  std::vector<Vec3> piece_pulls;      ///< of pieces besides the two halves
  std::string way;                    ///< how the split is made: name_of(Way); empty: as recommended
  bool has_pins() const;              ///< of bores, or slides of openings and pockets
  bool operator==(const SplitSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("pull", s.pull);
    f("pull_weights", s.pull_weights);
    f("marks", s.marks);
    f("bores", s.bores, AtMost{1000});
    f("openings", s.openings, AtMost{200});
    f("pockets", s.pockets, AtMost{20});
    f("inserts", s.inserts, AtMost{40});
    f("threads", s.threads, AtMost{100});
    f("piece_pulls", s.piece_pulls, AtMost{8});
    f("way", s.way, Naming{names_a<Way>, "a way to split"});
  }
};

/// What the shop prints and cuts with.
struct BuildSetup {
  double sheet_mm = 6, clearance_mm = 0.25, voxel_mm = 0.3, bed_u_mm = 220, bed_v_mm = 220;
  double chamber_mm = 0, pot_mm = 0;  ///< clear height of the vacuum chamber and of the pressure pot; 0: unknown
  bool operator==(const BuildSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("sheet_mm", s.sheet_mm, Within{0.5, 40});
    f("clearance_mm", s.clearance_mm, Within{0, 3});
    f("voxel_mm", s.voxel_mm, Within{0.05, 5});
    f("bed_u_mm", s.bed_u_mm, Within{20, 2000});
    f("bed_v_mm", s.bed_v_mm, Within{20, 2000});
    f("chamber_mm", s.chamber_mm, Within{0, 5000});
    f("pot_mm", s.pot_mm, Within{0, 5000});
  }
};

/// The box the rubber is poured in, where it is not made to measure.
struct BoxChoice {
  std::string name;               ///< of the shop's box, for people; "typed"
  std::optional<Vec3> inside_mm;  ///< long, wide, high; none: made to measure
  bool dammed = false;            ///< plates close off what the part does not need of it
  bool operator==(const BoxChoice&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("inside_mm", s.inside_mm);
    f("dammed", s.dammed);
  }
};

/// How the open side of an open-faced casting is made flat.
enum class Cover { scrape, plate, film };
template <>
inline constexpr std::array names<Cover>{"scrape"sv, "plate"sv, "film"sv};

/// Of a two-part block: the half that is brushed on in coats and backed in the box, not poured.
enum class Brushed { none, a, b };
template <>
inline constexpr std::array names<Brushed>{"none"sv, "a"sv, "b"sv};

/// One coat of a brushed skin, or of a half that is brushed.
struct Coat {
  double mm = 1.2;
  bool thickened = false, tinted = false;  ///< stirred up to stand on a slope; in another colour than the one under it
  bool operator==(const Coat&) const = default;
  static void fields(auto& s, auto&& f) {
    f("mm", s.mm, Within{0.1, 20});
    f("thickened", s.thickened);
    f("tinted", s.tinted);
  }
};

/// The `k`-th coat, from 0, where nobody says otherwise: the first thin, then thickened, every other one tinted.
inline Coat coat_by_rule(size_t k, double mm) { return {mm, k > 0, k % 2 == 1}; }

struct MouldSetup {
  std::string form;                        ///< name_of(Form); empty: two-part block
  std::optional<double> wall_mm;           ///< at the sides; none: by the rule
  std::optional<double> floor_mm, top_mm;  ///< under the part and over it; none: by the rule
  BoxChoice own_box;
  int masters = 1;                             ///< in one box, each with its own cavity
  std::string keys = "studs";                  ///< name_of(KeyKind)
  std::vector<Vec3> key_places;                ///< moved by hand, on the part's frame; empty: placed by rule
  std::optional<double> key_mm, key_clear_mm;  ///< across a key's foot, and to part and wall; none: by the rule
  std::vector<Coat> coats;                     ///< of what is brushed, from the part outward; empty: by the rule
  std::string cover = "scrape";                ///< of an open face: name_of(Cover)
  std::string box = "screwed";                 ///< name_of(BoxStyle)
  bool dams = false;                           ///< blocks glued into the empty corners of a box made to measure
  bool stage_a = false, stage_b = false;       ///< poured in two stages, the second only round what stands higher
  Brushed brushed = Brushed::none;             ///< see brushed_half_of()
  BuildSetup build;
  std::optional<double> master_g;  ///< weighed
  /// The form as named; a two-part block where none is.
  Form planned_form() const { return named<Form>(form).value_or(Form::two_part); }
  bool operator==(const MouldSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("form", s.form, Naming{names_a<Form>, "a form of mould"});
    f("wall_mm", s.wall_mm, Within{0.5, 500});
    f("floor_mm", s.floor_mm, Within{0.5, 500});
    f("top_mm", s.top_mm, Within{0.5, 500});
    f("own_box", s.own_box);
    f("masters", s.masters, Within{1, 24});
    f("keys", s.keys, Naming{names_a<KeyKind>, "a kind of key"});
    f("key_places_mm", s.key_places, AtMost{40});
    f("key_mm", s.key_mm, Within{1, 100});
    f("key_clear_mm", s.key_clear_mm, Within{0.2, 100});
    f("coats", s.coats, AtMost{20});
    f("cover", s.cover, Naming{names_a<Cover>, "a way to end an open face"});
    f("box", s.box, Naming{names_a<BoxStyle>, "a way to build a box"});
    f("dams", s.dams);
    f("stage_a", s.stage_a);
    f("stage_b", s.stage_b);
    f("brushed", s.brushed);
    f("build", s.build);
    f("master_g", s.master_g, Within{0, 1e6});
  }
};

/// How the resin is helped into the mould.
enum class FillAid { gravity, pressure, vacuum, vacuum_then_pressure };
template <>
inline constexpr std::array names<FillAid>{"gravity"sv, "pressure"sv, "vacuum"sv, "vacuum-then-pressure"sv};
/// What has acted on a bubble by then: "the pot".
constexpr std::string_view words_of(FillAid a) {
  return a == FillAid::gravity    ? "pour"
         : a == FillAid::pressure ? "pot"
         : a == FillAid::vacuum   ? "vacuum"
                                  : "vacuum and the pot";
}
inline bool by_pot(FillAid a) { return a == FillAid::pressure || a == FillAid::vacuum_then_pressure; }
inline bool by_chamber(FillAid a) { return a == FillAid::vacuum || a == FillAid::vacuum_then_pressure; }

/// Which end of a squeeze mould's upper half is set down first, seen from above over the half that holds the resin.
enum class SetDown { planned, level, right, back, left, front };
template <>
inline constexpr std::array names<SetDown>{"planned"sv, "level"sv, "right"sv, "back"sv, "left"sv, "front"sv};

/// How a squeeze mould is filled and closed; what is not stated follows the plan or the shop's rules.
struct SqueezeSetup {
  std::optional<Vec3> heap;        ///< over which the resin is heaped, part's frame
  std::optional<double> heap_mm;   ///< how high it stands
  std::optional<double> over_pct;  ///< poured over what the part holds
  SetDown down = SetDown::planned;
  bool brushed = true;  ///< narrow details of both halves, before they close
  bool operator==(const SqueezeSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("heap", s.heap);
    f("heap_mm", s.heap_mm, Within{0, 100});
    f("over_pct", s.over_pct, Within{0, 200});
    f("down", s.down);
    f("brushed", s.brushed);
  }
};

/// How the closed mould stands and where resin goes in and air comes out.
struct FlowSetup {
  bool turned_over = false;  ///< stands with side b up
  double tilt_deg = 0, azimuth_deg = 0;
  std::optional<Vec3> gate;  ///< on the part's surface, part's frame
  std::vector<Vec3> vents;
  FillAid aid = FillAid::gravity;
  double pressure_kpa = 300;  ///< gauge, of the pot
  double vacuum_kpa = 4;      ///< absolute, before the mould floods
  double altitude_m = 0;
  double sprue_mm = 5, vent_mm = 2;           ///< diameters
  double head_mm = 30;                        ///< of the sprue's funnel over the mould's highest place
  std::optional<double> cup_mm, cup_deep_mm;  ///< the funnel, the reservoir: across its mouth; deep. None: by the rule
  double max_tilt_deg = 45;                   ///< the plan may take
  int max_vents = 6;
  bool keep_gate = false, keep_vents = false;  ///< the plan leaves them where they are
  std::vector<Vec3> no_vents;                  ///< the plan puts none there
  bool cast_in = false;                        ///< gate and vents by rods in the pour; else cut later
  double edge_gap_mm = 0;                      ///< that a strip of tape keeps open round the line: a vent all along
  SqueezeSetup squeeze;
  bool operator==(const FlowSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("turned_over", s.turned_over);
    f("tilt_deg", s.tilt_deg, Within{0, 90});
    f("azimuth_deg", s.azimuth_deg, Within{-360, 360});
    f("gate", s.gate);
    f("vents", s.vents, AtMost{100});
    f("aid", s.aid);
    f("pressure_kpa", s.pressure_kpa, Within{0, 1000});
    f("vacuum_kpa_abs", s.vacuum_kpa, Within{0.01, 101});
    f("altitude_m", s.altitude_m, Within{-400, 5000});
    f("sprue_mm", s.sprue_mm, Within{1, 40});
    f("vent_mm", s.vent_mm, Within{0.3, 20});
    f("head_mm", s.head_mm, Within{0, 1000});
    f("cup_mm", s.cup_mm, Within{1, 200});
    f("cup_deep_mm", s.cup_deep_mm, Within{1, 300});
    f("max_tilt_deg", s.max_tilt_deg, Within{0, 90});
    f("max_vents", s.max_vents, Within{0, 40});
    f("keep_gate", s.keep_gate);
    f("keep_vents", s.keep_vents);
    f("no_vents", s.no_vents, AtMost{100});
    f("cast_in", s.cast_in);
    f("edge_gap_mm", s.edge_gap_mm, Within{0, 2});
    f("squeeze", s.squeeze);
  }
};

struct MixSetup {
  std::string silicone_id, resin_id;
  std::optional<Material> rubber, resin;  ///< as the job was planned with them, whatever the shelf says since
  std::string silicone_b_id;              ///< of side b, where it is another than side a's: a soft and a firm half
  std::optional<Material> rubber_b;       ///< as planned
  std::string
      jacket_id;  ///< of a brushed skin, or what backs a brushed half; empty: the shelf's first paste, or plaster
  std::optional<ColourRecipe> colour;             ///< of the castings, as planned
  std::vector<Addition> rubber_adds, resin_adds;  ///< filler, thickener, thinner stirred in
  ResinNeeds needs;
  double scale_division_g = 0.1, waste_pct = 5, cup_tare_g = 0, cup_ml = 1000;
  AirBy rubber_air = AirBy::vacuum, resin_air = AirBy::vacuum;
  std::string cup_name;  ///< of the shop's: then what stays in it is reckoned as a film, not as a flat share
  std::optional<double> cup_bottom_mm, cup_top_mm, cup_high_mm;  ///< inside, where the shop has measured it
  int people = 1;                                                ///< hands at the cups
  Cup cup() const { return {cup_ml, cup_tare_g, cup_bottom_mm, cup_top_mm, cup_high_mm}; }
  bool guessed = false;  ///< rubber, resin, cup and scale stand in as the shop's usual: nobody chose them yet
  bool operator==(const MixSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("silicone", s.silicone_id);
    f("resin", s.resin_id);
    f("silicone_b", s.silicone_b_id, AtMost{80});
    f("rubber_figures", s.rubber);
    f("rubber_b_figures", s.rubber_b);
    f("resin_figures", s.resin);
    f("jacket", s.jacket_id, AtMost{80});
    f("colour", s.colour);
    f("rubber_adds", s.rubber_adds, AtMost{6});
    f("resin_adds", s.resin_adds, AtMost{6});
    f("needs", s.needs);
    f("scale_division_g", s.scale_division_g, Within{1e-4, 1000});
    f("waste_pct", s.waste_pct, Within{0, 100});
    f("cup_tare_g", s.cup_tare_g, Within{0, 1e5});
    f("cup_ml", s.cup_ml, Within{0, 1e6});
    f("rubber_air", s.rubber_air);
    f("resin_air", s.resin_air);
    f("cup_name", s.cup_name, AtMost{80});
    f("cup_bottom_mm", s.cup_bottom_mm, Within{1, 2000});
    f("cup_top_mm", s.cup_top_mm, Within{1, 2000});
    f("cup_high_mm", s.cup_high_mm, Within{1, 2000});
    f("people", s.people, Within{1, 9});
    f("guessed", s.guessed);
  }
};

/// When the work begins, on how many moulds, and what the person changed.
struct DaysSetup {
  std::string start;  ///< wall time "2026-11-30T08:00"; empty: not begun
  int moulds = 1;
  BenchHours bench;
  std::map<std::string, StepChange> changes;  ///< by step id, or by stem
  std::vector<OwnStep> own_steps;
  Ends ends = Ends::both;
  std::string promised;             ///< ISO date by which it is to be ready; empty: nothing is promised
  bool from_first_casting = false;  ///< moulds after the first are taken from the first casting
  /// Is any mould taken from a casting of the job's own? A printed cup and core needs none.
  bool copies_its_casting(Form form) const {
    return from_first_casting && moulds > 1 && ends == Ends::both && form != Form::cup_core;
  }
  OwnWays own_ways() const { return {changes, own_steps}; }
  bool operator==(const DaysSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("start", s.start, AtMost{40});
    f("moulds", s.moulds, Within{1, 20});
    f("bench", s.bench);
    f("changes", s.changes, AtMost{10'000});
    f("own_steps", s.own_steps, AtMost{200});
    f("ends", s.ends);
    f("promised", s.promised, AtMost{10});
    f("from_first_casting", s.from_first_casting);
  }
};

/// The owner's original while it is here.
struct OwnersPiece {
  std::string came_on, condition;       ///< ISO date; in words
  std::string went_on, condition_then;  ///< given back
  /// As it was written with pen or mouse: lines of points, x from 0 to 1 over the width, y from 0 downward.
  using Signature = std::vector<std::vector<std::array<double, 2>>>;
  Signature signed_in, signed_back;  ///< by the owner
  bool operator==(const OwnersPiece&) const = default;
  static void fields(auto& s, auto&& f) {
    f("came_on", s.came_on, AtMost{10});
    f("condition", s.condition, AtMost{2000});
    f("went_on", s.went_on, AtMost{10});
    f("condition_then", s.condition_then, AtMost{2000});
    f("signed_in", s.signed_in, AtMost{200});
    f("signed_back", s.signed_back, AtMost{200});
  }
};

/// What was offered for the job, and what became of it.
struct QuoteSent {
  std::string sent_on, taken_on;  ///< ISO dates; empty: not yet
  int copies = 1;
  double total = 0, cost = 0;  ///< with the margin, without it
  double materials = 0, hours = 0;
  bool operator==(const QuoteSent&) const = default;
  static void fields(auto& s, auto&& f) {
    f("sent_on", s.sent_on, AtMost{10});
    f("taken_on", s.taken_on, AtMost{10});
    f("copies", s.copies, Within{1, 100'000});
    f("total", s.total, Within{0, 1e12});
    f("cost", s.cost, Within{0, 1e12});
    f("materials", s.materials, Within{0, 1e12});
    f("hours", s.hours, Within{0, 1e6});
  }
};

struct CastReading {
  std::string size_id;
  std::vector<double> values_mm;
  bool operator==(const CastReading&) const = default;
  static void fields(auto& s, auto&& f) {
    f("size", s.size_id);
    f("values_mm", s.values_mm);
  }
};

struct Casting {
  int number = 1;       ///< pull number, from 1
  std::string made_on;  ///< ISO date
  std::string note;
  std::vector<CastReading> readings;
  std::string booking = {};  ///< the screen of the bench run it came out at; empty: entered by hand
  std::vector<RecipeTint> colour =
      {};  ///< what really went into its cup, as shares of all; empty: nothing, or not told
  std::vector<FaultSeen> faults = {};
  bool looked_at = false;  ///< somebody has looked for faults: none ticked then means none there
  Worth worth = Worth::unsaid;
  double repair_min = 0;
  Mate mate = Mate::untried;
  CastRecord record = {};                 ///< of its run
  std::string scan = {}, scan_file = {};  ///< hash of its scan, already on the master; its file's name
  std::vector<int64_t> photos = {};       ///< kept in the workshop under these ids
  bool operator==(const Casting&) const = default;
  static void fields(auto& s, auto&& f) {
    f("number", s.number, Within{1, 1e6});
    f("made_on", s.made_on);
    f("note", s.note, AtMost{10'000});
    f("readings", s.readings);
    f("booking", s.booking);
    f("colour", s.colour, AtMost{12});
    f("faults", s.faults, AtMost{40});
    f("looked_at", s.looked_at);
    f("worth", s.worth);
    f("repair_min", s.repair_min, Within{0, 10'000});
    f("mate", s.mate);
    f("record", s.record);
    f("scan", s.scan, AtMost{64});
    f("scan_file", s.scan_file, AtMost{1000});
    f("photos", s.photos, AtMost{100});
  }
};

/// What was changed after a casting because of a fault: whether it helped shows on the next.
struct ChangeMade {
  int after = 1;  ///< the casting's number
  Fault fault = Fault::hollow;
  std::string cause;        ///< name_of(Cause)
  std::string what, to_do;  ///< in words
  bool operator==(const ChangeMade&) const = default;
  static void fields(auto& s, auto&& f) {
    f("after", s.after, Within{1, 1e6});
    f("fault", s.fault);
    f("cause", s.cause, AtMost{60});
    f("what", s.what, AtMost{500});
    f("to_do", s.to_do, AtMost{500});
  }
};

struct CheckSetup {
  DecisionRule rule = DecisionRule::guard;
  std::vector<Casting> castings;
  std::vector<ChangeMade> changes;
  bool operator==(const CheckSetup&) const = default;
  static void fields(auto& s, auto&& f) {
    f("rule", s.rule);
    f("castings", s.castings, AtMost{100'000});
    f("changes", s.changes, AtMost{10'000});
  }
};

/// A finding accepted, with the reason given. It holds for that finding at that place and no larger than it was: see
/// answers().
struct Answer {
  std::string finding_key, reason, at;  ///< at: ISO date and time
  std::optional<Vec3> point_mm = {};    ///< where it was told
  double magnitude = 0;                 ///< Finding::magnitude then
  bool operator==(const Answer&) const = default;
  static void fields(auto& s, auto&& f) {
    f("finding", s.finding_key);
    f("reason", s.reason, AtMost{10'000});
    f("at", s.at);
    f("point_mm", s.point_mm);
    f("magnitude", s.magnitude, Within{0, 1e12});
  }
};

}  // namespace palinform
