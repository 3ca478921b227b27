// Mould: see forming.hpp.
#include "stages/forming.hpp"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "job/parts.hpp"
#include "mesh/primitives.hpp"
#include "mesh/sketch.hpp"
#include "mould/cup_line.hpp"
#include "mould/several.hpp"
#include "mould/stages.hpp"
#include "mould/strip.hpp"
#include "mould/whole.hpp"
#include "stages/own_boxes.hpp"
#include "stages/proceeding.hpp"

namespace palinform {

Result<MouldResult> mould_result(const OriginalResult& master, const Split& split, const MouldOptions& how,
                                 const WallChoice& wall, int masters, const std::vector<OtherPart>& others,
                                 const Progress& progress) {
  const bool many = masters > 1 || !others.empty();
  MouldOptions alone = how;
  if (many) alone.inside_mm.reset(), alone.dams = alone.stage_a = alone.stage_b = false;  // the box is the set's
  auto mould = two_part_mould(*master.mesh, split, alone, many ? progress.part(0, 0.3) : progress);
  if (!mould) return mould.error();
  MouldResult out;
  out.mould = *std::move(mould);
  out.how = how;
  out.how.pitch_mm = 0;
  out.part_mm3 = master.measure.volume_mm3, out.part_mm2 = master.measure.area_mm2;
  out.u_part_mm3 = master.u_volume_mm3;
  out.wall_rule_mm = wall.rule_mm;
  out.wall_learnt_from = wall.learnt_from;
  out.wall_by_rule = wall.by_rule;
  if (many) {
    std::vector<SetPart> parts{{master.mesh.get(), &split, masters}};
    for (const OtherPart& o : others) {
      parts.push_back({o.master->mesh.get(), &o.split, o.masters});
      out.others_mm3 += o.masters * o.cast_mm3();
      for (size_t s = 0; s < 2; ++s) out.others_seats_mm3[s] += o.masters * o.seats_mm3[s];
    }
    auto set = master_set(parts, how.wall_mm);
    if (!set) return set.error();
    MouldOptions together = how;
    if (how.pitch_mm > 0) together.pitch_mm = how.pitch_mm * std::sqrt(static_cast<double>(set->masters.size()));
    auto block = two_part_mould(*set->mesh, set->split, together, progress.part(0.3, 1));
    if (!block) return block.error();
    out.set = std::make_shared<const MasterSet>(*std::move(set));
    out.set_mould = std::make_shared<const Mould>(*std::move(block));
  }
  const TriMesh& mesh = out.set ? *out.set->mesh : *master.mesh;
  // While it is dragged a sketch shows how the halves stand; they are drawn whole once it is let go.
  const size_t most = how.pitch_mm > 0 ? 20'000 : SIZE_MAX;
  std::optional<Result<std::shared_ptr<const Shape>>> shapes[2];
  tbb::parallel_for(0, 2, [&](int k) {
    TriMesh half = rubber_half(out.block(), mesh, out.set ? out.set->split : split, k == 0);
    shapes[k] = make_shape(sketch_of(std::move(half), most, 110));
  });
  if (progress.cancelled()) return Error::stopped();
  for (const auto& shape : shapes)
    if (!*shape) return shape->error();
  out.half_a = **shapes[0], out.half_b = **shapes[1];
  return out;
}

BlockBuilt block_of(const Job& job, const Shop& shop, const MouldResult& mould, const OriginalResult& master) {
  if (!in_a_box(job.mould.planned_form())) return {};
  const Vec3& e = master.own_size_mm;
  return {"", mould.mould.wall_mm, std::max({e.x, e.y, e.z}), shore_of(job, shop, 0)};
}

namespace {

FormFacts form_facts(const FormGround& g, const Job& job, const Shop& shop) {
  const Silicone* sil = shop.shelf.silicone(job.mix.silicone_id);
  const Resin* res = shop.shelf.resin(job.mix.resin_id);
  FormFacts f;
  f.walls = g.mould.block().walls;
  f.own_size_mm = g.master.own_size_mm;
  f.copies = job.parts.empty() ? job.copies : pulls_wanted(job, job.mould.masters) * job.mould.masters;
  f.over_pct = job.flow.squeeze.over_pct;
  for (const Coat& c : job.mould.coats) f.coats_mm.push_back(c.mm);
  if (sil) {
    f.shore_a = sil->shore_a;
    f.rubber_density_g_cm3 = sil->density_g_cm3;
    f.rubber_price_per_kg = sil->price_per_kg;
    f.see_through = sil->see_through();
    f.cure_h = sil->demould_h;
    f.pulls_simple = sil->usual_pulls_simple;
    f.pulls_undercut = sil->usual_pulls_undercut;
  }
  if (res) {
    f.resin_is_rubber = res->shore_a.has_value();
    f.resin_density_g_cm3 = res->density_g_cm3;
    f.resin_price_per_kg = res->price_per_kg;
  }
  return f;
}

}  // namespace

WaysResult judged_ways(const FormGround& g, const FormsResult& forms, std::string_view asked, const FormRates& rates) {
  constexpr size_t offered = 3;
  WaysResult r;
  r.ways = g.beds;
  r.whole = whole_ways(forms.plans, g.beds, g.split);
  if (const auto best = std::find_if(r.whole.begin(), r.whole.end(), [](const WholeWay& w) { return w.advised; });
      best != r.whole.end())
    std::rotate(r.whole.begin(), best, best + 1);
  // The three to look at are three forms: another bed under the same block shows nothing new.
  for (size_t i = 1; i < offered && i < r.whole.size(); ++i) {
    const auto other =
        std::find_if(r.whole.begin() + static_cast<std::ptrdiff_t>(i), r.whole.end(), [&](const WholeWay& w) {
          return w.works && std::none_of(r.whole.begin(), r.whole.begin() + static_cast<std::ptrdiff_t>(i),
                                         [&](const WholeWay& before) { return before.form == w.form; });
        });
    if (other == r.whole.end()) break;
    std::rotate(r.whole.begin() + static_cast<std::ptrdiff_t>(i), other, other + 1);
  }
  for (size_t i = 0; i < r.whole.size() && i < offered && r.whole[i].works; ++i)
    r.sketches.push_back(way_sketch(*g.master.mesh, g.mould.mould, r.whole[i], flat_side(r.whole[i].form, g.part),
                                    rates, g.beds[static_cast<size_t>(Way::pour_and_cut)].wave));
  for (const WholeWay& w : r.whole)
    if (w.advised)
      for (WayPlan& p : r.ways) p.recommended = w.way == p.way;
  if (const auto way = named<Way>(asked))
    r.chosen = way;
  else if (forms.halved())
    r.chosen = forms.form == Form::pieces ? Way::pieces : forms.plan().bed;
  else if (forms.form == Form::cut)
    r.chosen = Way::pour_and_cut;
  else if (forms.form == Form::open)
    r.chosen = Way::open_face;
  return r;
}

std::optional<Vec3> flat_side(Form form, const WayFacts& part) {
  // A strip's nubs stand on that face: only where it was said to be hidden.
  return form == Form::open || part.flat_marked ? part.flat_normal : std::nullopt;
}

namespace {

/// How the masters of a mould poured in one go stand in their box. Nothing for other forms, and for an open face
/// without a face.
struct Standing {
  Transform up;
  Walls walls;
  TriMesh all;
  Box3 part_mm;  ///< of all, in `up`
};
std::optional<Standing> standing_whole(Form form, const FormGround& g, const Walls& walls, int many) {
  const bool open = form == Form::open;
  if ((!open && form != Form::cut) || (open && !g.part.flat_normal)) return std::nullopt;
  const TriMesh& mesh = *g.master.mesh;
  Standing s{open ? frame_around(mesh, -*g.part.flat_normal) : g.mould.mould.frame, walls, {}, {}};
  if (open) s.walls.floor_mm = 0;
  s.all = repeated(mesh, master_places(mesh, s.up, many, walls.side_mm));
  s.part_mm = box_in(s.all, s.up);
  return s;
}

/// The chosen form's amounts where the box holds several masters: one pour for all, as many castings a pull.
Status several_in_one_box(FormPlan& plan, const FormGround& g, int many, const std::optional<Standing>& whole) {
  const MasterSet* set = in_halves(plan.form) ? g.mould.set.get() : nullptr;
  if ((many < 2 && !set) || !in_a_box(plan.form)) return {};
  plan.castings_a_pull = many;
  const auto all = static_cast<long long>(set ? set->masters.size() : static_cast<size_t>(many));
  plan.reasons.push_back(counted(all, "master", "masters") + " in one box, " + counted(all, "casting", "castings") +
                         " a pull");
  if (set) {
    const Mould& m = *g.mould.set_mould;
    plan.pours = m.pours;
    plan.rubber_mm3 = m.rubber_mm3;
    plan.box_mm = m.inner_mm.size();
    plan.line_mm = set->split.line_mm;
  }
  if (!whole) return {};
  auto pour = pour_around(whole->all, whole->up, whole->walls, "whole");
  if (!pour) return pour.error();
  plan.box_mm = box_round(whole->part_mm, whole->walls).size();
  plan.rubber_mm3 = pour->volume_mm3;
  plan.pours = {*std::move(pour)};
  return {};
}

/// One half as coats, and what then fills the box over them.
void take_brushed_half(FormsResult& r, const std::shared_ptr<const BrushedResult>& built) {
  FormPlan& plan = r.plans[static_cast<size_t>(r.form)];
  if (!built || plan.pours.size() != 2) return;
  const bool upper = built->side == "a";
  plan.skin_mm = 0;
  std::vector<RubberPour> pours;
  double rubber_mm3 = 0;
  for (size_t k = 0; k < built->coats_mm.size(); ++k) {
    RubberPour c;
    c.side = built->side;
    c.name = c.side + " coat " + std::to_string(k + 1);
    c.fill_height_mm = built->coats_mm[k];
    plan.skin_mm += built->coats_mm[k];
    c.volume_mm3 = built->coats_mm3[k] + (k + 1 == built->coats_mm.size() ? built->filler_mm3 : 0);
    rubber_mm3 += c.volume_mm3;
    pours.push_back(std::move(c));
  }
  RubberPour other = plan.pours[upper ? 1 : 0];
  other.volume_mm3 += (upper ? 1 : -1) * built->keys_mm3;
  plan.rubber_mm3 = other.volume_mm3 + rubber_mm3;
  plan.pours = std::move(pours);
  plan.pours.insert(upper ? plan.pours.end() : plan.pours.begin(), other);
  plan.hard_mm3 = built->backing_mm3;
  plan.hard_b_mm3 = upper ? 0 : built->backing_mm3;
  plan.reasons.push_back("Half " + built->side + " brushed in " +
                         counted(static_cast<long long>(built->coats_mm.size()), "coat", "coats") + ", " +
                         fixed(built->backing_mm3 * 1e-3, 0) + " ml of backing over it in the box");
  r.brushed = built;
}

/// The inside of the box made to measure for the form in hand.
Vec3 needed_box(const FormsResult& r, const FormGround& g, Walls walls, const std::optional<Standing>& whole) {
  if (whole) walls = whole->walls;
  walls.inside_mm.reset();
  if (whole) return box_round(whole->part_mm, walls).size();
  if (!r.halved()) return r.plan().box_mm;
  const TriMesh& mesh = g.mould.set ? *g.mould.set->mesh : *g.master.mesh;
  return box_round(box_in(mesh, g.mould.block().frame), walls).size();
}

/// A box of the shop in place of one made to measure.
BoxPlan own_box_plan(const BoxChoice& own, const Vec3& needed, const Vec3& filled, BoxStyle style,
                     const BoxRules& rules) {
  BoxPlan p;
  p.style = style;
  p.own = own.name;
  p.inner_mm = *own.inside_mm;
  p.dammed = own.dammed;
  const std::string why = box_too_small(needed, p.inner_mm, rules.rim_mm);
  p.works = why.empty();
  p.below_brim_mm = p.inner_mm.z - needed.z;
  p.plates = dam_plates(needed, p.inner_mm, rules.sheet_mm);
  p.more_rubber_mm3 = (filled.x * filled.y - needed.x * needed.y) * needed.z;
  p.told = p.works ? own.name + ", filled to " + fixed(needed.z, 0) + " mm, " + fixed(p.below_brim_mm, 0) +
                         " mm under its brim"
                   : own.name + " is " + why;
  return p;
}

}  // namespace

Result<FormsResult> forms_result(const FormGround& g, const FormsBuilt& built, const Job& job, const Shop& shop,
                                 const Progress& progress) {
  FormsResult r;
  const FormFacts f = form_facts(g, job, shop);
  FormFacts facts = f;
  facts.need_help = g.part.need_help;
  facts.pins = g.part.pins;
  facts.extra_pieces = g.part.extra_pieces;
  facts.undercuts = static_cast<int>(g.undercuts.undercuts.size()) - g.part.need_help - g.part.pins;
  facts.witness_mm = g.part.smooth_mm + g.part.show_mm;
  facts.flat_normal = g.part.flat_normal;
  facts.flat_marked = g.part.flat_marked;
  facts.flat_lets_go = g.part.open_flexes;
  facts.open_why = g.part.open_why;
  facts.open_offer = g.part.open_offer;
  facts.chosen = job.mould.planned_form();
  facts.strip = shop.rules.mould.strip;
  if (built.hanging) {
    facts.strip_up = built.hanging->up;
    facts.strip_many = job.mould.masters;
    r.struts_mm = built.hanging->struts_mm;
    r.on_bar = built.hanging->on_bar;
    for (const OnBar& o : r.on_bar) facts.strip_others.push_back({o.master->mesh.get(), o.up, o.many});
  }
  facts.wait_price_per_h = shop.rules.split.ways.wait_price_per_h;
  facts.hands_min = [&](const FormPlan& p, Way bed) { return form_hands_min(p, bed, g.part, job, shop); };
  for (const Way bed : {Way::clay_bed, Way::splitter_board, Way::printed_board}) {
    const WayPlan& b = g.beds[static_cast<size_t>(bed)];
    facts.bed_works[static_cast<size_t>(bed)] = b.works;
    facts.bed_print_h[static_cast<size_t>(bed)] = std::max(0.0, b.wait_h - f.cure_h * b.pours);
  }
  auto plans = plan_forms(built.amounts, *g.master.mesh, g.split, g.mould.mould, g.bores, facts, shop.rules.mould.forms,
                          progress);
  if (!plans) return plans.error();
  r.plans = *std::move(plans);
  r.form = job.mould.planned_form();
  r.flat_normal = flat_side(r.form, g.part);
  r.strip_up = facts.strip_up;
  const Mould& m = g.mould.block();
  FormPlan& chosen = r.plans[static_cast<size_t>(r.form)];
  const auto whole = standing_whole(r.form, g, f.walls, job.mould.masters);
  if (auto ok = several_in_one_box(chosen, g, job.mould.masters, whole); !ok) return ok.error();
  take_brushed_half(r, built.brushed);
  double split_mm = 0.5 * r.plan().box_mm.z;
  if (r.halved() && !m.parting_mm.empty()) split_mm = static_cast<double>(m.parting_mm.front()) - m.inner_mm.min.z;
  const MouldRules& rules = shop.rules.mould;
  BoxRules box = rules.box;
  box.sheet_mm = job.mould.build.sheet_mm;
  r.needed_mm = needed_box(r, g, f.walls, whole);
  r.box = job.mould.own_box.inside_mm && chosen.boxes > 0
              ? own_box_plan(job.mould.own_box, r.needed_mm, chosen.box_mm, *named<BoxStyle>(job.mould.box), box)
              : plan_box(r.plan().box_mm, split_mm, *named<BoxStyle>(job.mould.box), box,
                         job.mould.masters > 1 || g.mould.set ? 0 : tube_for(*g.master.mesh, m.frame, m.wall_mm));
  if (m.dams() == 0) r.dams = dam_saving(m);
  r.leaks = leak_list(r.box.style);
  const Vec3 in = m.inner_mm.size();
  r.clamping = clamp_force(rules.clamp_share * in.x * in.y, in.z + job.flow.head_mm, f.resin_density_g_cm3, 0);
  // Rubber on released rubber lets go at about this much a square metre, by feel.
  if (r.halved())
    r.parting_n = rules.parting_kpa * 1e-3 * std::max(0.0, in.x * in.y - rules.bond_share * g.master.measure.area_mm2);
  if (r.form == Form::open && r.flat_normal) {
    auto grooves = grooves_of(*g.master.mesh, *r.flat_normal, rules.groove_mm, progress);
    if (!grooves) return grooves.error();
    r.grooves = *std::move(grooves);
  }
  if (const Bore* bore = r.form == Form::cup_core ? core_bore(g.bores) : nullptr) {
    const auto line = cup_line_mm(*g.master.mesh, *g.master.rays, *bore,
                                  g.master.measure.volume_mm3 + chosen.resin_waste_mm3, progress);
    if (!line) return line.error();
    r.cup_line_mm = *line;
    r.parting_n = rules.parting_kpa * 1e-3 * std::numbers::pi * bore->diameter_mm * bore->depth_mm;
  }
  return r;
}

Result<BoardResult> built_whole(const Shop& shop, const OriginalResult& master, const Split& split, const Mould& m,
                                const FormsResult& forms, const std::vector<Bore>& bores, const Progress& progress) {
  BoardResult r;
  const TriMesh& mesh = *master.mesh;
  const Vec3 size = master.measure.box_mm.size();
  const double voxel = std::max(0.4, std::max({size.x, size.y, size.z}) / 140);
  const auto shape = [](TriMesh built, std::shared_ptr<const Shape>& into) -> Status {
    auto s = make_shape(std::move(built));
    if (!s) return s.error();
    into = *s;
    return {};
  };
  if (forms.form == Form::cup_core) {
    const Bore* core = core_bore(bores);
    if (!core) return r;
    auto c = cup_and_core(mesh, *master.rays, split, *core, shop.rules.mould.forms.cup_wall_mm, voxel, progress);
    if (!c) return c.error();
    // It stands in the bore's own frame; the picture wants the part's.
    const Transform back = c->frame.inverse();
    r.core_draw = c->frame.rows[2];
    for (auto [from, to] : {std::pair{&c->cup_a, &r.cup_a}, {&c->cup_b, &r.cup_b}, {&c->core, &r.core}}) {
      r.volume_mm3 += measure(*from).volume_mm3;
      if (auto ok = shape(transformed(std::move(*from), back), *to); !ok) return ok.error();
    }
    return r;
  }
  if (forms.form == Form::skin) {
    auto j = plan_jacket(mesh, m, jacket_rules(shop.rules.mould, forms.plan().skin_mm), 1.6 * voxel, progress);
    if (!j) return j.error();
    r.volume_mm3 = j->a.volume_mm3 + j->b.volume_mm3;
    r.bolts_mm = j->bolts_mm;
    r.pry_mm = j->pry_mm;
    for (auto [from, to] : {std::pair{&j->a.mesh, &r.cup_a}, {&j->b.mesh, &r.cup_b}, {&j->skin, &r.whole}})
      if (auto ok = shape(std::move(*from), *to); !ok) return ok.error();
    return r;
  }
  if (forms.form == Form::strip) {
    const std::vector<StripPart> hang =
        strip_parts(mesh, forms.strip_up.value_or(split.pull), forms.plan().castings_a_pull, forms.on_bar);
    auto s = plan_strip(hang, shop.rules.mould.strip, progress);
    if (!s) return s.error();
    auto bar = strip_bar(*s, progress.part(0.1, 0.4));
    if (!bar) return bar.error();
    auto rubber = strip_rubber(hang, *s, *bar, voxel, {}, progress.part(0.4, 1));
    if (!rubber) return rubber.error();
    r.volume_mm3 = s->rubber_mm3();
    // Into the part's frame, the middle copy on the part itself.
    const Transform back = s->places[static_cast<size_t>(hang[0].many) / 2].place.inverse();
    for (auto [from, to] : {std::pair{&*rubber, &r.whole}, {&*bar, &r.core}})
      if (auto ok = shape(transformed(std::move(*from), back), *to); !ok) return ok.error();
    r.core_draw = -back.direction({0, 0, 1});
    return r;
  }
  auto rubber = rubber_whole(mesh, m, forms.form, forms.flat_normal, shop.rules.mould.forms, voxel, progress,
                             forms.form == Form::putty ? 1 : forms.plan().castings_a_pull);
  if (!rubber) return rubber.error();
  r.volume_mm3 = measure(*rubber).volume_mm3;
  if (auto ok = shape(*std::move(rubber), r.whole); !ok) return ok.error();
  return r;
}

Result<BoardResult> built_board(const TriMesh& mesh, const RayScene& rays, const Split& split, const KeyPlan& keys,
                                const BoardOptions& board, const MouldOptions& how, const Progress& progress) {
  const auto fine = fine_mould(mesh, split, how, 0.5, progress.part(0, 0.4));
  if (!fine) return fine.error();
  const auto built = parting_board(mesh, rays, *fine, keys, board, progress.part(0.4, 1));
  if (!built) return built.error();
  BoardResult r;
  r.volume_mm3 = built->volume_mm3;
  r.print_h = built->print_h;
  r.clearance_mm = built->clearance_mm;
  r.tiles = built->tiles.size();
  TriMesh all;
  for (const BoardTile& t : built->tiles) {
    append(all, transformed(t.mesh, fine->frame.inverse()));
    r.extent_mm.x = std::max(r.extent_mm.x, t.extent_mm.x);
    r.extent_mm.y = std::max(r.extent_mm.y, t.extent_mm.y);
    r.extent_mm.z = std::max(r.extent_mm.z, t.extent_mm.z);
  }
  auto shape = make_shape(std::move(all));
  if (!shape) return shape.error();
  r.shape = *shape;
  return r;
}

}  // namespace palinform
