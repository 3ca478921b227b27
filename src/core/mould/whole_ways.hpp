#pragma once
/// Whole ways to come to a mould, judged in one money (M22): form, bed and line together.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "mould/forms.hpp"
#include "split/parting.hpp"
#include "split/ways.hpp"

namespace palinform {

struct WholeWay {
  Form form = Form::two_part;
  std::optional<Way> way;          ///< how the split is made; none: the form has no choice
  std::string_view line = "none";  ///< name_of(LineKind), or "none"
  bool works = false, advised = false;
  double cost = 0, hands_min = 0, rubber_mm3 = 0;
  double climb_mm = 0, steepest_deg = 0;  ///< of the line; 0 without one
  std::vector<std::string> why;           ///< sentences; the first says why not where it does not work
};

/// Every form, those over a bed once for each bed that could be made; what works first, the cheapest first; the first
/// that plan_forms() recommends is advised, on its cheapest bed. `beds`: ways_to_split().
std::vector<WholeWay> whole_ways(const std::vector<FormPlan>& forms, const std::vector<WayPlan>& beds,
                                 const Split& split);

}  // namespace palinform
