#include "stages/timing.hpp"

#include <algorithm>

namespace palinform {

Result<DaysResult> days_result(const MixResult& mix, const ProcedureResult& work, const Job& job, const Shop& shop,
                               const ShopTime& others, const Begun& begun, const Progress& progress) {
  const DaysSetup& days = job.days;
  DaysResult r;
  const WallMinute start = *parse_wall_time(days.start);
  const double per_hour = shop.rules.days.hand_price_per_h;
  const bool moulds_made = work.facts.ends == Ends::both || work.facts.ends == Ends::mould;
  const int most = std::max(days.moulds, moulds_made && work.facts.ends == Ends::both ? std::min(4, job.copies) : 1);
  // Taken from the master one after the other, or from the first casting while the first mould goes on.
  std::vector<std::pair<int, bool>> choices;
  const bool may_copy = work.facts.ends == Ends::both && work.facts.form != Form::cup_core;
  for (int moulds = 1; moulds <= most; ++moulds) {
    choices.emplace_back(moulds, false);
    if (moulds > 1 && may_copy && (moulds == 2 || (moulds == days.moulds && days.from_first_casting)))
      choices.emplace_back(moulds, true);
  }
  const bool copied = copies_its_casting(work.facts);
  for (size_t k = 0; k < choices.size(); ++k) {
    const auto [moulds, from_casting] = choices[k];
    if (progress.cancelled()) return Error::stopped();
    progress.report(static_cast<double>(k) / static_cast<double>(choices.size() + 1));
    const bool chosen = moulds == days.moulds && from_casting == copied;
    std::vector<Step> steps;
    if (chosen) {
      steps = timed_steps(work.procedure);
    } else {
      ProcedureFacts other = work.facts;
      other.moulds = moulds;
      other.from_first_casting = from_casting;
      steps = timed_steps(procedure_result(std::move(other), days.own_ways(), shop).procedure);
    }
    auto s = lay_out(steps, {days.bench}, start, others, begun, progress);
    if (!s) return s.error();
    r.by_moulds.push_back(
        {moulds, from_casting, s->finish, mix.rubber_g * moulds,
         (mix.rubber_cost + mix.jacket_cost) * moulds + mix.resin_cost + s->hands_min / 60 * per_hour});
    if (!chosen) continue;
    r.hand_cost = s->hands_min / 60 * per_hour;
    r.steps = std::move(steps);
    r.schedule = *std::move(s);
  }
  r.among_others = !others.hands.empty();
  if (r.among_others) {
    ShopTime alone;
    alone.people = others.people, alone.holidays = others.holidays, alone.places = others.places;
    if (const auto s = lay_out(r.steps, {days.bench}, start, alone, begun, progress)) r.alone_finish = s->finish;
  }
  if (days.promised.empty()) return r;
  r.due = *parse_wall_time(days.promised + "T00:00") + day_min;
  if (r.schedule.finish <= *r.due) return r;
  for (const int weekday : {5, 6, 0, 1, 2, 3, 4}) {
    if (days.bench.days[static_cast<size_t>(weekday)]) continue;
    BenchHours longer = days.bench;
    longer.days[static_cast<size_t>(weekday)] = true;
    if (const auto s = lay_out(r.steps, {longer}, start, others, begun, progress); s && s->finish <= *r.due)
      r.open_on.push_back(weekday);
  }
  return r;
}

}  // namespace palinform
