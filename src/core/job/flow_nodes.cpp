// The Flow stage's nodes: where air stays, how to stand the mould, how long it takes to fill, what is cut for it.
#include <algorithm>

#include "job/building.hpp"
#include "job/flow_job.hpp"

namespace palinform {
namespace {

FillWay way_of(const Job& job) {
  const auto f = form_named(job.form);
  return f == Form::squeeze ? FillWay::squeeze
         : f == Form::open  ? FillWay::open_face
         : f == Form::strip ? FillWay::well
                            : FillWay::sprue;
}

/// Up when the mould stands level, in the part's frame.
Vec3 base_up(const FlowSetup& f, const Vec3& level) { return f.turned_over ? -level : level; }

}  // namespace

void add_flow_nodes(std::vector<Node>& nodes, const Catalogue& catalogue) {
  nodes.push_back({"cavity", [](const Job&, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("master");
                     if (!original || original->pairs->open_edges + original->pairs->non_manifold_edges > 0)
                       return std::nullopt;
                     return Task{hash_of("cavity", plan.slot("master").key), false,
                                 [original](Progress& progress) -> Result<AnyValue> {
                                   // As many cells as one sweep does in about 40 ms: tilting by hand stays live.
                                   constexpr double cells = 300'000;
                                   const double voxel = std::max(0.05, voxel_for(original->measure.volume_mm3, cells));
                                   auto c = fill_with_cells(*original->mesh, voxel, progress);
                                   if (!c) return c.error();
                                   return boxed(CavityResult{*std::move(c)});
                                 }};
                   }});
  nodes.push_back({"network", [](const Job&, const Planner& plan) -> std::optional<Task> {
                     const auto original = plan.fresh<OriginalResult>("master");
                     if (!original || !plan.fresh<CavityResult>("cavity")) return std::nullopt;
                     return Task{hash_of("network", plan.slot("master").key), false,
                                 [original](Progress& progress) -> Result<AnyValue> {
                                   auto n = fill_network(*original->mesh, *original->rays, 8'000, progress);
                                   if (!n) return n.error();
                                   return boxed(*std::move(n));
                                 }};
                   }});

  // Up when the mould stands level: the open face of an open mould, else the pull.
  const auto input = [&catalogue](const Job& job, const Planner& plan) -> std::optional<FlowInput> {
    FlowInput in;
    in.master = plan.fresh<OriginalResult>("master");
    in.split = plan.fresh<SplitResult>("split");
    in.wishes = plan.fresh<FaceWishes>("wishes");
    if (!in.master || !in.split || !in.wishes) return std::nullopt;
    in.way = way_of(job);
    in.base = in.split->split.pull;
    if (in.way == FillWay::open_face || in.way == FillWay::well) {
      const auto facts = plan.fresh<WayFacts>("facts");
      if (!facts) return std::nullopt;
      in.flat_normal = facts->flat_normal;
      if (in.flat_normal)
        in.base = *in.flat_normal;
      else if (in.way == FillWay::well)
        in.base = -in.base;  // hung from its lower side in the rubber pour, so that side is up when resin goes in
    }
    in.level = in.base;
    // What only the plan reads does not stir the rest.
    in.setup = job.flow;
    const FlowSetup plain;
    in.setup.max_tilt_deg = plain.max_tilt_deg;
    in.setup.max_vents = plain.max_vents;
    in.setup.keep_gate = in.setup.keep_vents = false;
    in.setup.no_vents.clear();
    in.degassed = job.degas;
    in.visible_mm = catalogue.rules.visible_void_mm;
    in.visible_show_mm = catalogue.rules.visible_show_mm;
    return in;
  };

  nodes.push_back({"flow", [input](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto cavity = plan.fresh<CavityResult>("cavity");
                     auto in = input(job, plan);
                     if (!in || !cavity) return std::nullopt;
                     FlowInput i = *std::move(in);
                     i.base = base_up(job.flow, i.base);
                     return Task{hash_of("flow", plan.slot("cavity").key, plan.slot("wishes").key, i.setup, i.base,
                                         i.level, i.way, i.flat_normal, job.degas, i.visible_mm, i.visible_show_mm,
                                         i.way == FillWay::squeeze ? plan.slot("split").key : Hash128{}),
                                 false, [i, cavity](Progress& progress) -> Result<AnyValue> {
                                   return flow_result(i, cavity->cavity, progress);
                                 }};
                   }});

  nodes.push_back({"channels", [input, &catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto mould = plan.fresh<MouldResult>("mould");
                     const auto keys = plan.fresh<KeysResult>("keys");
                     const Resin* res = catalogue.resin(job.resin_id);
                     auto in = input(job, plan);
                     const auto forms = plan.fresh<FormsResult>("forms");
                     if (!in || !mould || mould->stand_in || !forms || (forms->halved() && !keys)) return std::nullopt;
                     FlowInput i = *std::move(in);
                     i.base = base_up(job.flow, i.base);
                     return Task{hash_of("channels", plan.slot("mould").key, i.setup, i.base, i.way,
                                         keys ? plan.slot("keys").key : Hash128{},
                                         i.way == FillWay::squeeze ? job.resin_id : std::string()),
                                 false, [i, mould, keys, res, &catalogue](Progress&) -> Result<AnyValue> {
                                   FlowSetup f = i.setup;
                                   if (i.way != FillWay::sprue) f.gate.reset();
                                   auto r = channels_result(*i.master, mould->mould, i.base, f,
                                                            keys ? keys->plan.keys : std::vector<Key>{});
                                   if (i.way == FillWay::squeeze && res)
                                     r.findings.push_back(squeeze_note(mould->mould, *res, catalogue.rules));
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back({"air-plan", [input](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto cavity = plan.fresh<CavityResult>("cavity");
                     const auto in = input(job, plan);
                     if (!in || !cavity || in->way != FillWay::sprue) return std::nullopt;
                     const FlowPlanOptions o = plan_options(job.flow, in->base, *in->wishes, in->visible_mm);
                     return Task{hash_of("air-plan", plan.slot("cavity").key, plan.slot("wishes").key, in->base,
                                         o.max_tilt_deg, o.max_vents, o.visible_mm, o.channels.gate_mm,
                                         o.channels.vent_mm, o.gate, o.vents, o.no_vent),
                                 false, [in = *in, cavity, o](Progress& progress) -> Result<AnyValue> {
                                   auto p = plan_flow(*in.master->mesh, *in.master->rays, cavity->cavity, o, progress);
                                   if (!p) return p.error();
                                   FlowPlanResult r;
                                   r.plan = *std::move(p);
                                   return boxed(std::move(r));
                                 }};
                   }});

  nodes.push_back({"air-advice", [](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto flow = plan.fresh<FlowResult>("flow");
                     const auto best = plan.fresh<FlowPlanResult>("air-plan");
                     if (!flow || !best) return std::nullopt;
                     return Task{hash_of("air-advice", plan.slot("flow").key, plan.slot("air-plan").key), true,
                                 [flow, best, setup = job.flow](Progress&) -> Result<AnyValue> {
                                   return boxed(plan_advice(*best, *flow, setup));
                                 }};
                   }});

  nodes.push_back({"filling", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto net = plan.fresh<FillNetwork>("network");
                     const auto channels = plan.fresh<ChannelsResult>("channels");
                     const Resin* res = catalogue.resin(job.resin_id);
                     if (!master || !net || !channels || !res) return std::nullopt;
                     Job only;
                     only.flow = job.flow;
                     only.room_c = job.room_c;
                     only.degas = job.degas;
                     only.resin_id = job.resin_id;
                     return Task{hash_of("filling", plan.slot("network").key, plan.slot("channels").key, only.room_c,
                                         only.degas, only.resin_id),
                                 false, [&catalogue, only, res, master, net, channels](Progress& progress) {
                                   return filling_result(only, *res, catalogue.rules, *master, *net, *channels,
                                                         progress);
                                 }};
                   }});

  nodes.push_back({"rubber-air", [&catalogue](const Job& job, const Planner& plan) -> std::optional<Task> {
                     const auto master = plan.fresh<OriginalResult>("master");
                     const auto mould = plan.fresh<MouldResult>("mould");
                     const auto forms = plan.fresh<FormsResult>("forms");
                     if (!master || !mould || mould->stand_in || !forms) return std::nullopt;
                     const bool poured = forms->halved() || forms->form == Form::cut || forms->form == Form::open;
                     if (!poured) return std::nullopt;
                     return Task{hash_of("rubber-air", plan.slot("forms").key, job.degas), false,
                                 [&catalogue, master, mould, forms, degas = job.degas](Progress& progress) {
                                   return rubber_air(*master, mould->mould, *forms, catalogue.rules.visible_void_mm,
                                                     degas, progress);
                                 }};
                   }});

  nodes.push_back(
      {"solids", [](const Job& job, const Planner& plan) -> std::optional<Task> {
         const auto master = plan.fresh<OriginalResult>("master");
         const auto split = plan.fresh<SplitResult>("split");
         const auto mould = plan.fresh<MouldResult>("mould");
         const auto forms = plan.fresh<FormsResult>("forms");
         const auto keys = plan.fresh<KeysResult>("keys");
         const auto pins = plan.fresh<PinsResult>("pins");
         const auto pieces = plan.fresh<PiecesResult>("pieces");
         const auto channels = plan.fresh<ChannelsResult>("channels");
         if (!master || !split || !mould || mould->stand_in || !forms || !forms->halved() || !keys || !channels)
           return std::nullopt;
         // Bores given a pin, pieces asked for: worth waiting for; without either there is nothing to wait for.
         const bool pinned = std::any_of(job.bores.begin(), job.bores.end(),
                                         [](const BoreTreatment& b) { return b.kind == BoreTreatment::Kind::pin; });
         if (!pins && pinned) return std::nullopt;
         if (!pieces && (!job.piece_pulls.empty() || forms->form == Form::pieces)) return std::nullopt;
         const bool all = forms->form == Form::pieces;
         return Task{hash_of("solids", plan.slot("keys").key, plan.slot("channels").key,
                             pins ? plan.slot("pins").key : Hash128{},
                             all || !job.piece_pulls.empty() ? plan.slot("pieces").key : Hash128{}, all),
                     false, [master, mould, keys, pins, pieces, channels, all](Progress& progress) -> Result<AnyValue> {
                       HalvesParts parts{pins ? pins->pins : std::vector<PinPlan>{}, channels->channels, {}};
                       for (size_t k = 0; pieces && k < pieces->plan.pieces.size(); ++k)
                         if (all || k < pieces->given) parts.pieces.push_back(pieces->plan.pieces[k]);
                       const Vec3 size = mould->mould.inner_mm.size();
                       const double voxel = std::max(0.7, std::max({size.x, size.y, size.z}) / 125);
                       auto h = mould_halves(*master->mesh, mould->mould, keys->plan, parts, {voxel, 0.05}, progress);
                       if (!h) return h.error();
                       SolidsResult r;
                       for (size_t k = 0; k < h->halves.size(); ++k) {
                         if (h->halves[k].mesh.triangles.empty()) continue;
                         auto shape = make_shape(std::move(h->halves[k].mesh));
                         if (!shape) return shape.error();
                         r.pieces.push_back(*shape);
                         r.pulls.push_back(k == 0   ? mould->mould.frame.rows[2]
                                           : k == 1 ? -mould->mould.frame.rows[2]
                                                    : parts.pieces[k - 2].pull);
                       }
                       return boxed(std::move(r));
                     }};
       }});
}

}  // namespace palinform
