#include "mould/whole_ways.hpp"

#include <algorithm>

namespace palinform {

std::vector<WholeWay> whole_ways(const std::vector<FormPlan>& forms, const std::vector<WayPlan>& beds,
                                 const Split& split) {
  std::vector<WholeWay> out;
  const auto add = [&](const FormPlan& f) -> WholeWay& {
    WholeWay& w = out.emplace_back();
    w.form = f.form, w.works = f.works, w.why = f.reasons;
    w.cost = f.cost, w.hands_min = f.hands_min, w.rubber_mm3 = f.rubber_mm3;
    const bool lined = f.form != Form::open && !(f.form == Form::strip && f.line_mm <= 0) && f.form != Form::cup_core;
    if (lined && !split.loops.empty()) {
      w.line = name_of(split.kind);
      w.climb_mm = split.height_range_mm, w.steepest_deg = split.steepest_deg;
    }
    return w;
  };
  const auto way_of = [&](Way way) -> const WayPlan* {
    const auto at = std::find_if(beds.begin(), beds.end(), [&](const WayPlan& b) { return b.way == way; });
    return at == beds.end() ? nullptr : &*at;
  };
  for (const FormPlan& f : forms) {
    if (!in_halves(f.form)) {
      WholeWay& w = add(f);
      if (f.form == Form::open) w.way = Way::open_face;
      if (f.form == Form::cut) w.way = Way::pour_and_cut;
      continue;
    }
    for (const Way bed : {Way::clay_bed, Way::splitter_board, Way::printed_board}) {
      const WayPlan* b = way_of(bed);
      const auto i = static_cast<size_t>(bed);
      WholeWay& w = add(f);
      w.way = f.form == Form::pieces ? Way::pieces : bed;
      w.cost += f.bed_cost[i] - f.bed_cost[static_cast<size_t>(f.bed)];
      w.hands_min += f.bed_hands_min[i] - f.bed_hands_min[static_cast<size_t>(f.bed)];
      if (b && !b->works && f.works && f.form != Form::pieces) w.works = false, w.why = b->reasons;
      if (b && b->works && f.works && !b->reasons.empty()) w.why.insert(w.why.begin(), b->reasons.front());
      // Pieces are laid in clay, one after the other.
      if (f.form == Form::pieces) break;
    }
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const WholeWay& a, const WholeWay& b) { return a.works != b.works ? a.works : a.cost < b.cost; });
  for (WholeWay& w : out) {
    const auto f = std::find_if(forms.begin(), forms.end(), [&](const FormPlan& p) { return p.form == w.form; });
    if (!w.works || !f->recommended) continue;
    w.advised = true;
    break;
  }
  return out;
}

}  // namespace palinform
