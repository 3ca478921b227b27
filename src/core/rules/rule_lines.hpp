#pragma once
/// The rules one by one, for whoever edits them: what each is, what it changes, where it stands and where it would.
#include <string>
#include <vector>

#include "rules/rules.hpp"

namespace palinform {

struct RuleLine {
  std::string path;     ///< "mould.wall.least_mm"
  std::string stage;    ///< "Mould": whose figures it moves first
  std::string name;     ///< "least"
  std::string unit;     ///< "mm"
  std::string affects;  ///< what it changes, in words
  double value = 0, standard = 0, low = 0, high = 0;
  bool own() const { return value != standard; }
};

/// Every number of the rules, in the order of their stages, beside what it is by default.
std::vector<RuleLine> rule_lines(const Rules& now, const Rules& standard);

/// The rules with one of them changed. Refused by name: no such rule, a figure out of its range.
Result<Rules> with_rule(const Rules& rules, const std::string& path, double value);

}  // namespace palinform
