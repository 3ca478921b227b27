// Flow: where air stays, how to stand the mould, how long it takes to fill, what is cut for it.
#include <algorithm>

#include "findings/flow.hpp"
#include "job/parts.hpp"
#include "nodes/nodes.hpp"
#include "stages/assembling.hpp"
#include "stages/closing.hpp"
#include "stages/flowing.hpp"
#include "stages/forming.hpp"
#include "stages/materials.hpp"
#include "stages/openings.hpp"
#include "stages/other_parts.hpp"

namespace palinform {
namespace {

struct CavityIn {
  Fresh<OriginalResult> master;
  Fresh<InsertsResult> inserts;  // where something is cast in
  double cells, cell_mm;
  auto fields(auto&& f) const { return f(master, inserts, cells, cell_mm); }
};
struct NetworkIn {
  Fresh<OriginalResult> master;
  Fresh<InsertsResult> inserts;
  double cells;
  auto fields(auto&& f) const { return f(master, inserts, cells); }
};
struct FlowIn {
  FlowGround ground;
  Fresh<ClosingResult> closing;  // only of what is squeezed
  Fresh<CavityResult> cavity;
  Fresh<FaceWishes> wishes;
  Fresh<SplitResult> line;  // only where it is left open
  auto fields(auto&& f) const { return f(ground, closing, cavity, wishes, line); }
};
struct ChannelsIn {
  FlowGround ground;
  Fresh<MouldResult> mould;
  Fresh<KeysResult> keys;          // only in halves
  Fresh<PinsResult> pins;          // where bores have one
  Fresh<OtherPartsResult> others;  // where some stand in the same box
  auto fields(auto&& f) const { return f(ground, mould, keys, pins, others); }
};
struct AirPlanIn {
  FlowGround ground;
  Fresh<CavityResult> cavity;
  Fresh<FaceWishes> wishes;
  FlowSetup asked;  // what the plan keeps and may do
  Study study;
  Fresh<SplitResult> line = {};  // only where it is left open
  auto fields(auto&& f) const { return f(ground, cavity, wishes, asked, study, line); }
};
struct AirAdviceIn {
  Fresh<FlowResult> flow;
  Fresh<FlowPlanResult> plan;
  FlowSetup setup;
  bool instant() const { return true; }
  auto fields(auto&& f) const { return f(flow, plan, setup); }
};
struct FillingIn {
  Implied<OriginalResult> master;  // by the network
  Fresh<FillNetwork> network;
  Fresh<ChannelsResult> channels;
  Job only;
  auto fields(auto&& f) const { return f(master, network, channels, only); }
};
struct RubberAirIn {
  Implied<OriginalResult> master;  // by the mould
  Fresh<MouldResult> mould;
  Form form;
  std::optional<Vec3> flat_normal;  // of an open face
  std::string brushed;              // the half that is not poured
  bool degas;
  double cells;
  auto fields(auto&& f) const { return f(master, mould, form, flat_normal, brushed, degas, cells); }
};
struct SolidsIn {
  Implied<OriginalResult> master;  // by the keys
  Implied<MouldResult> mould;
  Fresh<KeysResult> keys;
  Fresh<ChannelsResult> channels;
  Fresh<PinsResult> pins;        // none where no bore has one
  Fresh<PiecesResult> pieces;    // none where nothing is asked of them
  Fresh<InsertsResult> inserts;  // where something is cast in
  bool all;                      // every piece, not only the job's own
  Fresh<OtherPartsResult> others;
  FlowSetup sizes;                      // of channels, where there are others
  Fresh<OpeningsResult> openings = {};  // where rubber meets in one
  std::vector<OpeningChoice> films = {};
  auto fields(auto&& f) const {
    return f(master, mould, keys, channels, pins, pieces, inserts, all, others, sizes, openings, films);
  }
};
struct AssemblyIn {
  Fresh<SolidsResult> solids;
  Implied<PinsResult> pins;  // by the solids
  auto fields(auto&& f) const { return f(solids, pins); }
};
struct OtherClosingsIn {
  Fresh<OtherPartsResult> others;
  Fresh<MouldResult> mould;
  Fresh<ClosingResult> closing;
  std::vector<std::string> names;
  std::vector<std::optional<Vec3>> heaps;
  SqueezeSetup squeeze;
  MixSetup materials;
  double room_c;
  auto fields(auto&& f) const { return f(others, mould, closing, names, heaps, squeeze, materials, room_c); }
};
struct OtherAirIn {
  Fresh<OtherPartsResult> others;
  Fresh<MouldResult> mould;
  std::vector<std::string> names;
  Vec3 up;
  FlowSetup setup;
  double visible_mm;
  auto fields(auto&& f) const { return f(others, mould, names, up, setup, visible_mm); }
};

/// What the channels of any part are made by.
FlowSetup channel_sizes(const FlowSetup& f) {
  FlowSetup only;
  only.sprue_mm = f.sprue_mm, only.vent_mm = f.vent_mm, only.head_mm = f.head_mm;
  only.cup_mm = f.cup_mm, only.cup_deep_mm = f.cup_deep_mm;
  return only;
}

/// The stand as the job has it, and what stands for it: what only the plan reads does not stir the rest.
bool rubber_is_free_of_air(const Job& job, const Shop& shop) {
  const auto rubber = planned_rubber(job.mix, shop);
  return rubber && free_of_air(*rubber, job.mix.rubber_air);
}

std::optional<FlowGround> ground_of(const Job& job, const View& plan, const Shop& shop) {
  FlowGround in;
  std::vector<Vec3> struts;
  const Study& study = plan.subject<Subject>().study;
  in.master = plan.fresh(results::master);
  if (!in.master) return std::nullopt;
  if (!job.split.inserts.empty()) {
    const auto inserts = plan.fresh(results::inserts);
    if (!inserts) return std::nullopt;
    in.inserts = inserts;
  }
  if (study.cavity_alone) {
    in.level = job.split.pull.value_or(Vec3{0, 0, 1});
  } else {
    in.split = plan.fresh(results::split);
    in.wishes = plan.fresh(results::wishes);
    if (!in.split || !in.wishes) return std::nullopt;
    in.way = fill_way(job.mould.form);
    in.level = in.split->split.pull;
  }
  if (in.way == FillWay::open_face || in.way == FillWay::well) {
    const auto facts = plan.fresh(results::facts);
    if (!facts) return std::nullopt;
    in.flat_normal = flat_side(job.mould.planned_form(), *facts);
    if (in.flat_normal) in.level = *in.flat_normal;
    if (in.way == FillWay::well) {
      // A strip hangs from its lower side in the rubber pour, so that side is up when resin goes in.
      const auto forms = plan.fresh(results::forms);
      if (!forms) return std::nullopt;
      in.level = -forms->strip_up.value_or(in.level);
      struts = forms->struts_mm;
    }
  }
  in.base = job.flow.turned_over ? -in.level : in.level;
  in.setup = without_plan(job.flow);
  in.degassed = rubber_is_free_of_air(job, shop);
  in.visible_mm = shop.rules.flow.visible_void_mm;
  in.visible_show_mm = shop.rules.flow.visible_show_mm;
  in.least_pocket_share = study.least_pocket_share;
  in.open = study.open;
  // Through a strut air leaves as it does by the nub.
  for (const Vec3& at : struts) in.open.push_back({at, 0.5 * shop.rules.mould.strip.strut_mm});
  return in;
}

}  // namespace

void add_flow_nodes(std::vector<Node>& nodes, const Shop& shop) {
  nodes.push_back(job_node(
      results::cavity,
      [](const Job& job, const View& plan) -> std::optional<CavityIn> {
        const Study& study = plan.subject<Subject>().study;
        CavityIn in{plan.fresh(results::master), {}, study.cavity_cells, study.cell_mm};
        if (!in.master || !in.master->closed()) return std::nullopt;
        if (!job.split.inserts.empty() && !(in.inserts = plan.fresh(results::inserts))) return std::nullopt;
        return in;
      },
      [](const CavityIn& in, const Progress& progress) -> Result<CavityResult> {
        const OriginalResult& body = resin_body(*in.master, in.inserts.get());
        const double cell_mm =
            in.cell_mm > 0 ? in.cell_mm : std::max(0.05, voxel_for(body.measure.volume_mm3, in.cells));
        auto c = fill_with_cells(*body.mesh, cell_mm, progress);
        if (!c) return c.error();
        return CavityResult{*std::move(c)};
      }));

  nodes.push_back(job_node(
      results::network,
      [](const Job& job, const View& plan) -> std::optional<NetworkIn> {
        // After the cavity: it refuses what this would refuse, and sooner.
        if (!plan.fresh(results::cavity)) return std::nullopt;
        NetworkIn in{plan.fresh(results::master), {}, plan.subject<Subject>().study.network_cells};
        if (!job.split.inserts.empty() && !(in.inserts = plan.fresh(results::inserts))) return std::nullopt;
        return in;
      },
      [](const NetworkIn& in, const Progress& progress) -> Result<FillNetwork> {
        const OriginalResult& body = resin_body(*in.master, in.inserts.get());
        return fill_network(*body.mesh, *body.rays, in.cells, progress);
      }));

  nodes.push_back(job_node(
      results::closing,
      [](const Job& job, const View& plan) -> std::optional<ClosingGround> {
        ClosingGround in{plan.fresh(results::master),
                         plan.fresh(results::split),
                         plan.fresh(results::mould),
                         job.flow.squeeze,
                         job.flow.turned_over,
                         materials_only(job.mix),
                         job.size.room_c,
                         {}};
        if (!job.split.inserts.empty() && !(in.inserts = plan.fresh(results::inserts))) return std::nullopt;
        if (!in.master || !in.split || !in.mould || fill_way(job.mould.form) != FillWay::squeeze) return std::nullopt;
        return in;
      },
      [&shop](const ClosingGround& in, const Progress& progress) -> Result<ClosingResult> {
        auto r = closing_result(in, shop, progress);
        if (r) r->findings = closing_findings(*r, in.squeeze, shop.rules.flow);
        return r;
      }));

  nodes.push_back(job_node(
      results::other_closings,
      [](const Job& job, const View& plan) -> std::optional<OtherClosingsIn> {
        if (!parts_in_box(job) || fill_way(job.mould.form) != FillWay::squeeze) return std::nullopt;
        OtherClosingsIn in{plan.fresh(results::other_parts),
                           plan.fresh(results::mould),
                           plan.fresh(results::closing),
                           other_names(job),
                           {},
                           job.flow.squeeze,
                           materials_only(job.mix),
                           job.size.room_c};
        if (!in.others || !in.mould || !in.mould->set || !in.closing) return std::nullopt;
        for (const JobPart& p : job.parts) in.heaps.push_back(p.laid.heap);
        return in;
      },
      [&shop](const OtherClosingsIn& in, const Progress& progress) -> Result<OtherClosingsResult> {
        auto r = other_closings(*in.others, *in.mould, *in.closing,
                                {in.names, in.heaps, in.squeeze, in.materials, in.room_c}, shop, progress);
        if (r) r->findings = other_closing_findings(*r, shop.rules.flow);
        return r;
      }));

  nodes.push_back(job_node(
      results::flow,
      [&shop](const Job& job, const View& plan) -> std::optional<FlowIn> {
        auto ground = ground_of(job, plan, shop);
        const auto cavity = plan.fresh(results::cavity);
        if (!ground || !cavity) return std::nullopt;
        FlowIn in{*std::move(ground), {}, cavity, plan.fresh(results::wishes), {}};
        if (in.ground.setup.edge_gap_mm > 0) in.line = plan.fresh(results::split);
        if (in.ground.way == FillWay::squeeze && !(in.closing = plan.fresh(results::closing))) return std::nullopt;
        return in;
      },
      [&shop](const FlowIn& in, const Progress& progress) -> Result<FlowResult> {
        auto r = in.closing ? squeezed_flow(in.ground, in.cavity->cavity, *in.closing)
                            : flow_result(in.ground, in.cavity->cavity, progress);
        if (r) r->findings = flow_findings(*r, in.ground, shop.rules.flow);
        return r;
      }));

  nodes.push_back(job_node(
      results::channels,
      [&shop](const Job& job, const View& plan) -> std::optional<ChannelsIn> {
        auto ground = ground_of(job, plan, shop);
        ChannelsIn in{{}, plan.fresh(results::mould), plan.fresh(results::keys), plan.fresh(results::pins), {}};
        if (!ground) return std::nullopt;
        if (parts_in_box(job) && !(in.others = plan.fresh(results::other_parts))) return std::nullopt;
        in.ground = *std::move(ground);
        if (plan.subject<Subject>().study.cavity_alone) return in;
        const auto forms = plan.fresh(results::forms);
        if (!in.mould || !forms || (forms->halved() && !in.keys)) return std::nullopt;
        return in;
      },
      [&shop](const ChannelsIn& in, const Progress&) -> Result<ChannelsResult> {
        FlowSetup f = in.ground.setup;
        if (!in.mould) return channels_of_cavity(*in.ground.master, in.ground.base, f);
        if (in.ground.way != FillWay::sprue) f.gate.reset();
        if (in.ground.way == FillWay::squeeze) f.vents.clear(), f.tilt_deg = 0;
        const Mould& mould = in.mould->mould;
        auto r = channels_result(*in.ground.master, mould, in.ground.base, f);
        if (in.others && in.ground.way == FillWay::sprue)
          r.others_mm3 = channels_of_others(*in.others, *in.mould, r.up, f);
        const KeysResult no_keys;
        const PinsResult no_pins;
        r.findings = channel_findings(r,
                                      {in.mould->block(), (in.keys ? *in.keys : no_keys).plan.keys,
                                       (in.pins ? *in.pins : no_pins).pins, *in.ground.master, f},
                                      shop.rules.flow);
        return r;
      }));

  nodes.push_back(job_node(
      results::air_plan,
      [&shop](const Job& job, const View& plan) -> std::optional<AirPlanIn> {
        auto ground = ground_of(job, plan, shop);
        AirPlanIn in{{},
                     plan.fresh(results::cavity),
                     plan.fresh(results::wishes),
                     only_plan(job.flow),
                     plan.subject<Subject>().study};
        if (!ground || !in.cavity || ground->way != FillWay::sprue) return std::nullopt;
        in.ground = *std::move(ground);
        if (job.flow.edge_gap_mm > 0) in.line = plan.fresh(results::split);
        // The plan starts from level, whatever the job does.
        in.ground.base = in.ground.level;
        in.ground.setup = {};
        return in;
      },
      [](const AirPlanIn& in, const Progress& progress) -> Result<FlowPlanResult> {
        const FlowPlanOptions o = plan_options(in.asked, in.ground, in.cavity->cavity, in.study);
        const OriginalResult& body = resin_body(*in.ground.master, in.ground.inserts.get());
        auto p = plan_flow(*body.mesh, *body.rays, in.cavity->cavity, o, progress);
        if (!p) return p.error();
        FlowPlanResult r;
        r.plan = *std::move(p);
        return r;
      }));

  nodes.push_back(job_node(
      results::air_advice,
      [](const Job& job, const View& plan) -> std::optional<AirAdviceIn> {
        AirAdviceIn in{plan.fresh(results::flow), plan.fresh(results::air_plan), job.flow};
        return in.flow && in.plan ? std::optional(in) : std::nullopt;
      },
      [](const AirAdviceIn& in, const Progress&) -> Result<FlowPlanResult> {
        FlowPlanResult r = *in.plan;
        r.taken = stands_so(in.setup, r.plan);
        r.findings = plan_findings(r, *in.flow, in.setup);
        return r;
      }));

  nodes.push_back(job_node(
      results::filling,
      [&shop](const Job& job, const View& plan) -> std::optional<FillingIn> {
        FillingIn in{plan.fresh(results::master), plan.fresh(results::network), plan.fresh(results::channels), {}};
        if (!in.master || !in.network || !in.channels || !planned_resin(job.mix, shop)) return std::nullopt;
        in.only.flow = without_plan(job.flow);
        in.only.size.room_c = job.size.room_c;
        in.only.mix = materials_only(job.mix);
        in.only.mix.resin_air = job.mix.resin_air;
        return in;
      },
      [&shop](const FillingIn& in, const Progress& progress) -> Result<FillingResult> {
        const Resin resin = *planned_resin(in.only.mix, shop);
        auto r = filling_result(in.only, resin, shop.rules, *in.master, *in.network, *in.channels, progress);
        if (r) r->findings = filling_findings(*r, in.only, resin, shop.rules);
        return r;
      }));

  nodes.push_back(job_node(
      results::rubber_air,
      [&shop](const Job& job, const View& plan) -> std::optional<RubberAirIn> {
        const auto forms = plan.fresh(results::forms);
        RubberAirIn in{plan.fresh(results::master),
                       plan.fresh(results::mould),
                       job.mould.planned_form(),
                       {},
                       {},
                       rubber_is_free_of_air(job, shop),
                       plan.subject<Subject>().study.rubber_cells};
        if (!in.master || !in.mould || !forms || !in_a_box(in.form)) return std::nullopt;
        if (in.form == Form::open) in.flat_normal = forms->flat_normal;
        if (forms->brushed) in.brushed = forms->brushed->side;
        return in;
      },
      [&shop](const RubberAirIn& in, const Progress& progress) -> Result<RubberAirResult> {
        auto r = rubber_air(*in.master, in.mould->mould, in.form, in.flat_normal, in.brushed,
                            shop.rules.flow.visible_void_mm, in.cells, progress);
        if (r) r->findings = rubber_air_findings(*r, in.degas);
        return r;
      }));

  nodes.push_back(job_node(
      results::solids,
      [](const Job& job, const View& plan) -> std::optional<SolidsIn> {
        const auto forms = plan.fresh(results::forms);
        SolidsIn in{plan.fresh(results::master),
                    plan.fresh(results::mould),
                    plan.fresh(results::keys),
                    plan.fresh(results::channels),
                    plan.fresh(results::pins),
                    plan.fresh(results::pieces),
                    {},
                    false,
                    {},
                    {}};
        if (!job.split.inserts.empty() && !(in.inserts = plan.fresh(results::inserts))) return std::nullopt;
        if (!in.master || !in.mould || !forms || !forms->halved() || !in.keys || !in.channels) return std::nullopt;
        in.all = forms->form == Form::pieces;
        // Bores given a pin, pieces asked for: worth waiting for; without either there is nothing to wait for.
        const bool pinned = job.split.has_pins();
        const bool pieced = in.all || !job.split.piece_pulls.empty();
        if ((pinned && !in.pins) || (pieced && !in.pieces)) return std::nullopt;
        if (!pieced) in.pieces = {};
        for (const OpeningChoice& c : job.split.openings)
          if (c.leaves_film()) in.films.push_back(c);
        if (!in.films.empty() && !(in.openings = plan.fresh(results::openings))) return std::nullopt;
        if (in.mould->set && parts_in_box(job)) {
          if (!(in.others = plan.fresh(results::other_parts))) return std::nullopt;
          in.sizes = channel_sizes(job.flow);
        }
        return in;
      },
      [](const SolidsIn& in, const Progress& progress) -> Result<SolidsResult> {
        HalvesParts parts{in.pins ? in.pins->pins : std::vector<PinPlan>{}, in.channels->channels,
                          wanted_pieces(in.pieces.get(), in.all),
                          in.inserts ? in.inserts->sockets : std::vector<Socket>{}};
        add_film_gaps(parts.sockets, *in.master, in.openings.get(), in.films, in.mould->mould.frame.rows[2], true,
                      solids_voxel_mm(in.mould->block()));
        const MasterSet* set = in.mould->set.get();
        return mould_solids(set ? *set->mesh : *in.master->mesh, in.mould->block(), in.keys->plan,
                            all_in_box(parts, in.others.get(), *in.mould, in.channels->up, in.sizes), progress);
      }));

  nodes.push_back(job_node(
      results::assembly,
      [](const Job& job, const View& plan) -> std::optional<AssemblyIn> {
        if (!comes_apart_in_order(job)) return std::nullopt;
        AssemblyIn in{plan.fresh(results::solids), plan.fresh(results::pins)};
        if (!in.solids || in.solids->meshes.size() < 2) return std::nullopt;
        return in;
      },
      [](const AssemblyIn& in, const Progress& progress) { return assembly_of(*in.solids, in.pins.get(), progress); }));

  nodes.push_back(job_node(
      results::other_air,
      [&shop](const Job& job, const View& plan) -> std::optional<OtherAirIn> {
        // What is squeezed fills by closing: see other_closings.
        if (!parts_in_box(job) || fill_way(job.mould.form) == FillWay::squeeze) return std::nullopt;
        const auto channels = plan.fresh(results::channels);
        OtherAirIn in{plan.fresh(results::other_parts), plan.fresh(results::mould), {}, {}, {}, 1};
        if (!in.others || !in.mould || !in.mould->set || !channels) return std::nullopt;
        in.names = other_names(job);
        in.up = channels->up;
        in.setup.aid = job.flow.aid;
        in.setup.pressure_kpa = job.flow.pressure_kpa, in.setup.vacuum_kpa = job.flow.vacuum_kpa;
        in.setup.altitude_m = job.flow.altitude_m;
        in.visible_mm = shop.rules.flow.visible_void_mm;
        return in;
      },
      [](const OtherAirIn& in, const Progress& progress) -> Result<AdviceResult> {
        auto found = other_air(*in.others, *in.mould, in.names, in.up, in.setup, in.visible_mm, progress);
        if (!found) return found.error();
        return AdviceResult{*std::move(found)};
      }));
}

}  // namespace palinform
