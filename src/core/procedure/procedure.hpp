#pragma once
/// The one list of steps (procedures.md): what the hands do for this form, way, mould and fill aid, in an order in
/// which it can be done. Days lays it against the clock, Bench shows it step by step, the sheet prints it, the costs
/// count its minutes.
#include "procedure/facts.hpp"

namespace palinform {

struct Procedure {
  std::vector<ProcedureStep> steps;
};

/// Every step of the job, each after those it follows. Minutes are the rules' where no sheet gives them.
Procedure procedure(const ProcedureFacts& facts, const StepMinutes& minutes);

/// Hands-on minutes of the steps that make one mould, and of those that make one pull of castings, trimmed and
/// checked.
struct HandsNeeded {
  double mould_min = 0, casting_min = 0;
};
HandsNeeded hands_needed(const Procedure& p);

}  // namespace palinform
