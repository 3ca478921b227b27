#pragma once
/// The Job: one plain value that says everything about one part to be reproduced. An edit makes a new Job; undo puts
/// the old one back; saving writes it.
#include <optional>
#include <string>
#include <vector>

#include "check/conformity.hpp"
#include "days/schedule.hpp"
#include "mesh/load.hpp"
#include "mix/choose.hpp"
#include "original/master.hpp"
#include "original/size.hpp"
#include "size/chain.hpp"
#include "split/pull_search.hpp"
#include "split/ways.hpp"

namespace palinform {

/// 2: flow, days; 3: faces, finish, preparation, needs, learning; 4: pieces, way, form; 5: channels, what a plan keeps
constexpr int job_schema = 5;

/// What the part does that somebody's safety may hang on (trade.md, "Safety that must be visible").
enum class Duty { load, vehicle, mains, pressure, food, child, medical };
constexpr int duty_count = 7;
std::string_view name_of(Duty d);   ///< key: "load"
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
};

enum class MasterKind { original, scaled, scaled_per_axis };
std::string_view name_of(MasterKind k);  ///< "original", "scaled", "scaled-per-axis"

/// What castings have taught about one pair of materials, adopted by a person (M11). Shifts the catalogue's shrinkage
/// of the resin in that rubber, at any section.
struct LearnedShrink {
  std::string silicone_id, resin_id;
  double delta_pct = 0, u_pct = 0.05;  ///< on the total shrinkage; u of the total
  std::string from;                    ///< "2 castings, 9 sizes, 2026-11-25"
  bool operator==(const LearnedShrink&) const = default;
  void hash_into(Hasher& h) const { h.add(silicone_id).add(resin_id).add(delta_pct).add(u_pct).add(from); }
};

struct CastReading {
  std::string size_id;
  std::vector<double> values_mm;
  bool operator==(const CastReading&) const = default;
};

struct Casting {
  int number = 1;       ///< pull number, from 1
  std::string made_on;  ///< ISO date
  std::string note;
  std::vector<CastReading> readings;
  bool operator==(const Casting&) const = default;
};

/// A finding accepted, with the reason given. It holds for that finding at that place and no larger than it was: see
/// answers().
struct Answer {
  std::string finding_key, reason, at;     ///< at: ISO date and time
  std::optional<Vec3> point_mm = {};       ///< where it was told
  double magnitude = 0;                    ///< Finding::magnitude then
  bool operator==(const Answer&) const = default;
};

/// How the resin is helped into the mould.
enum class FillAid { gravity, pressure, vacuum };
std::string_view name_of(FillAid a);  ///< "gravity", "pressure", "vacuum"

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
  double sprue_mm = 5, vent_mm = 2;  ///< diameters
  double head_mm = 30;               ///< of the sprue's funnel over the mould's highest place
  double max_tilt_deg = 45;          ///< the plan may take
  int max_vents = 6;
  bool keep_gate = false, keep_vents = false;  ///< the plan leaves them where they are
  std::vector<Vec3> no_vents;                  ///< the plan puts none there
  bool operator==(const FlowSetup&) const = default;
  void hash_into(Hasher& h) const;
};

/// When the work begins, on how many moulds, and what the person changed.
struct DaysPlan {
  std::string start;  ///< wall time "2026-11-30T08:00"; empty: not begun
  int moulds = 1;
  BenchHours bench;
  std::map<std::string, StepChange> changes;  ///< by step id
  bool operator==(const DaysPlan&) const = default;
  void hash_into(Hasher& h) const;
};

/// What the shop prints and cuts with.
struct BuildSetup {
  double sheet_mm = 6, clearance_mm = 0.25, voxel_mm = 0.3, bed_u_mm = 220, bed_v_mm = 220;
  double chamber_mm = 0, pot_mm = 0;  ///< clear height of the vacuum chamber and of the pressure pot; 0: unknown
  bool operator==(const BuildSetup&) const = default;
  void hash_into(Hasher& h) const {
    h.add(sheet_mm).add(clearance_mm).add(voxel_mm).add(bed_u_mm).add(bed_v_mm).add(chamber_mm).add(pot_mm);
  }
};

struct Job {
  std::string id;
  std::string name = "New job";
  std::string client;
  int copies = 1;
  MeshRef mesh;
  std::vector<Duty> duties;
  std::vector<MeasuredSize> sizes;
  BareOriginal bare;  ///< used while there is no mesh
  std::vector<FaceMark> marks;
  Finish finish;
  std::vector<MasterStep> master_steps;
  ResinNeeds needs;
  std::string silicone_id, resin_id;
  std::optional<LearnedShrink> learned;
  MasterKind master = MasterKind::original;
  double scale = 1;        ///< of a master scaled by one figure
  MasterScale axis_scale;  ///< of a master scaled along each axis
  int generations = 1;     ///< 2: the mould is taken from a casting
  double room_c = 21, gel_c = 21;
  std::optional<Vec3> pull;  ///< none: searched
  PullWeights pull_weights;
  SplitMarks split_marks;
  std::vector<BoreTreatment> bores;
  std::vector<Vec3> piece_pulls;  ///< of pieces besides the two halves
  std::string way;                ///< how the split is made: name_of(Way); empty: as recommended
  std::optional<double> wall_mm;  ///< none: by the rule
  std::string form;               ///< of the mould, name_of(Form); empty: two-part block
  std::string keys = "studs";     ///< name_of(KeyKind)
  std::vector<Vec3> key_places;   ///< moved by hand, on the part's frame; empty: placed by rule
  std::string box = "screwed";    ///< name_of(BoxStyle)
  BuildSetup build;
  std::optional<double> master_g;  ///< weighed
  double scale_division_g = 0.1, waste_pct = 5, cup_tare_g = 0;
  double cup_ml = 1000;
  bool degas = true;
  FlowSetup flow;
  DaysPlan days;
  DecisionRule rule = DecisionRule::guard;
  std::vector<Casting> castings;
  std::vector<Answer> answers;
  uint64_t seed = 1;  ///< for sampling
  bool operator==(const Job&) const = default;

  /// The scale that acts: 1 for an original.
  MasterScale master_scale() const;
  const MeasuredSize* size(std::string_view id) const;
  std::string new_size_id() const;
  /// Hashes of meshes the master's steps bring in beside the job's own.
  std::vector<std::string> joined_meshes() const;
};

/// Pretty JSON with `schema` and units in keys. `with_castings` false leaves them to the workshop's own tables.
std::string job_to_json(const Job& job, bool with_castings = true);
/// Reads any schema up to `job_schema`; a newer one, or anything that is no job, is refused in words. Unknown keys are
/// ignored. `name` stands in messages.
Result<Job> job_from_json(std::string_view text, const std::string& name);

/// Every figure finite and in reason; sizes pass check_size.
Status check_job(const Job& job);

/// Old Jobs for undo and redo.
class History {
 public:
  explicit History(Job job) : now_(std::move(job)) {}
  const Job& now() const { return now_; }
  /// Puts `job` in; false when nothing changed. Edits with the same non-empty `merge` key in a row become one step.
  bool edit(Job job, std::string what, const std::string& merge = "");
  bool undo();
  bool redo();
  bool can_undo() const { return !back_.empty(); }
  bool can_redo() const { return !forward_.empty(); }
  /// Ends a run of merged edits.
  void settle() { merge_.clear(); }
  std::string undo_text() const { return back_.empty() ? "" : back_.back().what; }
  std::string redo_text() const { return forward_.empty() ? "" : forward_.back().what; }

 private:
  struct Step {
    Job job;
    std::string what;
  };
  Job now_;
  std::vector<Step> back_, forward_;
  std::string merge_;
};

/// "2026-11-25T14:02:31", local time.
std::string now_text();
/// A random id of 32 hex digits.
std::string new_id();

}  // namespace palinform
