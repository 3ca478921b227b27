#pragma once
/// The Job: one plain value that says everything about one part to be reproduced. An edit makes a new Job; undo puts
/// the old one back; saving writes it.
#include "job/setup.hpp"

namespace palinform {

/// 2: flow, days; 3: faces, finish, preparation, needs, learning; 4: pieces, way, form; 5: channels, what a plan keeps;
/// 6: stage by stage, marks set aside; 7: the figures of its materials; 8: steps by the procedure's names;
/// 9: drawn originals, walls apart, boxes of the shop
constexpr int job_schema = 9;

constexpr int most_further_parts = 11;

/// What lies on one mesh and on no other: the pull, marks, gate, answers … of a job.
struct Anchored {
  std::string mesh;  ///< hash
  std::vector<FaceMark> marks;
  std::vector<MasterStep> master_steps;
  std::optional<Vec3> pull;
  SplitMarks split_marks;
  std::vector<BoreTreatment> bores;
  std::vector<OpeningChoice> openings;
  std::vector<PocketSlide> pockets;
  std::vector<Insert> inserts;
  std::vector<ThreadChoice> threads;
  std::vector<Vec3> piece_pulls, key_places;
  bool turned_over = false, keep_gate = false, keep_vents = false;
  double tilt_deg = 0, azimuth_deg = 0;
  std::optional<Vec3> gate;
  std::vector<Vec3> vents, no_vents;
  std::optional<Vec3> heap;  ///< of a squeeze
  std::vector<Answer> answers;
  bool operator==(const Anchored&) const = default;
  static void fields(auto& s, auto&& f) {
    f("mesh", s.mesh);
    f("marks", s.marks);
    f("master_steps", s.master_steps, AtMost{100});
    f("pull", s.pull);
    f("split_marks", s.split_marks);
    f("bores", s.bores);
    f("openings", s.openings, AtMost{200});
    f("pockets", s.pockets, AtMost{20});
    f("inserts", s.inserts, AtMost{40});
    f("threads", s.threads, AtMost{100});
    f("piece_pulls", s.piece_pulls, AtMost{8});
    f("key_places_mm", s.key_places, AtMost{40});
    f("turned_over", s.turned_over);
    f("keep_gate", s.keep_gate);
    f("keep_vents", s.keep_vents);
    f("tilt_deg", s.tilt_deg, Within{0, 90});
    f("azimuth_deg", s.azimuth_deg, Within{-360, 360});
    f("gate", s.gate);
    f("vents", s.vents, AtMost{100});
    f("no_vents", s.no_vents, AtMost{100});
    f("heap", s.heap);
    f("answers", s.answers, AtMost{10'000});
  }
};

/// A part of the job besides the one in hand, cast from the same mould: all that is its own. What lies on its mesh is
/// in `laid`. Of the stand only that of the part in hand counts: the mould stands one way.
struct JobPart {
  std::string name;
  int copies = 1, masters = 1;  ///< wanted in all; in one mould
  OriginalPart original;
  MasterKind master = MasterKind::original;
  double scale = 1;
  MasterScale axis_scale;
  int generations = 1;
  PullWeights pull_weights;
  std::optional<double> master_g;  ///< weighed
  Anchored laid;
  bool operator==(const JobPart&) const = default;
  static void fields(auto& s, auto&& f) {
    f("name", s.name, AtMost{80});
    f("copies", s.copies, Within{1, 100'000});
    f("masters", s.masters, Within{1, 24});
    f("original", s.original);
    f("master", s.master);
    f("scale", s.scale, Within{0.2, 5});
    f("axis_scale", s.axis_scale);
    f("generations", s.generations, Within{1, 2});
    f("pull_weights", s.pull_weights);
    f("master_g", s.master_g, Within{0, 1e6});
    f("laid", s.laid);
  }
};

struct Job {
  std::string id;
  std::string name = "New job";
  std::string client;
  int copies = 1;
  OriginalPart original;
  SizeSetup size;
  SplitSetup split;
  MouldSetup mould;
  FlowSetup flow;
  MixSetup mix;
  DaysSetup days;
  CheckSetup check;
  std::vector<Answer> answers;
  std::vector<Anchored> set_aside;  ///< of meshes the job had before; come back with them
  std::string part_name;            ///< of the part in hand, where there are several
  std::vector<JobPart> parts;       ///< the others
  int part_at = 0;                  ///< place of the one in hand among all
  OwnersPiece piece;                ///< the original, where it is somebody else's
  QuoteSent quote;                  ///< nothing offered: no day
  std::string closed_on;            ///< ISO date: done with, off the wall; empty: open
  uint64_t seed = 1;                ///< for sampling
  // In job.cpp: hundreds of lists are copied, and most files copy a Job.
  Job();
  Job(const Job&);
  Job(Job&&) noexcept;
  Job& operator=(const Job&);
  Job& operator=(Job&&) noexcept;
  ~Job();
  bool operator==(const Job&) const;
  static void fields(auto& s, auto&& f) {
    f("id", s.id);
    f("name", s.name);
    f("client", s.client);
    f("copies", s.copies, Within{1, 100'000});
    f("original", s.original);
    f("size", s.size);
    f("split", s.split);
    f("mould", s.mould);
    f("flow", s.flow);
    f("mix", s.mix);
    f("days", s.days);
    f("check", s.check);
    f("answers", s.answers, AtMost{10'000});
    f("set_aside", s.set_aside, AtMost{20});
    f("part_name", s.part_name, AtMost{80});
    f("parts", s.parts, AtMost{most_further_parts});
    f("part_at", s.part_at, Within{0, most_further_parts});
    f("piece", s.piece);
    f("quote", s.quote);
    f("closed_on", s.closed_on, AtMost{10});
    f("seed", s.seed, Within{0, 1e15});
  }
};

/// A job's document is never larger: a thousand castings of a hundred sizes come to a tenth of it.
constexpr size_t most_job_bytes = 64'000'000;

/// Pretty JSON with `schema` and units in keys. `with_castings` false leaves them to the workshop's own tables.
std::string job_to_json(const Job& job, bool with_castings = true);
/// Reads any schema up to `job_schema`; a newer one, or anything that is no job, is refused in words. Unknown keys are
/// ignored. `name` stands in messages.
Result<Job> job_from_json(std::string_view text, const std::string& name);

/// Every field within its rule (setup.hpp), and what no single field can say; sizes pass check_size.
Status check_job(const Job& job);

/// "2026-11-25T14:02:31", local time.
std::string now_text();
/// A random id of 32 hex digits.
std::string new_id();

}  // namespace palinform
