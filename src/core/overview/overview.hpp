#pragma once
/// Where the job stands, for strand, findings and tally: read off Job and Planner, nothing computed anew.
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "nodes/nodes.hpp"

namespace palinform {

enum class Knot { untouched, moving, settled, needs_answer, stopped };
template <>
inline constexpr std::array names<Knot>{"untouched"sv, "moving"sv, "settled"sv, "needs-answer"sv, "stopped"sv};

/// The scan of a casting, where it has been judged.
std::shared_ptr<const ScanResult> scan_of(const Planner& plan, int casting);

struct StageState {
  Knot knot = Knot::untouched;
  std::string figure;     ///< the one that matters there; "–" where there is none yet
  double progress = 0;    ///< while moving
  std::string_view node;  ///< what moves or failed, for cancel and retry
  std::string error;      ///< why it stopped, in words
};

struct OpenFinding {
  Stage stage = Stage::original;
  Finding finding;
  std::optional<Answer> answer;
};

/// All findings of the present Job, weightiest first, answered ones last.
std::vector<OpenFinding> findings_of(const Job& job, const Planner& plan);
std::array<StageState, stage_count> stage_states(const Job& job, const Planner& plan);

struct Tally {
  std::optional<double> rubber_g, resin_g, cost;  ///< cost: materials, and hand time once the days are planned
  std::optional<double> hands_min;
  std::string ready;     ///< "Thu 16:20"
  std::string tightest;  ///< "Pen bore, 62 % likely"
};
Tally tally_of(const Job& job, const Planner& plan);

/// Records a reason for a finding. A finding that needs writing takes no reason under ten letters.
/// Does an answer still hold for a finding? Same code, size, material and step; its place within 2 mm, or a twentieth
/// of `part_mm`; not grown by a quarter since.
bool answers(const Answer& answer, const Finding& finding, double part_mm);

Result<Job> accept_finding(const Job& job, const Finding& finding, const std::string& reason);
/// Every stop finding has its answer.
bool ready(const std::vector<OpenFinding>& findings);

}  // namespace palinform
