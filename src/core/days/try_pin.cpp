#include "days/try_pin.hpp"

#include <algorithm>

#include "base/text.hpp"

namespace palinform {

Result<PinTry> try_pin(std::vector<Step> steps, const std::vector<BenchHours>& bench, WallMinute start,
                       const ShopTime& others, const Begun& begun, const Schedule& before, const std::string& step_id,
                       WallMinute wanted) {
  const auto at = std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.id == step_id; });
  if (at == steps.end()) return Error{"there is no such step", step_id, ""};
  const auto i = static_cast<size_t>(at - steps.begin());
  if (std::any_of(begun.done.begin(), begun.done.end(), [&](const DoneStep& d) { return d.id == step_id; }))
    return Error{"\"" + at->name + "\" is done: it stays where it was", "days", ""};
  at->pinned = wanted;
  auto s = lay_out(steps, bench, start, others, begun);
  if (!s) return s.error();
  PinTry out;
  out.placed = s->placed[i].start;
  out.holds = out.placed == wanted;
  out.later_min = s->finish - before.finish;
  const auto time = [](WallMinute t) { return short_text(t); };
  if (!out.holds) {
    // In the order in which a person would ask: is anybody there, is it its turn, are hands and machine free?
    const double hands = at->hands_min;
    const auto open = next_bench_time(bench, wanted, std::max(1.0, hands), others.holidays);
    for (const Placed& p : s->placed)
      if (out.why.empty() && p.end > wanted &&
          std::find(steps[i].after.begin(), steps[i].after.end(), steps[p.step].id) != steps[i].after.end())
        out.why = "\"" + steps[p.step].name + "\" is over " + time(p.end) + " only";
    if (out.why.empty() && begun.now > wanted) out.why = "that is past";
    if (out.why.empty() && start > wanted) out.why = "the work begins " + time(start);
    if (out.why.empty() && open && *open != wanted)
      out.why = others.holidays.contains(day_number(wanted)) ? "nobody is there on that day"
                : *open - wanted > 0                         ? "the bench is shut then, or shuts before it is done"
                                                             : "the bench is shut then";
    int at_work = 0;
    for (const auto& [a, b] : others.hands)
      if (a < wanted + static_cast<int64_t>(hands) && b > wanted) ++at_work;
    if (out.why.empty() && at_work >= others.people) out.why = "another job has the hands then";
    if (out.why.empty() && !steps[i].needs.empty())
      if (const auto m = others.machines.find(steps[i].needs); m != others.machines.end())
        for (const auto& [a, b] : m->second)
          if (a <= wanted && b > wanted) out.why = "another job has the " + steps[i].needs + " until " + time(b);
    for (const std::string& what : steps[i].besides)
      if (const auto places = places_of(others.places, what); out.why.empty() && places)
        if (const auto m = others.machines.find(what); m != others.machines.end()) {
          int taken = 0;
          for (const auto& [a, b] : m->second) taken += a <= wanted && b > wanted;
          if (taken >= *places)
            out.why = *places == 1 ? "another job has the " + what + " then"
                                   : "other jobs have all " + std::to_string(*places) + " " + what + " then";
        }
    if (out.why.empty())
      for (const Placed& p : s->placed)
        if (p.step != i && p.start < wanted + static_cast<int64_t>(std::max(1.0, hands)) && p.hands_end > wanted) {
          out.why = "\"" + steps[p.step].name + "\" has the hands then";
          break;
        }
    if (out.why.empty()) out.why = "its mould or machine is not free then";
    out.why += "; it begins " + time(out.placed) + " at the soonest";
  } else {
    // What it drags along: the first that moves, besides itself.
    for (const Placed& p : s->placed) {
      if (p.step == i || p.step >= before.placed.size()) continue;
      const WallMinute was = before.placed[p.step].start;
      if (p.start == was) continue;
      out.why = "\"" + steps[p.step].name + "\" moves to " + time(p.start);
      break;
    }
  }
  out.schedule = *std::move(s);
  return out;
}

}  // namespace palinform
