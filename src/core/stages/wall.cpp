#include "stages/wall.hpp"

namespace palinform {

double shore_of(const Job& job, const Catalogue& catalogue, double otherwise) {
  const Silicone* sil = catalogue.silicone(job.mix.silicone_id);
  return sil ? sil->shore_a : otherwise;
}

WallChoice wall_of(const Job& job, const Catalogue& catalogue, const Vec3& own_size) {
  const Rules& r = catalogue.rules;
  WallChoice w;
  // Without a rubber the wall is as for a firm one; hardness for undercuts is taken softer (see shore_of).
  w.rule_mm = wall_by_rule_mm(own_size, shore_of(job, catalogue, 40),
                              {r.wall_min_mm, r.wall_share, r.wall_extra_soft_mm, r.wall_soft_below_shore_a});
  w.by_rule = !job.mould.wall_mm;
  w.wall_mm = job.mould.wall_mm.value_or(w.rule_mm);
  return w;
}

MouldOptions mould_options(const Job& job, const Catalogue& catalogue, double wall_mm) {
  const Silicone* sil = catalogue.silicone(job.mix.silicone_id);
  MouldOptions o;
  o.wall_mm = wall_mm;
  o.rubber_density_g_cm3 = sil ? sil->density_g_cm3 : 1.1;
  o.panel_mm = job.mould.build.sheet_mm;
  o.master_g = job.mould.master_g;
  return o;
}

}  // namespace palinform
