#pragma once
/// The Size stage over a Job: chain figures from its materials, predictions, scale, what to choose, what castings
/// taught.
#include <optional>
#include <string>
#include <vector>

#include "base/finding.hpp"
#include "job/job.hpp"
#include "rules/rules.hpp"
#include "size/draws.hpp"
#include "size/learn.hpp"
#include "size/scale_choice.hpp"

namespace palinform {

/// Local section at each size's place, where the mesh is there to tell.
struct SectionsResult {
  std::vector<std::optional<double>> section_mm;  ///< in the order of Job::sizes
};

/// What one job's castings said about a pair of materials: the shift of the total shrinkage against the catalogue.
struct LearnedRecord {
  std::string silicone_id, resin_id, job_id;
  double delta_pct = 0, u_pct = 0.05;
  int castings = 0, sizes = 0;
  std::string adopted_at, reason;
  bool operator==(const LearnedRecord&) const = default;
  void hash_into(Hasher& h) const {
    h.add(silicone_id).add(resin_id).add(job_id).add(delta_pct).add(u_pct).add(castings).add(sizes);
  }
};

struct SizeResult {
  std::vector<ChainInput> inputs;  ///< each size with the figures of its own section
  MasterScale scale;
  std::vector<Prediction> predictions;  ///< in the order of Job::sizes
  std::vector<Prediction> older;  ///< of castings out of moulds that are taken from a casting; empty: there are none
  double best_scale = 1;          ///< for a printed master, one figure
  MasterScale best_axis_scale;    ///< three figures
  ScaleLimits limits;
  std::optional<size_t> tightest;  ///< index of the smallest P
  std::vector<Finding> findings;
};

/// Chain inputs for one size from the Job's materials; nothing where a material is not chosen. The section is the
/// size's own, else the guess of the rules.
std::optional<ChainMaterials> chain_materials(const Job& job, const Shop& shop, const MeasuredSize& size);

/// Just what the chain reads of a Job, sections filled in.
Job size_projection(const Job& job, const SectionsResult* sections);

/// The size prediction by itself, for a scale that is being dragged.
SizeResult predict_sizes(const Job& job, const Shop& shop);

/// A scale as a person would type it: to five places.
MasterScale rounded_scale(const MasterScale& s);
/// The job with that kind of master, at the best scale where it has none of its own yet.
Job with_master(Job job, MasterKind kind, const Shop& shop, const SectionsResult* sections);

/// A material with its reasons, and the worst size it would give.
struct MaterialChoice {
  Candidate candidate;
  std::optional<double> worst_p;  ///< none without sizes or the other material
  std::string worst_size;         ///< name
};
struct ChooseResult {
  std::vector<MaterialChoice> resins, silicones;
};
ChooseResult choose_materials(const Job& job, const Shop& shop);

struct LearnResult {
  Learned learned;
  Estimate prior_pct;        ///< total shrinkage: catalogue with other jobs' castings
  double catalogue_pct = 0;  ///< total shrinkage by the catalogue, mean over the rows
  std::vector<LearnRow> rows;
  int castings = 0;
  LearnedRecord record;   ///< what adopting would keep for this job
  LearnedShrink adopted;  ///< what the job would use from then on
};
/// Refused where no casting was measured.
Result<LearnResult> learn_from_castings(const Job& job, const Shop& shop, const std::vector<LearnedRecord>& records);

/// The workshop's figure for a pair: catalogue and all records of it combined. Nothing without records.
std::optional<LearnedShrink> workshop_figure(const std::vector<LearnedRecord>& records, const Shop& shop,
                                             const std::string& silicone_id, const std::string& resin_id);

}  // namespace palinform
