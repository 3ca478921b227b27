#include "job/analyses.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/text.hpp"
#include "job/parting_job.hpp"
#include "job/preparation.hpp"
#include "mould/bare.hpp"

namespace palinform {
namespace {

PourMix plan_pour(const Job& job, const Catalogue& catalogue, const Mixable& material, bool is_resin, std::string step,
                  double volume_mm3, std::vector<Finding>& findings) {
  const Rules& rules = catalogue.rules;
  PourMix p;
  p.step = std::move(step);
  p.material = material.name;
  p.is_resin = is_resin;
  p.volume_mm3 = volume_mm3;
  p.viscosity_mpa_s = material.viscosity_mpa_s;
  p.density_g_cm3 = material.density_g_cm3;
  p.density_a_g_cm3 = material.density_a_g_cm3;
  p.density_b_g_cm3 = material.density_b_g_cm3;
  p.ratio_tolerance_pct = material.ratio_tolerance_pct;
  p.mix_min = rules.mix_min;
  p.degas_min = degas_minutes(material, is_resin, job.degas, rules);
  p.foam_ratio = p.degas_min > 0
                     ? (material.pot_life_min < rules.fast_pot_life_min ? rules.foam_ratio_fast : rules.foam_ratio)
                     : 1.25;
  const double poured_g = volume_mm3 * 1e-3 * material.density_g_cm3;
  const double per_100 = is_resin ? rules.pour_min_per_100g_resin : rules.pour_min_per_100g_rubber;
  const BatchLimits limits{job.cup_ml,
                           p.foam_ratio,
                           material.density_g_cm3,
                           material.pot_life_min,
                           material.reference_c,
                           job.room_c,
                           p.mix_min,
                           p.degas_min,
                           per_100};
  // The cups' loss adds to the mass, and the mass decides how many cups there are.
  const Proportion proportion{0, material.weight_ratio(), job.scale_division_g, job.waste_pct, job.cup_tare_g};
  int cups = 1;
  for (int round = 0; round < 4; ++round) {
    const auto w =
        weigh_batches(with_cup_loss_g(poured_g, rules.cup_loss_pct, rules.cup_loss_g, cups), proportion, limits);
    if (!w) break;
    p.batches = w->batches;
    p.weighing = w->each;
    if (p.batches.count <= cups) break;
    cups = p.batches.count;
  }
  p.need_g = p.batches.each_g * p.batches.count;
  p.pour_min = p.weighing.total_g / 100 * per_100;
  p.cup_ml_needed = p.weighing.total_g / material.density_g_cm3 * p.foam_ratio;
  for (Finding& f : weighing_findings(p.weighing, job.scale_division_g, material.ratio_tolerance_pct, p.step))
    findings.push_back(std::move(f));
  if (p.batches.too_slow || p.batches.left_min < 0) {
    Finding f{"mix-pot-life", Severity::stop, {}, "It would gel in the cup", "", {}};
    f.where.step = p.step;
    f.why = "Stirring " + fixed(p.mix_min, 0) + " min and vacuum " + fixed(p.degas_min, 0) + " min leave nothing of " +
            fixed(p.batches.pot_life_min, 1) + " min pot life at " + fixed(job.room_c, 0) + " °C for pouring.";
    if (p.degas_min > 0) f.remedies.push_back({"degas", "Skip the vacuum", {{"on", "0"}}});
    findings.push_back(std::move(f));
  } else if (p.batches.count > 1) {
    const bool many = p.batches.count > many_batches;
    Finding f{"mix-batches",
              many ? Severity::stop : Severity::note,
              {},
              counted(p.batches.count, "batch", "batches") + " for " + p.step,
              "",
              {}};
    f.where.step = p.step;
    f.why = p.batches.limited_by == Batches::By::cup
                ? "Foam to " + significant(p.foam_ratio, 2) + " × the height must fit a cup of " + grouped(job.cup_ml) +
                      " ml (rule of thumb)."
                : "More would gel before it is poured.";
    if (many)
      f.why += " So many cups one after the other is no pour: take a larger cup, a slower grade or a smaller mould.";
    if (p.batches.limited_by == Batches::By::cup)
      f.remedies.push_back({"cup",
                            "A cup of " + grouped(std::ceil(p.cup_ml_needed * p.batches.count / 100) * 100) + " ml",
                            {{"ml", fixed(std::ceil(p.cup_ml_needed * p.batches.count / 100) * 100, 0)}}});
    findings.push_back(std::move(f));
  }
  for (const std::string& h : material.hazards)
    if (const auto words = catalogue.hazards.find(h); words != catalogue.hazards.end())
      p.cautions.push_back(words->second);
  return p;
}

/// Without a shape the rubber follows from box and volume alone.
std::optional<Task> bare_mould_task(const Job& job, const Catalogue& catalogue) {
  if (!job.bare.complete()) return std::nullopt;
  const Silicone* sil = catalogue.silicone(job.silicone_id);
  const Rules& r = catalogue.rules;
  const double rule = wall_by_rule_mm(job.bare.extent_mm, sil ? sil->shore_a : 40,
                                      {r.wall_min_mm, r.wall_share, r.wall_extra_soft_mm, r.wall_soft_below_shore_a});
  const double wall = job.wall_mm.value_or(rule);
  return Task{
      hash_of("bare-mould", job.bare, wall, rule), true,
      [bare = job.bare, wall, rule, by_rule = !job.wall_mm](Progress&) -> Result<AnyValue> {
        const auto volume = bare_volume_mm3(bare);
        if (!volume) return volume.error();
        MouldResult out;
        out.mould = bare_mould(bare.extent_mm, *volume, wall);
        out.part_mm3 = *volume;
        out.wall_rule_mm = rule;
        out.wall_by_rule = by_rule;
        const BareShapes shapes = bare_shapes(bare.extent_mm, out.mould);
        for (const auto& [mesh, into] :
             {std::pair{&shapes.part, &out.stand_in}, {&shapes.half_a, &out.half_a}, {&shapes.half_b, &out.half_b}}) {
          auto shape = make_shape(*mesh);
          if (!shape) return shape.error();
          *into = *shape;
        }
        return boxed(std::move(out));
      }};
}

}  // namespace

std::vector<Node> slice_nodes(const Catalogue& catalogue, MeshSource meshes, StockSource stock, LearnedSource learned) {
  std::vector<Node> nodes;

  nodes.push_back({"original", [meshes](const Job& job, const Planner&) -> std::optional<Task> {
                     if (job.mesh.hash.empty()) return std::nullopt;
                     return Task{hash_of("original", job.mesh.hash), false,
                                 [meshes, hash = job.mesh.hash](Progress& progress) -> Result<AnyValue> {
                                   auto mesh = meshes(hash);
                                   if (!mesh) return mesh.error();
                                   auto r = ready_mesh(*mesh, progress);
                                   if (!r) return r.error();
                                   return boxed(*std::move(r));
                                 }};
                   }});

  nodes.push_back({"soundness", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     if (!original) return std::nullopt;
                     return Task{hash_of("soundness", job.mesh.hash), false,
                                 [original](Progress& progress) -> Result<AnyValue> {
                                   auto s = check_soundness(*original->mesh, true, progress);
                                   if (!s) return s.error();
                                   return boxed(SoundnessResult{*s});
                                 }};
                   }});

  nodes.push_back(
      {"questions", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto sound = plan.fresh<SoundnessResult>("soundness");
         Job only;
         only.mesh.hash = job.mesh.hash;
         only.duties = job.duties;
         only.sizes = job.sizes;
         only.bare = job.bare;
         only.finish = job.finish;
         only.master_steps = job.master_steps;
         only.silicone_id = job.silicone_id;
         only.master = job.master;
         only.generations = job.generations;
         only.form = job.form;
         Hasher h;
         h.add("questions").add(only.mesh.hash).add(only.duties).add(only.sizes).add(only.bare).add(only.finish);
         h.add(only.master_steps).add(only.silicone_id).add(only.master).add(only.generations).add(sound != nullptr);
         h.add(only.form);
         return Task{
             h.done(), true, [&catalogue, only, sound](Progress&) -> Result<AnyValue> {
               return boxed(QuestionsResult{original_findings(only, catalogue, sound ? &sound->soundness : nullptr)});
             }};
       }});

  nodes.push_back({"master", [meshes](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     if (!original) return std::nullopt;
                     const auto key = hash_of("master", plan.slot("original").key, job.master_steps);
                     if (job.master_steps.empty())
                       return Task{key, true, [original](Progress&) -> Result<AnyValue> { return AnyValue(original); }};
                     return Task{key, false,
                                 [original, meshes, steps = job.master_steps](Progress& progress) -> Result<AnyValue> {
                                   auto mesh = prepared_master(*original, steps, meshes, progress);
                                   if (!mesh) return mesh.error();
                                   auto r = ready_mesh(std::make_shared<const TriMesh>(*std::move(mesh)), progress);
                                   if (!r) return r.error();
                                   return boxed(*std::move(r));
                                 }};
                   }});

  nodes.push_back({"print", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     if (!master) return std::nullopt;
                     Job only;
                     only.master = job.master;
                     only.scale = job.scale;
                     only.axis_scale = job.axis_scale;
                     only.sizes = job.sizes;
                     only.finish = job.finish;
                     return Task{
                         hash_of("print", plan.slot("master").key, only.master_scale(), only.sizes, only.finish), false,
                         [&catalogue, master, only](Progress&) -> Result<AnyValue> {
                           MasterFile f = master_file(*master, only, catalogue);
                           return boxed(PrintResult{f.volume_mm3, std::move(f.advice)});
                         }};
                   }});

  nodes.push_back({"faces", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     if (!original || job.marks.empty()) return std::nullopt;
                     return Task{hash_of("faces", plan.slot("original").key, job.marks), false,
                                 [original, marks = job.marks](Progress&) -> Result<AnyValue> {
                                   return boxed(find_faces(*original, marks));
                                 }};
                   }});

  nodes.push_back({"sections", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("original");
                     if (!original || job.sizes.empty()) return std::nullopt;
                     std::vector<std::array<Vec3, 2>> places;
                     Hasher h;
                     h.add("sections").add(plan.slot("original").key);
                     for (const MeasuredSize& m : job.sizes) {
                       places.push_back({m.from_mm, m.to_mm});
                       h.add(m.from_mm).add(m.to_mm);
                     }
                     return Task{h.done(), false, [original, places](Progress& progress) -> Result<AnyValue> {
                                   SectionsResult r;
                                   for (const auto& ends : places) {
                                     if (progress.cancelled()) return Error::stopped();
                                     r.section_mm.push_back(section_of_line(*original, ends[0], ends[1]));
                                   }
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back({"size", [&catalogue, learned](const Job& job, const Planner& plan) -> std::optional<Task> {
                     if (job.sizes.empty()) return std::nullopt;
                     const Job only = size_projection(job, plan.fresh<SectionsResult>("sections").get());
                     std::vector<LearnedRecord> records = learned ? learned() : std::vector<LearnedRecord>{};
                     return Task{hash_of("size", size_key(only), records), true,
                                 [&catalogue, only, records](Progress&) -> Result<AnyValue> {
                                   return boxed(predict_sizes(only, catalogue, records));
                                 }};
                   }});

  nodes.push_back({"draws", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto size = plan.fresh<SizeResult>("size");
                     if (!size || size->inputs.empty()) return std::nullopt;
                     return Task{hash_of("draws", plan.slot("size").key, job.seed), false,
                                 [size, seed = job.seed](Progress& progress) -> Result<AnyValue> {
                                   auto drawn = draw_sizes(size->inputs, size->scale, 100'000, seed, progress);
                                   if (!drawn) return drawn.error();
                                   DrawsResult r;
                                   r.check = compare_draws(size->predictions, *drawn);
                                   r.drawn = *std::move(drawn);
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back({"choose", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const Job only = size_projection(job, plan.fresh<SectionsResult>("sections").get());
                     return Task{hash_of("choose", size_key(only), job.needs, job.copies, job.finish.master_material),
                                 true,
                                 [&catalogue, only, copies = job.copies, master = job.finish.master_material,
                                  needs = job.needs](Progress&) -> Result<AnyValue> {
                                   Job j = only;
                                   j.needs = needs;
                                   j.copies = copies;
                                   j.finish.master_material = master;
                                   return boxed(choose_materials(j, catalogue));
                                 }};
                   }});

  nodes.push_back({"learn", [&catalogue, learned](const Job& job, const Planner& plan) -> std::optional<Task> {
                     if (job.castings.empty() || job.sizes.empty() || !catalogue.silicone(job.silicone_id) ||
                         !catalogue.resin(job.resin_id))
                       return std::nullopt;
                     Job only = size_projection(job, plan.fresh<SectionsResult>("sections").get());
                     only.castings = job.castings;
                     only.id = job.id;
                     std::vector<LearnedRecord> records = learned ? learned() : std::vector<LearnedRecord>{};
                     Hasher h;
                     h.add("learn").add(size_key(only)).add(records).add(job.id);
                     for (const Casting& c : job.castings) {
                       h.add(c.number);
                       for (const CastReading& r : c.readings) h.add(r.size_id).add(r.values_mm);
                     }
                     return Task{h.done(), true, [&catalogue, only, records](Progress&) -> Result<AnyValue> {
                                   auto l = learn_from_castings(only, catalogue, records);
                                   if (!l) return l.error();
                                   return boxed(*std::move(l));
                                 }};
                   }});

  add_parting_nodes(nodes, catalogue);

  nodes.push_back(
      {"mould", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto original = plan.fresh<OriginalResult>("master");
         const auto split = plan.fresh<SplitResult>("split");
         if (job.mesh.hash.empty()) return bare_mould_task(job, catalogue);
         if (!original || !split || split->split.loops.empty()) return std::nullopt;
         const Silicone* sil = catalogue.silicone(job.silicone_id);
         const Rules& r = catalogue.rules;
         const double shore = sil ? sil->shore_a : 40;
         const double rule =
             wall_by_rule_mm(original->own_size_mm, shore,
                             {r.wall_min_mm, r.wall_share, r.wall_extra_soft_mm, r.wall_soft_below_shore_a});
         MouldOptions o;
         o.wall_mm = job.wall_mm.value_or(rule);
         o.master_g = job.master_g;
         o.rubber_density_g_cm3 = sil ? sil->density_g_cm3 : 1.1;
         return Task{hash_of("mould", plan.slot("split").key, o.wall_mm, o.master_g, o.rubber_density_g_cm3, rule),
                     false, [original, split, o, rule, by_rule = !job.wall_mm](Progress& progress) -> Result<AnyValue> {
                       auto mould = two_part_mould(*original->mesh, split->split, o, progress);
                       if (!mould) return mould.error();
                       MouldResult out;
                       out.mould = *std::move(mould);
                       out.part_mm3 = original->measure.volume_mm3;
                       out.wall_rule_mm = rule;
                       out.wall_by_rule = by_rule;
                       for (const bool upper : {true, false}) {
                         auto shape = make_shape(rubber_half(out.mould, *original->mesh, split->split, upper));
                         if (!shape) return shape.error();
                         (upper ? out.half_a : out.half_b) = *shape;
                         if (progress.cancelled()) return Error::stopped();
                       }
                       out.findings = mould_findings(out.mould, rule);
                       return boxed(std::move(out));
                     }};
       }});

  add_building_nodes(nodes, catalogue);

  add_flow_nodes(nodes, catalogue);

  nodes.push_back(
      {"mix", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto mould = plan.fresh<MouldResult>("mould");
         if (!mould || !catalogue.silicone(job.silicone_id) || !catalogue.resin(job.resin_id)) return std::nullopt;
         // A form other than the block has pours of its own.
         const auto forms = plan.fresh<FormsResult>("forms");
         const bool own = !job.form.empty() && form_named(job.form) != Form::two_part && !job.mesh.hash.empty();
         if (own && !forms) return std::nullopt;
         // Gate and vents as laid out; until there is a gate, an allowance.
         const auto channels = plan.fresh<ChannelsResult>("channels");
         if (job.flow.gate && !job.mesh.hash.empty() && !channels) return std::nullopt;
         const double channels_mm3 = channels && job.flow.gate && !own ? channels->volume_mm3 : 0;
         Job only;
         only.copies = job.copies;
         only.silicone_id = job.silicone_id;
         only.resin_id = job.resin_id;
         only.room_c = job.room_c;
         only.scale_division_g = job.scale_division_g;
         only.waste_pct = job.waste_pct;
         only.cup_tare_g = job.cup_tare_g;
         only.cup_ml = job.cup_ml;
         only.degas = job.degas;
         return Task{
             hash_of("mix", plan.slot("mould").key, own ? plan.slot("forms").key : Hash128{}, only.copies,
                     only.silicone_id, only.resin_id, only.room_c, only.scale_division_g, only.waste_pct,
                     only.cup_tare_g, only.cup_ml, only.degas, channels_mm3),
             true,
             [&catalogue, only, mould, channels_mm3, forms = own ? forms : nullptr,
              part_mm3 = mould->part_mm3](Progress&) -> Result<AnyValue> {
               const Silicone& sil = *catalogue.silicone(only.silicone_id);
               const Resin& res = *catalogue.resin(only.resin_id);
               MixResult r;
               const int a_pull = forms ? forms->plan().castings_a_pull : 1;
               for (const RubberPour& p : forms ? forms->plan().pours : mould->mould.pours) {
                 if (p.volume_mm3 <= 0) continue;
                 r.pours.push_back(plan_pour(only, catalogue, sil, false, "pour " + p.name, p.volume_mm3, r.findings));
                 r.rubber_g += r.pours.back().weighing.total_g * r.pours.back().batches.count;
               }
               const double with_channels = forms ? a_pull * (part_mm3 + forms->plan().resin_waste_mm3)
                                            : channels_mm3 > 0
                                                ? part_mm3 + channels_mm3
                                                : part_mm3 * (1 + catalogue.rules.channel_allowance_pct / 100);
               const int pulls = (only.copies + a_pull - 1) / a_pull;
               r.pours.push_back(plan_pour(only, catalogue, res, true, "casting", with_channels, r.findings));
               r.resin_g = r.pours.back().weighing.total_g * r.pours.back().batches.count * pulls;
               r.castings_a_pull = a_pull;
               r.rubber_cost = r.rubber_g * 1e-3 * sil.price_per_kg;
               r.resin_cost = r.resin_g * 1e-3 * res.price_per_kg;
               return boxed(std::move(r));
             }};
       }});

  if (stock)
    nodes.push_back({"stock", [&catalogue, stock](const Job& job, const Planner& plan) -> std::optional<Task> {
                       const auto mix = plan.fresh<MixResult>("mix");
                       const Silicone* sil = catalogue.silicone(job.silicone_id);
                       const Resin* res = catalogue.resin(job.resin_id);
                       if (!mix || !sil || !res) return std::nullopt;
                       const Stock now = stock();
                       std::vector<Need> needs{{sil->id, sil->name, mix->rubber_g * job.days.moulds},
                                               {res->id, res->name, mix->resin_g}};
                       return Task{hash_of("stock", plan.slot("mix").key, job.days.moulds, now.lots, now.today), true,
                                   [needs, now](Progress&) -> Result<AnyValue> {
                                     return boxed(StockResult{stock_findings(needs, now.lots, now.today)});
                                   }};
                     }});

  nodes.push_back(
      {"days", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto mix = plan.fresh<MixResult>("mix");
         const Silicone* sil = catalogue.silicone(job.silicone_id);
         const Resin* res = catalogue.resin(job.resin_id);
         if (!mix || !sil || !res || job.days.start.empty()) return std::nullopt;
         const bool pot = job.flow.aid == FillAid::pressure;
         return Task{hash_of("days", plan.slot("mix").key, job.days, job.copies, pot, job.finish.master_material), true,
                     [&catalogue, mix, days = job.days, copies = job.copies, pot,
                      surface = catalogue.master(job.finish.master_material),
                      rubber_cure = time_at_temperature(sil->demould_h, sil->reference_c, job.room_c),
                      cast_cure = time_at_temperature(res->demould_h, res->reference_c, job.room_c)](
                         Progress&) -> Result<AnyValue> {
                       StepTimes t;
                       t.pot = pot;
                       if (surface) t.seal_min = surface->hands_min, t.seal_wait_min = 60 * surface->wait_h;
                       t.rubber_cure_min = 60 * rubber_cure;
                       t.cast_cure_min = 60 * cast_cure;
                       t.pours.clear();
                       for (const PourMix& p : mix->pours) {
                         // Batches follow one another: weighing and stirring each, then the pour.
                         const double mix_min = p.mix_min * p.batches.count,
                                      pour_min = std::max(1.0, std::ceil(p.pour_min * p.batches.count));
                         if (p.is_resin)
                           t.cast_mix_min = mix_min, t.cast_degas_min = p.degas_min, t.cast_pour_min = pour_min;
                         else
                           t.pours.push_back({p.pour_name(), mix_min, p.degas_min, pour_min});
                       }
                       DaysResult r;
                       const WallMinute start = *parse_wall_time(days.start);
                       const double resin_cost = mix->resin_cost, per_hour = catalogue.rules.hand_price_per_h;
                       for (int moulds = 1; moulds <= std::max(days.moulds, std::min(4, copies)); ++moulds) {
                         auto steps = job_steps(t, (copies + mix->castings_a_pull - 1) / mix->castings_a_pull, moulds,
                                                days.changes);
                         auto s = lay_out(steps, {days.bench}, start);
                         if (!s) return s.error();
                         r.by_moulds.push_back({moulds, s->finish, mix->rubber_g * moulds,
                                                mix->rubber_cost * moulds + resin_cost + s->hands_min / 60 * per_hour});
                         if (moulds != days.moulds) continue;
                         r.hand_cost = s->hands_min / 60 * per_hour;
                         r.steps = std::move(steps);
                         r.schedule = *std::move(s);
                       }
                       return boxed(std::move(r));
                     }};
       }});

  nodes.push_back(
      {"check", [](const Job& job, const Planner&) -> std::optional<Task> {
         if (job.castings.empty() || job.sizes.empty()) return std::nullopt;
         Hasher h;
         h.add("check").add(job.sizes).add(job.rule);
         for (const Casting& c : job.castings) {
           h.add(c.number);
           for (const CastReading& r : c.readings) h.add(r.size_id).add(r.values_mm);
         }
         return Task{
             h.done(), true,
             [sizes = job.sizes, castings = job.castings, rule = job.rule](Progress&) -> Result<AnyValue> {
               CheckResult out;
               for (const Casting& c : castings) {
                 CheckedCasting checked;
                 checked.number = c.number;
                 std::vector<Conformity> verdicts;
                 for (const MeasuredSize& s : sizes) {
                   std::vector<double> values;
                   for (const CastReading& r : c.readings)
                     if (r.size_id == s.id) values = r.values_mm;
                   const Judgement j = judge(values, s.resolution_mm, s.instrument_u_mm, s.lower_mm, s.upper_mm, rule);
                   checked.sizes.push_back({s.id, j});
                   verdicts.push_back(j.verdict);
                   checked.measured += j.reading.n > 0;
                 }
                 checked.overall = overall(verdicts);
                 out.castings.push_back(std::move(checked));
               }
               const CheckedCasting& last = out.castings.back();
               for (size_t i = 0; i < sizes.size(); ++i) {
                 const Judgement& j = last.sizes[i].judgement;
                 if (j.reading.n == 0 || j.verdict == Conformity::conforms) continue;
                 const bool fails = j.verdict == Conformity::fails;
                 Finding f{fails ? "check-fails" : "check-undecided",
                           fails ? Severity::stop : Severity::caution,
                           {},
                           "",
                           "",
                           {}};
                 f.where.size = sizes[i].id;
                 f.where.step = "casting " + std::to_string(last.number);
                 f.where.point_mm = (sizes[i].from_mm + sizes[i].to_mm) * 0.5;
                 const double y = j.reading.mean_mm;
                 f.what = sizes[i].name + (fails ? " is out of its limits" : ": the calipers cannot decide");
                 f.why = "Casting " + std::to_string(last.number) + " measures " + fixed(y, 3) + " ±" +
                         fixed(j.expanded_mm, 3) + " mm; the limits are " + fixed(sizes[i].lower_mm, 3) + " to " +
                         fixed(sizes[i].upper_mm, 3) + " mm.";
                 if (fails) {
                   const double miss = y < sizes[i].lower_mm ? sizes[i].lower_mm - y : y - sizes[i].upper_mm;
                   f.why += " That is " + fixed(miss, 3) + " mm too " + (y < sizes[i].lower_mm ? "small." : "large.");
                 } else {
                   f.why += " More readings, or a finer instrument, narrow it.";
                 }
                 out.findings.push_back(std::move(f));
               }
               return boxed(std::move(out));
             }};
       }});
  return nodes;
}

}  // namespace palinform
