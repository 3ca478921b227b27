#pragma once
/// What the analyses of a job give. `slots.hpp` names each, `core/nodes` makes it.
#include <array>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/finding.hpp"
#include "cast_in/seating.hpp"
#include "check/cause.hpp"
#include "check/conformity.hpp"
#include "check/deviation.hpp"
#include "check/scanned_size.hpp"
#include "flow/closing.hpp"
#include "flow/filling.hpp"
#include "flow/plan.hpp"
#include "flow/sweep.hpp"
#include "job/job.hpp"
#include "meeting/meeting.hpp"
#include "mesh/soundness.hpp"
#include "mesh/topology.hpp"
#include "mix/additives.hpp"
#include "mix/air.hpp"
#include "mix/cups.hpp"
#include "mix/proportion.hpp"
#include "mix/stock.hpp"
#include "mould/box.hpp"
#include "mould/brushed_half.hpp"
#include "mould/coat_sides.hpp"
#include "mould/dams.hpp"
#include "mould/forms.hpp"
#include "mould/grooves.hpp"
#include "mould/halves.hpp"
#include "mould/keys.hpp"
#include "mould/panels.hpp"
#include "mould/parting_board.hpp"
#include "mould/rim.hpp"
#include "mould/several.hpp"
#include "mould/way_sketch.hpp"
#include "mould/whole_ways.hpp"
#include "picture/shape.hpp"
#include "procedure/procedure.hpp"
#include "rules/rules.hpp"
#include "size/draws.hpp"
#include "split/openings.hpp"
#include "split/pieces.hpp"
#include "split/pins.hpp"
#include "split/pocket_faces.hpp"
#include "split/thin_rubber.hpp"
#include "split/undercuts.hpp"
#include "split/ways.hpp"
#include "split/witness.hpp"

namespace palinform {

/// Gives the mesh of a content hash; called from worker threads.
using MeshSource = std::function<Result<std::shared_ptr<const TriMesh>>(const std::string& hash)>;

struct OriginalResult {
  std::shared_ptr<const TriMesh> mesh;
  std::shared_ptr<const RayScene> rays;
  std::shared_ptr<const EdgePairs> pairs;
  std::shared_ptr<const Shape> shape;
  MeshMeasure measure;
  Vec3 own_size_mm;              ///< see own_size_mm(): what the wall's rule goes by
  std::vector<ExactFace> exact;  ///< planes and cylinders as the file states them, or as they were typed
  PartFrom from = PartFrom::mesh;
  double u_mm = 0;                   ///< of a measure across the whole, of a shape that was not scanned
  double u_volume_mm3 = 0;           ///< of its volume
  size_t apart = 1;                  ///< pieces that do not touch, of a drawn one
  std::vector<Error> unfilled = {};  ///< of a master: openings that were to be closed and could not be
  bool closed() const { return pairs->open_edges + pairs->non_manifold_edges == 0; }
  /// Mesh, edges, ray tree, shape.
  size_t bytes() const { return mesh ? 24 * mesh->points.size() + 300 * mesh->triangles.size() : 0; }
};

/// About what a mesh holds.
inline size_t mesh_bytes(const std::shared_ptr<const TriMesh>& m) { return m ? 36 * m->triangles.size() : 0; }
/// About what a picture's shape holds: corners, normals and the ray tree.
inline size_t shape_bytes(const std::shared_ptr<const Shape>& s) { return s ? 260 * s->triangles.size() : 0; }

struct SoundnessResult {
  Soundness soundness;
};

/// What Original asks and stops at.
struct QuestionsResult {
  std::vector<Finding> findings;
};

/// What meets what, and how it goes.
struct MeetingsResult {
  std::vector<Party> parties;
  std::vector<Met> met;
  std::vector<Finding> findings;
};

/// Faces the person has marked, as paint for the picture.
struct FacesResult {
  std::shared_ptr<const std::vector<uint8_t>> paint;  ///< per face of the original: 0 none, else 1 + FaceMark::Kind
  struct Found {
    FaceKind kind = FaceKind::free;
    double area_mm2 = 0;
    Vec3 normal;
  };
  std::vector<Found> faces;  ///< in the order of Job::marks
};

/// The master as it would be printed.
struct PrintResult {
  double volume_mm3 = 0;
  std::vector<std::string> advice;  ///< sentences
};

struct DrawsResult {
  std::vector<DrawnSize> drawn;  ///< in the order of Job::sizes
  DrawCheck check;
};

struct SplitResult {
  Split split;
  std::shared_ptr<const std::vector<uint8_t>> face_paint;  ///< per face: 0 a, 1 b, 2 locked
  std::vector<Finding> findings;
  size_t bytes() const { return 3 * split.side.size(); }
};

struct BoresResult {
  std::vector<Bore> bores;
};

/// What passes through the part, before any of it is closed.
struct OpeningsResult {
  Openings found;
  std::string refused;  ///< why nothing can be said of it; empty: it can
  size_t bytes() const { return found.openings.size() * 20'000; }
};

/// What is cast in, as it lies in the master.
struct InsertsResult {
  struct Placed {
    Seating how;
    double mass_g = 0;
    std::shared_ptr<const Shape> shape;  ///< for pictures; null where it is refused
    std::optional<Error> refused;        ///< then the cavity is reckoned without it
  };
  std::vector<Placed> placed;                   ///< in the order of the job's
  std::shared_ptr<const OriginalResult> resin;  ///< the master without them; null where there is none
  std::vector<Socket> sockets;                  ///< of those that are held in the rubber
  double inside_mm3 = 0;
  size_t bytes() const {
    size_t sum = resin ? resin->bytes() : 0;
    for (const Placed& p : placed) sum += shape_bytes(p.shape);
    for (const Socket& s : sockets) sum += mesh_bytes(s.body);
    return sum;
  }
};

/// Findings worked out apart from what they speak of.
struct AdviceResult {
  std::vector<Finding> findings;
};

struct WitnessResult {
  std::vector<WitnessPlace> places;
  std::vector<Finding> findings;
};
struct ThinResult {
  std::vector<ThinRubber> thin;
  std::vector<Finding> findings;
};
struct PiecesResult {
  PiecesPlan plan;
  size_t given = 0;  ///< the first so many are the job's own
};
/// What became of a pocket that the job gives a slide.
struct SlidPocket {
  PocketFaces faces;
  std::optional<size_t> pin;     ///< index into PinsResult::pins
  std::optional<Error> refused;  ///< where there is none
};
struct PinsResult {
  std::vector<PinPlan> pins;  ///< for the bores the job gives a pin, then the slides of openings, then those of pockets
  std::vector<size_t> bore;   ///< of each pin of a bore: index into BoresResult::bores
  std::vector<SlidPocket> pockets = {};  ///< in the order of the job's
  std::vector<Finding> findings = {};    ///< of those
  size_t bytes() const {
    size_t sum = 0;
    for (const PinPlan& p : pins)
      for (const auto& solid : {p.body, p.socket}) sum += mesh_bytes(solid);
    return sum;
  }
};
struct BedsResult {
  std::vector<WayPlan> ways;  ///< in the order of the enum, each by itself
};
struct WaysResult {
  std::vector<WayPlan> ways;        ///< in the order of the enum; the advised one is marked
  std::vector<WholeWay> whole;      ///< what works first, the cheapest first
  std::vector<WaySketch> sketches;  ///< of the first of `whole`, as many as are offered side by side
  std::optional<Way> chosen;        ///< the job's; else the bed, or the way, of the form in hand
  size_t bytes() const { return (ways.size() + whole.size()) * 1000; }
};

struct UndercutsResult {
  std::vector<Undercut> undercuts;
  std::vector<int> piece;  ///< per undercut: the given piece that frees it, else −1
  double shore_a = 30;     ///< of the rubber the verdicts hold for
};

/// A part of the job that is not in hand.
struct OtherPart {
  std::shared_ptr<const OriginalResult> master;
  Split split;
  int copies = 1, masters = 1;  ///< wanted in all; in one mould
  std::vector<PinPlan> pins;    ///< of its bores that are given one
  std::optional<Vec3> gate;     ///< as it has them
  std::vector<Vec3> vents;
  /// What it casts in: the master without it, null where it casts nothing in; sockets in the rubber.
  std::shared_ptr<const OriginalResult> resin = {};
  std::vector<Socket> sockets = {};
  double inserts_mm3 = 0, films_mm3 = 0;  ///< so much less resin in each; so much more, across openings
  std::array<double, 2> seats_mm3{0, 0};  ///< of those in the rubber of side a and b
  std::vector<std::string> inserts = {};  ///< in words, for the bench
  std::vector<std::string> unscrewed = {}, finishing = {};  ///< of its threads
  std::shared_ptr<const OpeningsResult> openings = {};      ///< where its job says something of them
  const OriginalResult& body() const { return resin ? *resin : *master; }
  double cast_mm3() const { return master->measure.volume_mm3 + films_mm3 - inserts_mm3; }
};
struct OtherPartsResult {
  std::vector<OtherPart> parts;  ///< in the order of Job::parts
  std::vector<Finding> findings;
  size_t bytes() const {
    size_t sum = 0;
    for (const OtherPart& p : parts)
      sum += p.master->bytes() + (p.resin ? p.resin->bytes() : 0) + (p.openings ? p.openings->bytes() : 0) +
             3 * p.split.side.size();
    return sum;
  }
};

struct MouldResult {
  Mould mould;       ///< round one master
  MouldOptions how;  ///< as the box was laid out, whatever the fineness
  /// Of several masters in one box: all of them as one body, and the mould round that.
  std::shared_ptr<const MasterSet> set;
  std::shared_ptr<const Mould> set_mould;
  const Mould& block() const { return set_mould ? *set_mould : mould; }
  double part_mm3 = 0, part_mm2 = 0;
  double others_mm3 = 0;                         ///< resin in the other parts' cavities, all of their masters
  std::array<double, 2> others_seats_mm3{0, 0};  ///< of what those cast in, in the rubber of side a and b
  double wall_rule_mm = 0;
  int wall_learnt_from = 0;  ///< of the shop's own moulds; 0: a rule of thumb
  bool wall_by_rule = true;
  std::shared_ptr<const Shape> half_a, half_b;  ///< for pictures
  double u_part_mm3 = 0;  ///< standard uncertainty of the part's volume: of one that was not scanned
  std::vector<Finding> findings;
  size_t bytes() const { return shape_bytes(half_a) + shape_bytes(half_b) + 13 * mould.parting_mm.size(); }
};

/// What the forms are counted on, by itself: see mould/form_builds.hpp.
using CoatSidesResult = std::vector<double>;
struct CupAmount {
  double mm3 = 0;
};

/// A half that is brushed on, as built at the fineness of a picture.
struct BrushedResult {
  std::string side;                         ///< "a", "b"
  std::vector<double> coats_mm, coats_mm3;  ///< from master and bed outward
  double filler_mm3 = 0, backing_mm3 = 0, keys_mm3 = 0;
  std::shared_ptr<const Shape> rubber, backing;
  size_t bytes() const { return shape_bytes(rubber) + shape_bytes(backing); }
};

/// What hangs from a strip's bar beside the part in hand.
struct OnBar {
  std::shared_ptr<const OriginalResult> master;
  Vec3 up;
  int many = 1;
  double cast_mm3 = 0;               ///< resin in each
  std::vector<Socket> sockets = {};  ///< of what each casts in
  double seats_mm3 = 0;              ///< … of them, in the rubber
};
/// How the parts of a strip hang.
struct HangingResult {
  Vec3 up;  ///< of the part in hand, in the rubber pour
  std::vector<OnBar> on_bar;
  std::vector<Vec3> struts_mm;  ///< where its struts meet it, part's frame
};

struct FormsResult {
  std::vector<FormPlan> plans;      ///< in the order of the enum
  Form form = Form::two_part;       ///< the job's
  std::optional<Vec3> flat_normal;  ///< outward, of the hidden flat face
  Vec3 needed_mm;                   ///< inside of the box made to measure: across, across, up to the rubber's top
  BoxPlan box;
  Clamping clamping;
  DamSaving dams;
  double parting_n = 0;                          ///< to part the halves, or to jack a core out: a rule of thumb
  std::optional<Vec3> strip_up;                  ///< of a strip: the part's way up in the rubber pour
  std::vector<OnBar> on_bar;                     ///< of a strip: what hangs beside the part in hand
  std::vector<Vec3> struts_mm;                   ///< … and where its struts meet it, part's frame
  std::shared_ptr<const BrushedResult> brushed;  ///< the half that is, if one is
  bool brushes(bool upper) const { return brushed && brushed->side == (upper ? "a" : "b"); }
  /// A paste or plaster is laid over rubber that is brushed.
  bool backed() const { return form == Form::skin || brushed; }
  std::vector<Groove> grooves;  ///< of an open face: what is filled by syringe, the deepest first
  double cup_line_mm = 0;       ///< of cup and core: over the cup's floor, where the casting stands before the core
  std::vector<std::string> leaks;
  std::vector<Finding> findings;
  const FormPlan& plan() const { return plans[static_cast<size_t>(form)]; }
  bool halved() const { return in_halves(form); }
};

struct KeysResult {
  KeyPlan plan;
  std::optional<RimFit> rim;  ///< of that kind of key
  std::vector<Finding> findings;
};

/// All that hangs from a strip's bar: `many` of the part in hand, and what hangs beside it.
inline std::vector<StripPart> strip_parts(const TriMesh& mesh, const Vec3& up, int many,
                                          const std::vector<OnBar>& beside) {
  std::vector<StripPart> out{{&mesh, up, many}};
  for (const OnBar& o : beside) out.push_back({o.master->mesh.get(), o.up, o.many});
  return out;
}

/// What is built, at the fineness of a picture, in the part's frame: the parting board of a form in halves; else the
/// rubber poured whole or brushed on, or cup and core.
struct BoardResult {
  std::shared_ptr<const Shape> shape;  ///< the board; null for other forms
  std::shared_ptr<const Shape> whole;  ///< rubber in one piece; null for forms in halves and for cup and core
  std::shared_ptr<const Shape> cup_a, cup_b, core;
  Vec3 core_draw;                      ///< the way the core comes out
  std::vector<Vec3> bolts_mm, pry_mm;  ///< of a skin's jacket, whose shells are cup_a and cup_b
  double volume_mm3 = 0, print_h = 0, clearance_mm = 0;
  size_t tiles = 1;
  Vec3 extent_mm;
  size_t bytes() const {
    return shape_bytes(shape) + shape_bytes(whole) + shape_bytes(cup_a) + shape_bytes(cup_b) + shape_bytes(core);
  }
};

struct PourMix {
  std::string step;                ///< "pour a", "pour b", "casting", "jacket a"
  std::string material;            ///< name
  std::string material_id, ratio;  ///< ratio: "100 : 10 by weight"
  bool is_resin = false;
  bool jacket = false;  ///< a shell's paste or plaster
  int stage = 0;        ///< see PourFacts
  int layers = 1;       ///< of a shell
  double frame_u_mm = 0, frame_v_mm = 0;
  bool lumps = false;          ///< putty: no cup, kneaded by hand
  double lump_mm[2] = {0, 0};  ///< across, of the ball of each part
  std::string side;            ///< of coats and shells
  double fill_height_mm = 0;   ///< 0: not poured to a line
  double volume_mm3 = 0;       ///< that must reach the mould
  double need_g = 0;           ///< to be mixed, cup loss in
  Batches batches;
  Weighing weighing;  ///< of one batch
  double viscosity_mpa_s = 0, mix_min = 0, degas_min = 0, wait_min = 0, pour_min = 0;
  std::optional<long> drops;       ///< of B, where it is counted
  bool b_first = false;            ///< A hates wet air, or the colour goes into B: then A goes in last
  std::vector<TintDose> tints;     ///< go into the cup before the first part
  double tints_g = 0;              ///< what they put on the scale
  std::vector<AdditionDose> adds;  ///< go onto the first part, before the other
  double adds_g = 0;
  std::string no_colour;  ///< why the recipe cannot be weighed; empty: it can, or there is none
  AirBy air = AirBy::none;
  double self_clearing_mm = 0;        ///< by its sheet; 0: not at all
  double loss_g_per_cup = 0;          ///< what stays in each cup, as reckoned
  double wetted_mm2 = 0;              ///< of the shop's own cup; 0: none is named
  int film_cups = 0;                  ///< emptied cups that the loss was learnt from; 0: a rule of thumb
  std::optional<CupsPlan> cups;       ///< where there are several: when each is weighed, stirred and poured
  std::vector<CupsLever> cup_levers;  ///< where they do not come in time
  double foam_ratio = 1, cup_ml_needed = 0;
  double ratio_tolerance_pct = 0;
  bool by_percent = false;
  bool no_figures = false;  ///< a peroxide that cannot be measured safely so: nothing to weigh is shown
  double density_g_cm3 = 1, density_a_g_cm3 = 1, density_b_g_cm3 = 1;
  std::vector<std::string> cautions;  ///< in words
  /// Of the part that goes in first and of the other: its letter, and what is weighed of it (of the first less where a
  /// master batch brings some along).
  const char* part(bool second) const { return second != b_first ? "B" : "A"; }
  double part_g(bool second) const { return second != b_first ? weighing.b_g : weighing.a_g; }
  double poured_first_g() const { return weighing.readings_g[1] - weighing.readings_g[0] - tints_g; }
  /// What steps call it by: "a" of "pour a", "casting", "jacket a".
  std::string pour_name() const { return step.starts_with("pour ") ? step.substr(5) : step; }
};

struct MixResult {
  std::vector<PourMix> pours;
  double rubber_g = 0, resin_g = 0;  ///< resin for all copies
  double rubber_b_g = 0;             ///< of `rubber_g`, what is another rubber than side a's
  double rubber_cost = 0, resin_cost = 0;
  double jacket_g = 0, jacket_cost = 0;  ///< of one mould
  int castings_a_pull = 1;               ///< of all parts
  int pulls = 1;
  double u_rubber_g = 0, u_resin_g = 0;  ///< standard uncertainties that come of a part that was not scanned
  std::vector<Finding> findings;
};

/// The one list of steps, with what it was made from.
struct ProcedureResult {
  ProcedureFacts facts;
  Procedure procedure;
  std::vector<Finding> findings;
};

struct MouldsChoice {
  int moulds = 1;
  bool from_casting = false;  ///< those after the first from the first casting
  WallMinute finish = 0;
  double rubber_g = 0, cost = 0;  ///< cost: materials and hand time
};
struct DaysResult {
  std::vector<Step> steps;
  Schedule schedule;
  std::vector<MouldsChoice> by_moulds;
  double hand_cost = 0;
  bool among_others = false;               ///< laid round what other jobs take
  std::optional<WallMinute> alone_finish;  ///< were the shop its own; only among others
  std::optional<WallMinute> due;           ///< the end of the promised day
  std::vector<int> open_on;                ///< weekdays that keep the promise, were the bench open on them too
  std::vector<Finding> findings;
};

/// Why the castings came out as they did.
struct WhysResult {
  struct Of {
    int number = 1;
    std::vector<Why> whys;  ///< in the order of its faults
  };
  std::vector<Of> castings;  ///< those with faults
  std::vector<Finding> findings;
};

/// The scan of a casting, laid on the original that it is to match: there first, to be looked at.
struct LaidScanResult {
  int number = 1;  ///< the casting's
  Aligned aligned;
  std::shared_ptr<const Shape> shape;  ///< as it lies on the original; of a large scan a sketch
  size_t bytes() const { return shape_bytes(shape); }
};
/// … and judged.
struct ScanResult {
  int number = 1;  ///< the casting's
  Aligned aligned;
  Deviation deviation;
  std::optional<Vec3> scale;           ///< of the casting along each axis, found apart
  std::shared_ptr<const Shape> shape;  ///< all of it
  std::vector<ScannedSize> sizes;      ///< those it shows, in the order of the job's
  double limit_mm = 0.1, within_share = 0;
  std::vector<HistogramBin> histogram;
  std::vector<Finding> findings;
  size_t bytes() const { return 4 * deviation.mm.size() + shape_bytes(shape); }
};

struct CheckedSize {
  std::string size_id;
  Judgement judgement;
};
struct CheckedCasting {
  int number = 1;
  std::vector<CheckedSize> sizes;  ///< in the order of Job::sizes
  Conformity overall = Conformity::undecided;
  size_t measured = 0;
};
struct CheckResult {
  std::vector<CheckedCasting> castings;
  std::vector<Finding> findings;
};

struct CavityResult {
  Cavity cavity;
  size_t bytes() const {
    return 38 * cavity.size() + 28 * cavity.parts.size() + 20 * cavity.passage.size() + 12 * cavity.point_mm.size();
  }
};

struct PocketSeen {
  Pocket pocket;
  Vec3 vent_mm;               ///< where a vent would let it out: the wall over its apex
  double after_mm3 = 0;       ///< what the pot or the vacuum leaves
  bool visible = false;       ///< larger than the smallest visible void, after that
  bool show_face = false;     ///< on a face that shows
  bool under_insert = false;  ///< what is cast in roofs it over: no vent reaches it
};

/// A hollow that resin reaches only by running over into it, past the air that has to come out the same way.
struct BasinSeen {
  Vec3 lowest_mm, spill_mm;
  Vec3 gate_mm;                           ///< on the wall by its lowest place
  double volume_mm3 = 0, passage_mm = 0;  ///< width where it runs over
};

/// How the resin comes in, by the form of the mould.
enum class FillWay { sprue, squeeze, open_face, well };  ///< well: a strip, through the nubs

struct FlowResult {
  Vec3 up;
  Vec3 level_up;  ///< up when it stands level, not turned over
  FillWay way = FillWay::sprue;
  double voxel_mm = 0, cavity_mm3 = 0;
  double trapped_mm3 = 0, left_mm3 = 0;  ///< before and after pot or vacuum
  double visible_mm3 = 0;                ///< the limit, as a volume
  std::vector<PocketSeen> pockets;
  std::vector<BasinSeen> basins;
  Vec3 lowest_mm;  ///< the wall's lowest place: where a gate would feed from
  std::vector<Finding> findings;
};

/// A squeeze mould as it closes.
struct ClosingResult {
  ClosingGrid grid;
  ClosingHow how;
  Closing closing;
  bool turned_over = false;
  std::vector<ClosingPocket> brushed;  ///< too narrow to stay where the details are brushed first
  double over_pct = 0, line_mm = 0;
  double weight_kg = 0;  ///< of all its hollows in the box
  int hollows = 1;
  bool beside_others = false;  ///< other parts are squeezed with it
  double other_way_mm3 = 0;    ///< of air, were the other half below
  Point2 heap_from_wall_mm;    ///< of its first master, from the left and the front wall of the box, seen from above
  std::vector<Finding> findings;
  size_t bytes() const { return 13 * grid.count() + 4 * closing.reached_mm.size(); }
};

/// The other parts of a squeeze as the same mould closes on them: each with the end that the part in hand goes by.
struct OtherClosingsResult {
  struct Of {
    ClosingResult closing;
    std::string name;
  };
  std::vector<Of> parts;  ///< in the order of Job::parts; those without a master in the box are left out
  std::vector<Finding> findings;
  /// Of all cavities together.
  double weight_kg() const {
    double sum = 0;
    for (const Of& o : parts) sum += o.closing.weight_kg;
    return sum;
  }
  size_t bytes() const {
    size_t sum = 0;
    for (const Of& o : parts) sum += o.closing.bytes();
    return sum;
  }
};

/// Gate and vents as they are cut, and how the mould is wedged up to stand.
struct ChannelsResult {
  Vec3 up;
  std::vector<Channel> channels;               ///< the gate first where there is one
  double volume_mm3 = 0;                       ///< resin that stays in them
  std::optional<double> others_mm3;            ///< in those of all other cavities in the box, where each has its gate
  double wedge_run_mm = 0, wedge_rise_mm = 0;  ///< over the box's length that way
  std::vector<Finding> findings;
};

struct FlowPlanResult {
  FlowPlan plan;
  bool taken = false;  ///< the job already stands as planned
  std::vector<Finding> findings;
};

struct FillingResult {
  std::vector<FillStage> stages;
  FillConditions conditions;
  FillTime time;
  size_t bytes() const { return 4 * reached_min.size(); }
  std::vector<float> reached_min;  ///< per point of the mesh: when resin stands there; infinite: never
  std::vector<FillLever> levers;   ///< most first; only those that help
  double left_min = 0;             ///< pot life left when the pour begins
  double thickest_mm = 0, thin_mm = 0, heat_rise_k = 0;  ///< thin: a tenth of the part is thinner
  std::vector<Finding> findings;
};

/// Air caught under the master while the rubber is poured.
struct RubberAirResult {
  struct Pour {
    std::string name;
    Vec3 up;  ///< of the pour, part's frame
    double trapped_mm3 = 0;
    std::vector<Pocket> pockets;  ///< part's frame; those that are seen
  };
  std::vector<Pour> pours;
  std::optional<bool> better_over;  ///< whole pours: the master should stand the other way up
  double other_mm3 = 0;             ///< what it would then keep
  std::vector<Finding> findings;
};

/// The mould's solids at the fineness of a picture, with keys, pins, channels and further pieces.
struct SolidsResult {
  std::vector<std::shared_ptr<const Shape>> pieces;    ///< a, b, then the others; part's frame
  std::vector<std::shared_ptr<const TriMesh>> meshes;  ///< of each
  std::vector<Vec3> pulls;                             ///< the way each comes off
  std::vector<double> volume_mm3;                      ///< of each
  size_t bytes() const {
    size_t sum = 0;
    for (const auto& p : pieces) sum += shape_bytes(p) + (p ? 24 * p->triangles.size() : 0);
    return sum;
  }
};

/// How pins, slides and pieces come out one after the other, each swept along its way past what is still there.
struct AssemblyResult {
  struct Member {
    std::string name;  ///< "Pin 1", "Slide 2", "side a", "piece c"
    Vec3 draw;         ///< unit, part's frame
    bool rubber = false;
    int shape = -1;  ///< of SolidsResult::pieces; −1: a pin or slide
    int pin = -1;    ///< of PinsResult::pins
  };
  std::vector<Member> order;  ///< as they come out; put together the other way round
  std::vector<Finding> findings;
};

struct VesselsResult {
  std::vector<Finding> mould, flow;  ///< by the stage they are told at
};
struct StockResult {
  std::vector<Finding> findings;
};

}  // namespace palinform
