// The Mould stage's nodes beyond the block itself: forms, keys, the printable board.
#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "job/building.hpp"
#include "mesh/primitives.hpp"
#include "mould/stages.hpp"
#include "mould/strip.hpp"
#include "mould/whole.hpp"

namespace palinform {
namespace {

MouldOptions options_of(const Job& job, const Catalogue& catalogue, double wall) {
  const Silicone* sil = catalogue.silicone(job.silicone_id);
  MouldOptions o;
  o.wall_mm = wall;
  o.rubber_density_g_cm3 = sil ? sil->density_g_cm3 : 1.1;
  o.panel_mm = job.build.sheet_mm;
  return o;
}

Result<AnyValue> built_whole(const Catalogue& catalogue, const OriginalResult& master, const Split& split,
                             const Mould& m, const FormsResult& forms, const std::vector<Bore>& bores,
                             Progress& progress) {
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
    if (!core) return boxed(std::move(r));
    auto c = cup_and_core(mesh, *master.rays, split, *core, catalogue.rules.forms.cup_wall_mm, voxel, progress);
    if (!c) return c.error();
    // It stands in the bore's own frame; the picture wants the part's.
    const Transform back = c->frame.inverse();
    r.core_draw = c->frame.rows[2];
    for (auto [from, to] : {std::pair{&c->cup_a, &r.cup_a}, {&c->cup_b, &r.cup_b}, {&c->core, &r.core}}) {
      r.volume_mm3 += measure(*from).volume_mm3;
      if (auto ok = shape(transformed(std::move(*from), back), *to); !ok) return ok.error();
    }
    return boxed(std::move(r));
  }
  if (forms.form == Form::skin) {
    auto j = plan_jacket(mesh, m, jacket_rules(catalogue.rules.forms), 1.6 * voxel, progress);
    if (!j) return j.error();
    r.volume_mm3 = j->a.volume_mm3 + j->b.volume_mm3;
    r.bolts_mm = j->bolts_mm;
    r.pry_mm = j->pry_mm;
    for (auto [from, to] : {std::pair{&j->a.mesh, &r.cup_a}, {&j->b.mesh, &r.cup_b}, {&j->skin, &r.whole}})
      if (auto ok = shape(std::move(*from), *to); !ok) return ok.error();
    return boxed(std::move(r));
  }
  if (forms.form == Form::strip) {
    auto s = plan_strip(mesh, forms.flat_normal ? -*forms.flat_normal : split.pull, forms.plan().castings_a_pull, {},
                        progress);
    if (!s) return s.error();
    auto bar = strip_bar(*s, progress);
    if (!bar) return bar.error();
    auto rubber = strip_rubber(mesh, *s, *bar, voxel, progress);
    if (!rubber) return rubber.error();
    r.volume_mm3 = s->rubber_mm3();
    // Into the part's frame, the middle copy on the part itself.
    Transform back = s->frame.inverse();
    back.shift = -back.direction(s->places_mm[s->places_mm.size() / 2]);
    for (auto [from, to] : {std::pair{&*rubber, &r.whole}, {&*bar, &r.core}})
      if (auto ok = shape(transformed(std::move(*from), back), *to); !ok) return ok.error();
    r.core_draw = -back.direction({0, 0, 1});
    return boxed(std::move(r));
  }
  auto rubber = rubber_whole(mesh, m, forms.form, forms.flat_normal, catalogue.rules.forms, voxel, progress);
  if (!rubber) return rubber.error();
  r.volume_mm3 = measure(*rubber).volume_mm3;
  if (auto ok = shape(*std::move(rubber), r.whole); !ok) return ok.error();
  return boxed(std::move(r));
}

}  // namespace

void add_building_nodes(std::vector<Node>& nodes, const Catalogue& catalogue) {
  nodes.push_back(
      {"forms", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto split = plan.fresh<SplitResult>("split");
         const auto mould = plan.fresh<MouldResult>("mould");
         const auto bores = plan.fresh<BoresResult>("bores");
         const auto undercuts = plan.fresh<UndercutsResult>("undercuts");
         const auto part = plan.fresh<WayFacts>("facts");
         if (!master || !split || !mould || !bores || !undercuts || !part) return std::nullopt;
         const Silicone* sil = catalogue.silicone(job.silicone_id);
         const Resin* res = catalogue.resin(job.resin_id);
         FormFacts f;
         f.wall_mm = mould->mould.wall_mm;
         f.copies = job.copies;
         if (sil) {
           f.shore_a = sil->shore_a;
           f.rubber_density_g_cm3 = sil->density_g_cm3;
           f.rubber_price_per_kg = sil->price_per_kg;
           f.see_through = sil->clarity == "clear" || sil->clarity == "translucent";
           f.pulls_simple = sil->usual_pulls_simple;
           f.pulls_undercut = sil->usual_pulls_undercut;
         }
         if (res) {
           f.resin_is_rubber = res->shore_a.has_value();
           f.resin_density_g_cm3 = res->density_g_cm3;
           f.resin_price_per_kg = res->price_per_kg;
         }
         Job only;
         only.build = job.build;
         only.box = job.box;
         only.form = job.form;
         only.degas = job.degas;
         const double head_mm = job.flow.head_mm, kpa = job.flow.aid == FillAid::pressure ? job.flow.pressure_kpa : 0;
         return Task{
             hash_of("forms", plan.slot("mould").key, plan.slot("facts").key, job.build, job.box, job.form, job.copies,
                     f.see_through, f.shore_a, f.rubber_price_per_kg, f.pulls_simple, f.pulls_undercut,
                     f.resin_is_rubber, f.resin_price_per_kg, f.resin_density_g_cm3, kpa, head_mm, job.degas),
             false,
             [&catalogue, master, split, mould, bores, undercuts, part, f, only, kpa,
              head_mm](Progress& progress) -> Result<AnyValue> {
               FormFacts facts = f;
               facts.need_help = part->need_help;
               facts.pins = part->pins;
               facts.extra_pieces = part->extra_pieces;
               facts.undercuts = static_cast<int>(undercuts->undercuts.size()) - part->need_help - part->pins;
               facts.witness_mm = part->smooth_mm + part->show_mm;
               facts.flat_normal = part->flat_normal;
               facts.flat_lets_go = part->open_flexes;
               auto plans = plan_forms(*master->mesh, *master->rays, split->split, mould->mould, bores->bores, facts,
                                       catalogue.rules.forms, progress);
               if (!plans) return plans.error();
               FormsResult r;
               r.plans = *std::move(plans);
               r.flat_normal = part->flat_normal;
               r.form = form_named(only.form).value_or(Form::two_part);
               const Mould& m = mould->mould;
               double split_mm = 0.5 * r.plan().box_mm.z;
               if (r.halved() && !m.parting_mm.empty())
                 split_mm = static_cast<double>(m.parting_mm.front()) - m.inner_mm.min.z;
               BoxRules rules;
               rules.sheet_mm = only.build.sheet_mm;
               r.box = plan_box(r.plan().box_mm, split_mm, *box_style(only.box), rules,
                                tube_for(*master->mesh, m.frame, m.wall_mm));
               r.dams = dam_saving(m);
               r.leaks = leak_list(r.box.style);
               const Vec3 in = m.inner_mm.size();
               r.clamping = clamp_force(0.6 * in.x * in.y, in.z + head_mm, f.resin_density_g_cm3, 0);
               const auto add = [&](const char* code, Severity severity, std::string what,
                                    std::string why) -> Finding& {
                 Finding found;
                 found.code = code;
                 found.severity = severity;
                 found.what = std::move(what);
                 found.why = std::move(why);
                 r.findings.push_back(std::move(found));
                 return r.findings.back();
               };
               const FormPlan* best = nullptr;
               for (const FormPlan& p : r.plans)
                 if (p.recommended) best = &p;
               const auto offer = [&](Finding& to) {
                 if (best && best->form != r.form)
                   to.remedies.push_back(
                       {"form", std::string(words_of(best->form)), {{"form", std::string(name_of(best->form))}}});
               };
               if (!r.plan().works)
                 offer(add("form-no", Severity::stop, std::string(words_of(r.form)) + " does not suit this part",
                           r.plan().reasons.empty() ? "" : r.plan().reasons.front() + "."));
               else if (best && best->form != r.form && only.form.empty() && best->cost < 0.8 * r.plan().cost)
                 offer(add("form-better", Severity::note, std::string(words_of(best->form)) + " would be less work",
                           (best->reasons.empty() ? "" : best->reasons.front() + ". ") + "Hands " +
                               fixed(best->hands_min / 60, 1) + " h against " + fixed(r.plan().hands_min / 60, 1) +
                               " h (rules of thumb)."));
               const double tall = r.box.inner_mm.z + rules.rim_mm + rules.sheet_mm;
               if (r.plan().boxes > 0 && only.degas && only.build.chamber_mm > 0 && tall > only.build.chamber_mm)
                 add("box-tall", Severity::caution, "The box does not go into the vacuum chamber",
                     fixed(tall, 0) + " mm with floor and rim against " + fixed(only.build.chamber_mm, 0) +
                         " mm. Degas the rubber in its cup, pour high and thin, and leave the box outside.");
               if (kpa > 0 && only.build.pot_mm > 0 && in.z > only.build.pot_mm)
                 add("box-pot", Severity::caution, "The closed mould does not go into the pressure pot",
                     fixed(in.z, 0) + " mm against " + fixed(only.build.pot_mm, 0) +
                         " mm. Lay it on its side, or make the wall thinner.");
               // Rubber on released rubber lets go at about this much a square metre, by feel.
               const double part_n = r.halved() ? catalogue.rules.parting_kpa * 1e-3 *
                                                      std::max(0.0, in.x * in.y - 0.5 * master->measure.area_mm2)
                                                : 0;
               r.parting_n = part_n;
               if (part_n > catalogue.rules.parting_by_hand_n)
                 add("halves-stick", Severity::caution, "The halves will not come apart by hand",
                     "About " + fixed(part_n, 0) +
                         " N over the land (rule of thumb). Leave pry slots at the "
                         "corners and let air in from one side.");
               if (r.dams.rubber_mm3 > 0.12 * m.rubber_mm3 && r.plan().boxes > 0)
                 add("box-dams", Severity::note, "Dams in the corners save rubber",
                     counted(r.dams.corners, "corner lies", "corners lie") +
                         " farther from the part than the "
                         "wall: " +
                         fixed(r.dams.rubber_mm3 * 1e-3, 0) + " ml. Glue in blocks up to the wall.");
               if (r.halved() && !m.part_high_mm.empty())
                 for (const bool upper : {true, false}) {
                   const StagedPour two = two_stage_pour(m, upper);
                   if (two.saved_mm3 < std::max(20e3, 0.12 * m.rubber_mm3)) continue;
                   add("pour-stages", Severity::note,
                       std::string("Pour ") + (upper ? "a" : "b") + " in two stages saves " +
                           fixed(two.saved_mm3 * 1e-3, 0) + " ml",
                       "All over to " + fixed(m.inner_mm.size().z - two.height_mm, 0) +
                           " mm under its fill line; once it has gelled, a frame of " + fixed(two.frame_u_mm, 0) +
                           " × " + fixed(two.frame_v_mm, 0) +
                           " mm round what stands higher, and the rest. Rubber bonds to itself while it is fresh.");
                 }
               if (r.plan().boxes > 0 && !r.box.works)
                 add("box-no-tub", Severity::caution, "No tub on the list is large enough", r.box.told + ".");
               return boxed(std::move(r));
             }};
       }});

  nodes.push_back({"keys", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto mould = plan.fresh<MouldResult>("mould");
                     const auto forms = plan.fresh<FormsResult>("forms");
                     if (!mould || mould->stand_in || !forms || !forms->halved()) return std::nullopt;
                     return Task{
                         hash_of("keys", plan.slot("mould").key, job.keys, job.key_places), true,
                         [mould, kind = *key_kind(job.keys), places = job.key_places](Progress&) -> Result<AnyValue> {
                           std::vector<Vec3> in_frame;
                           for (const Vec3& p : places) in_frame.push_back(mould->mould.frame.direction(p));
                           KeysResult r;
                           r.plan = place_keys(mould->mould, kind, {}, in_frame);
                           r.findings = key_findings(r.plan, {});
                           return boxed(std::move(r));
                         }};
                   }});

  nodes.push_back(
      {"board", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto split = plan.fresh<SplitResult>("split");
         const auto mould = plan.fresh<MouldResult>("mould");
         const auto forms = plan.fresh<FormsResult>("forms");
         const auto bores = plan.fresh<BoresResult>("bores");
         const auto keys = plan.fresh<KeysResult>("keys");
         if (!master || !split || !mould || !forms || !bores || mould->stand_in) return std::nullopt;
         if (!forms->halved())
           return Task{hash_of("built-whole", plan.slot("forms").key), false,
                       [&catalogue, master, split, mould, forms, bores](Progress& progress) -> Result<AnyValue> {
                         return built_whole(catalogue, *master, split->split, mould->mould, *forms, bores->bores,
                                            progress);
                       }};
         if (!keys) return std::nullopt;
         const BoardOptions o = board_options(job.build);
         const MouldOptions mo = options_of(job, catalogue, mould->mould.wall_mm);
         return Task{hash_of("board", plan.slot("keys").key, job.build), false,
                     [master, split, keys, o, mo](Progress& progress) -> Result<AnyValue> {
                       const auto fine = fine_mould(*master->mesh, split->split, mo, 0.5, progress);
                       if (!fine) return fine.error();
                       const auto b = parting_board(*master->mesh, *master->rays, *fine, keys->plan, o, progress);
                       if (!b) return b.error();
                       BoardResult r;
                       r.volume_mm3 = b->volume_mm3;
                       r.print_h = b->print_h;
                       r.clearance_mm = b->clearance_mm;
                       r.tiles = b->tiles.size();
                       TriMesh all;
                       for (const BoardTile& t : b->tiles) {
                         append(all, transformed(t.mesh, fine->frame.inverse()));
                         r.extent_mm.x = std::max(r.extent_mm.x, t.extent_mm.x);
                         r.extent_mm.y = std::max(r.extent_mm.y, t.extent_mm.y);
                         r.extent_mm.z = std::max(r.extent_mm.z, t.extent_mm.z);
                       }
                       auto shape = make_shape(std::move(all));
                       if (!shape) return shape.error();
                       r.shape = *shape;
                       return boxed(std::move(r));
                     }};
       }});
}

}  // namespace palinform
