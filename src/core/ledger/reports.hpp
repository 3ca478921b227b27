#pragma once
/// What the books add up to: materials by month, what went wrong and why, hours planned against hours worked, what the
/// shelf is worth, how long moulds last.
#include "base/table.hpp"
#include "check/weibull.hpp"
#include "ledger/workshop.hpp"

namespace palinform {

/// Moulds of one rubber and form: what is known of how long they last.
struct MouldKind {
  std::string kind;          ///< as the jobs' list has it: "rubber id/form"
  std::string rubber, form;  ///< names
  double sheet_pulls = 0;    ///< by the rubber's sheet and the form
  LifeLaw law;
};
struct MouldLife {
  MouldRecord mould;
  size_t kind = 0;
  double to_come = 0;      ///< pulls, on the average; 0: retired
  double next_chance = 1;  ///< that the next pull goes well
  std::string advice;      ///< "make the next one now"; empty: none
};
struct MouldLives {
  std::vector<MouldKind> kinds;
  std::vector<MouldLife> moulds;  ///< newest first
};
/// A mould that was taken back or never cast in ended by no wear and tells nothing.
Result<MouldLives> mould_lives(Workshop& workshop, const Shop& shop);

struct Reports {
  Table use, wrong, hours, worth, lives;
  std::vector<Table> all() const { return {use, wrong, hours, worth, lives}; }
};
/// Refused where the books cannot be read. Money in the shop's own.
Result<Reports> reports_of(Workshop& workshop, const Shop& shop);

}  // namespace palinform
