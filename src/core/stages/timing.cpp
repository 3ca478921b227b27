#include "stages/timing.hpp"

#include <algorithm>
#include <cmath>

namespace palinform {

Result<DaysResult> days_result(const MixResult& mix, const Job& job, const Shop& shop, const Progress& progress) {
  const Silicone& sil = *shop.shelf.silicone(job.mix.silicone_id);
  const Resin& res = *shop.shelf.resin(job.mix.resin_id);
  const DaysSetup& days = job.days;
  StepTimes t = shop.rules.days.steps;
  t.pot = job.flow.aid == FillAid::pressure;
  if (const MasterMaterial* surface = shop.shelf.master(job.original.finish.master_material))
    t.seal_min = surface->hands_min, t.seal_wait_min = 60 * surface->wait_h;
  t.rubber_cure_min = 60 * time_at_temperature(sil.demould_h, sil.reference_c, job.size.room_c);
  t.cast_cure_min = 60 * time_at_temperature(res.demould_h, res.reference_c, job.size.room_c);
  t.pours.clear();
  for (const PourMix& p : mix.pours) {
    // Batches follow one another: weighing and stirring each, then the pour.
    const double mix_min = p.mix_min * p.batches.count + p.wait_min,
                 pour_min = std::max(1.0, std::ceil(p.pour_min * p.batches.count));
    if (p.is_resin)
      t.cast_mix_min = mix_min, t.cast_degas_min = p.degas_min, t.cast_pour_min = pour_min;
    else
      t.pours.push_back({p.pour_name(), mix_min, p.degas_min, pour_min});
  }
  DaysResult r;
  const WallMinute start = *parse_wall_time(days.start);
  const double resin_cost = mix.resin_cost, per_hour = shop.rules.days.hand_price_per_h;
  for (int moulds = 1; moulds <= std::max(days.moulds, std::min(4, job.copies)); ++moulds) {
    if (progress.cancelled()) return Error::stopped();
    progress.report((moulds - 1) / 5.0);
    auto steps = job_steps(t, (job.copies + mix.castings_a_pull - 1) / mix.castings_a_pull, moulds, days.changes);
    auto s = lay_out(steps, {days.bench}, start, progress);
    if (!s) return s.error();
    r.by_moulds.push_back({moulds, s->finish, mix.rubber_g * moulds,
                           mix.rubber_cost * moulds + resin_cost + s->hands_min / 60 * per_hour});
    if (moulds != days.moulds) continue;
    r.hand_cost = s->hands_min / 60 * per_hour;
    r.steps = std::move(steps);
    r.schedule = *std::move(s);
  }
  return r;
}

}  // namespace palinform
