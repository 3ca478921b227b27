// Mould: see forming.hpp.
#include "stages/forming.hpp"

#include <algorithm>
#include <cmath>

#include "base/text.hpp"
#include "mesh/primitives.hpp"
#include "mould/bare.hpp"
#include "mould/stages.hpp"
#include "mould/strip.hpp"
#include "mould/whole.hpp"

namespace palinform {

Result<MouldResult> mould_result(const OriginalResult& master, const Split& split, const MouldOptions& how,
                                 const WallChoice& wall, const Progress& progress) {
  auto mould = two_part_mould(*master.mesh, split, how, progress);
  if (!mould) return mould.error();
  MouldResult out;
  out.mould = *std::move(mould);
  out.part_mm3 = master.measure.volume_mm3;
  out.wall_rule_mm = wall.rule_mm;
  out.wall_by_rule = wall.by_rule;
  for (const bool upper : {true, false}) {
    auto shape = make_shape(rubber_half(out.mould, *master.mesh, split, upper));
    if (!shape) return shape.error();
    (upper ? out.half_a : out.half_b) = *shape;
    if (progress.cancelled()) return Error::stopped();
  }
  out.findings = mould_findings(out.mould, wall.rule_mm);
  return out;
}

Result<MouldResult> bare_mould_result(const BareOriginal& bare, const WallChoice& wall) {
  const auto volume = bare_volume_mm3(bare);
  if (!volume) return volume.error();
  MouldResult out;
  out.mould = bare_mould(bare.extent_mm, *volume, wall.wall_mm);
  out.part_mm3 = *volume;
  out.wall_rule_mm = wall.rule_mm;
  out.wall_by_rule = wall.by_rule;
  const BareShapes shapes = bare_shapes(bare.extent_mm, out.mould);
  for (const auto& [mesh, into] :
       {std::pair{&shapes.part, &out.stand_in}, {&shapes.half_a, &out.half_a}, {&shapes.half_b, &out.half_b}}) {
    auto shape = make_shape(*mesh);
    if (!shape) return shape.error();
    *into = *shape;
  }
  return out;
}

namespace {

FormFacts form_facts(const FormGround& g, const Job& job, const Catalogue& catalogue) {
  const Silicone* sil = catalogue.silicone(job.mix.silicone_id);
  const Resin* res = catalogue.resin(job.mix.resin_id);
  FormFacts f;
  f.wall_mm = g.mould.mould.wall_mm;
  f.copies = job.copies;
  if (sil) {
    f.shore_a = sil->shore_a;
    f.rubber_density_g_cm3 = sil->density_g_cm3;
    f.rubber_price_per_kg = sil->price_per_kg;
    f.see_through = sil->see_through();
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

Result<FormsResult> forms_result(const FormGround& g, const Job& job, const Catalogue& catalogue,
                                 const Progress& progress) {
  const double head_mm = job.flow.head_mm, kpa = job.flow.aid == FillAid::pressure ? job.flow.pressure_kpa : 0;
  const FormFacts f = form_facts(g, job, catalogue);
  FormFacts facts = f;
  facts.need_help = g.part.need_help;
  facts.pins = g.part.pins;
  facts.extra_pieces = g.part.extra_pieces;
  facts.undercuts = static_cast<int>(g.undercuts.undercuts.size()) - g.part.need_help - g.part.pins;
  facts.witness_mm = g.part.smooth_mm + g.part.show_mm;
  facts.flat_normal = g.part.flat_normal;
  facts.flat_lets_go = g.part.open_flexes;
  auto plans = plan_forms(*g.master.mesh, *g.master.rays, g.split, g.mould.mould, g.bores, facts, catalogue.rules.forms,
                          progress);
  if (!plans) return plans.error();
  FormsResult r;
  r.plans = *std::move(plans);
  r.flat_normal = g.part.flat_normal;
  r.form = named<Form>(job.mould.form).value_or(Form::two_part);
  const Mould& m = g.mould.mould;
  double split_mm = 0.5 * r.plan().box_mm.z;
  if (r.halved() && !m.parting_mm.empty()) split_mm = static_cast<double>(m.parting_mm.front()) - m.inner_mm.min.z;
  BoxRules rules;
  rules.sheet_mm = job.mould.build.sheet_mm;
  r.box = plan_box(r.plan().box_mm, split_mm, *named<BoxStyle>(job.mould.box), rules,
                   tube_for(*g.master.mesh, m.frame, m.wall_mm));
  r.dams = dam_saving(m);
  r.leaks = leak_list(r.box.style);
  const Vec3 in = m.inner_mm.size();
  r.clamping = clamp_force(0.6 * in.x * in.y, in.z + head_mm, f.resin_density_g_cm3, 0);
  const auto add = [&](const char* code, Severity severity, std::string what, std::string why) -> Finding& {
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
      to.remedies.push_back({std::string(words_of(best->form)), edits::TakeForm{std::string(name_of(best->form))}});
  };
  if (!r.plan().works)
    offer(add("form-no", Severity::stop, std::string(words_of(r.form)) + " does not suit this part",
              r.plan().reasons.empty() ? "" : r.plan().reasons.front() + "."));
  else if (best && best->form != r.form && job.mould.form.empty() && best->cost < 0.8 * r.plan().cost)
    offer(add("form-better", Severity::note, std::string(words_of(best->form)) + " would be less work",
              (best->reasons.empty() ? "" : best->reasons.front() + ". ") + "Hands " + fixed(best->hands_min / 60, 1) +
                  " h against " + fixed(r.plan().hands_min / 60, 1) + " h (rules of thumb)."));
  const double tall = r.box.inner_mm.z + rules.rim_mm + rules.sheet_mm;
  if (r.plan().boxes > 0 && job.mix.degas && job.mould.build.chamber_mm > 0 && tall > job.mould.build.chamber_mm)
    add("box-tall", Severity::caution, "The box does not go into the vacuum chamber",
        fixed(tall, 0) + " mm with floor and rim against " + fixed(job.mould.build.chamber_mm, 0) +
            " mm. Degas the rubber in its cup, pour high and thin, and leave the box outside.");
  if (kpa > 0 && job.mould.build.pot_mm > 0 && in.z > job.mould.build.pot_mm)
    add("box-pot", Severity::caution, "The closed mould does not go into the pressure pot",
        fixed(in.z, 0) + " mm against " + fixed(job.mould.build.pot_mm, 0) +
            " mm. Lay it on its side, or make the wall thinner.");
  // Rubber on released rubber lets go at about this much a square metre, by feel.
  const double part_n =
      r.halved() ? catalogue.rules.parting_kpa * 1e-3 * std::max(0.0, in.x * in.y - 0.5 * g.master.measure.area_mm2)
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
          std::string("Pour ") + (upper ? "a" : "b") + " in two stages saves " + fixed(two.saved_mm3 * 1e-3, 0) + " ml",
          "All over to " + fixed(m.inner_mm.size().z - two.height_mm, 0) +
              " mm under its fill line; once it has gelled, a frame of " + fixed(two.frame_u_mm, 0) + " × " +
              fixed(two.frame_v_mm, 0) +
              " mm round what stands higher, and the rest. Rubber bonds to itself while it is fresh.");
    }
  if (r.plan().boxes > 0 && !r.box.works)
    add("box-no-tub", Severity::caution, "No tub on the list is large enough", r.box.told + ".");
  return r;
}

Result<BoardResult> built_whole(const Catalogue& catalogue, const OriginalResult& master, const Split& split,
                                const Mould& m, const FormsResult& forms, const std::vector<Bore>& bores,
                                const Progress& progress) {
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
    auto c = cup_and_core(mesh, *master.rays, split, *core, catalogue.rules.forms.cup_wall_mm, voxel, progress);
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
    auto j = plan_jacket(mesh, m, jacket_rules(catalogue.rules.forms), 1.6 * voxel, progress);
    if (!j) return j.error();
    r.volume_mm3 = j->a.volume_mm3 + j->b.volume_mm3;
    r.bolts_mm = j->bolts_mm;
    r.pry_mm = j->pry_mm;
    for (auto [from, to] : {std::pair{&j->a.mesh, &r.cup_a}, {&j->b.mesh, &r.cup_b}, {&j->skin, &r.whole}})
      if (auto ok = shape(std::move(*from), *to); !ok) return ok.error();
    return r;
  }
  if (forms.form == Form::strip) {
    auto s = plan_strip(mesh, forms.flat_normal ? -*forms.flat_normal : split.pull, forms.plan().castings_a_pull, {},
                        progress);
    if (!s) return s.error();
    auto bar = strip_bar(*s, progress.part(0.1, 0.4));
    if (!bar) return bar.error();
    auto rubber = strip_rubber(mesh, *s, *bar, voxel, progress.part(0.4, 1));
    if (!rubber) return rubber.error();
    r.volume_mm3 = s->rubber_mm3();
    // Into the part's frame, the middle copy on the part itself.
    Transform back = s->frame.inverse();
    back.shift = -back.direction(s->places_mm[s->places_mm.size() / 2]);
    for (auto [from, to] : {std::pair{&*rubber, &r.whole}, {&*bar, &r.core}})
      if (auto ok = shape(transformed(std::move(*from), back), *to); !ok) return ok.error();
    r.core_draw = -back.direction({0, 0, 1});
    return r;
  }
  auto rubber = rubber_whole(mesh, m, forms.form, forms.flat_normal, catalogue.rules.forms, voxel, progress);
  if (!rubber) return rubber.error();
  r.volume_mm3 = measure(*rubber).volume_mm3;
  if (auto ok = shape(*std::move(rubber), r.whole); !ok) return ok.error();
  return r;
}

Result<BoardResult> built_board(const OriginalResult& master, const Split& split, const KeyPlan& keys,
                                const BoardOptions& board, const MouldOptions& how, const Progress& progress) {
  const auto fine = fine_mould(*master.mesh, split, how, 0.5, progress.part(0, 0.4));
  if (!fine) return fine.error();
  const auto built = parting_board(*master.mesh, *master.rays, *fine, keys, board, progress.part(0.4, 1));
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
