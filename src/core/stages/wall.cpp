#include "stages/wall.hpp"

#include <algorithm>

#include "job/parts.hpp"
#include "stages/materials.hpp"

namespace palinform {

double shore_of(const Job& job, const Shop& shop, double otherwise) {
  const auto sil = planned_rubber(job.mix, shop);
  return sil ? sil->shore_a : otherwise;
}

WallChoice wall_of(const Job& job, const Shop& shop, const Vec3& own_size) {
  WallChoice w;
  // Without a rubber the wall is as for a firm one; hardness for undercuts is taken softer (see shore_of).
  w.rule_mm = wall_by_rule_mm(own_size, shore_of(job, shop, 40), shop.rules.mould.wall);
  const WallRule& rule = shop.rules.mould.wall;
  if (const auto own = learnt_wall(shop.blocks, std::max({own_size.x, own_size.y, own_size.z}), shore_of(job, shop, 40),
                                   w.rule_mm, rule.learnt))
    w.rule_mm = own->wall_mm, w.learnt_from = own->moulds;
  w.by_rule = !job.mould.wall_mm;
  w.wall_mm = job.mould.wall_mm.value_or(w.rule_mm);
  w.thin = in_a_box(job.mould.planned_form()) && w.wall_mm < w.rule_mm - 0.05;
  w.floor_mm = job.mould.floor_mm.value_or(w.wall_mm * rule.floor_share);
  w.top_mm = job.mould.top_mm.value_or(w.wall_mm * rule.top_share);
  return w;
}

std::optional<Point2> filled_inside(const BoxChoice& box) {
  if (!box.inside_mm || box.dammed) return std::nullopt;
  return Point2{box.inside_mm->x, box.inside_mm->y};
}

MouldOptions mould_options(const Job& job, const Shop& shop, const WallChoice& wall) {
  const auto sil = planned_rubber(job.mix, shop);
  MouldOptions o;
  o.wall_mm = wall.wall_mm, o.floor_mm = wall.floor_mm, o.top_mm = wall.top_mm;
  o.inside_mm = filled_inside(job.mould.own_box);
  o.rubber_density_g_cm3 = sil ? sil->density_g_cm3 : 1.1;
  o.panel_mm = job.mould.build.sheet_mm;
  o.master_g = job.mould.master_g;
  // A box of the shop has plates instead, and what is not in halves is poured in one go.
  if (in_halves(job.mould.planned_form())) {
    o.dams = job.mould.dams && !job.mould.own_box.inside_mm;
    o.stage_a = job.mould.stage_a && brushed_half_of(job) != Brushed::a,
    o.stage_b = job.mould.stage_b && brushed_half_of(job) != Brushed::b;
  }
  return o;
}

}  // namespace palinform
